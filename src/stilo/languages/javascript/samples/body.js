function sail() {
  moor(berth);



  load(deck);
}
