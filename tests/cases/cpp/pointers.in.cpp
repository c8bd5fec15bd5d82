const Ferry *first = fleet, &best = *first;
void sail(Ferry *const ferry, const char *const *names, int (&lanes)[4], Deck &&deck, void (*put)(int *), char *);
struct Fleet { Ferry **all, *last; operator Ferry *() const; };
Ferry *find() { for (auto &p : list) if (Ferry *f = p.ferry) return f; }
