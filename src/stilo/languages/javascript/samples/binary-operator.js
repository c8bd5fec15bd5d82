total = fare + tax;
