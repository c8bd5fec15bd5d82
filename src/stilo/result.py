"""What reformatting a text found: the new text, and how it came about."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from typing import TYPE_CHECKING

from stilo.edits import Edit
from stilo.explain import Decision, Finding, decision_at, findings_of
from stilo.language import Language
from stilo.layout.fit import Fitted
from stilo.layout.plan import Plan
from stilo.layout.render import Rendered
from stilo.sheet.properties import Value
from stilo.source import BOM, OTHER_CHARSETS, Position, Source
from stilo.style.directives import Directives

if TYPE_CHECKING:
    from stilo.style.given import Given


@dataclass(frozen=True)
class Result:
    """What reformatting found: the new text, and how it came about.

    `source`: the text as read. `data`: the whole result as bytes, in the
    source's encoding, byte-order mark and line ends included. `origins`: the settings that
    some layer gave a value, with the place. `directives`: what the source's comments ask for.
    """

    source: Source
    language: Language
    values: Mapping[str, Value]
    origins: Mapping[str, Given]
    directives: Directives
    data: bytes
    _plan: Plan
    _fitted: Fitted
    _rendered: Rendered
    _touched: range | None

    @property
    def text(self) -> str:
        """The whole result as a string (without byte-order mark)."""
        return self.data.decode(self._charset).removeprefix("\ufeff")

    @property
    def _charset(self) -> str:
        wanted = str(self.values["charset"])
        return wanted if wanted in OTHER_CHARSETS else "utf-8"

    @property
    def changed(self) -> bool:
        """Whether the result differs from the source."""
        return self.data != self.source.raw

    @cached_property
    def edits(self) -> tuple[Edit, ...]:
        """The least edits that lead from the original bytes to `data`, in order, apart."""
        edits = edits_of(self.source, self._plan, self._rendered, self._eol, self._touched)
        had, has = self.source.raw.startswith(BOM), self.data.startswith(BOM)
        if had != has:
            edits.insert(0, Edit(0, len(BOM) if had else 0, BOM if has else b""))
        return tuple(edits)

    @property
    def findings(self) -> tuple[Finding, ...]:
        """What in the source is not in style: place, what, and the rule that says so."""
        return tuple(
            replace(
                finding,
                reason=finding.reason and finding.reason.traced(self._origins(finding.position)),
            )
            for finding in findings_of(
                self.source, self._plan, self._fitted, self._rendered, self._touched
            )
        )

    @property
    def settings_consulted(self) -> frozenset[str]:
        """The settings that some decision consulted, in the lines asked for, or in the whole."""
        from stilo.relevance import consulted

        return consulted(self._plan, self._fitted, self._touched)

    def decision(self, line: int, column: int | None = None) -> Decision:
        """What decided the gap at a place of the *source* (1-based): before the token there.

        Without a column: before the first token of the line. Raises OutOfRange.
        """
        found = decision_at(
            self.source, self._plan, self._fitted, self._rendered, self.values, line, column
        )
        return replace(
            found, reasons=tuple(r.traced(self._origins(found.position)) for r in found.reasons)
        )

    def _origins(self, position: Position) -> Mapping[str, Given]:
        """Where the settings that hold at a place have their values from."""
        token = bisect_left(self._plan.tree.token_start, self.source.offset(position))
        origins = dict(self.origins)
        for region, given in zip(self.directives.regions, self.directives.given):
            if token in region.tokens:
                origins.update(given)
        return origins

    @property
    def _eol(self) -> bytes:
        return line_end(self.source, self.values)


def line_end(source: Source, values: Mapping[str, Value]) -> bytes:
    wanted = values["line-ends"]
    return b"\r\n" if wanted == "crlf" or (wanted == "keep" and source.has_crlf) else b"\n"


def edits_of(
    source: Source,
    planned: Plan,
    rendered: Rendered,
    eol: bytes,
    touched: range | None,
) -> list[Edit]:
    """Each piece of white space, and each moved comment, that differs."""
    tree = planned.tree
    edits: list[Edit] = []
    chosen = range(len(rendered.gaps)) if touched is None else touched

    def offer(start: int, end: int, text: bytes) -> None:
        before, after = source.original(start), source.original(end)
        if eol != b"\n":
            text = text.replace(b"\n", eol)
        text = source.encode(text)
        if source.raw[before:after] != text:
            edits.append(Edit(before, after, text))

    ends = [0, *tree.token_end]
    starts = [*tree.token_start, len(source.data)]
    wanted = rendered.gaps
    same_ends = source.has_crlf == (eol != b"\n")
    for token in chosen:
        start, end = ends[token], starts[token]
        is_final = token == len(rendered.tokens)
        if is_final or not same_ends or source.data[start:end] != wanted[token]:
            offer(start, end, wanted[token])
        if not is_final:
            moved = rendered.tokens[token]
            if not same_ends or moved != tree.token_text(token):
                offer(starts[token], tree.token_end[token], moved)
    return edits
