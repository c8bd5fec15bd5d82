int free = lanes-taken;
int length = lane*25 + ramp*3;
