"""A report on a code base: how much of it is in a style, what is not, and how that came about.

Needs the extra `stilo[report]`: pandas for its tables, Matplotlib for its figures.
"""
