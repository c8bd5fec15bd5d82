void depart(Ferry *ferry)
{
    passengers_in_all_decks_of_the_ferry = passengers_on_the_upper_deck;
    lanes = 4;
}
