void depart(Ferry *ferry)
{
    sell(office, passenger_name, departure, island_of(harbour), lane_of(deck));
    place(deck, vehicle, board(passenger, lane_of(deck), ramp_of(berth, tide)), ticket);
    is_free = has_room(deck, vehicle) && is_open(lane) && !is_moving(ramp) && is_high(tide);
    total = fare_of(passenger) + fare_of(vehicle) + harbour_dues + surcharge;
}
