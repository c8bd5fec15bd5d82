class FerryOfTheLine<TFirst, TSecondHarbour, TTide, TVehicle, TDeck> {}
