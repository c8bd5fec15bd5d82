struct berth {
    int lane;
    char *names[10], side;
    unsigned tidal : 3;
    struct {
        int depth;
    } quay;
    union {
        int a;
        long b;
    } *level;
};
typedef struct {
    int height;
} tide_t;
typedef int (*listener)(const char *name, void *data);
enum deck { UPPER = 1, LOWER };
enum deck main_deck = UPPER;

static inline const char *const name_of(int berth, char **names, void (*tell)(int), ...)
{
    int lane = 0, *level, depths[3] = {1, 2};
    for (int i = 0; i < 10; i++)
        lane += i;
    for (;;) {}
    for (;;) ;
    while (lane)
        lane--;
    do {
        lane++;
    } while (lane < 3);
    do
        lane--;
    while (lane);
    if (berth)
        return 0;
    else if (names) {
        goto end;
    } else
        lane = berth ? names : tell;
    switch (lane) {
        case 1:
            moor();
            break;
        case 2:
        default: {
            leave();
        }
    }
end:
    lane = (int)*level + sizeof(int)*sizeof lane - (long)-1;
    ferry->berth.lanes[3] = &lane;
    *level++;
    berth = -lane;
    berth = ~lane & !tide;
    struct berth north = {.lane = 1, .names = {0}, [3] = 2, .quay.depth = 4};
    north = (struct berth){1, 2};
    tell_all((struct berth){.lane = 4}, lane);
    char *notice = "low" "water";
    lane = (berth, names);
    if (!(berth && names || tell)) {}
    {
        int inner;
        inner = 1;
    }
    asm volatile ("nop" : "=r" (lane) : "r" (berth) : "memory");
    lane <<= 2;
    lane = berth << 2 | names >> 1;
    lane = a*b + c - d / e;
    return lane;
}

int (*tide_listener)(int) = listen_to, (*other)(void);

int old_style(berth, names)
int berth;
char *names;
{
    return berth;
}

__attribute__((unused)) static int quay;

int __attribute__((noinline)) moor(void)
{
    return 0;
}
_Static_assert(sizeof(int) == 4, "lanes are four bytes");

void nothing(void) {}
