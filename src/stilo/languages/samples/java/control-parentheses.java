if (open) moor();
