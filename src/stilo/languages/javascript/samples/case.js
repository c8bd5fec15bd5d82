switch (tide) { case HIGH: sail();



log(); break; }
