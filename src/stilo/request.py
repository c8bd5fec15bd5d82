"""What goes into a run: a document, and what is asked of it."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import field
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple, Union

from stilo.language import Language
from stilo.readers import Parsed
from stilo.records import dataclass
from stilo.sheet.properties import Value
from stilo.source import LineRange, Source

if TYPE_CHECKING:
    from stilo.style.given import Given

#: The fewest columns that are left for code that stands far in.
LEAST_WIDTH = 20
#: First and last line, or several such pairs, or None for all lines.
Lines = LineRange | Sequence[LineRange] | None


@dataclass(frozen=True)
class Document:
    """A text to be laid out.

    path: where its file stands, if it has one. It tells which project the text belongs to.
    is_segment: the text stands inside another document. Its imports stay where they are, and its end is
    not the end of a file. parsed: how it is read, if it was, without errors.
    """

    source: Source
    language: Language
    path: Path | None = None
    is_segment: bool = False
    parsed: Parsed | None = None


class Inner(NamedTuple):
    """The style of a text within another: its language, the values of all settings, and their origins."""

    language: Language
    values: Mapping[str, Value]
    origins: Mapping[str, Given]


class Command(NamedTuple):
    """What lays out texts of a language that is none of ours: called so, it gets a text and the columns that
    are left, and gives the text as it should be. It raises CommandFailed."""

    called: str
    lay_out: Callable[[str, int], str]


#: Finds what lays out a text within another, by what that calls its language; None where nothing does.
FindInner = Callable[[str], Union[Inner, Command, None]]


@dataclass(frozen=True)
class Request:
    """What is asked of a document.

    values: of every setting. origins: where those come from that some layer gives. lines: the lines to
    lay out (from 1, first and last included), or None for all. only_order: put the imports in order, and
    lay out no more than what that writes anew. is_rest_in_style: beside `lines` all is in style. inner:
    finds the styles of texts that the document holds; without it they stay. depth: how many texts the
    document itself is within, and columns: how far in it stands there.
    """

    values: Mapping[str, Value]
    lines: Sequence[LineRange] | None = None
    only_order: bool = False
    origins: Mapping[str, Given] = field(default_factory=dict)
    is_rest_in_style: bool = False
    inner: FindInner | None = None
    depth: int = 0
    columns: int = 0


def narrowed(values: Mapping[str, Value], columns: int) -> Mapping[str, Value]:
    """The same values for lines that have so many columns less."""
    widths = {
        name: max(LEAST_WIDTH, int(values[name]) - columns)
        for name in ("width", "comment-columns")
        if values.get(name)
    }
    return {**values, **widths}


def line_ranges(lines: Lines) -> list[LineRange] | None:
    """A range of lines, or several, as a list; None stands for all lines."""
    if lines is None:
        return None
    if len(lines) == 2 and isinstance(lines[0], int) and isinstance(lines[1], int):
        return [(lines[0], lines[1])]
    return [item for item in lines if not isinstance(item, int)]
