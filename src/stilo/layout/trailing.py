"""The separator after the last item of a list: where one is wanted, and where it is not.

Of code this is all that Stilo ever changes but white space: a list that declares its separator
may gain one when it is stacked, and lose it when it is not. For measuring, no such separator
exists; the line of a last item keeps room for the one that is wanted there.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from stilo.layout.edits import EditKind, TokenEdit
from stilo.layout.gaps import OPEN
from stilo.layout.plan import Plan, Tail
from stilo.layout.token_spacing import fuses

if TYPE_CHECKING:
    from stilo.layout.fit import Fitted
    from stilo.sheet.cascade import Style


def find_tails(plan: Plan) -> dict[int, Tail]:
    """Per closing delimiter, the tail before it, of lists whose style does not keep it as it is.

    Those that only opened lists keep are noted in the plan, by their token.
    """
    rows, tree = plan.rows, plan.tree
    tails: dict[int, Tail] = {}
    for closing in plan.notable:
        tail = rows.tail[plan.gap_row[closing]]
        if not tail:
            continue
        sign, mode = tail
        home = tree.parent[tree.gap_right(closing)]
        last = _code_before(plan, closing)
        found = -1
        if tree.texts[last] == sign and tree.parent[tree.token_node[last]] == home:
            found, last = last, _code_before(plan, last)
        elif mode == "opened":
            continue
        if plan.gap(last + 1).part != OPEN:  # there is an item
            if mode != "opened":
                space = plan.space[found] if found >= 0 else _space_before(plan, closing, sign)
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
        if not gaps[closing] and fuses(tokens[token - 1], tokens[closing], punctuation):
            gaps[closing] = b" "  # which has the column of what went

    for closing, tail in plan.tails.items():
        is_wanted = tail.is_wanted and closing in fitted.breaks
        if is_wanted and tail.found < 0:
            edit(tail.item, tokens[tail.item] + tail.written, closing)
        elif tail.found >= 0 and not is_wanted and b"\n" not in gaps[tail.found]:
            drop(tail.found, closing)
    for token, closing in plan.spare.items():
        is_spare = closing not in fitted.breaks or token in fitted.gone
        if is_spare and b"\n" not in gaps[token]:  # else it is what keeps a comment from the bracket
            drop(token, closing)
    return edits


def _list_around(plan: Plan, closing: int) -> Style:
    """What is declared for the list that a delimiter closes."""
    tree = plan.tree
    return plan.rows.style[plan.row[tree.parent[tree.gap_right(closing)]]]


def _space_before(plan: Plan, closing: int, sign: bytes) -> int:
    """The spaces before a separator that is not there yet: as if it stood after the last item."""
    tree, rows = plan.tree, plan.rows
    bracket = tree.gap_right(closing)
    items = [n for n in tree.children(tree.parent[bracket]) if n < bracket]
    last = next(node for node in reversed(items) if not rows.comment[plan.row[node]])
    return rows.space_behind(plan.row[last], sign, tree, bracket)


def _code_before(plan: Plan, token: int) -> int:
    row, leaf, is_comment = plan.row, plan.tree.token_node, plan.rows.comment
    token -= 1
    while token and is_comment[row[leaf[token]]]:
        token -= 1
    return token
