void load(void) {
  QUAY_OPEN
  ramp = 1;
}
