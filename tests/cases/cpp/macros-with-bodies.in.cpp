TEST_WITH(moors_at_high_water, "Inner Sound") {
    check();
}
TEST(Berth, Moor) {
    check();
}
TEST_WITH_CREW(Berth, MoorsAtHighWater) { check(); }
MEASURED(berth) { check(); }
namespace skerry {
TEST(Berth, Moor) {
    check();
}
void f() {
    for_each_berth(berth) { moor(); }
    FOR_EACH(const Berth &b, berths) { moor(); }
    FOR_ALL(berth, berths) moor();
}
}
