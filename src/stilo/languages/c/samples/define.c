#define BERTHS 12
#define LANES_PER_DECK   4
#define DEPTH(tide) (SILL + (tide))

#define MOOR(berth) do { \
    close_gate(berth);   \
    lower_ramp(berth); \
  } while (0)
