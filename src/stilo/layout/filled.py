"""Where tokens stand in their cells, and those as long as these: the lines under the head of a table."""

from __future__ import annotations

from collections.abc import Mapping, Set

from stilo.layout.edits import EditKind, TokenEdit
from stilo.layout.plan import Plan

#: The fewest signs of such a token, colons included: one alone might be read as the mark of a list.
LEAST = 3


def shorten(plan: Plan, tokens: list[bytes]) -> dict[int, bytes]:
    """Make such tokens as short as may be, in place. Returns those of the source, by their numbers."""
    fills, row, leaves = plan.rows.fills, plan.row, plan.tree.token_node
    found = {token: text for token, text in enumerate(tokens) if fills[row[leaves[token]]]}
    for token, text in found.items():
        tokens[token] = _of_length(text, LEAST)
    return found


def fill(
    plan: Plan,
    gaps: list[bytes],
    tokens: list[bytes],
    source: Mapping[int, bytes],
    aligned: Set[int],
    stays: Set[int],
) -> list[TokenEdit]:
    """Make such tokens as long as their cells, in place. Returns the edits.

    source: what `shorten` gave. aligned: the tokens that a column has; if the one after is none, the token is
    as its author wrote it, unless it is to be short. stays: tokens that stay as they are.
    """
    edits = []
    for token, before in source.items():
        following = token + 1
        declared = plan.rows.style[plan.row[plan.tree.token_node[token]]]["fill"]
        if following in aligned and token not in stays:
            blanks = len(gaps[following])
            gaps[following] = b" "
            tokens[token] = _of_length(before, LEAST + blanks - 1)
        elif token in stays or (declared.value != "least" and len(before) > LEAST):
            tokens[token] = before
        if tokens[token] != before:
            edits.append(TokenEdit(token, EditKind.SPELLING, before, tokens[token], declared))
    return edits


def justify(plan: Plan, gaps: list[bytes], aligned: set[int]) -> None:
    """Move the spaces after a token to before it, or half of them, where it is to stand so in its cell.

    aligned: the tokens that a column has, to which the gaps belong that change.
    """
    justified, row, leaves = plan.rows.justified, plan.row, plan.tree.token_node
    for following in sorted(aligned):
        token = following - 1
        where = justified[row[leaves[token]]]
        blanks = len(gaps[following]) - 1
        if where == "left" or blanks < 1 or b"\n" in gaps[token]:
            continue
        before = blanks if where == "right" else blanks // 2
        gaps[token] += b" " * before
        gaps[following] = b" " * (blanks - before + 1)
        aligned.add(token)


def _of_length(text: bytes, length: int) -> bytes:
    """The same line with so many signs, colons included."""
    left = text[:1] if text[:1] == b":" else b""
    right = text[-1:] if text[-1:] == b":" and len(text) > 1 else b""
    inner = text[len(left) : len(text) - len(right)]
    return left + inner[:1] * (length - len(left + right)) + right
