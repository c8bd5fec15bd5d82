free = lanes-taken
length = lane*25 + ramp*3
