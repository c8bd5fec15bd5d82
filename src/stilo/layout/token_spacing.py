"""Tokens that would be read as something else without a space between them."""

from __future__ import annotations

from functools import lru_cache

from stilo.layout.plan import Plan

#: More bytes than any sign of a language has.
_LONGEST = 16


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


def keep_together(plan: Plan, leaf_row: list[int], punctuation: frozenset[str]) -> None:
    """Leave operators without spaces that their author wrote so, where the style has them stay.

    A line end on one side of them does not count, since lines may break there.
    """
    tree, kept = plan.tree, plan.rows.stays_tight
    texts, starts, ends, data = tree.texts, tree.token_start, tree.token_end, tree.data
    for token in [token for token in plan.notable if kept[leaf_row[token]] != "nowhere"]:
        behind = token + 1
        if not 0 < token < len(texts) - 1:
            continue
        if starts[token] != ends[token - 1] and starts[behind] != ends[token]:
            continue
        if not plan.comment_set.isdisjoint((token - 1, behind)):
            continue
        if not (plan.space[token] and plan.space[behind]):
            continue  # once a line breaks there, nothing tells what the author wrote
        before, after = data[ends[token - 1]:starts[token]], data[ends[token]:starts[behind]]
        if not (_is_close(before) and _is_close(after)):
            continue
        if kept[leaf_row[token]] == "inside" and not _is_inside(plan, tree.token_node[token]):
            continue
        if not any(
            fuses(*pair, punctuation)
            for pair in zip(texts[token - 1 : behind], texts[token : behind + 1])
        ):
            plan.space[token] = plan.space[behind] = 0
            plan.tight[token] = plan.tight[behind] = token


def _is_close(blank: bytes) -> bool:
    return not blank or b"\n" in blank


def _is_inside(plan: Plan, operator: int) -> bool:
    """Whether the operation of an operator stands in something of lower precedence."""
    tree, row, styles = plan.tree, plan.row, plan.rows.style
    node = tree.parent[operator]
    own = said = int(styles[row[node]]["precedence"].value)
    while own and said == own and node:
        node = tree.parent[node]
        said = int(styles[row[node]]["precedence"].value)
    return 0 < said < own


def fuses(left: bytes, right: bytes, punctuation: frozenset[str]) -> bool:
    """Whether two tokens would be read as something else without a space between them."""
    if not (left and right):
        return False
    if _is_word(left[-1]):
        return _is_word(right[0]) or (right[:1] == b"." and left[:1].isdigit())
    return len(left) < _LONGEST and _make_another(left, right[:_LONGEST], punctuation)


@lru_cache(4096)
def _make_another(left: bytes, right: bytes, punctuation: frozenset[str]) -> bool:
    """Whether a sign and the begin of what follows it make a longer sign."""
    both = (left + right).decode("utf-8", "replace")
    length = len(left.decode("utf-8", "replace"))
    return any(len(token) > length and both.startswith(token) for token in punctuation)


def _is_word(byte: int) -> bool:
    return byte > 127 or byte == 95 or chr(byte).isalnum()
