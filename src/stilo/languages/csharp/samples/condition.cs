bool open = tide.isHigh() && !deck.isFull() && harbour.isOpen() && sea.isCalm();
bool late = a && b && c;
if (tide.isHigh() && !deck.isFull() && harbour.isOpen() && sea.isCalm()) {}
