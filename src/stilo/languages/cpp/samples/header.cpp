auto sail_to_the_isles(Harbour harbour) noexcept -> TimetableOfTheSummer {
    cast_off();
}
auto moor() -> Ramp {
    lower();
}
