"""A file beside its result, on a terminal or as a page: lines in pairs, with what differs marked."""

from __future__ import annotations

import difflib
import sys
from bisect import bisect_right
from collections.abc import Iterable, Iterator, Sequence
from html import escape
from itertools import accumulate, zip_longest
from typing import TYPE_CHECKING, Literal, NamedTuple

import stilo
from stilo.cli.telling import NEW, OLD, printable
from stilo.explain.findings import count_of

if TYPE_CHECKING:
    from stilo import DocumentResult, Result

#: So many lines that are the same are shown around what differs; of more, only the number is told.
AROUND = 3


class Line(NamedTuple):
    """A line of one side: its number (from 1), its text, and from where to where it differs from the other's."""

    number: int
    text: str
    start: int = 0
    end: int = 0


class Row(NamedTuple):
    """Lines that stand beside each other, either of which may be missing. skipped: in place of lines, how many
    that are the same are not shown."""

    old: Line | None
    new: Line | None
    skipped: int = 0


def rows_of(before: str, after: str) -> list[Row]:
    """Two texts, line beside line. Lines are paired by what they hold but for white space."""
    olds, news = ([_shown(line) for line in text.splitlines()] for text in (before, after))
    keys = ["".join(line.split()) for line in olds], ["".join(line.split()) for line in news]
    rows: list[Row] = []
    matcher = difflib.SequenceMatcher(None, *keys, autojunk=False)
    for kind, old, old_end, new, new_end in matcher.get_opcodes():
        pairs: Iterable[tuple[int | None, int | None]]
        if kind == "replace":
            lengths = list(map(len, keys[0][old:old_end])), list(map(len, keys[1][new:new_end]))
            pairs = _pairs(*lengths)
        else:
            pairs = zip_longest(range(old_end - old), range(new_end - new))
        for left, right in pairs:
            rows.append(_marked(
                None if left is None else Line(old + left + 1, olds[old + left]),
                None if right is None else Line(new + right + 1, news[new + right]),
            ))
    return list(_without_the_same(rows))


def _pairs(olds: Sequence[int], news: Sequence[int]) -> Iterator[tuple[int | None, int | None]]:
    """Which lines of two stretches stand beside each other, where both hold about the same.

    olds, news: how much each line holds. A new line stands beside the old one that what it begins with is
    on, unless another does already.
    """
    starts = list(accumulate(olds, initial=0))[:-1]
    done = 0
    for new, at in enumerate(list(accumulate(news, initial=0))[:-1]):
        home = min(bisect_right(starts, at), len(olds)) - 1
        for old in range(done, home):
            yield old, None
        if home >= done:
            yield home, new
            done = home + 1
        else:
            yield None, new
    for old in range(done, len(olds)):
        yield old, None


def _shown(line: str) -> str:
    """A line as it is shown: tabs as spaces, and nothing that a terminal obeys."""
    return printable(line.expandtabs(4)).replace("\n", " ")


def _marked(old: Line | None, new: Line | None) -> Row:
    if old is None or new is None:
        return Row(old and old._replace(end=len(old.text)), new and new._replace(end=len(new.text)))
    one, other = old.text, new.text
    if one == other:
        return Row(old, new)
    least = min(len(one), len(other))
    start = next((n for n in range(least) if one[n] != other[n]), least)
    end = next((n for n in range(least - start) if one[~n] != other[~n]), least - start)
    return Row(
        old._replace(start=start, end=len(one) - end),
        new._replace(start=start, end=len(other) - end),
    )


def _differs(row: Row) -> bool:
    return row.old is None or row.new is None or row.old.text != row.new.text


def _without_the_same(rows: list[Row]) -> Iterator[Row]:
    """The rows that differ, and some around them."""
    near: set[int] = set()
    for number, row in enumerate(rows):
        if _differs(row):
            near.update(range(number - AROUND, number + AROUND + 1))
    skipped = 0
    for number, row in enumerate(rows):
        if number not in near:
            skipped += 1
            continue
        if skipped:
            yield Row(None, None, skipped)
        skipped = 0
        yield row
    if skipped:
        yield Row(None, None, skipped)


def _skipped(row: Row) -> str:
    return "1 line the same" if row.skipped == 1 else f"{row.skipped} lines the same"


def _heads(result: Result | DocumentResult, name: str) -> tuple[str, str]:
    """What stands above each side."""
    before, after = len(result.source.data.splitlines()), len(result.text.splitlines())
    return f"{name}, {count_of(before, 'line')}", f"as it would be, {count_of(after, 'line')}"


def show_beside(result: Result | DocumentResult, name: str) -> None:
    """Print a file and its result beside each other, as wide as the terminal."""
    from rich.console import Console
    from rich.table import Table
    from rich.text import Text

    def cells(line: Line | None, style: str) -> tuple[Text, Text]:
        if line is None:
            return Text(), Text()
        said = Text(line.text)
        said.stylize(style, line.start, line.end)
        is_blank = not line.text[line.start:line.end].strip()
        if is_blank and line.start < line.end:  # spaces show by their ground alone
            said.stylize("reverse", line.start, line.end)
        return Text(str(line.number), style="dim"), said

    table = Table(expand=True, header_style="bold", pad_edge=False)
    for head in _heads(result, name):
        table.add_column("", justify="right", no_wrap=True)
        table.add_column(Text(head), ratio=1, overflow="fold")
    for row in rows_of(result.source.data.decode(), result.text):
        if row.skipped:
            table.add_row("", Text(_skipped(row), style="dim"), "", "")
        else:
            table.add_row(
                *cells(row.old, f"bold color({OLD})"), *cells(row.new, f"bold color({NEW})")
            )
    # Any terminal of today has these colours, whatever it says it is.
    system: Literal["auto", "256"] = "256" if sys.stdout.isatty() else "auto"
    Console(highlight=False, color_system=system).print(table)


_PAGE = """<!doctype html>
<html lang="en">
<meta charset="utf-8">
<meta name="viewport" content="width=device-width">
<title>{title}</title>
<style>
body {{ font: 15px/1.4 system-ui, sans-serif; margin: 1.5rem; color: #1b2a33; background: #fcfcfa }}
table {{ border-collapse: collapse; width: 100%; table-layout: fixed }}
col.number {{ width: 3.2rem }}
th {{ text-align: left; padding: .3rem .5rem; border-bottom: 2px solid #1b2a33 }}
td {{ font: 13px/1.35 ui-monospace, monospace; padding: 0 .5rem; vertical-align: top;
  white-space: pre-wrap; overflow-wrap: anywhere }}
td.number {{ color: #6c7a80; text-align: right }}
td.skipped {{ color: #6c7a80; padding: .4rem .5rem; background: #f0f0ec }}
td.old mark {{ background: #ffe08a }}
td.new mark {{ background: #a9def5 }}
</style>
<h1>{title}</h1>
<p>{said}</p>
<table>
<colgroup><col class="number"><col><col class="number"><col></colgroup>
<tr><th><th>{old}<th><th>{new}</tr>
{rows}
</table>
</html>
"""


def page_of(result: Result | DocumentResult, name: str) -> str:
    """The same as a page of HTML that needs nothing else."""

    def cells(line: Line | None, side: str) -> str:
        if line is None:
            return f'<td class="number"><td class="{side}">'
        first, middle, last = (
            escape(part)
            for part in (
                line.text[:line.start],
                line.text[line.start:line.end],
                line.text[line.end:],
            )
        )
        marked = f"<mark>{middle}</mark>" if middle else ""
        return f'<td class="number">{line.number}<td class="{side}">{first}{marked}{last}'

    rows = [
        f'<tr><td class="skipped" colspan="4">{_skipped(row)}</tr>'
            if row.skipped
            else f"<tr>{cells(row.old, 'old')}{cells(row.new, 'new')}</tr>"
        for row in rows_of(result.source.data.decode(), result.text)
    ]
    old, new = _heads(result, name)
    said = (
        f"{count_of(len(result.findings), 'place')} not in style. Only the layout differs: the program and its "
        f"comments are the same. Made by Stilo {stilo.__version__}."
        if result.changed
        else "All is in style."
    )
    return _PAGE.format(
        title=escape(name), said=said, old=escape(old), new=escape(new), rows="\n".join(rows)
    )
