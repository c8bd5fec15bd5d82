"""Words and brackets of a text, and parsing again what is read otherwise."""

from __future__ import annotations

import re

from hypothesis import given
from hypothesis import strategies as st

import stilo
from stilo.edits import Edit
from stilo.readers.conditional import ConditionalReader
from stilo.readers.views import merged
from stilo.readers.words import Words, words_pattern

SCAN = re.compile(words_pattern(rb'"[^"]*"'), re.DOTALL)
BRACKETS = st.lists(st.sampled_from("(){}[]x"), max_size=14).map(" ".join)


def is_balanced(text: str) -> bool:
    """Whether every bracket is closed, any closing one being as good as another."""
    depth = 0
    for sign in text:
        depth += (sign in "([{") - (sign in ")]}")
        if depth < 0:
            return False
    return depth == 0


@given(BRACKETS)
def test_a_stretch_is_balanced_if_all_its_brackets_are_closed_in_it(text: str) -> None:
    words = Words.of(text.encode(), SCAN)
    parts = text.split()
    for low in range(len(parts) + 1):
        for high in range(low, len(parts) + 1):
            assert words.is_balanced(low, high) == is_balanced("".join(parts[low:high]))


def test_stretches_that_overlap_or_touch_become_one() -> None:
    assert merged([(8, 9), (0, 2), (1, 4), (4, 5)]) == [(0, 5), (8, 9)]


LINES = st.lists(
    st.sampled_from(["int berth;", "f(a, b);", "if (x) {", "}", "QUAY", "", "g(\n1\n);"]),
    max_size=8
)


@given(LINES, LINES)
def test_what_is_parsed_again_is_as_if_parsed_anew(before: list[str], after: list[str]) -> None:
    """Where the text has no fault: the tree, and all places in it."""
    reader = stilo.load_language("c").reader
    assert isinstance(reader, ConditionalReader)
    grammar = reader._inner
    old, new = ("\n".join(lines).encode() for lines in (before, after))
    size = max(len(old), len(new))
    old, new = old.ljust(size), new.ljust(size)
    differ = merged((at, at + 1) for at in range(size) if old[at] != new[at])
    edits = [Edit(start, end, new[start:end]) for start, end in differ]
    again = grammar.parse_again(new, old, grammar.parse(old), edits)
    anew = grammar.parse(new)
    if not anew.root_node.has_error:
        stack = [(again.root_node, anew.root_node)]
        while stack:
            one, other = stack.pop()
            assert (one.type, one.start_point, one.end_point) == (
                other.type,
                other.start_point,
                other.end_point,
            )
            assert one.child_count == other.child_count
            stack += zip(one.children, other.children)
