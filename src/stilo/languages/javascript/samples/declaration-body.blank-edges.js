class Berth {

  lane = 4;

}
