/*
** The ramp is lowered last.
**
**   at high water
*/
int ramp;
/* The berth
** of the day.
*/
int berth;
/*
 ** one further in
 */
int lane;
