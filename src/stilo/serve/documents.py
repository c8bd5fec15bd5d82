"""The texts that an editor has open."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import field, replace
from functools import cached_property
from typing import TYPE_CHECKING, NamedTuple

from stilo.edits import Edit, difference
from stilo.records import dataclass
from stilo.serve.positions import Place, Places
from stilo.source import Source

if TYPE_CHECKING:
    from stilo.language import Language
    from stilo.readers import Parsed
    from stilo.style.resolve import FileStyle


class Change(NamedTuple):
    """A text in place of a stretch; of all, if there is no stretch."""

    text: str
    start: Place | None = None
    end: Place | None = None


class Settled(NamedTuple):
    """A text that is in style, and that style."""

    source: Source
    style: FileStyle


class Reading(NamedTuple):
    """A text, as a language's reader understands it."""

    language: Language
    data: bytes
    parsed: Parsed


@dataclass(frozen=True)
class Snapshot:
    """An open text at one version, which stays as it is while answers are found in other threads.

    uri: its name in the protocol. path: of its file, or what a file would be called. language: what the
    editor takes it for.
    """

    uri: str
    path: str
    language: str
    version: int
    raw: bytes
    encoding: str

    @cached_property
    def places(self) -> Places:
        """Its places as the editor counts them."""
        return Places(self.raw, self.encoding)

    @cached_property
    def source(self) -> Source:
        """The text for reading. Raises UnreadableSource."""
        return Source.from_bytes(self.raw, self.path)

    def changed(self, changes: Sequence[Change], version: int) -> Snapshot:
        """The text after some changes, each of what the one before left."""
        now = self
        for text, start, end in changes:
            raw = text.encode("utf-8", "surrogatepass")
            if start is not None and end is not None:
                first, last = now.places.offset(start), now.places.offset(end)
                raw = now.raw[:first] + raw + now.raw[max(first, last):]
            now = replace(now, raw=raw, version=version)
        return now

    def line(self, offset: int) -> int:
        """The line of a place, from 1, as `Source` counts them: by line feeds."""
        return self.raw.count(b"\n", 0, offset) + 1


@dataclass
class Documents:
    """All open texts, and what is known of each. encoding: that in which the editor counts."""

    encoding: str = "utf-16"
    texts: dict[str, Snapshot] = field(default_factory=dict)
    #: What each was when it was in style.
    settled: dict[str, Settled] = field(default_factory=dict)
    #: How each was last read.
    readings: dict[str, Reading] = field(default_factory=dict)

    def open(self, uri: str, path: str, language: str, version: int, text: str) -> Snapshot:
        """Take a text in."""
        raw = text.encode("utf-8", "surrogatepass")
        found = self.texts[uri] = Snapshot(uri, path, language, version, raw, self.encoding)
        return found

    def change(self, uri: str, changes: Sequence[Change], version: int) -> Snapshot | None:
        """Take changes in; None of a text that is not open."""
        known = self.texts.get(uri)
        if known is None:
            return None
        found = self.texts[uri] = known.changed(changes, version)
        return found

    def close(self, uri: str) -> None:
        """Forget a text."""
        self.texts.pop(uri, None)
        self.settled.pop(uri, None)
        self.readings.pop(uri, None)

    def read(self, text: Snapshot, language: Language) -> Parsed:
        """A text as it is read: of what changed since it was last read, no more than that."""
        source, known = text.source, self.readings.get(text.uri)
        if known is None or known.language is not language:
            parsed = language.read(source.data)
        elif known.data == source.data:
            parsed = known.parsed
        else:
            parsed = known.parsed.edited(source.data, [difference(known.data, source.data)])
        if text.uri in self.texts:
            self.readings[text.uri] = Reading(language, source.data, parsed)
        return parsed

    def is_current(self, text: Snapshot) -> bool:
        """Whether a text is still what the editor has."""
        return self.texts.get(text.uri) is text


def joined(edits: Sequence[Edit]) -> list[Edit]:
    """The same edits, in order, with those that touch as one: editors differ in what they make of two at a place."""
    found: list[Edit] = []
    for edit in edits:
        if found and found[-1].end == edit.start:
            last = found.pop()
            edit = Edit(last.start, edit.end, last.text + edit.text)
        found.append(edit)
    return found
