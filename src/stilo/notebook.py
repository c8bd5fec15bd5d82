"""Notebooks: documents in JSON with code in cells, of which the code alone is laid out.

The format is Jupyter's, nbformat 4 (https://nbformat.readthedocs.io): the source of a cell is a
string, or a list of strings that are its lines. All else stays byte for byte, as does each line of
a cell that comes out as it was. What in a cell is not of its language but said to the notebook
(the sheet knows the patterns) stands still while the rest is laid out around it.
"""

from __future__ import annotations

import json
import re
from bisect import bisect_right
from collections import Counter
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any, NamedTuple

from stilo.edits import Edit, apply_edits
from stilo.errors import Fault, OutOfRange, SyntaxFault, UnreadableSource, UnsafeResult
from stilo.source import LineRange, Position, Source
from stilo.verify.check import Checked, check_document

if TYPE_CHECKING:
    from stilo.explain import Decision, Finding
    from stilo.language import Language
    from stilo.result import Result

_BLANKS = re.compile(r"[ \t\r\n]*")
_DECODER = json.JSONDecoder()
#: A line with its end, as far as it has one.
_LINE = re.compile(r"[^\n]*\n|[^\n]+")


@dataclass(frozen=True)
class Cell:
    """The code of a cell. number: among all cells, from 1. strings: where in the document the strings
    stand that it is made of (quotes included), in characters. is_list: whether they are in a list.
    """

    number: int
    text: str
    strings: tuple[tuple[int, int], ...]
    is_list: bool


class LaidOut(NamedTuple):
    """A cell, where its lines begin in the document, what reformatting it found, and the names that
    stood in for what is not code there."""

    cell: Cell
    places: Sequence[Position]
    result: Result
    stand_ins: Mapping[str, str]


@dataclass(frozen=True)
class NotebookResult:
    """What reformatting a notebook found: as for `Result`, of all its cells together.

    Positions are those of the document: line and column of a string's line in it.
    """

    source: Source
    cells: tuple[LaidOut, ...]
    data: Checked
    edits: tuple[Edit, ...]

    @property
    def text(self) -> str:
        """The whole result as a string."""
        return self.data.decode().removeprefix("\ufeff")

    @property
    def changed(self) -> bool:
        """Whether the result differs from the source."""
        return self.data != self.source.raw

    @property
    def findings(self) -> tuple[Finding, ...]:
        """What in the cells is not in style."""
        return tuple(
            replace(
                finding,
                position=_place(places, finding.position),
                message=_restored(finding.message, stand_ins),
                cell=cell.number,
            )
            for cell, places, result, stand_ins in self.cells
            if result.changed
            for finding in result.findings
        )

    @property
    def order_counts(self) -> Counter[str]:
        """None: imports in cells stay where they are, since cells run one by one."""
        return Counter()

    @property
    def has_open_stars(self) -> bool:
        """Never: see `order_counts`."""
        return False

    @property
    def settings_consulted(self) -> frozenset[str]:
        """The settings that some decision in some cell consulted."""
        return frozenset[str]().union(*(done.result.settings_consulted for done in self.cells))

    def decision(self, line: int, column: int | None = None) -> Decision:
        """What decided the gap at a place of the document. Raises OutOfRange."""
        for cell, places, result, stand_ins in self.cells:
            for number, at in enumerate(places, 1):
                if at.line == line and cell.is_list:
                    wanted = None if column is None else max(1, column - at.column + 1)
                    found = result.decision(number, wanted)
                    return replace(
                        found,
                        position=_place(places, found.position),
                        before=_restored(found.before, stand_ins),
                        after=_restored(found.after, stand_ins),
                    )
        raise OutOfRange(self.source.name, f"code in line {line}", "name a line of a code cell")


def reformat_notebook(
    source: Source,
    language: Language,
    lay_out: Callable[[Source, Sequence[LineRange] | None], Result],
    lines: Sequence[LineRange] | None,
) -> NotebookResult:
    """Lay out the code cells of a notebook. Raises SyntaxFault, UnreadableSource, UnsafeResult.

    lay_out: lays one cell out. lines: of the document, outside which nothing changes.
    """
    document = source.raw.decode("utf-8-sig")
    line_starts = [0, *(found.end() for found in re.finditer("\n", document))]
    done: list[LaidOut] = []
    edits: list[tuple[int, int, str]] = []
    texts: dict[int, str] = {}
    for cell in read_cells(document, source, language):
        places = _line_places(document, line_starts, cell)
        chosen = _lines_within(places, lines)
        if (
            chosen == []
            or not _is_text(cell.text)
            or not cell.text.strip()
            or language.facts.foreign_cell.match(cell.text.lstrip())
        ):
            continue
        try:
            result, text, stand_ins = _lay_cell_out(cell, source.name, language, lay_out, chosen)
        except (SyntaxFault, UnsafeResult) as error:
            fault = error.fault
            at = _place(places, Position(fault.line, fault.column))
            message = f"in cell {cell.number}, line {fault.line}: {fault.message}"
            raise type(error)(Fault(source.name, *at, message)) from error
        done.append(LaidOut(cell, places, result, stand_ins))
        if text != cell.text:
            texts[cell.number] = text
            start, end = cell.strings[0][0], cell.strings[-1][1]
            edits.append((start, end, _written(document, cell, text)))
    done_edits = _in_bytes(document, source, edits)
    new = apply_edits(source.raw, done_edits)
    data = check_document(source, new, _said, _said(source.raw, texts))
    return NotebookResult(source, tuple(done), data, done_edits)


def _said(raw: bytes, texts: Mapping[int, str] | None = None) -> object:
    """All that a notebook says, the sources of its cells as texts. texts: other texts, by cell."""
    said = json.loads(
        raw.decode("utf-8-sig"), object_pairs_hook=list, parse_int=str, parse_float=str
    )
    cells = next(value for name, value in said if name == "cells")
    for number, cell in enumerate(cells, 1):
        for at, (name, value) in enumerate(cell):
            if name == "source":
                text = "".join(value) if isinstance(value, list) else value
                cell[at] = (name, (texts or {}).get(number, text))
    return said


def _is_text(text: str) -> bool:
    """Whether all of it are characters; JSON can write halves of some."""
    return not any("\ud800" <= sign <= "\udfff" for sign in text)


def _in_bytes(
    document: str, source: Source, edits: Sequence[tuple[int, int, str]]
) -> tuple[Edit, ...]:
    """Edits of a document as edits of the bytes that it was read from."""
    found = []
    at = 0
    passed = len(source.raw) - len(document.encode())  # the byte-order mark
    for start, end, text in edits:
        begin = passed + len(document[at:start].encode())
        passed, at = begin + len(document[start:end].encode()), end
        found.append(Edit(begin, passed, text.encode()))
    return tuple(found)


def read_cells(document: str, source: Source, language: Language) -> list[Cell]:
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
            found.append(Cell(number, text, ((begin, end),), False))
        elif isinstance(text, list) and text and all(isinstance(line, str) for line in text):
            found.append(Cell(number, "".join(text), tuple(_items(document, begin)), True))
    return found


def _place(places: Sequence[Position], position: Position) -> Position:
    """Where a position in a cell is in the document."""
    at = places[min(position.line, len(places)) - 1]
    return Position(at.line, at.column + position.column - 1)


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


def _line_places(document: str, line_starts: Sequence[int], cell: Cell) -> list[Position]:
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


def _lines_within(
    places: Sequence[Position], lines: Sequence[LineRange] | None
) -> list[LineRange] | None:
    """The lines of a cell that stand within those of the document."""
    if lines is None:
        return None
    return [
        (number, number)
        for number, at in enumerate(places, 1)
        if any(first <= at.line <= last for first, last in lines)
    ]


def _lay_cell_out(
    cell: Cell,
    name: str,
    language: Language,
    lay_out: Callable[[Source, Sequence[LineRange] | None], Result],
    lines: Sequence[LineRange] | None,
) -> tuple[Result, str, Mapping[str, str]]:
    """A cell's result, its new text with what is foreign in its place, and what stood in for that."""
    text = cell.text
    stand_ins: Mapping[str, str] = {}
    if not text.endswith("\n"):
        text += "\n"
    if language.read(text.encode()).has_error:
        text, stand_ins = _with_stand_ins(text, language)
    result = lay_out(Source.from_text(text, name), lines)
    new = _restored(result.text, stand_ins)
    if stand_ins and _with_words(new, language, stand_ins) != result.text:
        message = (
            "lines that are not of its language would read differently; the file is left as it was"
        )
        raise UnsafeResult(Fault(name, 1, 1, message))
    new = new if cell.text.endswith("\n") else new.removesuffix("\n")
    return result, new, stand_ins


def _restored(text: str, stand_ins: Mapping[str, str]) -> str:
    for word, said in stand_ins.items():
        text = text.replace(word, said)
    return text


def _with_words(text: str, language: Language, words: Mapping[str, str]) -> str:
    """The text with these words in place of the lines that are not of the language, in order."""
    left = iter(words)
    return language.facts.foreign_lines.sub(lambda found: found["margin"] + next(left, ""), text)


def _with_stand_ins(text: str, language: Language) -> tuple[str, Mapping[str, str]]:
    """The text with a name in place of each line that is not of the language, as long as that."""
    said: dict[str, str] = {}

    def stand_in(found: re.Match[str]) -> str:
        margin, line = found["margin"], found["said"]
        word = f"_{len(said)}_"
        word += "x" * max(6, len(line) - len(word))
        while word in text:
            word += "x"
        said[word] = line
        return margin + word

    return language.facts.foreign_lines.sub(stand_in, text), said


def _written(document: str, cell: Cell, text: str) -> str:
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
