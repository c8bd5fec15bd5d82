"""A text with its trees, as the passes hand it on, and as edits change it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from stilo.edits import Edit, apply_edits
from stilo.language import Language
from stilo.source import Source
from stilo.tree.flat import Tree
from stilo.tree.grammar import Parsed
from stilo.tree.splice import spliced


@dataclass(frozen=True)
class Text:
    """A source with the grammar's tree of it and, once it is asked for, the flat one."""

    source: Source
    parsed: Parsed
    language: Language

    @cached_property
    def tree(self) -> Tree:
        """The flat tree, without brackets of its own where there are none."""
        language = self.language
        return language.grammar.read(
            self.parsed, self.source.data, language.whole, language.wants_fields
        )

    @cached_property
    def top(self) -> Tree:
        """The flat tree of its top, where imports are looked into and nothing else."""
        language = self.language
        return language.grammar.read_top(
            self.parsed, self.source.data, language.whole, language.import_kinds
        )

    def raw_edits(self, edits: Sequence[Edit]) -> tuple[Edit, ...]:
        """Edits of `source.data` as edits of the bytes it was read from, with its line ends."""
        source = self.source
        end = b"\r\n" if source.has_crlf else b"\n"
        return tuple(
            Edit(
                source.original(edit.start),
                source.original(edit.end),
                source.encode(edit.text.replace(b"\n", end)),
            )
            for edit in edits
        )

    def edited(
        self, edits: Sequence[Edit], raw_edits: Sequence[Edit], is_of_top: bool = True
    ) -> Text | None:
        """The text after edits of `source.data`, given as edits of its bytes, too.

        is_of_top: each replaces whole children of the root. None if it does not parse.
        """
        source, grammar = self.source, self.language.grammar
        raw = apply_edits(source.raw, raw_edits)
        new = Source.from_bytes(raw, source.name, source.charset)
        again = grammar.parse_again(self.parsed, source.data, new.data, edits)
        if again is None:
            return None
        text = Text(new, again, self.language)
        if is_of_top:
            text.take_tree(self, edits)
        return text

    def take_tree(self, other: Text, edits: Sequence[Edit]) -> None:
        """Have the flat tree of another text, if it has one, as edits of it that lead here leave it.

        Each replaces whole children of the root.
        """
        if "tree" in other.__dict__ and not self.language.wants_fields:
            size = self.parsed.size
            tree = spliced(other.tree, self.top, edits, size)
            if tree is not None:
                self.__dict__["tree"] = tree
