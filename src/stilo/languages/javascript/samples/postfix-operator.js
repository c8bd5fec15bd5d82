count++;
