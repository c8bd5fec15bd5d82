/* Alongside   
 * the quay.  */
moor(berth);
