"""The flat syntax tree, and what is done to it."""

from stilo.tree.flat import Tree

__all__ = ["Tree"]
