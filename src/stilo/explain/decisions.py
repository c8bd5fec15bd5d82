"""Decisions: what becomes of the gap before a token, and why."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from dataclasses import dataclass

from stilo.errors import OutOfRange
from stilo.explain.findings import count_of, quoted
from stilo.explain.reasons import Reason, Reasons
from stilo.layout.gaps import EMPTY, NONE, OPEN
from stilo.layout.kept import statement_starts
from stilo.source import Position, Source


@dataclass(frozen=True)
class Decision:
    """What decided one gap: the tokens around it, what becomes of it, and why."""

    position: Position
    before: str
    after: str
    outcome: str
    because: str
    reasons: tuple[Reason, ...]


def decision_at(source: Source, reasons: Reasons, line: int, column: int | None) -> Decision:
    """The decision on the gap before the token at a place of the source. Raises OutOfRange."""
    token = token_at(source, reasons, line, column)
    tree, rendered = reasons.plan.tree, reasons.rendered
    position = source.position(tree.token_start[token])
    before = _shown(reasons, token - 1) if token else "the start of the file"
    outcome, because = _outcome(reasons, token)
    found = reasons.of_gap(token) if token and token not in rendered.kept.gaps else ()
    return Decision(position, before, _shown(reasons, token), outcome, because, found)


def token_at(source: Source, reasons: Reasons, line: int, column: int | None) -> int:
    """The token at a place; without a column the first of the line. Raises OutOfRange."""
    tree = reasons.plan.tree
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
    return min(token, len(tree.token_start) - 1)


def statement_of(reasons: Reasons, token: int) -> bytes:
    """The statement, clause or entry that a token is in, as it is laid out."""
    rendered = reasons.rendered
    groups = reasons.plan.groups
    lines = [g for g in groups if g.fixed and (g.hanging or g.style["between"].value == "line")]
    starts = sorted({0, *(token for group in lines for token in group.gaps)})
    if len(starts) == 1:  # a document of lists in lists
        starts = sorted({0, *statement_starts(reasons.plan)})
    at = bisect_right(starts, token)
    end = starts[at] if at < len(starts) else len(rendered.tokens)
    pieces: list[bytes] = []
    for number in range(starts[at - 1], end):
        pieces += [rendered.gaps[number], rendered.tokens[number]]
    return b"".join(pieces).lstrip(b"\n")


def source_place(source: Source, reasons: Reasons, line: int, column: int | None) -> Position:
    """Where the token at a place of the result is in the source. Raises OutOfRange."""
    rendered, found = reasons.rendered, -1
    count = rendered.text().count(b"\n")
    if not 1 <= line <= count:
        raise OutOfRange(source.name, f"line {line} of the result", f"it has lines 1 to {count}")
    at = Position(1, 1)
    for token, (gap, text) in enumerate(zip(rendered.gaps, rendered.tokens)):
        at = _moved(at, gap)
        if found >= 0 and (at.line > line or column is None or at.column > column):
            break
        if text and at.line >= line:
            found = token
        at = _moved(at, text)
    return source.position(reasons.plan.tree.token_start[max(0, found)])


def _moved(at: Position, text: bytes) -> Position:
    """Where one is after a piece of text."""
    lines = text.count(b"\n")
    shown = len(text[text.rfind(b"\n") + 1:].decode())
    return Position(at.line + lines, shown + 1 if lines else at.column + shown)


def _shown(reasons: Reasons, token: int) -> str:
    texts = reasons.plan.tree.texts
    while token + 1 < len(texts) and not texts[token]:
        token += 1  # a bracket that is not there
    return quoted(texts[token])


def _outcome(reasons: Reasons, token: int) -> tuple[str, str]:
    """What becomes of a gap, and why."""
    plan, fitted, rendered = reasons.plan, reasons.fitted, reasons.rendered
    if not token:
        return "the file begins here", "nothing stands before the first token"
    if token in rendered.kept.gaps:
        if any(token in run for run in rendered.kept.moved):
            acts = "a comment acts on a line of this statement, so the statement keeps its lines"
            return "its lines stay as they are", acts
        return (
            "it stays as it is",
            "a comment leaves it: a directive, or one that acts where it stands",
        )
    if token not in fitted.breaks:
        return _outcome_on_line(reasons, token)
    gap = rendered.gaps[token]
    lines = gap.count(b"\n") - 1
    outcome = f"a line break, {_columns(fitted.breaks[token])}"
    if b"\n" not in gap:
        outcome = f"on the line of the brace, {_columns(fitted.breaks[token])}"
    if lines > 0:
        outcome += f", after {count_of(lines, 'blank line')}"
    return outcome, _why_broken(reasons, token)


def _outcome_on_line(reasons: Reasons, token: int) -> tuple[str, str]:
    plan, rendered = reasons.plan, reasons.rendered
    gap, found = plan.gap(token), rendered.gaps[token]
    space = count_of(len(found), "space")
    if token in rendered.aligned:
        return space, "it is aligned with the lines around it"
    if token in plan.trailing:
        return space, "a comment after code stays on its line"
    if plan.space[token] > gap.space:
        return space, "without a space the two would be read as something else"
    if gap.part not in (NONE, EMPTY):
        return f"{space}, no line break", "the list that it stands in fits without a break here"
    return space, "a rule says so"


def _columns(count: int) -> str:
    return f"indented by {count_of(count, 'column')}" if count else "not indented"


def _why_broken(reasons: Reasons, token: int) -> str:
    plan = reasons.plan
    if token in plan.lines:
        if plan.lines[token][1]:
            return "the comment before it, or the comment itself, needs a line of its own"
        return "a rule asks for a line break, whether or not it fits"
    owner = plan.owners.get(token)
    if owner is None:
        return "a rule asks for a line break, whether or not it fits"
    if reasons.is_under_first(owner):
        return "its author set it under the first item"
    if owner.forced and owner.wrap != "stack-always":
        if any(t in plan.comment_set or t - 1 in plan.comment_set for t in owner.forced):
            return "a comment in this list has a line of its own"
        authored = owner.style["authored"].value
        if authored != "no" and owner.parts[0] == OPEN and (authored != "stack" or owner.stacked):
            is_row = (owner.rows is not None or owner.stacked) and token != owner.gaps[0]
            return (
                "its author began a line there"
                if is_row
                else "its author set the first item on a new line"
            )
        if owner.style["line-most"].value:
            return "the list holds more items than may stand on one line"
    if owner.wrap == "stack-always":
        return "each item always has a line of its own here"
    if owner.hard:
        return "something inside this list cannot stand on one line"
    return f"on one line it would be wider than {reasons.values['width']} columns"
