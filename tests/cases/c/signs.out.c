const char *const *rows, **all = names;
static int (*open_ramp)(const struct berth *, void *);

void f(void)
{
    struct lane {
        int number;
    };
    enum { LOW, HIGH };
    int const *const p = &q;
    open_ramp(p, 0);
};

int after;
