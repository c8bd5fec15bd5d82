"""From a tree and a cascade to the decided gaps and the text."""
