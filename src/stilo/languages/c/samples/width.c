int board(Vehicle *vehicle, Deck *deck, Ticket *ticket)
{
    return place(deck, vehicle, lane_of(ticket), ramp_of(berth, tide), is_first, is_last, 1);
}
