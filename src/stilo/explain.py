"""Explanations: what in a source is not in style, and what decided a gap."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from stilo.errors import OutOfRange
from stilo.layout.cells import cell_declared
from stilo.layout.fit import Fitted
from stilo.layout.gaps import EMPTY, NONE, OPEN
from stilo.layout.groups import Group
from stilo.layout.plan import Plan
from stilo.layout.render import Rendered
from stilo.sheet.cascade import Declared
from stilo.sheet.properties import Value
from stilo.source import Position, Source

if TYPE_CHECKING:
    from stilo.style.given import Given


@dataclass(frozen=True)
class Reason:
    """The declaration that decided: property, value, rule, sheet:line, and the setting if any.

    origin: file:line and layer that gave the setting its value, if it is not the sheet's.
    """

    property: str
    value: Value
    rule: str
    place: str
    setting: str | None
    origin: str = ""

    def traced(self, origins: Mapping[str, Given]) -> Reason:
        """The same, with the origin of the setting's value."""
        given = origins.get(self.setting or "")
        if given is None:
            return self
        return replace(self, origin=f"{given.place} ({given.layer})")

    def __str__(self) -> str:
        if not self.place:
            return f"{self.property}: {self.value} (where no rule says otherwise)"
        name = self.setting or f"{self.property} of {self.rule}"
        return f"{name} = {self.value}, {self.origin or self.place}"


@dataclass(frozen=True)
class Finding:
    """One place of a source that is not in style.

    within: the segment of a document that it is in, such as `cell 3`, or "".
    """

    position: Position
    message: str
    reason: Reason | None
    within: str = ""

    def __str__(self) -> str:
        line, column = self.position
        where = f"in {self.within}: " if self.within else ""
        tail = f" ({self.reason})" if self.reason else ""
        return f"{line}:{column}: {where}{self.message}{tail}"


@dataclass(frozen=True)
class Decision:
    """What decided one gap: the tokens around it, what becomes of it, and why."""

    position: Position
    before: str
    after: str
    outcome: str
    because: str
    reasons: tuple[Reason, ...]


def findings_of(
    source: Source,
    plan: Plan,
    fitted: Fitted,
    rendered: Rendered,
    touched: Sequence[int] | None,
) -> Iterator[Finding]:
    """Each gap or comment of the source that differs from what is wanted."""
    tree = plan.tree
    count = len(rendered.tokens)
    for token in range(count + 1) if touched is None else touched:
        wanted = rendered.gaps[token]
        found = tree.between(token)
        if token == count:
            found = found[:-1] if not source.raw.endswith(b"\n") else found
        if found != wanted:
            yield _gap_finding(source, plan, fitted, rendered, token, found)
        if token < count and rendered.tokens[token] != tree.source_text(token):
            yield _token_finding(source, plan, rendered, token)


def _token_finding(source: Source, plan: Plan, rendered: Rendered, token: int) -> Finding:
    tree = plan.tree
    at = source.position(tree.token_start[token])
    if token in plan.own_signs:
        opens = "before" if token in tree.soft else "behind"
        shown = _shown(plan, token + 1 if token in tree.soft else token - 1)
        wanted = "is wanted" if token in rendered.added else "is not wanted"
        return Finding(at, f"a bracket {wanted} {opens} {shown}", None)
    if token in plan.idle_set:
        return Finding(at, f"{_shown(plan, token)} is not wanted at the end of a line", None)
    if token in rendered.added:
        at = source.position(tree.token_end[token])
        sign = rendered.added[token].decode()
        return Finding(at, f'"{sign}" is wanted behind {_shown(plan, token)}', None)
    if token in rendered.removed:
        return Finding(at, f"{_shown(plan, token)} is not wanted behind the last item", None)
    if token in rendered.rewritten:
        wanted = rendered.tokens[token].decode("utf-8", "replace").split("\n")[0]
        return Finding(at, f"{_shown(plan, token)} is to be written {wanted}", None)
    if token not in plan.comment_set and token not in rendered.reworded:
        wanted = rendered.tokens[token].decode("utf-8", "replace")
        return Finding(at, f'the words of "{wanted}" have one space between them', None)
    if token in rendered.reworded:
        return Finding(at, "the comment is to be wrapped to its width", None)
    return Finding(at, "further lines of the comment are to move with its first", None)


def _gap_finding(
    source: Source,
    plan: Plan,
    fitted: Fitted,
    rendered: Rendered,
    token: int,
    found: bytes,
) -> Finding:
    wanted = rendered.gaps[token]
    tree = plan.tree
    count = len(tree.token_node)
    end_before = tree.token_end[token - 1] if token else 0
    at = source.position(tree.token_start[token] if token < count else end_before)
    if token == count:
        return Finding(at, _end_of_text(found, wanted), None)
    reason = _gap_reason(plan, fitted, rendered, token)
    if b"\n" in wanted and b"\n" not in found:
        return Finding(at, f"a new line is wanted before {_shown(plan, token)}", reason)
    if b"\n" in found and b"\n" not in wanted:
        return Finding(at, f"{_shown(plan, token)} belongs on the line before", reason)
    if b"\n" not in wanted:
        message = f"{_blanks(found)} before {_shown(plan, token)}, {_blanks(wanted)} wanted"
        return Finding(at, message, reason)
    have, want = found.count(b"\n") - 1, wanted.count(b"\n") - 1
    if have != want:
        reason = _blank_reason(plan, token)
        message = f"{_count(have, 'blank line')} before {_shown(plan, token)}, {want} wanted"
        return Finding(at, message, reason)
    margin, wanted_margin = found[found.rfind(b"\n") + 1:], wanted[wanted.rfind(b"\n") + 1:]
    if margin != wanted_margin:
        if len(margin) == len(wanted_margin) or b"\t" in margin + wanted_margin:
            message = f"indent of {_margin(margin)}, {_margin(wanted_margin)} wanted"
        else:
            message = f"indent of {len(margin)}, {len(wanted_margin)} wanted"
        return Finding(at, message, reason)
    return Finding(source.position(end_before), "blanks at the end of a line", None)


def _end_of_text(found: bytes, wanted: bytes) -> str:
    if wanted and b"\n" not in found:
        return "the last line has no line end"
    if not wanted:
        return "nothing is wanted behind the last token"
    return "blank lines or blanks at the end of the file"


def _count(number: int, noun: str) -> str:
    return f"{number} {noun}" if number == 1 else f"{number} {noun}s"


def _blanks(gap: bytes) -> str:
    if b"\t" in gap:
        return "a tab" if gap == b"\t" else "blanks and tabs"
    return "no blank" if not gap else _count(len(gap), "blank")


def _margin(margin: bytes) -> str:
    tabs, spaces = margin.count(b"\t"), margin.count(b" ")
    parts = [_count(tabs, "tab")] if tabs else []
    if spaces or not tabs:
        parts.append(_count(spaces, "space"))
    return " and ".join(parts)


def _shown(plan: Plan, token: int) -> str:
    while token + 1 < len(plan.tree.texts) and not plan.tree.texts[token]:
        token += 1  # a bracket that is not there
    text = plan.tree.token_text(token).decode("utf-8", "replace").split("\n")[0].strip()
    short = f"{text[:29]}…" if len(text) > 30 else text
    return short if short[:1] in "\"'`" else f'"{short}"'


def _reason(declared: Declared, name: str) -> Reason:
    source = declared.source
    if source is None:
        return Reason(name, declared.value, "", "", None)
    place = f"{source.place.origin}:{source.place.line}"
    return Reason(source.name, declared.value, source.rule, place, source.setting)


def _said_reason(plan: Plan, token: int) -> Reason:
    """What decided the blank, or new line, of a gap that no sequence decides."""
    said = plan.gap(token).said
    name = said.source.name if said.source else "between"
    if name == "brace":  # where a brace stands decides the gap before it
        said = plan.style(token)["brace"]
    return _reason(said, name)


def _owner(plan: Plan, token: int) -> Group | None:
    """The group that owns a gap, if one does."""
    return plan.owners.get(token)


def _blank_reason(plan: Plan, token: int) -> Reason:
    """What asks for blank lines before a token, or allows no more of them."""
    if plan.blanks.get(token):
        comments = set(plan.comments)
        while token in comments:  # the lines are asked for before what the comments speak of
            token += 1
        return _reason(plan.gap(token).blanked, "blank-before")
    group = _owner(plan, token)
    style = group.style if group is not None else plan.rows.style[0]
    return _reason(style["blank-most"], "blank-most")


def _gap_reason(plan: Plan, fitted: Fitted, rendered: Rendered, token: int) -> Reason | None:
    reasons = _reasons(plan, fitted, rendered, token)
    return reasons[0] if reasons else None


def _reasons(plan: Plan, fitted: Fitted, rendered: Rendered, token: int) -> tuple[Reason, ...]:
    gap = plan.gap(token)
    if token in rendered.aligned:
        return (_reason(cell_declared(plan, token), "column"),)
    if token in plan.trailing:
        return ()
    if token in plan.lines:
        return (_said_reason(plan, token) if gap.line else _reason(gap.broken, "between"),)
    if token in fitted.breaks:
        group = _owner(plan, token)
        if group is not None:
            name = "hang" if group.hanging else "wrap"
            broken = _reason(gap.broken, "break")
            wrap = _reason(group.style[name], name)
            return (wrap, broken) if wrap != broken else (wrap,)
        return (_reason(gap.broken, "break"),)
    return (_said_reason(plan, token),)


def decision_at(
    source: Source,
    plan: Plan,
    fitted: Fitted,
    rendered: Rendered,
    values: Mapping[str, Value],
    line: int,
    column: int | None,
) -> Decision:
    """The decision on the gap before the token at a place of the source."""
    tree = plan.tree
    if not 1 <= line <= source.line_count:
        has = f"it has lines 1 to {source.line_count}" if source.line_count else "it is empty"
        raise OutOfRange(source.name, f"line {line}", has)
    start, end = source.line_start(line), source.line_start(line + 1)
    if column is None:
        token = bisect_left(tree.token_start, start)
        if token == len(tree.token_start) or tree.token_start[token] >= end:
            token = max(0, bisect_right(tree.token_start, start) - 1)
    else:
        width = len(source.data[start:end].decode().rstrip("\n"))
        if not 1 <= column <= max(1, width):
            asked = f"column {column} in line {line}"
            raise OutOfRange(source.name, asked, f"the line has columns 1 to {width}")
        offset = source.offset(Position(line, column))
        token = bisect_left(tree.token_end, offset + 1)
    if not tree.token_start:
        raise OutOfRange(source.name, "token", "it is empty")
    token = min(token, len(tree.token_start) - 1)
    position = source.position(tree.token_start[token])
    before = _shown(plan, token - 1) if token else "the start of the file"
    outcome, because = _outcome(plan, fitted, rendered, values, token)
    reasons = _reasons(plan, fitted, rendered, token) if token else ()
    if token in rendered.kept.gaps:
        reasons = ()
    return Decision(position, before, _shown(plan, token), outcome, because, reasons)


def _outcome(
    plan: Plan,
    fitted: Fitted,
    rendered: Rendered,
    values: Mapping[str, Value],
    token: int,
) -> tuple[str, str]:
    if not token:
        return "the text begins here", "nothing stands before the first token"
    if token in rendered.kept.gaps:
        if any(token in run for run in rendered.kept.moved):
            acts = "a comment acts on a line of this statement, which keeps its lines for that"
            return "its lines stay as they are", acts
        return (
            "it stays as it is",
            "a comment leaves it: a directive, or one that acts where it stands"
        )
    gap = plan.gap(token)
    if token not in fitted.breaks:
        if token in rendered.aligned:
            return _blanks(rendered.gaps[token]), "it begins at one column with the lines around"
        space = "one blank" if rendered.gaps[token] else "no blank"
        if token in plan.trailing:
            return "one blank", "a comment behind code stays on its line"
        if plan.space[token] > gap.space:
            return space, "without a blank the two would be read as something else"
        if gap.part not in (NONE, EMPTY):
            return f"{space}, no new line", "what this sequence holds fits without a break here"
        return space, "what the rule says"
    owner = _owner(plan, token)
    blank = rendered.gaps[token].count(b"\n") - 1
    outcome = f"a new line, {_count(fitted.breaks[token], 'column')} in"
    if b"\n" not in rendered.gaps[token]:
        outcome = f"on the line of the brace, {_count(fitted.breaks[token], 'column')} in"
    if blank:
        outcome += f", after {_count(blank, 'blank line')}"
    if token in plan.lines:
        if plan.lines[token][1]:
            return outcome, "the comment before it, or the comment itself, needs its own line"
        return outcome, "the rule asks for a new line whatever fits"
    if owner is not None and owner.forced and owner.wrap != "stack-always":
        if any(t in plan.comments or t - 1 in plan.comments for t in owner.forced):
            return outcome, "a comment in this sequence has a line of its own"
        if owner.style["authored"].value == "yes" and owner.parts[0] == OPEN:
            return outcome, "the author set the first item on a new line"
        if owner.style["row-most"].value:
            return outcome, "this sequence holds more items than may stand in a row"
    if owner is not None and owner.wrap == "stack-always":
        return outcome, "this sequence is always laid out one item a line"
    if owner is not None and owner.hard:
        return outcome, "something inside this sequence cannot stand on one line"
    return outcome, f"on one line this would pass the width of {values['width']} columns"
