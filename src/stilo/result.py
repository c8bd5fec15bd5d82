"""What reformatting a text found: the new text, and how it came about."""

from __future__ import annotations

from bisect import bisect_left
from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import TYPE_CHECKING, NamedTuple

from stilo.edits import Edit, apply_edits, composed, least, moved_back
from stilo.errors import OutOfRange
from stilo.explain.decisions import Decision, decision_at, source_place, statement_of, token_at
from stilo.explain.findings import Finding, findings_of
from stilo.explain.reasons import Reason, Reasons
from stilo.language import Language
from stilo.layout.fit import Fitted
from stilo.layout.kept import Kept
from stilo.layout.plan import Plan
from stilo.layout.render import Rendered, render, shifted
from stilo.layout.views import View
from stilo.sheet.properties import Value
from stilo.source import BOM, Position, Source
from stilo.style.directives import Directives
from stilo.verify.check import Checked, check

if TYPE_CHECKING:
    from pathlib import Path

    from stilo.order.expand import Ambiguity
    from stilo.order.passes import Ordered
    from stilo.order.project import Project
    from stilo.style.given import Given


class Unread(NamedTuple):
    """Lines of a source that stay as they are: where they begin, the last of them, and why."""

    position: Position
    last_line: int
    why: str


class OpenStar(NamedTuple):
    """A name for which a star stays: its first use, the modules that offer it, how often it is used."""

    position: Position
    name: str
    candidates: tuple[str, ...]
    uses: int


@dataclass(frozen=True, repr=False)
class Result:
    """What reformatting found: the new text, and how it came about.

    `source`: the text as read. `data`: the whole result as bytes, in the
    source's encoding, byte-order mark and line ends included. `origins`: the settings that
    some layer gave a value, with the place. `directives`: what the source's comments ask for.
    `unread`: the lines that stay as they are, since they cannot be read.
    """

    source: Source
    language: Language
    values: Mapping[str, Value]
    origins: Mapping[str, Given]
    directives: Directives
    data: Checked
    _plan: Plan
    _fitted: Fitted
    _rendered: Rendered
    _touched: Sequence[int] | None
    _views: Sequence[View] = ()
    unread: tuple[Unread, ...] = ()
    _ordered: Ordered | None = None
    _project: Project | None = None

    def __repr__(self) -> str:
        what = "to be changed" if self.changed else "in style"
        return f"<Result: {self.source.name}, {self.language.name}, {what}>"

    @property
    def _laid(self) -> Source:
        """What was laid out: the source, or the source with its imports in order."""
        return self.source if self._ordered is None else self._ordered.text.source

    @property
    def text(self) -> str:
        """The whole result as a string (without byte-order mark)."""
        return self.data.decode(self.source.charset).removeprefix("\ufeff")

    @property
    def changed(self) -> bool:
        """Whether the result differs from the source."""
        return self.data != self.source.raw

    @property
    def results(self) -> tuple[Result, ...]:
        """This one: as a document has one for each segment."""
        return (self,)

    @property
    def folders_read(self) -> Mapping[Path, Mapping[str, bool]] | None:
        """The folders whose entries had a say in the result, with what was found there (name → is it a
        folder); None if the contents of other files had, too."""
        if self._project is None:
            return {}
        return None if self._project.reads_files else self._project.listed

    def indented(self, column: int) -> str:
        """The result as text whose lines begin further in, for code that is put into other code.

        column: how far, from 0. Texts of several lines stay as they are; comments move along, and texts
        whose further lines the style aligns.
        """
        return shifted(self._plan, self._rendered, self.values, column).decode()

    @property
    def laid_out(self) -> tuple[tuple[int, int], ...]:
        """Where the statements that were laid out begin and end in the text as it was laid out (bytes of
        UTF-8, lines ending in a line feed)."""
        tree, touched = self._plan.tree, self._touched
        if touched is None:
            return ((0, len(tree.data)),)
        firsts = [t for t, before in zip(touched, [-2, *touched]) if t != before + 1]
        lasts = [t for t, after in zip(touched, [*touched[1:], -2]) if t != after - 1]
        return tuple(
            (tree.token_start[first], tree.token_end[min(last, len(tree.token_end) - 1)])
            for first, last in zip(firsts, lasts)
            if first < len(tree.token_start)
        )

    @cached_property
    def edits(self) -> tuple[Edit, ...]:
        """The least edits that lead from the original bytes to `data`, in order, apart."""
        eol = self._eol
        if self._touched is not None:  # as the lines around end
            eol = b"\r\n" if self._laid.has_crlf else b"\n"
        edits = edits_of(self._laid, self._plan, self._rendered, eol, self._touched)
        if self._views:
            edits = [piece for edit in edits for piece in least(self.source.raw, edit)]
        if self._ordered is not None:
            edits = composed(self.source.raw, self._ordered.edits, edits)
        had, has = self.source.raw.startswith(BOM), self.data.startswith(BOM)
        if had != has:
            edits.insert(0, Edit(0, len(BOM) if had else 0, BOM if has else b""))
        return tuple(edits)

    @property
    def findings(self) -> tuple[Finding, ...]:
        """What in the source is not in style: place, what, and the rule that says so."""
        if not self.changed:
            return ()
        found = [
            replace(finding, reason=finding.reason.traced(self._origins(finding.position)))
            for finding in self._found()
        ]
        if self._ordered is not None:
            found = [*self._of_order(), *self._placed(found)]
            found.sort(key=lambda finding: finding.position)
        if self._touched is None:
            found += self._of_bytes()
        return tuple(found)

    def _found(self) -> list[Finding]:
        """What is not in style, in all views. A branch is judged by the view that lays it out."""
        found: list[Finding] = []
        parts = [(self._reasons, self._touched)]
        parts += [(self._reasons_of(view), view.tokens) for view in self._views]
        for reasons, tokens in parts:
            out = set(reasons.plan.tree.tokens_of({self.language.branch_kind}))
            found += [
                finding
                for token, is_gap, finding in findings_of(self._laid, reasons, tokens)
                if is_gap or token not in out
            ]
        return sorted(found, key=lambda finding: finding.position) if self._views else found

    def edits_for(self, setting: str) -> tuple[Edit, ...]:
        """The edits that one setting asks for, checked as they are; none of imports.

        Raises UnsafeResult where they are not safe without the others.
        """
        if self._ordered is not None or self._views or not self.changed:
            return ()
        count = len(self._rendered.tokens)
        gaps, tokens = set(range(count + 1)), set(range(count))
        for token, is_gap, finding in findings_of(self._laid, self._reasons, self._touched):
            if finding.reason.setting == setting:
                (gaps if is_gap else tokens).discard(token)
        rendered = render(self._plan, self._fitted, self.values, kept=Kept(gaps, tokens))
        eol = b"\r\n" if self.source.has_crlf else b"\n"
        edits = edits_of(self.source, self._plan, rendered, eol, range(count + 1))
        data = apply_edits(self.source.raw, edits)
        check(self.language, self.source, self.source, self._plan, rendered, data)
        return tuple(edits)

    def _of_bytes(self) -> Iterator[Finding]:
        """What is to change of line ends and of the byte-order mark."""
        source, wanted = self.source, self._eol
        had, has = source.raw.startswith(BOM), self.data.startswith(BOM)
        if had != has:
            what = "no byte-order mark wanted" if had else "byte-order mark wanted"
            yield Finding(Position(1, 1), Position(1, 1), "bytes", what, self._reason("charset"))
        other = b"\n" if wanted == b"\r\n" else b"\r\n"
        lines = [number for number, end in enumerate(source.line_ends, 1) if end == other]
        if lines:
            names = {b"\n": "LF", b"\r\n": "CRLF"}
            more = f" (and {len(lines) - 1} more)" if len(lines) > 1 else ""
            message = f"the line ends in {names[other]}{more}, {names[wanted]} wanted"
            at = Position(lines[0], 1)
            yield Finding(at, at, "bytes", message, self._reason("line-ends"))

    def _of_order(self) -> Iterator[Finding]:
        """What is to change of the imports, and of the ends of statements."""
        assert self._ordered is not None
        for change in self._ordered.arrangement.changes:
            reason = self._reason(change.setting)
            at = self.source.position(change.offset)
            code = "imports" if change.imports else change.what
            yield Finding(at, at, code, change.message, reason)

    def _placed(self, findings: Sequence[Finding]) -> Iterator[Finding]:
        """Findings of the text in order, where they are in the source; new imports have none."""
        assert self._ordered is not None
        edits = self._ordered.arrangement.edits
        for finding in findings:
            offset = moved_back(self._laid.offset(finding.position), edits)
            if offset is not None:
                at = self.source.position(offset)
                end = moved_back(self._laid.offset(finding.end), edits)
                yield replace(
                    finding, position=at, end=at if end is None else self.source.position(end)
                )

    def _reason(self, setting: str) -> Reason:
        """That a setting asks for something."""
        return self._reasons.of_setting(setting).traced(self.origins)

    @property
    def _reasons(self) -> Reasons:
        return Reasons(self.language, self.values, self._plan, self._fitted, self._rendered)

    def _reasons_of(self, view: View) -> Reasons:
        return Reasons(self.language, self.values, view.plan, view.fitted, view.rendered)

    def _reasons_at(self, line: int, column: int | None) -> Reasons:
        """The reasons of the view that lays out a place."""
        if self._views and 1 <= line <= self._laid.line_count:
            start = self._laid.offset(Position(line, column or 1))
            text = self._laid.data[start : self._laid.data.find(b"\n", start) + 1]
            offset = start if column else start + len(text) - len(text.lstrip())
            for view in reversed(self._views):
                if view.holds(offset):
                    return self._reasons_of(view)
        return self._reasons

    @property
    def ambiguities(self) -> tuple[Ambiguity, ...]:
        """The names for which a star stays, since several modules offer them."""
        return () if self._ordered is None else self._ordered.arrangement.needs.ambiguous

    @property
    def open_stars(self) -> tuple[OpenStar, ...]:
        """The ambiguities, with places."""
        return tuple(
            OpenStar(
                self.source.position(unclear.offsets[0] if unclear.offsets else 0),
                unclear.name,
                tuple(unclear.candidates),
                len(unclear.offsets)
            )
            for unclear in self.ambiguities
        )

    @property
    def has_open_stars(self) -> bool:
        """Whether there are ambiguities, or modules of which nothing is known."""
        return bool(self.ambiguities or self.unknown_modules)

    @property
    def unknown_modules(self) -> tuple[str, ...]:
        """The modules whose star stays, since nothing is known of them."""
        found = () if self._ordered is None else self._ordered.arrangement.needs.unknown
        return tuple(item.module for item in found)

    @property
    def unseen_imports(self) -> tuple[str, ...]:
        """The imports that stay since the file alone does not show whether it needs them."""
        found = () if self._ordered is None else self._ordered.arrangement.needs.unseen
        return tuple(item.path for item in found)

    @property
    def order_counts(self) -> Counter[str]:
        """How many imports were moved, merged, divided, …: by the word for it."""
        return Counter() if self._ordered is None else self._ordered.arrangement.counts

    @property
    def settings_consulted(self) -> frozenset[str]:
        """The settings that some decision consulted, in the lines asked for, or in the whole."""
        from stilo.order.asked import consulted_for_order
        from stilo.explain.relevance import consulted

        found = consulted(self._plan, self._fitted, self._touched)
        return (
            found | consulted_for_order(self._plan.tree, self.language, self.values, self._touched)
        )

    def decision(self, line: int, column: int | None = None) -> Decision:
        """What decided the gap at a place of the *source* (1-based): before the token there.

        Without a column: before the first token of the line. Raises OutOfRange.
        """
        at = line, column
        if self._ordered is not None and 1 <= line <= self.source.line_count:
            if not self._laid.data.strip():
                has = "nothing is left of it without the imports that go"
                raise OutOfRange(self.source.name, f"token in line {line}", has)
            at = self._ordered.place(self.source, line, column)
        found = decision_at(self._laid, self._reasons_at(*at), *at)
        reasons = [r.traced(self._origins(found.position)) for r in found.reasons]
        reasons += [self._reason(setting) for setting in self._placing(found.position)]
        if self._ordered is not None:
            found = replace(found, position=Position(line, column or 1))
        return replace(found, reasons=tuple(reasons))

    def statement(self, line: int, column: int | None = None) -> str:
        """The statement at a place of the source, as the result has it. Raises OutOfRange."""
        at = line, column
        if self._ordered is not None and 1 <= line <= self.source.line_count:
            at = self._ordered.place(self.source, line, column)
        reasons = self._reasons_at(*at)
        return statement_of(reasons, token_at(self._laid, reasons, *at)).decode()

    def source_place(self, line: int, column: int | None = None) -> Position:
        """Where the token at a place of the result is in the source. Raises OutOfRange."""
        at = source_place(self._laid, self._reasons, line, column)
        if self._ordered is None:
            return at
        offset = moved_back(self._laid.offset(at), self._ordered.arrangement.edits)
        if offset is None:
            has = "the import there was written anew"
            raise OutOfRange(self.source.name, f"line {line} of the result", has)
        return self.source.position(offset)

    def _placing(self, position: Position) -> tuple[str, ...]:
        """The settings that decide where the import at a place of what was laid out stands."""
        from stilo.order.asked import placing

        return placing(self._plan.tree, self.language, self.values, self._laid.offset(position))

    def _origins(self, position: Position) -> Mapping[str, Given]:
        """Where the settings that hold at a place of what was laid out have their values from."""
        token = bisect_left(self._plan.tree.token_start, self._laid.offset(position))
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


def with_line_ends(text: bytes, eol: bytes) -> bytes:
    """A text with `eol` in place of each line feed.

    A carriage return before a line feed would be read as part of the line end: there it stays two.
    """
    if eol != b"\n":
        return text.replace(b"\n", eol)
    return text.replace(b"\r\n", b"\r\r\n") if b"\r" in text else text


def edits_of(
    source: Source, planned: Plan, rendered: Rendered, eol: bytes, touched: Sequence[int] | None
) -> list[Edit]:
    """Each piece of white space, and each moved comment, that differs."""
    tree = planned.tree
    edits: list[Edit] = []
    chosen = range(len(rendered.gaps)) if touched is None else touched

    def offer(start: int, end: int, text: bytes) -> None:
        is_made_up = end == len(source.data) and not source.raw.endswith(b"\n")  # its last line end
        if touched is not None and not is_made_up and source.data[start:end] == text:
            return  # its line ends are the file's concern
        before, after = source.original(start), source.original(end)
        text = source.encode(with_line_ends(text, eol))
        if source.raw[before:after] != text:
            edits.append(Edit(before, after, text))

    ends = [0, *tree.token_end]
    starts = [*tree.token_start, len(source.data)]
    wanted = rendered.gaps
    same_ends = source.has_crlf == (eol != b"\n") and not source.has_mixed_ends
    for token in chosen:
        start, end = ends[token], starts[token]
        is_final = token == len(rendered.tokens)
        if is_final or not same_ends or source.data[start:end] != wanted[token]:
            offer(start, end, wanted[token])
        if not is_final:
            moved = rendered.tokens[token]
            is_last = tree.token_end[token] == len(source.data)  # it may have the last line end in it
            if is_last or not same_ends or moved != tree.source_text(token):
                offer(starts[token], tree.token_end[token], moved)
    return edits
