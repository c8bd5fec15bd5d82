"""Brackets of their own: written where the value in them is opened, and left out elsewhere."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence

from stilo.layout.edits import EditKind, TokenEdit
from stilo.layout.fit import Fitted
from stilo.layout.plan import Plan
from stilo.layout.trailing import needs_separator


def settle_brackets(
    plan: Plan, fitted: Fitted, gaps: list[bytes], tokens: list[bytes]
) -> list[TokenEdit]:
    """Write or drop, in place, each pair that may come and go. Returns the edits."""
    own = plan.rows.own_brackets
    edits: list[TokenEdit] = []
    if own is None:
        return edits

    def edit(token: int, kind: EditKind, text: bytes) -> None:
        edits.append(TokenEdit(token, kind, tokens[token], text, own.setting))
        tokens[token] = text

    tree, leaf = plan.tree, plan.tree.token_node
    opened = {group.opening for group in plan.owned if group.gaps[0] in fitted.breaks}
    held = {
        plan.groups[group.needs].opening
        for group in plan.groups
        if group.aligned is not None and group.needs >= 0
        if not fitted.breaks.keys().isdisjoint(group.gaps)
    }
    lines = sorted(plan.lines)
    for opening, closing in plan.tree.soft.items():
        stays = (
            opening in tree.firm or opening in held or _holds_line(plan, lines, opening, closing)
        )
        if opening not in opened and tokens[opening] and stays:
            continue
        for token, sign in zip((opening, closing), own.signs):
            if opening in opened:
                if not tokens[token]:
                    edit(token, EditKind.BRACKET, sign)
            elif tokens[token]:
                edit(token, EditKind.BRACKET, b"")
        home, last = tree.parent[leaf[closing]], closing - 1
        if opening in opened and tree.kind[home] in own.listed.values():
            # Once they are there, they are brackets like others, with the spaces of others.
            for token in (opening + 1, closing):
                if token not in fitted.breaks:
                    gaps[token] = b" " * plan.rows.space[plan.gap_row[token]]
        # A separator after the last item needs the brackets.
        if (
            opening not in opened
            and tree.parent[leaf[last]] == home
            and not needs_separator(plan, home)
        ):
            if tokens[last].decode() == plan.rows.style[plan.row[home]]["separator"].value:
                edit(last, EditKind.SEPARATOR, b"")
                gaps[last] = b""
    return edits


def _holds_line(plan: Plan, lines: Sequence[int], opening: int, closing: int) -> bool:
    """Whether a line begins between two brackets in no sequence within them, such as after a comment.

    lines: the tokens that begin a line in no sequence, in order.
    """
    return any(
        plan.groups[plan.lines[token][0]].first <= opening
        for token in lines[bisect_right(lines, opening):bisect_right(lines, closing)]
    )
