"""Notebooks: documents in JSON with code in cells, of which the code alone is laid out.

The format is Jupyter's, nbformat 4 (https://nbformat.readthedocs.io): the source of a cell is a
string, or a list of strings that are its lines. All else stays byte for byte, as does each line of
a cell that comes out as it was.
"""

from __future__ import annotations

import json
import re
from bisect import bisect_right
from collections.abc import Iterator, Mapping, Sequence
from functools import cached_property
from typing import Any

from stilo.edits import Edit
from stilo.embed.segments import Segment
from stilo.errors import UnreadableSource
from stilo.language import Language
from stilo.records import dataclass
from stilo.source import Position, Source

_BLANKS = re.compile(r"[ \t\r\n]*")
_DECODER = json.JSONDecoder()
#: A line with its end, as far as it has one.
_LINE = re.compile(r"[^\n]*\n|[^\n]+")


@dataclass(frozen=True)
class _Cell:
    """The code of a cell. number: among all cells, from 1. strings: where in the document the strings
    stand that it is made of (quotes included), in characters. is_list: whether they are in a list.
    """

    number: int
    text: str
    strings: tuple[tuple[int, int], ...]
    is_list: bool


@dataclass(frozen=True)
class Notebook:
    """A notebook as a document of cells (see `Host`)."""

    source: Source
    language: Language
    noun = "cell"
    outer = None

    @cached_property
    def _document(self) -> str:
        return self.source.raw.decode("utf-8-sig")

    @cached_property
    def _cells(self) -> dict[int, _Cell]:
        """The code cells, by number. Raises UnreadableSource."""
        return {
            cell.number: cell for cell in _read_cells(self._document, self.source, self.language)
        }

    def segments(self) -> list[Segment]:
        """The code cells, but for those that are said to be left. Raises UnreadableSource."""
        line_starts = [0, *(found.end() for found in re.finditer("\n", self._document))]
        return [
            Segment(
                cell.number,
                cell.text,
                tuple(_line_places(self._document, line_starts, cell)),
                cell.is_list,
            )
            for cell in self._cells.values()
            if _is_text(cell.text)
                and not self.language.facts.foreign_cell.match(cell.text.lstrip())
        ]

    def edit(self, segment: Segment, text: str) -> Edit:
        """The edit of the document's bytes that gives a cell another text."""
        document, cell = self._document, self._cells[segment.number]
        start, end = cell.strings[0][0], cell.strings[-1][1]
        mark = len(self.source.raw) - len(document.encode())  # the byte-order mark
        before = mark + len(document[:start].encode())
        after = before + len(document[start:end].encode())
        return Edit(before, after, _written(document, cell, text).encode())

    def said(self, data: bytes, texts: Mapping[int, str]) -> object:
        """All that a notebook says, the sources of its cells as texts."""
        said = json.loads(
            data.decode("utf-8-sig"), object_pairs_hook=list, parse_int=str, parse_float=str
        )
        cells = next(value for name, value in said if name == "cells")
        for number, cell in enumerate(cells, 1):
            for at, (name, value) in enumerate(cell):
                if name == "source":
                    text = "".join(value) if isinstance(value, list) else value
                    cell[at] = (name, texts.get(number, text))
        return said


def _is_text(text: str) -> bool:
    """Whether all of it are characters; JSON can write halves of some."""
    return not any("\ud800" <= sign <= "\udfff" for sign in text)


def _read_cells(document: str, source: Source, language: Language) -> list[_Cell]:
    """The code cells of a notebook. Raises UnreadableSource where it is none, or of another language."""
    try:
        notebook = json.loads(document)
    except ValueError as error:
        raise UnreadableSource(source.name, f"no notebook: {error}; left as it is") from error
    except RecursionError as error:
        raise UnreadableSource(source.name, "no notebook: nested too deep") from error
    if not isinstance(notebook, dict) or not isinstance(notebook.get("cells"), list):
        reason = "no notebook of nbformat 4: it has no list of cells; left as it is"
        raise UnreadableSource(source.name, reason)
    spoken = _language_of(notebook.get("metadata"))
    if spoken and spoken != language.name:
        reason = f"its cells are in {spoken}, not in {language.name}; left as it is"
        raise UnreadableSource(source.name, reason)
    found = []
    members = dict(_members(document, _skip(document, 0)))
    for number, (start, _) in enumerate(_items(document, members["cells"][0]), 1):
        cell = notebook["cells"][number - 1]
        if not isinstance(cell, dict) or cell.get("cell_type") != "code":
            continue
        text = cell.get("source")
        begin, end = dict(_members(document, start)).get("source", (0, 0))
        if isinstance(text, str):
            found.append(_Cell(number, text, ((begin, end),), False))
        elif isinstance(text, list) and text and all(isinstance(line, str) for line in text):
            found.append(_Cell(number, "".join(text), tuple(_items(document, begin)), True))
    return found


def _language_of(metadata: Any) -> str:
    """The language that a notebook says it is in, in small letters, or nothing."""
    for part, name in (("kernelspec", "language"), ("language_info", "name")):
        said = metadata.get(part) if isinstance(metadata, dict) else None
        if isinstance(said, dict) and isinstance(said.get(name), str):
            return str(said[name]).lower()
    return ""


def _skip(text: str, at: int) -> int:
    found = _BLANKS.match(text, at)
    assert found is not None  # it fits nothing at all, too
    return found.end()


def _members(text: str, at: int) -> Iterator[tuple[str, tuple[int, int]]]:
    """Name and extent of the value of each member of an object that begins here."""
    at = _skip(text, at + 1)
    while text[at] != "}":
        name, at = _DECODER.raw_decode(text, at)
        start = _skip(text, _skip(text, at) + 1)
        _, end = _DECODER.raw_decode(text, start)
        yield name, (start, end)
        at = _skip(text, end)
        if text[at] == ",":
            at = _skip(text, at + 1)


def _items(text: str, at: int) -> Iterator[tuple[int, int]]:
    """The extent of each item of an array that begins here."""
    at = _skip(text, at + 1)
    while text[at] != "]":
        _, end = _DECODER.raw_decode(text, at)
        yield at, end
        at = _skip(text, end)
        if text[at] == ",":
            at = _skip(text, at + 1)


def _line_places(document: str, line_starts: Sequence[int], cell: _Cell) -> list[Position]:
    """Where each line of a cell begins in the document."""
    places = []
    for start, end in cell.strings:
        line = bisect_right(line_starts, start)
        column = start - line_starts[line - 1] + 2
        said = _DECODER.raw_decode(document, start)[0]
        if not cell.is_list or said.count("\n") - said.endswith("\n"):
            # Lines within one string: escapes part them.
            offset = 0
            for part in _LINE.findall(said) or [""]:
                places.append(Position(line, column + offset))
                offset += len(json.dumps(part, ensure_ascii=False)) - 2
        else:
            places.append(Position(line, column))
    return places


def _written(document: str, cell: _Cell, text: str) -> str:
    """A cell's new text as its strings stand in the document; unchanged lines as they were."""
    start, end = cell.strings[0][0], cell.strings[-1][1]
    is_ascii = document[start:end].isascii()
    known = {_DECODER.raw_decode(document, s)[0]: document[s:e] for s, e in cell.strings}

    def string(value: str) -> str:
        plain = json.dumps(value, ensure_ascii=False)
        return (
            known.get(value) or (json.dumps(value) if is_ascii and not plain.isascii() else plain)
        )

    if not cell.is_list:
        return string(text)
    if len(cell.strings) > 1:
        between = document[cell.strings[0][1]:cell.strings[1][0]]
    else:
        line = document[document.rfind("\n", 0, start) + 1 : start]
        end_of_line = "\r\n" if "\r\n" in document else "\n"
        between = f",{end_of_line}{line}" if not line.strip() else ", "
    return between.join(map(string, _LINE.findall(text)))
