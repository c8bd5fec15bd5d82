if (tide < 2) return;
