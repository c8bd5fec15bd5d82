class Ferry : public Vessel, public Timetabled, private Registered, public Insured {
    int lane;
};
class Boat : public Vessel, private Registered {
    int lane;
};
