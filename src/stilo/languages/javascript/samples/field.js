class Berth {
  length = 40;
  width = 9;
  clear() {}
}
