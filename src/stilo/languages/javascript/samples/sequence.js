berth.number = 12, berth.name = "the twelfth berth", berth.isOpen = true, save(berth);
