"""The quotes of strings: the wanted ones, wherever that takes no escape."""

from __future__ import annotations

import re

from stilo.layout.groups import Plan

SIGNS = {"double": b'"', "single": b"'"}
#: What stands before the quotes, the quotes, what is in them, and the quotes again.
_STRING = re.compile(rb"(\w*)('''|\"\"\"|'|\")(.*)\2", re.DOTALL)


def requote(plan: Plan, tokens: list[bytes]) -> dict[int, bytes]:
    """Change quotes in place where the style asks for others; what was changed, by token."""
    rows, row, leaf = plan.rows, plan.row, plan.tree.token_node
    changed: dict[int, bytes] = {}
    if not rows.has_quotes:
        return changed
    for token in plan.opaque:
        sign = SIGNS.get(rows.quotes[row[leaf[token]]])
        if sign is not None:
            text = _with_quotes(tokens[token], sign)
            if text != tokens[token]:
                changed[token] = tokens[token] = text
    return changed


def _with_quotes(text: bytes, sign: bytes) -> bytes:
    """A string with these quotes, or as it is where they stand within it or are escaped."""
    found = _STRING.fullmatch(text)
    if found is None:
        return text
    prefix, quotes, inner = found.groups()
    if sign in inner or sign in quotes or b"\\" + quotes[:1] in inner:
        return text
    return prefix + sign * len(quotes) + inner + sign * len(quotes)
