"""Layout sheets: from text in CSS syntax to what is declared for each node."""
