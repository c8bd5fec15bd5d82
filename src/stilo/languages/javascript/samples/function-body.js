function length() { return 40; }
function width() {
  return 3;
}
