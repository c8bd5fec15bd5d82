/*
Copyright Skerry Line
  more
*/
  /*
      inner
      inner
  */
/*
  NOTE: two
*/
/*
   three
 */
/* text
   more
*/
/* text
more
*/
int x;
      /*
    odd
     */
int y;
/*
*/
/*

*/
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
void moor(void) {}
EXPORT_SYMBOL(moor);
void sail(void) {}

EXPORT_SYMBOL(sail);
void load(void) {}
int deck;
