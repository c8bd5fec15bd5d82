// The ramp is lowered only when the tide is high enough; below that the long lorries touch ground.
void lower() {}
