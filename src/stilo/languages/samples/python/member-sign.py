harbour.berth.moor()
