"""The language server: what the protocol asks, handed to `answers` and its neighbours.

Whole texts are laid out in other threads, so that a keystroke never waits for them; an answer found for
a text that has changed meanwhile is not given ("content modified"). Nothing of a workspace is run or
imported, and nothing in it is written: all that is to change goes to the editor as edits.
"""

from __future__ import annotations

import asyncio
import gc
import logging
import os
import sys
from collections.abc import Callable, Iterator, Mapping, Sequence
from typing import Any, TypeVar

from lsprotocol import types
from pygls.exceptions import JsonRpcException
from pygls.lsp.server import LanguageServer
from pygls.protocol import LanguageServerProtocol, default_converter, lsp_method
from pygls.uris import from_fs_path, to_fs_path

import stilo
from stilo.edits import Edit
from stilo.errors import Fault, StiloError, UnknownLanguage
from stilo.explain.findings import Finding
from stilo.serve import actions, answers, pages, settings_files
from stilo.serve.documents import Change, Documents, Snapshot, joined
from stilo.serve.positions import Place, Places
from stilo.serve.styles import SETTINGS_FILES, SHEET_ENDING, StyleFinder, is_settings_file
from stilo.sheet.properties import Value
from stilo.source import Position

NAME = "stilo"
#: For how many seconds nothing is typed before findings are looked for.
PAUSE = 0.3
#: Garbage is looked for after so many answers. Layout makes no cycles, but errors do, with whole trees in them.
COLLECT_AFTER = 50
#: The options of `initialize` by which an editor asks for what is off without them.
DIAGNOSTICS, ON_SAVE = "diagnostics", "layOutOnSave"

Answer = TypeVar("Answer")


class _Protocol(LanguageServerProtocol):
    """The protocol, but for the texts, which `Documents` keeps: a line ends only where the protocol says so."""

    def _told(self, method: str, params: Any) -> Iterator[Any]:
        handler = self.fm.features.get(method)
        if handler is not None:
            yield handler, (params,), None

    @lsp_method(types.TEXT_DOCUMENT_DID_OPEN)
    def lsp_text_document__did_open(self, params: types.DidOpenTextDocumentParams) -> Any:
        yield from self._told(types.TEXT_DOCUMENT_DID_OPEN, params)

    @lsp_method(types.TEXT_DOCUMENT_DID_CHANGE)
    def lsp_text_document__did_change(self, params: types.DidChangeTextDocumentParams) -> Any:
        yield from self._told(types.TEXT_DOCUMENT_DID_CHANGE, params)

    @lsp_method(types.TEXT_DOCUMENT_DID_CLOSE)
    def lsp_text_document__did_close(self, params: types.DidCloseTextDocumentParams) -> Any:
        yield from self._told(types.TEXT_DOCUMENT_DID_CLOSE, params)


class Server(LanguageServer):
    """A language server with the texts that are open, and what the editor asked for."""

    def __init__(self) -> None:
        super().__init__(
            NAME,
            stilo.__version__,
            text_document_sync_kind=types.TextDocumentSyncKind.Incremental,
            protocol_cls=_Protocol,
            converter_factory=default_converter,
            max_workers=3,
        )
        self.documents = Documents()
        self.styles = StyleFinder()
        self.shows_findings = False
        self._looking: dict[str, asyncio.Task[None]] = {}
        self._answers = 0

    # Texts

    def text(self, uri: str) -> Snapshot:
        """An open text, which is to be answered. Raises JsonRpcException if there is none."""
        self._answers += 1
        if self._answers % COLLECT_AFTER == 0:
            gc.collect()
        found = self.documents.texts.get(uri)
        if found is None:
            raise _failed(f"{uri} is not open")
        return found

    def answer(self, uri: str, of: Callable[[Snapshot], Answer]) -> Answer | None:
        """What a text is answered with; None where it is in no language of ours.

        Raises JsonRpcException where it cannot be answered, or the text has changed meanwhile.
        """
        return self._answered(self.text(uri), of)

    async def answer_aside(self, uri: str, of: Callable[[Snapshot], Answer]) -> Answer | None:
        """The same, found in another thread. All messages are sent from this one, since two at a time would
        be mixed."""
        text, loop = self.text(uri), asyncio.get_running_loop()
        found = await loop.run_in_executor(self.thread_pool, self._answered, text, of)
        if not self.documents.is_current(text):
            raise JsonRpcException("the text has changed", types.LSPErrorCodes.ContentModified)
        return found

    @staticmethod
    def _answered(text: Snapshot, of: Callable[[Snapshot], Answer]) -> Answer | None:
        try:
            return of(text)
        except UnknownLanguage:
            return None
        except StiloError as error:
            raise _failed(str(error).split("\n")[0]) from None

    # Findings

    def look_for_findings(self, uri: str) -> None:
        """Publish what is not in style, once nothing has been typed for a while."""
        self.look_no_more(uri)
        self._looking[uri] = asyncio.get_running_loop().create_task(self._look(uri))

    def look_no_more(self, uri: str) -> None:
        """Publish nothing more of a text."""
        if (looking := self._looking.pop(uri, None)) is not None:
            looking.cancel()

    async def _look(self, uri: str) -> None:
        await asyncio.sleep(PAUSE)
        text = self.documents.texts.get(uri)
        if text is None:
            return
        loop = asyncio.get_running_loop()
        found = await loop.run_in_executor(self.thread_pool, self._diagnostics, text)
        if self.documents.is_current(text):
            self.text_document_publish_diagnostics(
                types.PublishDiagnosticsParams(uri, found, text.version)
            )

    def _diagnostics(self, text: Snapshot) -> list[types.Diagnostic]:
        if settings_files.is_known(text.path):
            return [_of_fault(text, fault) for fault in settings_files.faults(text)]
        if not self.shows_findings:
            return []
        try:
            style = self.styles.of(text)
            return [_of_finding(text, finding) for finding in answers.findings(text, style)]
        except StiloError as error:
            logging.getLogger(__name__).info("%s", error)
            return []


def _failed(message: str) -> JsonRpcException:
    return JsonRpcException(message, types.LSPErrorCodes.RequestFailed)


# From and to the words of the protocol


def _place(position: types.Position) -> Place:
    return Place(position.line, position.character)


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
    start, end = (text.places.offset(_place(p)) for p in (wanted.start, wanted.end))
    last = text.line(max(start, end - 1) if end > start else start)
    count = max(1, text.source.line_count)
    return min(text.line(start), count), min(last, count)


def _said_by_editor(options: types.FormattingOptions) -> Mapping[str, Value]:
    size = options.tab_size
    how = "spaces" if options.insert_spaces else "tabs"
    return {"indent": size, "tab-width": size, "indent-with": how}


# The server


def make() -> Server:
    """A server that knows what it can do, and waits to be started."""
    server = Server()
    _lifetime(server)
    _texts(server)
    _layout(server)
    _offers(server)
    return server


def _lifetime(server: Server) -> None:
    @server.feature(types.INITIALIZE)
    def initialize(params: types.InitializeParams) -> None:
        encoding = server.workspace.position_encoding
        server.documents.encoding = str(getattr(encoding, "value", encoding))
        asked = params.initialization_options
        asked = asked if isinstance(asked, dict) else {}
        server.shows_findings = asked.get(DIAGNOSTICS) is True
        if asked.get(ON_SAVE) is True:
            _before_save(server)

    @server.feature(types.INITIALIZED)
    async def initialized(params: types.InitializedParams) -> None:
        gc.freeze()
        workspace = server.client_capabilities.workspace
        watched = workspace.did_change_watched_files if workspace is not None else None
        if watched is None or not watched.dynamic_registration:
            return
        names = [*SETTINGS_FILES, f"*{SHEET_ENDING}"]
        watchers = [types.FileSystemWatcher(f"**/{name}") for name in names]
        options = types.DidChangeWatchedFilesRegistrationOptions(watchers)
        registration = types.Registration(
            "files of settings", types.WORKSPACE_DID_CHANGE_WATCHED_FILES, options
        )
        await server.client_register_capability_async(types.RegistrationParams([registration]))

    @server.feature(types.WORKSPACE_DID_CHANGE_CONFIGURATION)
    def reconfigured(params: types.DidChangeConfigurationParams) -> None:
        said = params.settings
        said = said.get(NAME, said) if isinstance(said, dict) else {}
        if isinstance(said, dict) and isinstance(said.get(DIAGNOSTICS), bool):
            server.shows_findings = said[DIAGNOSTICS]
        _again(server)

    @server.feature(types.WORKSPACE_DID_CHANGE_WATCHED_FILES)
    def files_changed(params: types.DidChangeWatchedFilesParams) -> None:
        _again(server)


def _again(server: Server) -> None:
    """Look at all open texts again, since their styles may be others."""
    server.styles.forget()
    server.documents.settled.clear()
    for uri in server.documents.texts:
        server.look_for_findings(uri)


def _texts(server: Server) -> None:
    @server.feature(types.TEXT_DOCUMENT_DID_OPEN)
    def opened(params: types.DidOpenTextDocumentParams) -> None:
        item = params.text_document
        path = to_fs_path(item.uri) or item.uri.rpartition(":")[2] or "text"
        server.documents.open(item.uri, path, item.language_id, item.version, item.text)
        server.look_for_findings(item.uri)

    @server.feature(types.TEXT_DOCUMENT_DID_CHANGE)
    def changed(params: types.DidChangeTextDocumentParams) -> None:
        changes = [
            Change(c.text, _place(c.range.start), _place(c.range.end))
                if isinstance(c, types.TextDocumentContentChangePartial)
                else Change(c.text)
            for c in params.content_changes
        ]
        uri, version = params.text_document.uri, params.text_document.version
        server.documents.change(uri, changes, version)
        server.look_for_findings(uri)

    @server.feature(types.TEXT_DOCUMENT_DID_SAVE)
    def saved(params: types.DidSaveTextDocumentParams) -> None:
        path = to_fs_path(params.text_document.uri)
        if path is not None and is_settings_file(path):
            _again(server)

    @server.feature(types.TEXT_DOCUMENT_DID_CLOSE)
    def closed(params: types.DidCloseTextDocumentParams) -> None:
        uri = params.text_document.uri
        server.documents.close(uri)
        server.look_no_more(uri)
        server.text_document_publish_diagnostics(types.PublishDiagnosticsParams(uri, []))


async def _whole(
    server: Server, uri: str, said: Mapping[str, Value]
) -> list[types.TextEdit] | None:
    """The edits that lay out a text, unless it is to be left alone."""

    def edits(text: Snapshot) -> list[types.TextEdit]:
        style = server.styles.of(text, said)
        if style.skipped:
            return []
        parsed = server.documents.read(text, style.language)
        known = server.documents.settled.get(uri)
        found, settled = answers.whole(text, style, parsed, known)
        if settled is not None and uri in server.documents.texts:
            server.documents.settled[uri] = settled
        return _text_edits(text.places, found)

    return await server.answer_aside(uri, edits)


def _before_save(server: Server) -> None:
    @server.feature(types.TEXT_DOCUMENT_WILL_SAVE_WAIT_UNTIL)
    async def before_save(params: types.WillSaveTextDocumentParams) -> list[types.TextEdit] | None:
        return await _whole(server, params.text_document.uri, {})


def _layout(server: Server) -> None:
    async def some(
        uri: str, ranges: Sequence[types.Range], said: Mapping[str, Value]
    ) -> list[types.TextEdit] | None:
        def edits(text: Snapshot) -> list[types.TextEdit]:
            if not text.raw.strip():
                return []
            style, lines = server.styles.of(text, said), [_lines(text, r) for r in ranges]
            parsed = server.documents.read(text, style.language)
            return _text_edits(text.places, answers.lines(text, style, lines, parsed))

        return await server.answer_aside(uri, edits)

    @server.feature(types.TEXT_DOCUMENT_FORMATTING)
    async def format_all(params: types.DocumentFormattingParams) -> list[types.TextEdit] | None:
        return await _whole(server, params.text_document.uri, _said_by_editor(params.options))

    @server.feature(types.TEXT_DOCUMENT_RANGE_FORMATTING)
    async def format_range(
        params: types.DocumentRangeFormattingParams,
    ) -> list[types.TextEdit] | None:
        return await some(params.text_document.uri, [params.range], _said_by_editor(params.options))

    @server.feature(types.TEXT_DOCUMENT_RANGES_FORMATTING)
    async def format_ranges(
        params: types.DocumentRangesFormattingParams,
    ) -> list[types.TextEdit] | None:
        return await some(params.text_document.uri, params.ranges, _said_by_editor(params.options))

    first, *more = answers.ENDS

    @server.feature(
        types.TEXT_DOCUMENT_ON_TYPE_FORMATTING, types.DocumentOnTypeFormattingOptions(first, more)
    )
    def format_typed(params: types.DocumentOnTypeFormattingParams) -> list[types.TextEdit] | None:
        def edits(text: Snapshot) -> list[types.TextEdit]:
            style = server.styles.of(text, _said_by_editor(params.options))
            if style.skipped:
                return []
            parsed = server.documents.read(text, style.language)
            cursor = text.places.offset(_place(params.position))
            return _text_edits(text.places, answers.typed(text, style, parsed, cursor, params.ch))

        return server.answer(params.text_document.uri, edits)


def _offers(server: Server) -> None:
    kinds = [types.CodeActionKind.QuickFix, types.CodeActionKind.SourceOrganizeImports]

    @server.feature(
        types.TEXT_DOCUMENT_CODE_ACTION, types.CodeActionOptions(code_action_kinds=kinds)
    )
    async def code_actions(params: types.CodeActionParams) -> list[types.CodeAction] | None:
        uri, context = params.text_document.uri, params.context

        def found(text: Snapshot) -> list[types.CodeAction]:
            if settings_files.is_known(text.path):
                return []
            style = server.styles.of(text)
            offered: list[types.CodeAction] = []
            if context.only is None or _is_wanted(context.only, kinds[1]):
                for action in _import_actions(text, style):
                    offered.append(_code_action(server, action, kinds[1], None))
            if context.only is not None and not _is_wanted(context.only, kinds[0]):
                return offered
            for line, about in _by_line(text, context.diagnostics).items():
                settings = [name for name in about if name in style.language.settings]
                for action, setting in actions.on_line(text, style, line, settings):
                    mended = about.get(setting) or [d for some in about.values() for d in some]
                    offered.append(_code_action(server, action, kinds[0], mended))
            return offered

        return await server.answer_aside(uri, found)

    @server.feature(types.TEXT_DOCUMENT_HOVER)
    async def hover(params: types.HoverParams) -> types.Hover | None:
        def found(text: Snapshot) -> types.Hover | None:
            offset = text.places.offset(_place(params.position))
            if settings_files.is_known(text.path):
                said = settings_files.meaning(text, offset)
            else:
                lines = answers.explained(text, server.styles.of(text), offset)
                said = None if lines is None else "\n\n".join(lines)
            if said is None:
                return None
            return types.Hover(types.MarkupContent(types.MarkupKind.Markdown, said))

        return await server.answer_aside(params.text_document.uri, found)

    @server.feature(types.TEXT_DOCUMENT_COMPLETION)
    async def completion(params: types.CompletionParams) -> list[types.CompletionItem] | None:
        def found(text: Snapshot) -> list[types.CompletionItem]:
            if not settings_files.is_known(text.path):
                return []
            offers = settings_files.offers(text, text.places.offset(_place(params.position)))
            kind = types.CompletionItemKind
            return [
                types.CompletionItem(
                    word,
                    kind=kind.Value if is_value else kind.Property,
                    documentation=meaning or None,
                )
                for word, meaning, is_value in offers
            ]

        return await server.answer_aside(params.text_document.uri, found)

    @server.feature(
        types.TEXT_DOCUMENT_DOCUMENT_LINK, types.DocumentLinkOptions(resolve_provider=True)
    )
    def links(params: types.DocumentLinkParams) -> list[types.DocumentLink] | None:
        def found(text: Snapshot) -> list[types.DocumentLink]:
            return [
                types.DocumentLink(_range(text.places, start, end), data=name)
                for start, end, name in settings_files.links(text)
            ]

        return server.answer(params.text_document.uri, found)

    @server.feature(types.DOCUMENT_LINK_RESOLVE)
    async def link(params: types.DocumentLink) -> types.DocumentLink:
        loop = asyncio.get_running_loop()
        found = await loop.run_in_executor(server.thread_pool, pages.page_of, str(params.data))
        if found is not None:
            path, line = found
            params.target = f"{from_fs_path(str(path))}#L{line}"
        return params


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


def _import_actions(text: Snapshot, style: stilo.FileStyle) -> Iterator[actions.Action]:
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


def _code_action(
    server: Server,
    action: actions.Action,
    kind: types.CodeActionKind,
    about: Sequence[types.Diagnostic] | None,
) -> types.CodeAction:
    """An action in the words of the protocol, its edits against the versions they were made for."""
    uri, version = from_fs_path(action.path) or action.path, None
    for text in server.documents.texts.values():
        if text.path == action.path:
            uri, version = text.uri, text.version
    places = Places(action.before or b"", server.documents.encoding)
    changes: list[Any] = [types.CreateFile(uri)] if action.before is None else []
    identity = types.OptionalVersionedTextDocumentIdentifier(uri, version)
    changes.append(types.TextDocumentEdit(identity, list(_text_edits(places, action.edits))))
    return types.CodeAction(
        action.title,
        kind=kind,
        diagnostics=about,
        edit=types.WorkspaceEdit(document_changes=changes),
    )


def serve(port: int | None = None, host: str = "127.0.0.1") -> None:
    """Serve an editor over standard input and output, or one that connects to a port of this machine."""
    logging.getLogger("pygls").setLevel(logging.CRITICAL)  # what cannot be answered is told to the editor
    server = make()
    if port is None:
        server.start_io()
        sys.stdout = open(os.devnull, "w")  # the server has closed it
    else:
        server.start_tcp(host, port)
