class Berth {
  length = 40;
}
class Lane { clear() {} }
class Deck {
  clear() {}
}
