int[] lanes = {
1, 2,
3, 4, 5};
int[] decks = {1,
2};
