// The ramp of the ferry is lowered as the last of all, once the gauge of the quay has been read.
int ramp;
