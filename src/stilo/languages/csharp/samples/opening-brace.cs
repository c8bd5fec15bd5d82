int[] lanes = { 1, 2 };
