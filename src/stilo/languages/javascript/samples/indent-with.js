class Berth {
  moor() {
    ramp.lower();
  }
}
