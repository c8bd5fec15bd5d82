const char* name = "North", *other = "South", **all = names;
int* a, *b;
const Berth& berth = harbour.berth(), &second = berth;
void moor(
        Berth* const berth,
        void (*put)(int*),
        char** names,
        int (&lanes)[4],
        Deck&& deck,
        char*,
        const char* const* rows);
struct Deck {
    Ferry* const ferry;
    Ferry* next, *previous;
    Berth& berth;
    Berth* first = nullptr;
    operator Berth*() const;
    void open() {};
};
void (Deck::*method)(Ferry*) = nullptr;
std::function<void(const Berth&)> moored;
using Opened = Berth*(int, char*);

void f() {
    struct Lane {
        int number;
    };
    class Row : public Lane {
        int number;
    };
    Timetable table(read(std::cin));
    Row row(std::move(other));
    for (const auto& p : list)
        use(&p, *p);
};

int after;
