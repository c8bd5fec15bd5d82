"""How far in lines begin, and which lines are known before anything is measured."""

from __future__ import annotations

from collections.abc import Mapping

from stilo.layout.gaps import CLOSE, OPEN
from stilo.layout.groups import Group
from stilo.layout.measures import Measures
from stilo.layout.plan import Margin, Plan
from stilo.layout.regions import measures_at
from stilo.records import dataclass
from stilo.sheet.cascade import Style


#: How far in lines go at most: more than what languages permit in which it means something.
MOST_COLUMNS = 2000


@dataclass(frozen=True)
class Indents:
    """How far in the lines of a plan begin. common: the measures that hold in no region."""

    plan: Plan
    common: Measures

    def measures(self, token: int) -> Measures:
        """What holds at a token."""
        regions = self.plan.regions
        return measures_at(regions, token, self.common) if regions else self.common

    def content(self, group: Group, indent: int) -> int:
        """The column at which the lines of an opened group begin, that are not aligned.

        What is opened only where it must be goes no further in than the width, so that the columns
        to try stay few however deep it is nested. Bodies stop far beyond, so that the result is no longer than
        a number of times the source. A block that keeps its own margin has that.
        """
        kept = self.plan.margins.get((group.node, group.hanging)) if self.plan.margins else None
        if kept is not None:
            return kept.column
        measures = self.measures(group.first) if self.plan.regions else self.common
        column = indent + measures.step(group.style, group.hanging)
        is_body = (
            group.style["wrap"].value == "stack-always" or group.style["short"].value != "never"
        )
        if group.hanging or is_body:
            return max(indent, min(column, MOST_COLUMNS))
        return max(indent, min(column, measures.width))

    def beside(self, group: Group) -> int:
        """How far the first item stands from the begin of its group, if the others are set under it."""
        measured = self.plan.measured
        if group.style["open"].value != "beside" or measured is None:
            return 0
        return measured.starts[group.gaps[0]] - measured.starts[group.first]

    def brace(self, style: Style, token: int) -> int:
        """How far in a brace stands from the line that begins its construct, at a token."""
        return self.measures(token).brace(style)


def close_breaks(group: Group, token: int) -> bool:
    """Whether the gap before a closing delimiter breaks where its group is opened."""
    return token in group.forced or group.style["close"].value != "same-line"


@dataclass(frozen=True)
class FixedLines:
    """New lines that are known before measuring.

    cuts: the token that begins each → its column. loose: those that stand in no sequence, in text
    order, whose columns are not known yet. margins: cut → the margin that it stands at or after, where
    a block keeps its own. closed: closing delimiters that stand further in than the line on which what
    they close begins → the column of that.
    """

    cuts: dict[int, int]
    loose: list[int]
    margins: dict[int, Margin]
    closed: dict[int, int]


def fixed_lines(indents: Indents) -> FixedLines:
    """The lines whose columns follow from bodies and from comments alone."""
    plan = indents.plan
    groups = plan.groups
    base = [0] * len(groups)
    content = [0] * len(groups)
    cuts: dict[int, int] = {}
    closed: dict[int, int] = {}
    for number, group in enumerate(groups):
        if not group.fixed:
            continue
        if number:
            around = groups[group.around]
            inside = _is_inside(around, group.first)
            base[number] = content[group.around] if inside else base[group.around]
            brace = 0
            if group.style["brace"].value != "auto":
                brace = indents.brace(group.style, group.first)
            base[number] += brace
            content[number] = indents.content(group, base[number])
            if (group.node, group.hanging) not in plan.margins:
                content[number] += indents.beside(group)
        is_beside = group.style["open"].value == "beside"
        for token, part in zip(group.gaps, group.parts):
            if part == OPEN and is_beside:
                continue
            if part == CLOSE:
                if close_breaks(group, token):
                    is_level = group.style["close"].value == "item-column"
                    cuts[token] = content[number] if is_level else base[number]
                    if number and cuts[token] != base[number] - brace:
                        closed[token] = base[number] - brace
            else:
                cuts[token] = content[number]
    loose: list[int] = []
    for token, (number, by_comment) in plan.lines.items():
        group = groups[number]
        if not group.fixed:
            loose.append(token)
            continue
        extra = indents.measures(token).continuation if by_comment else 0
        extra += indents.brace(plan.style(token), token)
        cuts[token] = (content[number] if _is_inside(group, token) else base[number]) + extra
    margins = _margins(plan, cuts) if plan.margins else {}
    return FixedLines(cuts, sorted(loose), margins, closed)


def _margins(plan: Plan, cuts: Mapping[int, int]) -> dict[int, Margin]:
    """The margin that each of the lines stands at or after, where a block around it keeps its own."""
    groups = plan.groups
    base: list[Margin | None] = [None] * len(groups)
    content: list[Margin | None] = [None] * len(groups)
    found: dict[int, Margin | None] = {}
    for number, group in enumerate(groups):
        if not group.fixed:
            continue
        if number:
            inside = _is_inside(groups[group.around], group.first)
            base[number] = (content if inside else base)[group.around]
            content[number] = plan.margins.get((group.node, group.hanging), base[number])
        for token, part in zip(group.gaps, group.parts):
            is_base = part == CLOSE and group.style["close"].value != "item-column"
            found[token] = (base if is_base else content)[number]
    for token, (number, _) in plan.lines.items():
        found[token] = (content if _is_inside(groups[number], token) else base)[number]
    return {
        token: margin for token, margin in found.items() if margin is not None and token in cuts
    }


def _is_inside(group: Group, token: int) -> bool:
    """Whether a token stands after the first gap of a group, and before its closing delimiter."""
    gaps = group.gaps
    is_after = len(gaps) > 0 and gaps[0] <= token
    return is_after and not (group.parts[-1] == CLOSE and token >= gaps[-1])
