/*
* The tide gauge of a quay: it reads the float, smooths what it reads, and tells the ramp.
*/
#include <stdint.h>
#include <stdio.h>
#include "gauge.h"
#define GAUGE_VERSION   "4.2"
#define MILLIMETRES(step) ((step) * \
      125 / 10)


#ifdef GAUGE_TRACE
#define TRACE(...) printf(__VA_ARGS__)
#else
#define TRACE(...)
#endif

enum { SAMPLES=16,ALARM_HIGH=5200 , ALARM_LOW=400, /* in millimetres */ };
typedef struct gauge { uint16_t samples [SAMPLES]; uint8_t next ; unsigned ready : 1 , alarm:2; const char*quay; } gauge_t ;

static gauge_t gauges [ ] = { { .quay = "north",.ready=0 }, {.quay="south" , .ready=0}, { .quay = "outer skerry" } };
static const int16_t DATUM[][3]={
    {0,1,2},
    { 250,251 , 249},
};
extern int read_float(int channel,uint16_t*steps);
static void GAUGE_INLINE report(const gauge_t*gauge,int level UNUSED);

/* Read the float of a quay, put it among the last samples, and give their mean as a level. */
int gauge_level(gauge_t *gauge,int channel,int * level)
{
uint16_t steps=0; long sum = 0; int i,count ;
	if(read_float(channel,&steps)!=0) { TRACE("gauge %s: no answer\n",gauge->quay); return -1; }
    gauge->samples[gauge->next++%SAMPLES]=steps;
	if (gauge->next>=SAMPLES) gauge->ready=1; else if(gauge->next==0) return -2;
  count = gauge->ready?SAMPLES:gauge->next;
      for(i=0;i<count;i++) sum+=gauge->samples[i];
#ifdef GAUGE_METRIC
    *level=MILLIMETRES( (int)(sum/count) )+DATUM[1][channel%3];
#else
      *level = (int)( sum/count ) ;
#endif
    if (*level>ALARM_HIGH&&!gauge->alarm||*level<ALARM_LOW && gauge->ready && !(gauge->alarm&2)) { gauge->alarm|=*level>ALARM_HIGH?1:2; report(gauge,*level); }
    return 0;
}

static void report(const gauge_t *gauge,int level)
{
    switch(gauge->alarm){
        case 1: printf("%s: the tide is %d mm above the quay, the ramp of berth %d stays up until it falls\n", gauge->quay, level-ALARM_HIGH, 4); break;
    case 2: case 3: puts("low water" " at the berth"); /* fall through */
        default: if(!level) goto done;
            TRACE("level %d\n",level);
    }
done:
    for_each_listener(listener,gauge) { listener->tell(listener,level); }
}
