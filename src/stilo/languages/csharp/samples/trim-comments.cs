// The ramp is lowered last.   
void lower() {}
