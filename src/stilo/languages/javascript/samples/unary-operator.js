berth = !free;
