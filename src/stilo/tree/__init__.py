"""The flat syntax tree and the readers that fill it."""

from stilo.tree.flat import Tree
from stilo.tree.grammar import Grammar

__all__ = ["Grammar", "Tree"]
