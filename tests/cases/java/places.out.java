class Places {
    void f() {
        if (open)
            /* why */ board();
        if (open) // why
        {
            board();
        }
        if (open)
            // why
            board();
        else
            // why not
            wait();
        if (open) {
            board();
        }
        // before else
        else {
            wait();
        }
        while (open) /* inline */ {
            board();
        }
        for (int i = 0; // start
                i < 3;
                /* end */ i++) {}
        book(a, /* after a comma */ b);
        book(a, // after a comma
             b);
        book(
                a
                // before a closing parenthesis
        );
        book(/* nothing */);
        book(
                // nothing, own line
        );
        var x = timetable // head
                // before a link
                .find(id) /* behind a link */
                .first();
        var y = /* before a value */ 3;
        var z = // before a value
                3;
        var w = a /* before an operator */ + /* behind one */ b
                // own line
                + c;
        var t = open // condition
                ? a // yes
                // before no
                : b;
        return /* value */ x;
        switch (deck) {
            case 1:
                board();
                // in the case
            // before the next
            case 2: // label
                break;
            // at the end
        }
        // end of block
    }

    @Ann // behind an annotation
    void g(/* none */) /* before a body */ {}

    void h()
            throws A, // one
                    B {}

    <T /* type */> void k(List<? /* any */> list) {}

    int[] n = {/* empty */};
    int[] m = {
        // empty, own line
    };

    enum E {/* empty */}

    enum F {
        A,
        /* behind A */ B // behind B
    }

    class Empty { /* empty */ }

    class Empty2 {
        // empty
    }
} /* behind all */ // and more
/* last */
