int lane = Lane(deck);
