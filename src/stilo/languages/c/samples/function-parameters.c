int lane (Deck *deck);
int home_of(void);

int deck   (Deck *deck);
int deck_of(void);
