class Ferry<TFirstHarbour, TSecondHarbour, TTide, TVehicle, TPassenger> {}
class Boat<TFirst, TSecond, TThird> {}
class Raft<
    TFirst, TSecond> {}
