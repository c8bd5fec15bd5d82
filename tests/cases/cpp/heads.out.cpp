std::map<std::string, std::function<void(const Sailing &, const Berth &)>>
Harbour::Office::handlers_for(const Sailing &sailing) const { return a; }

std::string name_of_the_berth_in_the_northern_harbour(
        const std::string &harbour, const std::string &name);

template <typename Key, class Order>
typename Timetable<Key, Order>::Entry *Timetable<Key, Order>::find_the_first_after(
        const Key &key) const { return a; }

class Harbour
        : public OfficeOfTheCompany, public Timetabled, private RegisteredInTheNorth,
          public Insured {
    std::map<std::string, std::function<void(const Sailing &, const Berth &)>>
    handlers_for_the_sailing(const Sailing &sailing, int lane);
    virtual Status read_the_log(
            uint64_t offset, size_t most, Slice *result, char *scratch_space) const = 0;
    Harbour(const Berth &berth)
            : berth_(berth), lanes_(berth.lanes()), name_(berth.name()), is_open_(true) { open(); }
    Harbour() : lanes_(0) { open(); }
    Harbour(const Office &office)
            : office_(office),
              lanes_(lanes_of(office)),
              name_(office.name()),
              tide_(tide_at(office)),
              is_open_(true) {}
};

void f() {
    std::cout << std::boolalpha
            << "open: " << harbour.is_open() << "\n" << "lanes: " << harbour.lanes()
            << std::endl;
    log.add(std::unique_ptr<Entry>(new Entry(sailing, berth, tide, "the first one of the day", 4)));
    Checker<Handler> check(Handler(first, second), kinds::the_kind_of_the_first, kinds::others);
}
