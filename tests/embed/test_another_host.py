"""A document that is no notebook: pages with JSON between lines of three tildes."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass

import pytest

import stilo
from stilo.edits import Edit, apply_edits
from stilo.embed.document import reformat_segments
from stilo.embed.segments import DocumentResult, Segment
from stilo.language import Language
from stilo.request import Request
from stilo.source import Position, Source

FENCED = re.compile(rb"(?m)^~~~\n(.*?)^~~~$", re.DOTALL)
PAGE = 'Berths\n~~~\n{"berth":4}\n~~~\nand lanes\n~~~\n[1,2,\n 3]\n~~~\nend\n'


@dataclass(frozen=True)
class Page:
    source: Source
    language: Language
    noun = "example"
    outer = None

    def segments(self) -> list[Segment]:
        found = []
        for number, fenced in enumerate(FENCED.finditer(self.source.data), 1):
            line = self.source.position(fenced.start(1)).line
            text = fenced[1].decode()
            places = tuple(Position(line + n, 1) for n in range(text.count("\n")))
            found.append(Segment(number, text, places))
        return found

    def edit(self, segment: Segment, text: str) -> Edit:
        start, end = list(FENCED.finditer(self.source.data))[segment.number - 1].span(1)
        return Edit(start, end, text.encode())

    def said(self, data: bytes, texts: Mapping[int, str]) -> object:
        around = FENCED.split(data)
        own = [found.decode() for found in FENCED.findall(data)]
        return around[::2], [texts.get(n, text) for n, text in enumerate(own, 1)]


def laid_out(page: str, lines: list[tuple[int, int]] | None = None) -> DocumentResult:
    json = stilo.load_language("json")
    return reformat_segments(Page(Source.from_text(page), json), Request(json.values({}), lines))


def test_each_segment_is_laid_out_and_nothing_else_changes() -> None:
    result = laid_out(PAGE)
    assert (
        result.text
        == PAGE.replace('{"berth":4}', '{"berth": 4}').replace("[1,2,\n 3]", "[1, 2, 3]")
    )
    assert apply_edits(result.source.raw, result.edits) == result.data
    assert not laid_out(result.text).changed
    assert repr(result) == "<DocumentResult: text, 2 examples, to be changed>"


def test_places_are_those_of_the_document() -> None:
    result = laid_out(PAGE)
    assert [f"{f.position.line}: {f.within}" for f in result.findings][-1].startswith(
        "8: example 2"
    )
    assert result.decision(3, 2).position == (3, 2)
    assert laid_out(PAGE, [(7, 8)]).text == PAGE.replace("[1,2,\n 3]", "[1, 2, 3]")
    with pytest.raises(stilo.OutOfRange, match="name a line of a code example"):
        result.decision(1)


def test_a_fault_names_segment_and_place() -> None:
    with pytest.raises(stilo.SyntaxFault, match="^text:7:6: in example 2, line 1: syntax error"):
        laid_out(PAGE.replace("[1,2,\n 3]", "[1,2 3]"))
