class Quay {
  void Dock() {
    if (isFree) { moor(); }
    else /* beside */ if (isLate) { wait(); }
    else // to the end
    if (isFull) { leave(); }
    else
    // on a line of its own
    if (isClosed) { leave(); }
    else

      /* on lines
         of its own */
      if (isNight) { if (isCold) { report("a message that does not fit on its line, since it is rather long", berth, ship); } }
      else
        /* before the last */
        sleep();
}
}
