template <typename FirstHarbour, typename SecondHarbour, typename Tide>
void sail(FirstHarbour a);
template <typename TheTimetableOfTheSummerOfTheWholeFerryCompany, int N>
void moor(int a);
