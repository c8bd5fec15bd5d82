class Crossing {
    Sailing plan(Harbour from, Harbour to, LocalDateTime departure, Vessel vessel, Captain captain) {
        return timetable.register(from, to, departure, vessel.withCaptain(captain, pilots.first()));
        boolean open = from.isOpen() && to.isOpen() && !vessel.isFull() && captain.isAwake() || forced;
        long sum = basePrice + perMetre * vehicle.lengthInMetres() + perPassenger * passengers - rebate;
    }
}
