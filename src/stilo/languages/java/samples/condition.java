boolean open = tide.isHigh() && !deck.isFull() && harbour.isOpen() && sea.isCalm();
boolean late = a && b && c;
if (tide.isHigh() && !deck.isFull() && harbour.isOpen() && sea.isCalm()) {}
