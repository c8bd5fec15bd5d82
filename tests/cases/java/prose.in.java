/* Copyright Skerry Line, a company that does not exist, and whose licence is as long as this line is. */
// A first paragraph that is far too long for the width that comments may have here.
// It goes on in a second line, and both are filled anew.
//
// - an item that is far too long for the width that comments may have, and yet is left
//   alone with what belongs to it, even though this is not long
//
// https://skerry.example/an/address/that/is/far/too/long/for/the/width/that/comments/have
//tide:a-word-to-a-tool that is far too long for the width that comments may have, left as it is
class Quay {
    /**
     * Moors a vessel at the first berth that is free, deep enough and long enough for it to lie there.
     * Short line.
     *
     * <pre>
     *   code that is far too long for the width that comments may have here, and is left alone
     * </pre>
     * @param vessel the one that is to be moored, which must not be moored anywhere else already
     * @return the berth
     */
    Berth moor(Vessel vessel) { // trailing comments that are far too long are left where they stand
        // int old = code(that, is, no, longer, wanted, but, somebody, left, it, here, as, comment);
        //
        // One short line.
        // 埠頭 埠頭 埠頭 埠頭 埠頭 埠頭 埠頭 埠頭 埠頭 埠頭 埠頭 埠頭 埠頭 埠頭 埠頭
        /* A plain comment whose only line is far too long for the width that comments may have. */
        return first; /* a */
        // column  column  column  column  column  column  column  column  column  column
    }
}
