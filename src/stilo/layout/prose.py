"""Comments that are prose, wrapped to a width of their own.

Only comments on lines of their own are looked at, and in them only paragraphs that
have a line past that width and are nothing but sentences. Lists, tables, code,
tags, addresses, licences and words to a tool stay as they are.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator

from stilo.layout.comments import is_directive, is_line_comment
from stilo.layout.edits import EditKind, TokenEdit
from stilo.layout.fit import Fitted
from stilo.layout.kept import Kept
from stilo.layout.plan import Plan
from stilo.width import display_width

#: Columns that prose has however deep it stands.
LEAST_ROOM = 30
#: What begins a comment, or one of its further lines: signs, then text.
_MARK = re.compile(r"[^\w\s]*")
#: A line that begins a paragraph of sentences: a letter or a digit, or what may stand before one.
_SENTENCE = re.compile(r"[\"'(\[`{]{0,2}[^\W_]")
#: Lines that mean something by where they begin and end: items, tags, tables, code.
_ITEM = re.compile(r"(?:[-*+•@#|<>=~]|\(?[0-9a-zA-Z]{1,3}[.)](?:\s|$))")
#: What shows that a line is no sentence: an address, columns, a statement, a word to a tool.
_NO_SENTENCE = re.compile(
    r"://|\S(?:\s{2,}|\t)[^\s]|[;{}]$|^[\w.-]+:\S|<(?:pre|table|li|td|tr)\b|</"
)
#: What code within prose begins and ends with.
_FENCE = re.compile(r"```|</?pre>")
#: A directive to Stilo itself.
_DIRECTIVE = re.compile(r"\W*stilo:")
_LICENCE = re.compile(r"copyright|licen[cs]e|spdx|all rights reserved", re.IGNORECASE)


def rewrap(
    plan: Plan,
    fitted: Fitted,
    gaps: list[bytes],
    tokens: list[bytes],
    width: int,
    kept: Kept,
    margin: Callable[[int, int], bytes],
) -> list[TokenEdit]:
    """Wrap prose comments in place. Returns the edits; a run of comments is now in the first one's text.

    gaps, tokens: the pieces of the result. width: columns that a line of prose may reach. kept: what
    stays as it is. margin: what the lines of a token begin with, at a column.
    """
    edits: list[TokenEdit] = []
    for run in _runs(plan, fitted, gaps, kept):
        first = run[0]
        lines = [line.strip() for token in run for line in tokens[token].decode().split("\n")]
        if any(_DIRECTIVE.match(line) for line in lines) or _LICENCE.search(" ".join(lines)):
            continue
        mark = _mark(lines[0])
        room = max(LEAST_ROOM, width - fitted.breaks.get(first, 0))
        is_line = is_line_comment(plan, first)
        wrapped = _wrap_lines(lines, mark, room) if is_line else _wrap_block(lines, room)
        if wrapped == lines:
            continue
        start = margin(first, fitted.breaks.get(first, 0) + (0 if is_line else 1)).decode()
        whole = f"\n{start}".join(wrapped).encode()
        for token in run:
            text = whole if token == first else b""
            edits.append(TokenEdit(
                token, EditKind.WRAP, tokens[token], text, "comment-columns", mark.encode()
            ))
            tokens[token] = text
        for token in run[1:]:
            gaps[token] = b""
    return edits


def _runs(plan: Plan, fitted: Fitted, gaps: list[bytes], kept: Kept) -> Iterator[list[int]]:
    """Comments on lines of their own; comments to the end of their line, as far as they go on."""
    run: list[int] = []
    for token in plan.comments:
        if token in plan.trailing or (token and token not in fitted.breaks):
            continue
        if is_directive(plan, token):
            continue
        if token in kept.tokens or token in kept.gaps or token in plan.bound_set:
            continue
        goes_on = (
            bool(run)
            and token == run[-1] + 1
            and is_line_comment(plan, token)
            and is_line_comment(plan, run[-1])
            and gaps[token].count(b"\n") == 1
            and fitted.breaks.get(token) == fitted.breaks.get(run[0], 0)
            and _mark(plan.tree.texts[token].decode()) == _mark(plan.tree.texts[run[0]].decode())
        )
        if run and not goes_on:
            yield run
            run = []
        run.append(token)
    if run:
        yield run


def _mark(text: str) -> str:
    found = _MARK.match(text)
    return found.group() if found else ""


def _wrap_lines(lines: list[str], mark: str, room: int) -> list[str]:
    """Comments to the end of their line, all with the same mark."""
    return [mark + line for line in _wrap([line[len(mark):] for line in lines], room - len(mark))]


def _wrap_block(lines: list[str], room: int) -> list[str]:
    """A comment with an end, if each further line begins with the sign that it ends with."""
    first, *inside, last = lines if len(lines) > 2 else ["", "", ""]
    if _MARK.fullmatch(first) is None or not first or len(last) > 2:
        return lines
    star = last[:1]
    if not all(line.startswith(star) for line in inside):
        return lines
    wrapped = _wrap([line[1:] for line in inside], room - 2)
    return [first, *(star + line for line in wrapped), last]


def _wrap(lines: list[str], room: int) -> list[str]:
    """Fill the paragraphs that are sentences and have a line that is too long.

    lines: what follows the marks. Prose has one space in front; a word to a tool has none.
    """
    result: list[str] = []
    paragraph: list[str] = []
    is_open = True  # no item, tag or code has begun since the latest empty line

    def finish() -> None:
        if any(display_width(line) > room for line in paragraph):
            result.extend(_fill(" ".join(paragraph).split(), room))
        else:
            result.extend(paragraph)
        paragraph.clear()

    in_code = False
    for line in lines:
        text = line.strip()
        if _FENCE.search(text):
            in_code = not in_code and not text.endswith("</pre>")
        is_sentence = (
            is_open
            and not in_code
            and line[:1] == " "
            and line[1:2] != " "
            and _SENTENCE.match(text) is not None
            and _ITEM.match(text) is None
            and _NO_SENTENCE.search(text) is None
        )
        if is_sentence:
            paragraph.append(line)
            continue
        finish()
        is_open = not text
        result.append(line)
    finish()
    return result


def _fill(words: list[str], room: int) -> list[str]:
    """As many words in a line as fit; none begins with what would look like an item."""
    lines = [""]
    for word in words:
        may_begin = _ITEM.match(word) is None and _NO_SENTENCE.search(word) is None
        if may_begin and display_width(f"{lines[-1]} {word}") > room and lines[-1]:
            lines.append("")
        lines[-1] += f" {word}"
    return lines
