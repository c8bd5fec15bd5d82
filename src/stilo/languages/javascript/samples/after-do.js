do { load(); } while (room);
