"""The language server: what the protocol asks, and when it is answered; by what, `replies` knows.

Whole texts are laid out in other threads, so that a keystroke never waits for them; an answer found for
a text that has changed meanwhile is not given ("content modified"). An editor is told at once what there is to
ask for, and what lays out is loaded while it sends its texts.
"""

from __future__ import annotations

import asyncio
import ctypes
import gc
import logging
import os
import sys
from collections.abc import Callable, Mapping, Sequence
from contextlib import suppress
from functools import cached_property
from typing import TYPE_CHECKING, Any, TypeVar

from lsprotocol import types
from pygls.exceptions import JsonRpcException
from pygls.lsp.server import LanguageServer
from pygls.protocol import LanguageServerProtocol, default_converter, lsp_method
from pygls.uris import to_fs_path

import stilo
from stilo.errors import StiloError, UnknownLanguage
from stilo.serve import NAME
from stilo.serve.documents import Change, Documents, Snapshot
from stilo.serve.positions import Place

if TYPE_CHECKING:
    from stilo.serve.replies import Replies

#: For how many seconds nothing is typed before findings are looked for.
PAUSE = 0.3
#: Memory is given back in each such pause, and after so many answers without any.
COLLECT_AFTER = 50
#: The options of `initialize` by which an editor asks for what is off without them.
DIAGNOSTICS, ON_SAVE = "diagnostics", "layOutOnSave"
#: What ends a statement or a block when it is typed.
ENDS = ("\n", ";", "}")

#: All of an editor's capabilities that pygls and this server look at. Each one that is read delays the start.
LOOKED_AT: Mapping[str, Any] = {
    "general": {"positionEncodings": {}},
    "textDocument": {"synchronization": {}},
    "workspace": {"didChangeWatchedFiles": {}},
}

Answer = TypeVar("Answer")


def looked_at(said: Any, names: Mapping[str, Any]) -> Any:
    """An object of JSON. Where names are given for what is in it, no others are left there."""
    if not isinstance(said, dict):
        return said
    return {
        name: looked_at(inner, names.get(name, {}))
        for name, inner in said.items()
        if name in names or not names
    }


class _Protocol(LanguageServerProtocol):
    """The protocol, but for the texts, which `Documents` keeps: a line ends only where the protocol says so.

    Its own methods hand over to a feature by `yield`, for which pygls keeps a future that nobody takes away.
    """

    def structure_message(self, data: Any) -> Any:
        """A message as objects; of all that an editor says it can do, no more than what is looked at here."""
        if isinstance(data, dict) and data.get("method") == types.INITIALIZE:
            params = data.get("params")
            if isinstance(params, dict) and "capabilities" in params:
                told = looked_at(params["capabilities"], LOOKED_AT)
                data = {**data, "params": {**params, "capabilities": told}}
        return super().structure_message(data)

    def _told(self, method: str, params: Any) -> None:
        handler = self.fm.features.get(method)
        if handler is not None:
            handler(params)

    @lsp_method(types.TEXT_DOCUMENT_DID_OPEN)
    def lsp_text_document__did_open(self, params: types.DidOpenTextDocumentParams) -> None:
        self._told(types.TEXT_DOCUMENT_DID_OPEN, params)

    @lsp_method(types.TEXT_DOCUMENT_DID_CHANGE)
    def lsp_text_document__did_change(self, params: types.DidChangeTextDocumentParams) -> None:
        self._told(types.TEXT_DOCUMENT_DID_CHANGE, params)

    @lsp_method(types.TEXT_DOCUMENT_DID_CLOSE)
    def lsp_text_document__did_close(self, params: types.DidCloseTextDocumentParams) -> None:
        self._told(types.TEXT_DOCUMENT_DID_CLOSE, params)


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
        self.shows_findings = False
        self._looking: dict[str, asyncio.Task[None]] = {}
        self._answers = 0

    @cached_property
    def replies(self) -> Replies:
        """What there is to reply: loaded, with all that lays out, when something is first asked of a text."""
        from stilo.serve.replies import Replies

        return Replies(self.documents)

    # Texts

    def text(self, uri: str) -> Snapshot:
        """An open text, which is to be answered. Raises JsonRpcException if there is none."""
        self._answers += 1
        if self._answers % COLLECT_AFTER == 0:
            _give_back_memory()
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
        text = self.text(uri)
        found = await self.aside(self._answered, text, of)
        if not self.documents.is_current(text):
            raise JsonRpcException("the text has changed", types.LSPErrorCodes.ContentModified)
        return found

    async def aside(self, of: Callable[..., Answer], *given: Any) -> Answer:
        """What a function gives, found in another thread."""
        loop = asyncio.get_running_loop()
        return await loop.run_in_executor(self.thread_pool, of, *given)

    @staticmethod
    def _answered(text: Snapshot, of: Callable[[Snapshot], Answer]) -> Answer | None:
        try:
            return of(text)
        except UnknownLanguage:
            return None
        except StiloError as error:
            message = str(error).split("\n")[0]
        # Not within `except`: the error holds all that was being laid out, and what is raised there holds the error.
        raise _failed(message)

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
        _give_back_memory()
        text = self.documents.texts.get(uri)
        if text is None:
            return
        found = await self.aside(self._diagnostics, text)
        if self.documents.is_current(text):
            self.text_document_publish_diagnostics(
                types.PublishDiagnosticsParams(uri, found, text.version)
            )

    def _diagnostics(self, text: Snapshot) -> list[types.Diagnostic]:
        faults = self.replies.faults(text)
        if faults is not None:
            return faults
        return self.replies.findings(text) if self.shows_findings else []


def _give_back_memory() -> None:
    """Free what is garbage, and let the system have what is free, which glibc keeps for each thread by itself."""
    gc.collect()
    with suppress(OSError, AttributeError, TypeError):
        ctypes.CDLL(None).malloc_trim(0)


def _failed(message: str) -> JsonRpcException:
    return JsonRpcException(message, types.LSPErrorCodes.RequestFailed)


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
        replies = await server.aside(lambda: server.replies)  # loaded while the editor sends its texts
        gc.freeze()
        workspace = server.client_capabilities.workspace
        watched = workspace.did_change_watched_files if workspace is not None else None
        if watched is None or not watched.dynamic_registration:
            return
        watchers = [types.FileSystemWatcher(f"**/{name}") for name in replies.watched]
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
    server.replies.forget()
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
            Change(c.text, Place.of(c.range.start), Place.of(c.range.end))
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
        if path is not None and server.replies.decides_styles(path):
            _again(server)

    @server.feature(types.TEXT_DOCUMENT_DID_CLOSE)
    def closed(params: types.DidCloseTextDocumentParams) -> None:
        uri = params.text_document.uri
        server.documents.close(uri)
        server.look_no_more(uri)
        server.text_document_publish_diagnostics(types.PublishDiagnosticsParams(uri, []))


def _before_save(server: Server) -> None:
    @server.feature(types.TEXT_DOCUMENT_WILL_SAVE_WAIT_UNTIL)
    async def before_save(params: types.WillSaveTextDocumentParams) -> list[types.TextEdit] | None:
        uri = params.text_document.uri
        return await server.answer_aside(uri, lambda text: server.replies.whole(text, None))


def _layout(server: Server) -> None:
    async def some(
        uri: str, ranges: Sequence[types.Range], options: types.FormattingOptions
    ) -> list[types.TextEdit] | None:
        return await server.answer_aside(
            uri, lambda text: server.replies.ranges(text, ranges, options)
        )

    @server.feature(types.TEXT_DOCUMENT_FORMATTING)
    async def format_all(params: types.DocumentFormattingParams) -> list[types.TextEdit] | None:
        uri, options = params.text_document.uri, params.options
        return await server.answer_aside(uri, lambda text: server.replies.whole(text, options))

    @server.feature(types.TEXT_DOCUMENT_RANGE_FORMATTING)
    async def format_range(
        params: types.DocumentRangeFormattingParams,
    ) -> list[types.TextEdit] | None:
        return await some(params.text_document.uri, [params.range], params.options)

    @server.feature(types.TEXT_DOCUMENT_RANGES_FORMATTING)
    async def format_ranges(
        params: types.DocumentRangesFormattingParams,
    ) -> list[types.TextEdit] | None:
        return await some(params.text_document.uri, params.ranges, params.options)

    first, *more = ENDS

    @server.feature(
        types.TEXT_DOCUMENT_ON_TYPE_FORMATTING, types.DocumentOnTypeFormattingOptions(first, more)
    )
    def format_typed(params: types.DocumentOnTypeFormattingParams) -> list[types.TextEdit] | None:
        uri = params.text_document.uri
        return server.answer(uri, lambda text: server.replies.typed(text, params))


def _offers(server: Server) -> None:
    kinds = [types.CodeActionKind.QuickFix, types.CodeActionKind.SourceOrganizeImports]

    @server.feature(
        types.TEXT_DOCUMENT_CODE_ACTION, types.CodeActionOptions(code_action_kinds=kinds)
    )
    async def code_actions(params: types.CodeActionParams) -> list[types.CodeAction] | None:
        uri, context = params.text_document.uri, params.context
        return await server.answer_aside(
            uri, lambda text: server.replies.code_actions(text, context)
        )

    @server.feature(types.TEXT_DOCUMENT_HOVER)
    async def hover(params: types.HoverParams) -> types.Hover | None:
        uri, position = params.text_document.uri, params.position
        return await server.answer_aside(uri, lambda text: server.replies.hover(text, position))

    @server.feature(types.TEXT_DOCUMENT_COMPLETION)
    async def completion(params: types.CompletionParams) -> list[types.CompletionItem] | None:
        uri, position = params.text_document.uri, params.position
        return await server.answer_aside(
            uri, lambda text: server.replies.completion(text, position)
        )

    @server.feature(
        types.TEXT_DOCUMENT_DOCUMENT_LINK, types.DocumentLinkOptions(resolve_provider=True)
    )
    def links(params: types.DocumentLinkParams) -> list[types.DocumentLink] | None:
        return server.answer(params.text_document.uri, server.replies.links)

    @server.feature(types.DOCUMENT_LINK_RESOLVE)
    async def link(params: types.DocumentLink) -> types.DocumentLink:
        params.target = await server.aside(server.replies.target, params) or params.target
        return params


def serve(port: int | None = None, host: str = "127.0.0.1") -> None:
    """Serve an editor over standard input and output, or one that connects to a port of this machine."""
    logging.getLogger("pygls").setLevel(logging.CRITICAL)  # what cannot be answered is told to the editor
    server = make()
    if port is None:
        server.start_io()
        sys.stdout = open(os.devnull, "w")  # the server has closed it
    else:
        server.start_tcp(host, port)
