class Compared {
    boolean check() {
        if (harbourOffice.totalLengthOfVehiclesOnDeck(sailing, deckNumberOfTheVehicle, lanesInUse, reservedForCrew) == 0) { depart(); }
        int lanes = isChild ? // travels free
                none : // pays
                fareOf(passenger);
        return Streams.sailings(new WeekdaySpliterator<>(sailings.spliterator(), firstDay, lastDay), isParallel()).onClose(this::close);
    }

    Object wait(Sailing sailing) {
        sailing.whenDeparted(() -> { load(); }).then(this::close);
        return harbour.sailingsFrom(theHarbourOfDeparture, theDayOfTheWeek, theSeason, tideTable).first;
    }
}
