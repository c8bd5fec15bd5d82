class Quay
{
    public void Moor()
    {
        Assertions.Throws<BerthTakenException>("berthNumber", () => TimetableOfSailingsInTheWinter.BerthOfTheSailing((Sailing)null, null, typeof(Ship), new Lane(), new CarDeck(), new TicketOfThePassenger()));
    }
}
