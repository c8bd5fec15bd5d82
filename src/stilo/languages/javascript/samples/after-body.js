if (free) { moor(); } else { wait(); }
