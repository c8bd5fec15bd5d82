List<Ticket> sold = tickets.stream().filter(Ticket::isSold).map(Ticket::copy).toList();
new Office(harbour).tickets(sailing).stream().filter(Ticket::isSold).map(Ticket::copy).toList();
var deck = ship.decks().first();
