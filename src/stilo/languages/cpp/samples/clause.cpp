class Ferry : public Vessel, public Timetabled, private Registered, public Insured {
    int lane;
};
class Boat : public A, private B, public C, public D {
    int lane;
};
