if deck.full: close()
for lorry in queue:
    board(lorry)
