"""The words of a paragraph, and what stands between them: where a line may end, has to, or must not."""

from __future__ import annotations

import re
from collections import deque
from collections.abc import Iterator
from typing import NamedTuple

#: Markdown's own stops of tabs, and how far in a line is code for its indent alone.
TAB = CODE_INDENT = 4
#: Between two words: a line end with the spaces around it, or one space; after a sentence, several.
_GAP = re.compile(rb"[ \t]*\n[ \t]*|(?<![ \t]) (?![ \t\n])|(?<=[.!?:]) {2,}(?![ \t\n])")
#: What is read as something else where a line begins with it.
_BEGINS_BLOCK = re.compile(
    rb"(?:[-+*_#|]|[-=]+|\d{1,9}[.)]|\#{1,6}|[-|:]*-[-|:]*)\Z"
    rb"|>|```|~~~|<(?!https?:|mailto:)|\||\*\*\*|___|:|!!!|\?\?\?|\{[%:]|\[\^?[^\]]*\]:|\$\$"
)
#: Where blanks have a meaning of their own: link destinations, tags, what stands in the brackets of templates,
#: and check boxes.
_WHOLE = re.compile(
    rb"\\.|\]\((?:[^()\\\n]|\\.|\n(?!\n)){0,2000}?\)|<[A-Za-z/!?][^<>]{0,2000}>"
    rb"|\{\{.{0,500}?\}\}|\{%.{0,500}?%\}|\[ \](?=[ \n])|`+",
    re.DOTALL,
)
_ENDS_SENTENCE = re.compile(r"[.!?…][\"'”’)\]*_]*\Z")
#: What ends with a dot and no sentence with it.
_SHORT = re.compile(
    r"(?:^|[(\[\"'“])(?:\w|[Ee]\.g|[Ii]\.e|etc|vs|cf|[Mm]rs?|[Dd]r|[Nn]o|[Ff]ig|ca|approx|al)\.\Z"
)
_BEGINS_SENTENCE = re.compile(r"[\"'“‘(\[*_`]*[A-ZÀ-ÖØ-ÞА-ЯΑ-Ω0-9]|[`\[]")


class Word(NamedTuple):
    """A word: its kind, and where it is, in bytes.

    `word`: a line may begin with it. `line_start`: its author began one with it. `sentence_start`: a sentence
    begins with it. `sentence_line`: both. `forced`: a line has to begin with it. `bound`: none may. `stuck`: one
    has to, but only as far in as it does.
    """

    kind: str
    start: int
    end: int


def words_of(data: bytes, start: int, end: int, column: int, joins: bool = False) -> Iterator[Word]:
    """The words of a text, which is a stretch of a paragraph without blanks at its edges.

    column: at which the lines of what the paragraph stands in begin. joins: no line begins with what is read
    as something else elsewhere, unless it has to.
    """
    whole = _whole(data, start, end)
    at, kind = start, "word"
    keeps_line = False  # since it begins as something else would
    for gap in _GAP.finditer(data, start, end):
        before, after = gap.span()
        is_line_end = b"\n" in gap[0]
        is_within = _is_within(whole, before)
        if is_within and not is_line_end:
            continue
        blanks = gap[0].partition(b"\n")[0]
        is_hard = is_line_end and (blanks.endswith(b"  ") or _is_escaped(data, at, before))
        if is_hard:
            before += len(blanks)
        yield Word(kind, at, before)
        following = data[after : after + 200].split(None, 1)[0] if after < end else b""
        # What stood there is read as text there, unless it is so for its indent alone.
        margin = len(gap[0].rpartition(b"\n")[2].expandtabs(TAB))
        is_text = is_line_end and column <= margin < column + CODE_INDENT
        is_risky = _BEGINS_BLOCK.match(following) is not None
        is_held = is_hard or is_within or keeps_line
        if is_line_end and (is_held or is_text and is_risky and not joins):
            kind = "forced" if is_text or not is_risky else "stuck"
            keeps_line = is_risky and not joins
        elif is_risky or keeps_line:
            kind = "bound"
        elif not is_line_end and _is_escaped(data, at, before):
            kind = "bound"  # a backslash before a line end is a line break
        elif _parts_sentences(data[at:before], following):
            kind = "sentence_line" if is_line_end else "sentence_start"
        else:
            kind = "line_start" if is_line_end else "word"
        at = after
    yield Word(kind, at, end)


def _whole(data: bytes, start: int, end: int) -> deque[tuple[int, int]]:
    """Where stretches are whose blanks are their own."""
    found: deque[tuple[int, int]] = deque()
    at = start
    closings: dict[int, list[int]] = {}  # runs of backticks, by their length, the last one first
    for run in reversed(list(re.finditer(rb"`+", data[start:end]))):
        closings.setdefault(run.end() - run.start(), []).append(start + run.start())
    while (next_one := _WHOLE.search(data, at, end)) is not None:
        begin, at = next_one.span()
        if data[begin : begin + 1] == b"`":
            length = at - begin
            runs = closings[length] if length in closings else []
            while runs and runs[-1] < at:
                runs.pop()
            if not runs:
                continue
            at = runs[-1] + length
        found.append((begin, at))
    return found


def _is_within(whole: deque[tuple[int, int]], offset: int) -> bool:
    """Whether a place is in one of some stretches in order. Those before it are left out for good."""
    while whole and whole[0][1] <= offset:
        whole.popleft()
    return bool(whole) and whole[0][0] < offset


def _is_escaped(data: bytes, start: int, end: int) -> bool:
    """Whether what stands behind a word has a backslash before it that counts."""
    word = data[start:end]
    return (len(word) - len(word.rstrip(b"\\"))) % 2 == 1


def _parts_sentences(before: bytes, after: bytes) -> bool:
    """Whether one sentence ends with a word and another begins with the next."""
    if before[-1:].isalnum():
        return False
    ends = before.rsplit(None, 1)[-1].decode()
    return bool(
        _ENDS_SENTENCE.search(ends)
        and not _SHORT.search(ends)
        and _BEGINS_SENTENCE.match(after.decode("utf-8", "ignore"))
    )
