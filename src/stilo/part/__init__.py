"""Laying out a part of a large text at the cost of that part."""

from stilo.part.layout import part_edits

__all__ = ["part_edits"]
