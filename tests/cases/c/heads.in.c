#include "quay.h"

QUAY_EXPORT QUAY_ALLOCATOR QUAY_RESTRICT_RETURN QUAY_NOTHROW QUAY_MAY_WAIT void *quay_berth_of_a_length(size_t length) { return 0; }

QUAY_EXPORT int QUAY_NOTHROW QUAY_ATTR(nonnull(1)) quay_moor_ship_of_length(void **ship, size_t length, size_t berth) { return 0; }

QUAY_EXPORT void quay_free(void *berth) { leave(berth); }

static unsigned long long number_of_the_next_sailing_after_this_one(const struct timetable *timetable, int sailing) { return 1; }
