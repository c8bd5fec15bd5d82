"""Order: which imports a file has, where they belong, and which it does not need."""
