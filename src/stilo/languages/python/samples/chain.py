sold = (tickets.stream().filter(Ticket.is_sold).map(Ticket.copy).to_list())
moor(office(harbour).tickets(sailing).filter(Ticket.is_sold).map(Ticket.copy).all())
moor(ship.decks().first())
moor(tickets.of(sailing).filter(Ticket.is_sold).map(Ticket.copy).sorted().first())
