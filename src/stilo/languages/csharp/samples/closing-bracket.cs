lanes[2] = lorry;
