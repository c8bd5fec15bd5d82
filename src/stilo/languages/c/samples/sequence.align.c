void moor(void)
{
    report(late,
           (code(TIDE_TURNED),
            message("the tide has turned already")));
}
