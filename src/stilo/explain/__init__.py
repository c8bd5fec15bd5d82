"""Explanations: what in a source is not in style, what decided a gap, and which settings mattered."""
