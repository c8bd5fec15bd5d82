"""Which settings matter to a text: those that some decision in it consulted."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from stilo.layout.fit import Fitted
from stilo.layout.gaps import EMPTY, MID, NONE, OPEN
from stilo.layout.plan import Plan
from stilo.sheet.cascade import Declared, Style

#: What is asked of a sequence that is opened, and of no other.
_WHEN_OPENED = (
    "open",
    "close",
    "inner-line",
    "atoms",
    "align",
    "indent",
    "trailing",
    "keep",
    "blank-most",
    "blank-edges",
)
#: What is asked of the node that a gap leads to.
_OF_NODE = (
    "quotes",
    "letters",
    "inner-lines",
    "column",
    "brace",
    "short",
    "hang",
    "blank-before",
    "blank-kept",
    "tight",
)
_STEPS = {"block": "indent", "continuation": "continuation"}


def consulted(plan: Plan, fitted: Fitted, touched: Sequence[int] | None) -> frozenset[str]:
    """The names of the settings consulted for the gaps in a range, or for all."""
    tree = plan.tree
    gaps = range(1, len(plan.space)) if touched is None else touched
    found = {"line-ends", "charset", "final-newline"}
    for token in gaps:
        if 0 < token < len(plan.space):
            found.update(_names(_of_gap(plan, token)))
            found.update(_steps_of_gap(plan, fitted, token))
    for group in plan.groups:
        inside = [token for token in group.gaps if token in gaps and token in fitted.breaks]
        if inside:
            found.update(_names(group.style[name] for name in _WHEN_OPENED))
            found.add(_STEPS.get(str(group.style["indent"].value), "width"))
            if not group.fixed:
                found.add("density")
    if any(token in gaps for token in plan.comments):
        found.update(("comment-columns", "comment-distance", "trim-comments", "bound-comments"))
    if not tree.kind:
        found.discard("final-newline")
    return frozenset(found)


def _of_gap(plan: Plan, token: int) -> Iterable[Declared]:
    """What decides a gap, whether it becomes a space or a new line."""
    gap, right = plan.gap(token), plan.style(token)
    yield from (right[name] for name in _OF_NODE)
    yield plan.rows.style[plan.row[plan.tree.token_node[token - 1]]]["tight"]
    if token in plan.trailing:
        yield plan.rows.style[plan.row[plan.tree.token_node[token]]]["column"]
    yield gap.blanked
    if gap.part == EMPTY:
        return
    yield gap.said
    yield gap.broken
    if gap.part != NONE:
        around: Style = plan.rows.style[plan.row[plan.tree.parent[plan.tree.gap_right(token)]]]
        yield around["wrap"]
        if gap.part in (OPEN, MID):
            yield around["authored"]
        if gap.part == MID:
            yield around["line-most"]


def _steps_of_gap(plan: Plan, fitted: Fitted, token: int) -> Iterable[str]:
    if token in fitted.breaks and fitted.breaks[token]:
        yield from ("indent-with", "tab-width")
    if plan.gap(token).part not in (NONE, EMPTY):
        yield "width"


def _names(declared: Iterable[Declared]) -> Iterable[str]:
    return (d.source.setting for d in declared if d.source is not None and d.source.setting)
