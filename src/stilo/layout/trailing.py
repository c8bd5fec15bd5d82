"""The separator after the last item of a list: where one is wanted, and where it is not.

A list that declares its separator may gain one where each item has a line of its own, and lose it
where all share one; where they share several it keeps what it has. For measuring, no such separator
exists; the line of a last item keeps room for the one that is wanted there.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from stilo.layout.edits import EditKind, TokenEdit
from stilo.layout.gaps import MID, OPEN
from stilo.layout.plan import Plan, Tail
from stilo.layout.token_spacing import fuses

#: Whether the items of a list share one line, or several, or each has one.
_ONE, _SEVERAL, _EACH = range(3)

if TYPE_CHECKING:
    from stilo.layout.fit import Fitted
    from stilo.layout.groups import Group
    from stilo.sheet.cascade import Style


def find_tails(plan: Plan) -> dict[int, Tail]:
    """Per closing delimiter, the tail before it, of lists whose style does not keep it as it is.

    Those that only opened lists keep are noted in the plan, by their token.
    """
    rows, tree = plan.rows, plan.tree
    tail_of, gap_row, comments = rows.tail, plan.gap_row, plan.comment_set
    texts, leaves, parent = tree.texts, tree.token_node, tree.parent
    tails: dict[int, Tail] = {}
    for closing in plan.notable:
        tail = tail_of[gap_row[closing]]
        if not tail:
            continue
        sign, mode = tail
        last = closing - 1
        while last in comments:
            last -= 1
        found = -1
        if texts[last] == sign and parent[leaves[last]] == parent[leaves[closing - 1] + 1]:
            if needs_separator(plan, parent[leaves[last]]):
                continue
            found, last = last, _code_before(plan, last)
        elif mode == "opened":
            continue
        if rows.gap[gap_row[last + 1]].part != OPEN:  # there is an item
            if mode != "opened":
                space = (
                    plan.space[found] if found >= 0 else _space_before(plan, closing, last, sign)
                )
                tails[closing] = Tail(sign, found, last, mode == "stacked", space)
            elif found >= 0:
                plan.spare[found] = closing
    return tails


def settle_tails(
    plan: Plan, fitted: Fitted, gaps: list[bytes], tokens: list[bytes]
) -> list[TokenEdit]:
    """Write, in place, the separators that are wanted after last items, and drop those that are not.

    Returns the edits.
    """
    edits: list[TokenEdit] = []

    def edit(token: int, text: bytes, closing: int) -> None:
        reason = _list_around(plan, closing)["trailing"]
        edits.append(TokenEdit(token, EditKind.SEPARATOR, tokens[token], text, reason))
        tokens[token] = text

    def drop(token: int, closing: int) -> None:
        edit(token, b"", closing)
        gaps[token] = b""
        punctuation = plan.rows.kinds.punctuation
        is_tight = not (gaps[closing] or plan.gap(closing).glued)
        if is_tight and fuses(tokens[token - 1], tokens[closing], punctuation):
            gaps[closing] = b" "  # which has the column of what went

    for closing, tail in plan.tails.items():
        if tail.found < 0 and closing not in fitted.breaks:
            continue
        is_opened = tail.is_wanted and closing in fitted.breaks
        lines = _lines(plan.closed.get(closing), fitted) if is_opened else _ONE
        if lines == _EACH and tail.found < 0:
            edit(tail.item, tokens[tail.item] + tail.written, closing)
        elif lines == _ONE and tail.found >= 0 and b"\n" not in gaps[tail.found]:
            drop(tail.found, closing)
    for token, closing in plan.spare.items():
        is_spare = closing not in fitted.breaks or token in fitted.gone
        if is_spare and b"\n" not in gaps[token]:  # else it is what keeps a comment from the bracket
            drop(token, closing)
    return edits


def _lines(group: Group | None, fitted: Fitted) -> int:
    """How many lines the items of an opened list have."""
    between = [t for t, p in zip(group.gaps, group.parts) if p == MID] if group is not None else []
    broken = sum(token in fitted.breaks for token in between)
    if broken == len(between):
        return _EACH if group is not None else _SEVERAL
    return _SEVERAL if broken else _ONE


def needs_separator(plan: Plan, home: int) -> bool:
    """Whether a list that ends with a separator has a sole item, which needs it."""
    tree, style = plan.tree, plan.rows.style[plan.row[home]]
    if style["sole"].value != "keep":
        return False
    sign = str(style["separator"].value).encode()
    return sum(tree.texts[tree.first(child)] == sign for child in tree.children(home)) == 1


def _list_around(plan: Plan, closing: int) -> Style:
    """What is declared for the list that a delimiter closes."""
    tree = plan.tree
    return plan.rows.style[plan.row[tree.parent[tree.gap_right(closing)]]]


def _space_before(plan: Plan, closing: int, token: int, sign: bytes) -> int:
    """The spaces before a separator that is not there yet, as if it stood after the last item.

    token: the last one of that item.
    """
    tree, rows = plan.tree, plan.rows
    bracket = tree.gap_right(closing)
    last, home = tree.token_node[token], tree.parent[bracket]
    while tree.parent[last] != home:
        last = tree.parent[last]
    return rows.space_behind(plan.row[last], sign, tree, bracket)


def _code_before(plan: Plan, token: int) -> int:
    row, leaf, is_comment = plan.row, plan.tree.token_node, plan.rows.comment
    token -= 1
    while token and is_comment[row[leaf[token]]]:
        token -= 1
    return token
