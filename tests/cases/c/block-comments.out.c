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
