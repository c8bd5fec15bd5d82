/* head */
package a; // of the file

// own
import b.C; // why

/**
 doc
 * of class
 */
class /* odd */ Quay { // opens
    // first
    int a; // trailing a
    /* before b */ int b /* after b */ = 1 /* end */;

    void f(
            int x, // the x
            /* y */ int y
            // last
    ) { // body
        if (x > 0) // why not
            y++; // one
        // between
        else // other
            y--;
        call(
                a, // first
                b // second
        );
        int v = a + // plus
                b;
        String s = list.stream() // start
                .map(q) // mapped
                // before the end
                .end();
        switch (x) { // switch
            // before case
            case 1: // one
                // in case
                break; // out
            default:
                // nothing
        }
        int[] n = {
            1, // one
            2,
            3, // three
            // none
        };
        foo(x -> { // lambda
            // empty
        });
        /*
           free
             form
         */
        // end of block
    }

    void g() {
        // only a comment
    }

    void h() { /* nothing */ }

    // end of class
}
// end of file
