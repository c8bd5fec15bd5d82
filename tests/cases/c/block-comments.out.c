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
void moor(void) {}
EXPORT_SYMBOL(moor);

void sail(void) {}

EXPORT_SYMBOL(sail);

void load(void) {}

int deck;
