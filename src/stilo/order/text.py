"""A text with its trees, as the passes hand it on, and as edits change it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import cached_property

from stilo.edits import Edit, apply_edits
from stilo.language import Language
from stilo.readers.reader import Parsed
from stilo.records import dataclass
from stilo.source import Source
from stilo.tree.flat import Tree
from stilo.tree.splice import spliced


@dataclass(frozen=True)
class Text:
    """A source as its reader understands it. known: its flat tree, where that need not be made."""

    source: Source
    parsed: Parsed
    language: Language
    known: Tree | None = None

    @cached_property
    def tree(self) -> Tree:
        """The flat tree, without brackets that come and go where there are none."""
        return self.parsed.tree if self.known is None else self.known

    @property
    def views(self) -> Sequence[Text]:
        """This text, and the further views of it, each as a text of its own."""
        return [self, *(Text(self.source, view, self.language) for view in self.parsed.others)]

    @property
    def top(self) -> Tree:
        """The flat tree of its top, where imports are looked into and nothing else."""
        return self.parsed.top

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
        source = self.source
        raw = apply_edits(source.raw, raw_edits)
        new = Source.from_bytes(raw, source.name, source.charset)
        again = self.parsed.edited(new.data, edits)
        if again.has_error:
            return None
        text = Text(new, again, self.language)
        return text.with_tree_of(self, edits) if is_of_top else text

    def with_tree_of(self, other: Text, edits: Sequence[Edit]) -> Text:
        """The same text. Its tree is made of another text's, if that one has been made.

        edits: lead from the other text to this one; each replaces whole children of the root.
        """
        is_made = other.known is not None or "tree" in vars(other)
        if not is_made or self.language.wanted.fields:
            return self
        return replace(self, known=spliced(other.tree, self.top, edits, self.parsed.size))
