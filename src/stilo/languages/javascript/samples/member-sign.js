berth.clear();
