"""Tokens of a tree by their kinds."""

from __future__ import annotations

import pytest

import stilo
from stilo.tree.flat import Tree

LANGUAGE = stilo.load_language("python")


def tokens(text: str, *names: str) -> list[str]:
    tree: Tree = LANGUAGE.read(text.encode()).tree
    kinds = frozenset[int]().union(*map(LANGUAGE.kinds.numbers, names))
    found = tree.tokens_of(kinds)
    assert found == sorted(set(found))
    return [tree.texts[token].decode() for token in found]


@pytest.mark.parametrize(
    ("names", "found"),
    [
        (["comment"], ["# late", "# last"]),
        (["comment", "integer"], ["3", "# late", "4", "# last"]),
        (["call", "module"], []),  # which have children, and are no tokens
        (["float"], []),
        ([], []),
    ]
)
def test_tokens_are_found_by_their_kinds_in_order(names: list[str], found: list[str]) -> None:
    assert tokens("moor(3) # late\nmoor(4)\n# last\n", *names) == found


def test_an_empty_text_has_none() -> None:
    assert tokens("", "comment") == []
