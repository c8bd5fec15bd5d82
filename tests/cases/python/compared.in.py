def f():
    if harbour_office.total_length_of_vehicles(sailing, deck, lanes_in_use_today, reserved) == 0: pass
    if harbour_office.total_length_of_vehicles(sailing, deck, lanes_in_use, reserved, bicycles) == 0 and ready: pass
    assert total_length_of_vehicles(sailing, deck_number) == total_length_of_vehicles(other, deck)
    assert (first_sailing_of_the_day + second_sailing).duration() == timedelta(hours=3, minutes=45)


HARBOURS = [
    "Inner Sound",


    # at high water only
    "Stack Point",
]


def g():
    value = base64.b64encode(f"{self.harbour}:{self.berth}:{self.tide}".encode()).decode("ascii")
    if tide > 3:
        sail()


    # at low water
    elif ramp:
        load()

    else:
        wait()
