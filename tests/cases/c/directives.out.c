#ifndef QUAY_H
#  define QUAY_H
#include <stdio.h>
#define LANES(deck) \
	((deck) ->lanes) \

#ifdef __cplusplus
extern "C" {
#endif

#if defined(TIDAL) && \
    !defined(FLAT)
int level(int berth);
#elif FLAT
int level(void);
int flat;
#else   // neither
#  if DEEP
int deep(int a);
#  endif
extern int level;
#endif
#if 0
this is (never read {
#else
int read_always;
#endif
int moor(
        int berth,
#ifdef TIDAL
        int tide,
#endif
        int lane)
{
    if (berth
#ifdef TIDAL
            && tide > 4
#endif
    ) {
        lane++;
    }
#ifdef TIDAL
    if (tide) {
#else
    if (lane) {
#endif
        lower(lane);
    }
    return lane;
}

EXPORT_API int sail(int berth UNUSED, const char *name);
static void NORETURN drown(const char *why);
QUAY_BEGIN
REGISTER_BERTH(north, 4)
ZEXTERN int ZEXPORT dock OF((int berth, char *name));
enum fares { FARE(SINGLE,1), FARE(RETURN,2), };

void tell(void)
{
    for_each_berth(berth, quay) {
        tell_one(berth);
    }
    unsigned size = va_arg(list, unsigned long);
    struct berth *first = container_of(node, struct berth, node);
    TRACE("all told")
    done();
}
QUAY_END
@@ what nobody can read @@
int  after;
#ifdef __cplusplus
}
#endif
#endif /* QUAY_H */
