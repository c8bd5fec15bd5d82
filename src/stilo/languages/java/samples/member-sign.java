harbour.berth.moor();
