"""What an editor is replied, in the words of the protocol. What there is to reply is found by `answers` and its
neighbours.

Nothing of a workspace is run or imported, and nothing in it is written: all that is to change goes to the
editor as edits.
"""

from __future__ import annotations

import logging
from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from lsprotocol import types
from pygls.uris import from_fs_path

from stilo.edits import Edit
from stilo.errors import Fault, StiloError
from stilo.explain.findings import Finding
from stilo.serve import NAME, actions, answers, pages, settings_files
from stilo.serve.documents import Documents, Snapshot, joined
from stilo.serve.positions import Place, Places
from stilo.serve.styles import SETTINGS_FILES, SHEET_ENDING, StyleFinder, is_settings_file
from stilo.sheet.properties import Value
from stilo.source import Position
from stilo.style.resolve import FileStyle

QUICK_FIX = types.CodeActionKind.QuickFix
ORGANIZE_IMPORTS = types.CodeActionKind.SourceOrganizeImports


class Replies:
    """Replies about open texts. Safe to share between threads; what a style says is found once, and kept."""

    def __init__(self, documents: Documents) -> None:
        self._documents = documents
        self._styles = StyleFinder()

    @property
    def watched(self) -> Sequence[str]:
        """Patterns of the files whose change may change the style of others."""
        return [*SETTINGS_FILES, f"*{SHEET_ENDING}"]

    def decides_styles(self, path: str) -> bool:
        """Whether the style of other files may depend on a file."""
        return is_settings_file(path)

    def forget(self) -> None:
        """Read all files of settings again, since their contents may be others."""
        self._styles.forget()
        self._documents.settled.clear()

    # Layout

    def whole(
        self, text: Snapshot, options: types.FormattingOptions | None
    ) -> list[types.TextEdit]:
        """The edits that lay out a text, unless it is to be left alone. Raises StiloError, as all that follow."""
        style = self._styles.of(text, _said_by_editor(options))
        if style.skipped:
            return []
        documents = self._documents
        parsed, known = documents.read(text, style.language), documents.settled.get(text.uri)
        found, settled = answers.whole(text, style, parsed, known)
        if settled is not None and text.uri in documents.texts:
            documents.settled[text.uri] = settled
        return _text_edits(text.places, found)

    def ranges(
        self, text: Snapshot, ranges: Sequence[types.Range], options: types.FormattingOptions
    ) -> list[types.TextEdit]:
        """The edits that lay out some ranges."""
        if not text.raw.strip():
            return []
        style = self._styles.of(text, _said_by_editor(options))
        parsed = self._documents.read(text, style.language)
        lines = [_lines(text, r) for r in ranges]
        return _text_edits(text.places, answers.lines(text, style, lines, parsed))

    def typed(
        self, text: Snapshot, params: types.DocumentOnTypeFormattingParams
    ) -> list[types.TextEdit]:
        """The edits that lay out the statement or block that was just ended."""
        style = self._styles.of(text, _said_by_editor(params.options))
        if style.skipped:
            return []
        parsed = self._documents.read(text, style.language)
        cursor = text.places.offset(Place.of(params.position))
        return _text_edits(text.places, answers.typed(text, style, parsed, cursor, params.ch))

    # Findings, and what can be done about them

    def findings(self, text: Snapshot) -> list[types.Diagnostic]:
        """What is not in style. Of a text that cannot be read: nothing."""
        try:
            style = self._styles.of(text)
            return [_of_finding(text, finding) for finding in answers.findings(text, style)]
        except StiloError as error:
            logging.getLogger(__name__).info("%s", error)
            return []

    def faults(self, text: Snapshot) -> list[types.Diagnostic] | None:
        """What is wrong in a file of settings or a sheet; None: it is neither."""
        if not settings_files.is_known(text.path):
            return None
        return [_of_fault(text, fault) for fault in settings_files.faults(text)]

    def code_actions(
        self, text: Snapshot, context: types.CodeActionContext
    ) -> list[types.CodeAction]:
        """What can be done about the findings of a place, and about imports."""
        if settings_files.is_known(text.path):
            return []
        style = self._styles.of(text)
        offered: list[types.CodeAction] = []
        if context.only is None or _is_wanted(context.only, ORGANIZE_IMPORTS):
            for action in _import_actions(text, style):
                offered.append(self._code_action(action, ORGANIZE_IMPORTS, None))
        if context.only is not None and not _is_wanted(context.only, QUICK_FIX):
            return offered
        for line, about in _by_line(text, context.diagnostics).items():
            settings = [name for name in about if name in style.language.settings]
            for action, setting in actions.on_line(text, style, line, settings):
                mended = about.get(setting) or [d for some in about.values() for d in some]
                offered.append(self._code_action(action, QUICK_FIX, mended))
        return offered

    def _code_action(
        self,
        action: actions.Action,
        kind: types.CodeActionKind,
        about: Sequence[types.Diagnostic] | None,
    ) -> types.CodeAction:
        """An action in the words of the protocol, its edits against the versions they were made for."""
        uri, version = from_fs_path(action.path) or action.path, None
        for text in self._documents.texts.values():
            if text.path == action.path:
                uri, version = text.uri, text.version
        places = Places(action.before or b"", self._documents.encoding)
        changes: list[Any] = [types.CreateFile(uri)] if action.before is None else []
        identity = types.OptionalVersionedTextDocumentIdentifier(uri, version)
        changes.append(types.TextDocumentEdit(identity, list(_text_edits(places, action.edits))))
        return types.CodeAction(
            action.title,
            kind=kind,
            diagnostics=about,
            edit=types.WorkspaceEdit(document_changes=changes),
        )

    # What is said of a place

    def hover(self, text: Snapshot, position: types.Position) -> types.Hover | None:
        """What decided the layout at a place; in a file of settings, what its word means."""
        offset = text.places.offset(Place.of(position))
        if settings_files.is_known(text.path):
            said = settings_files.meaning(text, offset)
        else:
            lines = answers.explained(text, self._styles.of(text), offset)
            said = None if lines is None else "\n\n".join(lines)
        if said is None:
            return None
        return types.Hover(types.MarkupContent(types.MarkupKind.Markdown, said))

    def completion(self, text: Snapshot, position: types.Position) -> list[types.CompletionItem]:
        """What may be written at a place of a file of settings or a sheet."""
        if not settings_files.is_known(text.path):
            return []
        offers = settings_files.offers(text, text.places.offset(Place.of(position)))
        kind = types.CompletionItemKind
        return [
            types.CompletionItem(
                word,
                kind=kind.Value if is_value else kind.Property,
                documentation=meaning or None,
            )
            for word, meaning, is_value in offers
        ]

    def links(self, text: Snapshot) -> list[types.DocumentLink]:
        """The settings in a file of settings or a sheet, of which the reference has more."""
        return [
            types.DocumentLink(_range(text.places, start, end), data=name)
            for start, end, name in settings_files.links(text)
        ]

    def target(self, link: types.DocumentLink) -> str | None:
        """Where a link leads: the page of the reference that has its setting."""
        found = pages.page_of(str(link.data))
        if found is None:
            return None
        path, line = found
        return f"{from_fs_path(str(path))}#L{line}"


# From and to the words of the protocol


def _range(places: Places, start: int, end: int) -> types.Range:
    first, last = places.place(start), places.place(end)
    return types.Range(types.Position(*first), types.Position(*last))


def _text_edits(places: Places, edits: Sequence[Edit]) -> list[types.TextEdit]:
    return [
        types.TextEdit(_range(places, edit.start, edit.end), edit.text.decode())
        for edit in joined(edits)
    ]


def _offset(text: Snapshot, position: Position) -> int:
    """The byte offset of a place that findings have: line and column in characters, from 1."""
    source = text.source
    line = min(position.line, max(1, source.line_count))
    return source.original(source.offset(Position(line, position.column)))


def _of_finding(text: Snapshot, finding: Finding) -> types.Diagnostic:
    start, end = _offset(text, finding.position), _offset(text, finding.end)
    reason = finding.reason
    return types.Diagnostic(
        _range(text.places, start, max(start, end)),
        f"{finding.message} ({reason.short()})",
        severity=types.DiagnosticSeverity.Information,
        code=finding.code,
        source=NAME,
        data={"setting": reason.setting, "value": reason.value, "line": finding.position.line},
    )


def _of_fault(text: Snapshot, fault: Fault) -> types.Diagnostic:
    start = _offset(text, Position(max(1, fault.line), max(1, fault.column)))
    end = text.raw.find(b"\n", start)
    return types.Diagnostic(
        _range(text.places, start, end if end >= 0 else len(text.raw)),
        fault.message,
        severity=types.DiagnosticSeverity.Error,
        source=NAME,
    )


def _lines(text: Snapshot, wanted: types.Range) -> tuple[int, int]:
    """The lines of a range, as `Source` counts them; not that at whose begin it ends."""
    start, end = (text.places.offset(Place.of(p)) for p in (wanted.start, wanted.end))
    last = text.line(max(start, end - 1) if end > start else start)
    count = max(1, text.source.line_count)
    return min(text.line(start), count), min(last, count)


def _said_by_editor(options: types.FormattingOptions | None) -> Mapping[str, Value]:
    if options is None:
        return {}
    size = options.tab_size
    how = "spaces" if options.insert_spaces else "tabs"
    return {"indent": size, "tab-width": size, "indent-with": how}


def _by_line(
    text: Snapshot, diagnostics: Sequence[types.Diagnostic]
) -> dict[int, dict[str, list[types.Diagnostic]]]:
    """Our findings by their lines, and in each by the settings that ask for them."""
    found: dict[int, dict[str, list[types.Diagnostic]]] = {}
    for about in diagnostics:
        if about.source == NAME and isinstance(about.data, dict):
            line, _ = _lines(text, about.range)
            setting = str(about.data.get("setting"))
            found.setdefault(line, {}).setdefault(setting, []).append(about)
    return found


def _is_wanted(only: Sequence[types.CodeActionKind | str], kind: str) -> bool:
    return any(
        kind == asked or kind.startswith(f"{asked}.") for asked in map(str, map(_word, only))
    )


def _word(kind: types.CodeActionKind | str) -> str:
    return kind.value if isinstance(kind, types.CodeActionKind) else kind


def _import_actions(text: Snapshot, style: FileStyle) -> Iterator[actions.Action]:
    """What puts the imports in order; where a name may be several, once for each."""
    found = answers.imports(text, style)
    if found.edits:
        yield actions.Action("Put the imports in order", text.path, text.raw, found.edits)
    for name, candidates in found.choices:
        for candidate in candidates:
            meant = answers.imports(text, style, candidate)
            if meant.edits:
                title = f"Put the imports in order; {name} is {candidate}"
                yield actions.Action(title, text.path, text.raw, meant.edits)
