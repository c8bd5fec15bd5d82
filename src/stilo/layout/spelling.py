"""How tokens are spelt: the quotes of strings, wherever that takes no escape, the letters beside them and
in numbers, and which of several signs a mark is."""

from __future__ import annotations

import re
from collections.abc import Set

from stilo.layout.edits import EditKind, TokenEdit
from stilo.layout.plan import Plan

#: What a token of one sign may be.
MARKS = {"dash": b"-", "star": b"*", "plus": b"+"}
SIGNS = {"double": b'"', "single": b"'"}
#: What stands before the quotes, the quotes, what is in them, and the quotes again.
STRING = re.compile(rb"(\w*)('''|\"\"\"|'|\")(.*)\2", re.DOTALL)


def respell(plan: Plan, tokens: list[bytes]) -> list[TokenEdit]:
    """Change tokens in place to how the style wants them spelt. Returns the edits."""
    rows, row = plan.rows, plan.row
    edits: list[TokenEdit] = []
    if not rows.has_spelling:
        return edits
    for token, leaf in enumerate(plan.tree.token_node):
        quotes, letters, sign = rows.spelling[row[leaf]]
        text = before = tokens[token]
        if quotes != "keep":
            text = _with_quotes(text, SIGNS[quotes])
        reason = "letters" if text == before else "quotes"
        if sign != "keep":
            text, reason = MARKS[sign], "sign"
        if letters != "keep":
            text = _with_letters(text, letters)
        if text != before:
            declared = rows.style[row[leaf]][reason]
            edits.append(TokenEdit(token, EditKind.SPELLING, before, text, declared))
            tokens[token] = text
    return edits


def marks_beside(plan: Plan, stays: Set[int]) -> set[int]:
    """The marks of items that stay since those of other items do: items of one list have one mark.

    stays: the tokens that stay as they are.
    """
    rows, row, tree = plan.rows, plan.row, plan.tree
    lists: dict[int, list[int]] = {}
    for token, leaf in enumerate(tree.token_node):
        if rows.spelling[row[leaf]][2] != "keep":
            lists.setdefault(tree.parent[tree.parent[leaf]], []).append(token)
    return {t for marks in lists.values() if not stays.isdisjoint(marks) for t in marks}


def _with_quotes(text: bytes, sign: bytes) -> bytes:
    """A string with these quotes, or as it is where they stand within it or are escaped; or the quotes alone."""
    if text in SIGNS.values():
        return sign
    found = STRING.fullmatch(text)
    if found is None:
        return text
    prefix, quotes, inner = found.groups()
    if sign in inner or sign in quotes or b"\\" + quotes[:1] in inner:
        return text
    return prefix + sign * len(quotes) + inner + sign * len(quotes)


def _with_letters(text: bytes, letters: str) -> bytes:
    """A number, or a string as to what stands before its quotes, with letters of this sort."""
    found = STRING.fullmatch(text)
    if found is not None:
        before = found[1].upper() if letters == "upper" else found[1].lower()
        return before + text[len(found[1]):]
    if letters == "upper":
        return text.upper()
    small = text.lower()
    if letters == "upper-digits" and small.startswith(b"0x"):
        return small[:2] + small[2:].upper()
    return small
