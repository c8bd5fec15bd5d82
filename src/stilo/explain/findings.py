"""Findings: the places of a source that are not in style."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import NamedTuple

from stilo.explain.reasons import Reason, Reasons
from stilo.layout.edits import EditKind, TokenEdit
from stilo.layout.plan import Plan
from stilo.source import Position, Source

#: What findings are about, by their code.
CODES = {
    "line-break": "a line break is missing",
    "joined-lines": "a line break is not wanted",
    "spaces": "the spaces between two tokens",
    "blank-lines": "the blank lines before a line",
    "indent": "how far in a line begins",
    "line-end": "spaces at the end of a line",
    "file-end": "the end of the file",
    "brackets": "brackets around a value",
    "separator": "the separator after a last item",
    "idle-sign": "a sign that does nothing where it stands",
    "terminator": "the sign at the end of a statement",
    "pieces": "the pieces of a long string",
    "spelling": "how a token is written",
    "form": "which of several forms something is written in",
    "comment": "the lines of a comment",
    "directive": "the spaces within a line for another program",
    "imports": "the imports",
    "inner-text": "where a text in another language stands, or what a command makes of it",
    "bytes": "line ends and byte-order mark",
}


@dataclass(frozen=True)
class Finding:
    """One place of a source that is not in style.

    position, end: where it begins, and where it ends. code: what it is about, one of CODES. reason: what
    asks for it. within: the segment of a document that it is in, such as `cell 3`, or "".
    """

    position: Position
    end: Position
    code: str
    message: str
    reason: Reason
    within: str = ""

    def __str__(self) -> str:
        line, column = self.position
        where = f"in {self.within}: " if self.within else ""
        return f"{line}:{column}: {where}{self.message} ({self.reason.short()})"


class Differing(NamedTuple):
    """A token that is to be otherwise, or the gap before it, with what is found there."""

    token: int
    is_gap: bool
    finding: Finding


def findings_of(
    source: Source, reasons: Reasons, touched: Sequence[int] | None
) -> Iterator[Differing]:
    """Each gap or token of a source that differs from what is wanted. touched: the gaps to look at."""
    rendered, tree = reasons.rendered, reasons.plan.tree
    count = len(rendered.tokens)
    edits: dict[int, list[TokenEdit]] = {}
    for edit in rendered.edits:
        edits.setdefault(edit.token, []).append(edit)
    for token in range(count + 1) if touched is None else touched:
        wanted = rendered.gaps[token]
        found = tree.between(token)
        if token == count:
            found = found[:-1] if not source.raw.endswith(b"\n") else found
        if found != wanted:
            yield Differing(token, True, _of_gap(source, reasons, token, found))
        for edit in edits.get(token, ()):
            if edit.kind is EditKind.WRAP and edit.is_gone:
                continue  # it is in the text of the first of these comments
            yield Differing(token, False, _of_edit(source, reasons, edit))
        if (
            token < count
            and token not in edits
            and rendered.tokens[token] != tree.source_text(token)
        ):
            yield Differing(token, False, _of_words(source, reasons, token))


def _of_edit(source: Source, reasons: Reasons, edit: TokenEdit) -> Finding:
    plan, token = reasons.plan, edit.token
    tree = plan.tree
    start, end = tree.token_start[token], tree.token_end[token]
    shown = quoted(edit.before or edit.after)
    code = "comment"
    if edit.kind is EditKind.BRACKET:
        code = "brackets"
        is_opening = token in tree.soft
        wanted = "not wanted" if edit.is_gone else "wanted"
        where = "before" if is_opening else "after"
        message = f"{shown} {wanted} {where} {_neighbour(plan, token, is_opening)}"
    elif edit.kind is EditKind.SEPARATOR and edit.is_gone:
        code, message = "separator", f"{shown} not wanted after the last item"
    elif edit.kind is EditKind.SEPARATOR:
        code, start = "separator", end
        message = f"{quoted(edit.after[len(edit.before):])} wanted after {shown}"
    elif edit.kind is EditKind.IDLE:
        code, message = "idle-sign", f"{shown} not wanted at the end of a line"
    elif edit.kind is EditKind.SPELLING:
        code, message = "spelling", f"{shown} should be written {quoted(edit.after)}"
    elif edit.kind is EditKind.WRAP:
        message = f"the comment is not wrapped to {reasons.values['comment-columns']} columns"
    elif edit.kind is EditKind.DIRECTIVE:
        code, message = "directive", f"other spaces wanted within {shown}"
    elif edit.kind is EditKind.LINES:
        message = "further lines of the text are not indented with its first"
    elif b"\n" in edit.before and edit.before.rstrip() != edit.after.rstrip():
        message = "further lines of the comment are not indented with its first"
    else:
        message = "spaces at the end of the comment"
    at, behind = source.position(start), source.position(end)
    return Finding(at, behind, code, message, reasons.of_edit(edit))


def _of_words(source: Source, reasons: Reasons, token: int) -> Finding:
    """Of a token of several words that has other white space between them."""
    tree, text = reasons.plan.tree, reasons.rendered.tokens[token]
    at, end = source.position(tree.token_start[token]), source.position(tree.token_end[token])
    message = f"one space wanted between the words of {quoted(text)}"
    return Finding(at, end, "spaces", message, reasons.of_gap(token)[0])


def _of_gap(source: Source, reasons: Reasons, token: int, found: bytes) -> Finding:
    plan, wanted = reasons.plan, reasons.rendered.gaps[token]
    tree = plan.tree
    count = len(tree.token_node)
    start = tree.token_end[token - 1] if token else 0
    end = tree.token_start[token] if token < count else len(source.data)
    first, last = source.position(start), source.position(min(end, len(source.data) - 1))
    if token == count:
        reason = reasons.of_setting("final-newline")
        return Finding(first, first, "file-end", _end_of_text(found, wanted), reason)
    shown = _neighbour(plan, token - 1, True)
    at = last
    if b"\n" in wanted and b"\n" not in found:
        message = f"line break wanted before {shown}"
        return Finding(at, at, "line-break", message, reasons.of_gap(token)[0])
    if b"\n" in found and b"\n" not in wanted:
        message = f"no line break wanted before {shown}"
        return Finding(at, at, "joined-lines", message, reasons.of_joined(token))
    if b"\n" not in wanted:
        message = f"{_spaces(found)} before {shown}, {_spaces(wanted, True)} wanted"
        return Finding(first, at, "spaces", message, reasons.of_gap(token)[0])
    have, want = found.count(b"\n") - 1, wanted.count(b"\n") - 1
    if have != want:
        message = f"{count_of(have, 'blank line')} before {shown}, {want or 'none'} wanted"
        return Finding(at, at, "blank-lines", message, reasons.of_blank_lines(token))
    margin, wanted_margin = found[found.rfind(b"\n") + 1:], wanted[wanted.rfind(b"\n") + 1:]
    if margin != wanted_margin:
        width = int(reasons.values["tab-width"])
        is_sort = len(margin.expandtabs(width)) == len(wanted_margin.expandtabs(width))
        message = f"{_indent(margin)}, {_margin(wanted_margin) if wanted_margin else 'none'} wanted"
        begin = source.position(end - len(margin))
        return Finding(begin, at, "indent", message, reasons.of_indent(token, is_sort))
    message = "spaces at the end of the line"
    return Finding(first, first, "line-end", message, reasons.of_gap(token)[0])


def _end_of_text(found: bytes, wanted: bytes) -> str:
    if wanted and b"\n" not in found:
        return "no line end at the end of the file"
    if not wanted:
        return "nothing wanted after the last token"
    return "blank lines or spaces at the end of the file"


def by_setting(findings: Iterable[Finding]) -> Counter[str]:
    """How many findings each setting, or rule where no setting decides, asks for."""
    return Counter(finding.reason.short() for finding in findings)


def count_of(number: int, noun: str) -> str:
    """`no space`, `1 space`, `3 spaces`."""
    return f"{number or 'no'} {noun}{'s' if number > 1 else ''}"


def _spaces(gap: bytes, is_short: bool = False) -> str:
    """What a gap on one line consists of. is_short: `space` has been said already."""
    if b"\t" in gap:
        return "a tab" if gap == b"\t" else "spaces and tabs"
    return str(len(gap) or "none") if is_short else count_of(len(gap), "space")


def _indent(margin: bytes) -> str:
    return f"indent of {_margin(margin)}" if margin else "no indent"


def _margin(margin: bytes) -> str:
    tabs, spaces = margin.count(b"\t"), margin.count(b" ")
    parts = [count_of(tabs, "tab")] if tabs else []
    if spaces or not tabs:
        parts.append(count_of(spaces, "space"))
    return " and ".join(parts)


def _neighbour(plan: Plan, token: int, is_after: bool) -> str:
    """The token after another, or before it, of those that are there, as it is shown."""
    texts, step = plan.tree.texts, 1 if is_after else -1
    token += step
    while 0 <= token < len(texts) and not texts[token]:
        token += step  # a bracket that is not there
    return quoted(texts[token]) if 0 <= token < len(texts) else "the end of the file"


def quoted(text: bytes) -> str:
    """The first line of a token in quotes, if it has none of its own, and not too long."""
    line = text.decode("utf-8", "replace").strip().split("\n")[0].strip()
    short = f"{line[:29]}…" if len(line) > 30 else line
    return short if short[:1] in "\"'`" and short else f'"{short}"'
