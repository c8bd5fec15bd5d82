class Crossing {
    void f() {
        register(
                one, two);
        register(one, two);
        book(
                a, b, c,
                d);
        timetable.find(id).first();
        timetable.find(id)
                .cars()
                .first();
        int[] decks = {
            1, 2, 3
        };
        int[] lanes = {1, 2, 3};
        board(
                sail(
                        one),
                two,
                three,
                four);
    }
}
