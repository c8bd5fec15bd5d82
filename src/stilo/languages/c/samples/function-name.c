int lane(void);
Harbour home(void);

int     lane(void);
Harbour deck(void);
