"""Tokens that would be read as something else without a space between them."""

from __future__ import annotations

from stilo.layout.plan import Plan


def keep_apart(plan: Plan, leaf_row: list[int], punctuation: frozenset[str]) -> None:
    """Give a space to each pair of tokens that would be read as something else without one.

    Only pairs are looked at that stand close, the first of which may run on and the second of
    which may be run on to, as far as their kinds tell.
    """
    rows, texts, never = plan.rows, plan.tree.texts, plan.rows.never_joined
    runs_on, is_run_on = rows.runs_on, rows.is_run_on
    is_tight = rows.tight
    for token in [token for token, place in enumerate(plan.gap_row) if is_tight[place]]:
        if not (token and runs_on[leaf_row[token - 1]] and is_run_on[leaf_row[token]]):
            continue
        left, right = texts[token - 1], texts[token]
        if not (left and right):
            continue
        edge = (left[0], left[-1], right[0])
        if edge in never:
            continue
        if fuses(left, right, punctuation):
            plan.space[token] = 1
        elif _is_word(left[-1]) or _is_word(right[0]):
            never.add(edge)


def fuses(left: bytes, right: bytes, punctuation: frozenset[str]) -> bool:
    """Whether two tokens would be read as something else without a space between them."""
    if not (left and right):
        return False
    if _is_word(left[-1]):
        return _is_word(right[0]) or (right[:1] == b"." and left[:1].isdigit())
    both = (left + right).decode("utf-8", "replace")
    length = len(left.decode("utf-8", "replace"))
    return any(len(token) > length and both.startswith(token) for token in punctuation)


def _is_word(byte: int) -> bool:
    return byte > 127 or byte == 95 or chr(byte).isalnum()
