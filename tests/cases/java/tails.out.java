class Decks {
    int[] row = {1, 2, 3};
    int[] none = {,};
    int[] empty = {};
    int[] many = {
        1000000001, 1000000002, 1000000003, 1000000004,
        1000000005, 1000000006
    };
    int[] noted = {
        1,
        2, // two
        3, // three
    };
    int[] after = {
        1, 2,
        3, // three
    };
    int[] before = {1, 2, 3 /* three */};
    int[][] deep = {
        {1, 2},
        {3, 4},
        {
            1000000001, 1000000002, 1000000003, 1000000004,
            1000000005
        },
    };

    enum A {
        ONE,
        TWO,
    }

    enum B {
        ONE,
        TWO,
    }

    enum C {
        ONE,
        TWO;

        int x;
    }

    enum D {
        ONE,
        TWO,
        ;
    }

    @Tags({"upper", "lower"}) int x;
}
