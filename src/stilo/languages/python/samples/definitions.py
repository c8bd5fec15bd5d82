class Berth:


    lane = 4


if tide > 3:


    def lower():
        pass
