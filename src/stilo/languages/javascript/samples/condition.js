const open = tide.isHigh() && !deck.isFull() && harbour.isOpen() && sea.isCalm();
late = a && b && c;
if (late) return tide.isHigh() && !deck.isFull() && harbour.isOpen() && sea.isCalm();
