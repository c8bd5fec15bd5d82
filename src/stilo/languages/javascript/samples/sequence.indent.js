// stilo: set continuation=4
berth.number = 12, berth.name = "the twelfth berth", berth.isOpen = true, save(berth);
