"""Laying out what can be read of a text with syntax errors: each statement that can is, the others stay.

In place of what cannot be read a comment of as many bytes is put, so that all places stay what they are.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator, Mapping, Sequence
from typing import TYPE_CHECKING, NamedTuple

from stilo.calls import reformat_styled
from stilo.edits import Edit, blanked, difference
from stilo.readers import Parsed, Stretch
from stilo.readers.balance import Listed, odd_lines
from stilo.result import with_line_ends
from stilo.source import LineRange, Position, Source
from stilo.tree.flat import Tree

if TYPE_CHECKING:
    from stilo.language import Language
    from stilo.style.resolve import FileStyle

#: How often a text is read to find what cannot be; some places that cannot take a few of them.
MOST_READINGS = 16
#: How many brackets that are not closed are looked at for each.
MOST_OPEN = 3


def sound_edits(
    source: Source,
    style: FileStyle,
    within: Sequence[LineRange] | None = None,
    parsed: Parsed | None = None,
) -> Sequence[Edit]:
    """The edits that lay out all statements of a text that can be read.

    within: those that reach into these lines. parsed: the text as it was read, if it was. Raises SyntaxFault
    with the first error where too little can be, or the language has no comments that could stand for the rest;
    and what `reformat_styled` raises.
    """
    language = style.language
    found = _without_faults(source, language, parsed or language.read(source.data))
    text, holes = found if found is not None else (source.data, [])
    lines = _lines_beside(Source.from_bytes(text, source.name), holes)
    if within is not None:
        lines = [
            (max(first, a), min(last, b))
            for first, last in lines
            for a, b in within
            if max(first, a) <= min(last, b)
        ]
    if found is not None and not lines:
        return ()
    result = reformat_styled(text.decode(), style, lines=lines or None, name=source.name)
    eol = b"\r\n" if source.has_crlf else b"\n"
    return [
        Edit(source.original(e.start), source.original(e.end), with_line_ends(e.text, eol))
        for e in result.edits
        if not any(_touches(e, hole, text) for hole in holes)
    ]


def _touches(edit: Edit, hole: Stretch, text: bytes) -> bool:
    """Whether an edit reaches into a stretch that stays, or touches one for which spaces stand."""
    start, end = hole
    spare = 1 if text[start:end].isspace() else 0
    return edit.start < end + spare and start - spare < edit.end


def _without_faults(
    source: Source, language: Language, parsed: Parsed
) -> tuple[bytes, list[Stretch]] | None:
    """The text with comments for what cannot be read, and where these stand; None if that is no use."""
    text = source.data
    as_found = _Attempt(_first_fault(parsed, text, language), text, parsed, [])
    odd = _odd_lines(text, parsed, language)
    without = _covering(as_found, odd, language) if odd else None
    if without is not None and without.reach > as_found.reach:
        found = _narrowed(without, language, MOST_READINGS // 4)
        if found is not None:
            return found
    return _narrowed(as_found, language, MOST_READINGS)


class _Attempt(NamedTuple):
    """A text of which some is covered: up to where it can be read, what it is, how it is read, and what is covered."""

    reach: int
    text: bytes
    parsed: Parsed
    holes: list[Stretch]


def _covering(
    attempt: _Attempt, stretches: Sequence[Stretch], language: Language
) -> _Attempt | None:
    """The attempt with more stretches covered; None if one cannot be."""
    text = attempt.text
    for stretch in stretches:
        covered = _covered(text, stretch, language.facts.comment_signs)
        if covered is None:
            return None
        text = covered
    parsed = attempt.parsed.edited(text, [difference(attempt.text, text)])
    rest = [
        hole
        for hole in attempt.holes
        if not any(a <= hole[0] <= hole[1] <= b for a, b in stretches)
    ]
    return _Attempt(_first_fault(parsed, text, language), text, parsed, [*rest, *stretches])


def _narrowed(
    attempt: _Attempt, language: Language, left: int
) -> tuple[bytes, list[Stretch]] | None:
    """The text with more covered, until all of it can be read, and what is covered; None if that is no use.

    Of the stretches that a fault may be due to, the shortest goes after which more can be read. left: how often it may
    be read.
    """
    while attempt.reach < len(attempt.text):
        tried: list[_Attempt] = []
        for hole in _suspects(attempt.text, attempt.reach, attempt.parsed, language):
            found = _covering(attempt, [hole], language) if left > 0 else None
            if found is not None:
                tried.append(found)
                left -= 1
                if found.reach > max(attempt.reach, hole[1]):
                    break
        if not tried:
            return None
        best = max(tried, key=lambda found: found.reach)
        if best.reach <= attempt.reach:
            left -= 1
        attempt = best
    return attempt.text, attempt.holes


def _first_fault(parsed: Parsed, text: bytes, language: Language) -> int:
    """Where the first fault of a text is, by the grammar or the language's own reader; else its length."""
    source = Source.from_bytes(text)
    if parsed.has_error:
        fault = parsed.fault(source, language.facts.pairs)
        line, column = fault.line, fault.column
    else:
        told = None if language.support.fault is None else language.support.fault(text.decode())
        if told is None:
            return len(text)
        line, column, _ = told
    line = min(line, max(1, source.line_count))
    return min(source.offset(Position(line, column)), len(text) - 1)


def _suspects(text: bytes, at: int, parsed: Parsed, language: Language) -> list[Stretch]:
    """The stretches that the first fault of a text may be due to, the shortest first. None has one bracket of a
    pair without the other."""
    tree = parsed.tree
    partner, alone = _brackets(tree, language.facts.pairs)
    found = sorted(
        dict.fromkeys(_stretches(text, at, parsed, language, partner, alone)),
        key=lambda hole: hole[1] - hole[0],
    )
    return [hole for hole in found if _is_closed(tree, hole, partner)]


def _stretches(
    text: bytes,
    at: int,
    parsed: Parsed,
    language: Language,
    partner: Mapping[int, int],
    alone: Sequence[int],
) -> Iterator[Stretch]:
    """The line of a fault; the same up to where what it opens is closed; the lines of brackets that are not
    closed; and the items around it."""
    starts = parsed.tree.token_start
    start, end = _lines_around(text, at, at)
    yield start, end
    last = max(
        (partner.get(token, token) for token in _tokens_in(parsed.tree, (start, end))), default=0
    )
    yield _lines_around(text, start, max(starts[last], start) if starts else start)
    for token in alone[-MOST_OPEN:]:
        yield _lines_around(text, starts[token], starts[token])
    for body in reversed(parsed.bodies(at, at + 1, language.body_kinds)):
        here = [item for item in body.items if item.start <= at <= item.end]
        here = here or [item for item in body.items if item.is_broken][:1]
        # What lacks something may be told where it has ended.
        before = [i for i in body.items if i.end <= at and i.kind not in language.comments][-1:]
        for item in before:
            yield _lines_around(text, item.start, item.end)
        if here:
            yield _lines_around(text, here[0].start, here[-1].end)


def _brackets(tree: Tree, pairs: Mapping[str, str]) -> tuple[dict[int, int], list[int]]:
    """For each delimiter that has one the token that is its partner; the tokens of those that have none."""
    closing = {opening.encode(): end.encode() for opening, end in pairs.items()}
    ends = set(closing.values())
    waiting: list[tuple[bytes, int]] = []
    partner: dict[int, int] = {}
    alone: list[int] = []
    for token, text in enumerate(tree.texts):
        if text in closing:
            waiting.append((closing[text], token))
        elif text in ends:
            if all(end != text for end, _ in waiting):
                alone.append(token)
                continue
            end, opening = waiting.pop()
            while end != text:
                alone.append(opening)
                end, opening = waiting.pop()
            partner[opening], partner[token] = token, opening
    return partner, sorted([*alone, *(token for _, token in waiting)])


def _odd_lines(text: bytes, parsed: Parsed, language: Language) -> list[Stretch]:
    """The lines on which a bracket is missing or too many (see `balance`)."""
    tree = parsed.tree
    shown: list[int] = []
    comments: list[Stretch] = []
    for token, leaf in enumerate(tree.token_node):
        if tree.kind[leaf] in language.comments:
            comments.append((tree.token_start[token], tree.token_end[token]))
        else:
            shown.append(token)
    starts, ends = ([places[n] for n in shown] for places in (tree.token_start, tree.token_end))
    texts = [tree.texts[n] for n in shown]
    return odd_lines(text, Listed(starts, ends, texts, blanked(text, comments)))


def _tokens_in(tree: Tree, stretch: Stretch) -> range:
    """The tokens that begin within a stretch."""
    start, end = stretch
    return range(bisect_left(tree.token_start, start), bisect_left(tree.token_start, end))


def _is_closed(tree: Tree, stretch: Stretch, partner: Mapping[int, int]) -> bool:
    """Whether a stretch has the partners of all its delimiters that have one."""
    tokens = _tokens_in(tree, stretch)
    return all(partner.get(token, token) in tokens for token in tokens)


def _lines_around(text: bytes, start: int, end: int) -> Stretch:
    """The stretch of whole lines around another, without the white space at its ends."""
    start, end = text.rfind(b"\n", 0, start) + 1, text.find(b"\n", end)
    lines = text[start:end]
    start += len(lines) - len(lines.lstrip())
    return start, start + len(lines.strip())


def _covered(text: bytes, hole: Stretch, comment_signs: Sequence[str]) -> bytes | None:
    """The text with a comment of as many bytes in place of a stretch, or spaces if it is too short for one.

    None where there are no comments, or one stands there.
    """
    start, end = hole
    if not comment_signs:
        return None
    first, last = comment_signs[0].encode(), b"".join(word.encode() for word in comment_signs[1:])
    filling = end - start - len(first) - len(last)
    filled = first + b"~" * filling + last if filling >= 0 else b" " * (end - start)
    covered = text[:start] + filled + text[end:]
    return covered if covered != text else None


def _lines_beside(text: Source, holes: Sequence[Stretch]) -> list[LineRange]:
    """The lines of a text that do not belong to some stretches."""
    gone = {
        line
        for start, end in holes
        for line in range(text.position(start).line, text.position(max(start, end - 1)).line + 1)
    }
    found: list[LineRange] = []
    for line in range(1, text.line_count + 1):
        if line in gone:
            continue
        if found and found[-1][1] == line - 1:
            found[-1] = (found[-1][0], line)
        else:
            found.append((line, line))
    return found
