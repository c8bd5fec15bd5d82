# What stands before an index is not in it, and a last operand in brackets opens where it stands.
position = struct.unpack_from("b", self.deck.buffer, self.first_lane + lane * LANE_SIZE)[0]
loads = sorted(ferry.lanes_of_the_main_deck(only_free=True), key=by_length)[first_lane:last_lane]
assert sailing.lanes == [Lane("port", 42.5, 4.2), Lane("middle", 61, 4.2), Lane("starboard", 42.5)]
assert sailing.lanes == (Lane("port", 42.5, 4.2) + Lane("middle", 61) - Lane("starboard", 42.5))
assert sailing.lanes_of("main deck") == [Lane("port", 42.5), Lane("starboard", 42.5)]
if vehicle.kind not in ("lorry", "trailer", "articulated lorry", "coach", "motorhome", "tractor"): pass
notice = "%s sails at %s from berth %d" % (sailing.ferry.name_for_notices, sailing.departure, berth)
notice = "%s sails at %s from berth %d" % (sailing.ferry.name_for_notices, sailing.departure.at_berth(), berth)
fares = base_fares + [Fare("bicycle", 4), Fare("kayak", 4), Fare("pram", 0), Fare("wheelchair", 0)]
assert timetable.next_after(noon) == Sailing("Sula Skerry", time(12, 40), berth=3, reserve=False)
assert timetable.next_after(noon) == Sailing("Sula Skerry", time(12, 40), berth=3, calls_at=["North Pier", "Rock"])
assert vehicle.is_on(main_deck, lane), f"{vehicle.registration} is to stand on the main deck"
assert timetable.sailings(noon, midnight) == Timetable.read("winter.csv", strict=True).all()
TARIFF = {"single": Fare("single", per_metre=4.2,), "return": Fare("return", lanes=["port", "middle",], per_metre=3.9,),
  "notice": ("Bicycles and kayaks " "sail for nothing.",),
}
def sailings(self):
    yield self.first_sailing_of_the_day + self.reserve_sailings - self.cancelled_for_the_wind
    yield self.first_sailing_of_the_day, self.reserve_sailings_of_the_day, self.cancelled
    reply = yield from (self.lanes)
    yield (self.berth, self.deck,)
    yield (self.berth,)
ferries["Guillemot"] = f"the ferry from {harbour.name} to {island.name}, by way of Northness"
ferries["Guillemot of the Outer Islands"] = f"the ferry from {harbour.name} to {island.name}, by way of North"
ferries["Guillemot"] = "https://skerry.example/timetables/2027/summer/sailings-of-the-outer-islands-by-way-of-northness"
tides = "the tide at Stack Point is too low for the ferries of the outer isles....."
