// stilo: set type-parameters.open=same-line
template <typename FirstHarbour, typename SecondHarbour, typename Tide>
void sail(FirstHarbour a);
