switch (tide) { case HIGH: sail(); break; default: wait(); }
