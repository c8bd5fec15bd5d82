"""An editor for the tests: a client of the protocol that keeps its texts and applies edits."""

from __future__ import annotations

import asyncio
import sys
from collections.abc import AsyncIterator, Sequence
from contextlib import asynccontextmanager
from pathlib import Path

from lsprotocol import types
from pytest_lsp import LanguageClient

SPACES = types.FormattingOptions(tab_size=4, insert_spaces=True)


class Editor:
    """A client with texts of its own, to which edits are applied as an editor would."""

    #: What the server says that it can do.
    server: types.ServerCapabilities

    def __init__(self, client: LanguageClient, encoding: str) -> None:
        self.client, self.encoding = client, encoding
        self.texts: dict[str, str] = {}
        self.versions: dict[str, int] = {}
        #: What was published of each text: the findings, and of which version.
        self.published: dict[str, tuple[Sequence[types.Diagnostic], int | None]] = {}

        @client.feature(types.TEXT_DOCUMENT_PUBLISH_DIAGNOSTICS)
        def publish(params: types.PublishDiagnosticsParams) -> None:
            self.published[params.uri] = (params.diagnostics, params.version)

    async def findings(self, uri: str) -> Sequence[types.Diagnostic]:
        """What is published of a text as it is now."""
        while self.published.get(uri, ((), None))[1] != self.versions[uri]:
            await asyncio.sleep(0.02)
        return self.published[uri][0]

    def open(self, path: Path, text: str, language: str = "python") -> str:
        uri = path.as_uri()
        self.texts[uri], self.versions[uri] = text, 1
        item = types.TextDocumentItem(uri, language, 1, text)
        self.client.text_document_did_open(types.DidOpenTextDocumentParams(item))
        return uri

    def type(self, uri: str, start: int, end: int, text: str) -> None:
        """Replace a stretch (in characters) and tell the server."""
        old = self.texts[uri]
        wanted = types.Range(self.position(old, start), self.position(old, end))
        self.texts[uri] = old[:start] + text + old[end:]
        self.versions[uri] += 1
        self.client.text_document_did_change(types.DidChangeTextDocumentParams(
            types.VersionedTextDocumentIdentifier(self.versions[uri], uri),
            [types.TextDocumentContentChangePartial(wanted, text)],
        ))

    def position(self, text: str, at: int) -> types.Position:
        line = text.count("\n", 0, at)
        return types.Position(line, self._units(text[text.rfind("\n", 0, at) + 1 : at]))

    def _units(self, text: str) -> int:
        size = {"utf-8": 1, "utf-16": 2, "utf-32": 4}[self.encoding]
        return len(text.encode(f"{self.encoding}-le" if size > 1 else "utf-8")) // size

    def applied(self, uri: str, edits: Sequence[types.TextEdit] | None) -> str:
        """The text after edits, none of which may overlap."""
        return self.with_edits(self.texts[uri], edits)

    def with_edits(self, text: str, edits: Sequence[types.TextEdit] | None) -> str:
        lines = text.split("\n")
        starts = [0]
        for line in lines:
            starts.append(starts[-1] + len(line) + 1)

        def index(position: types.Position) -> int:
            line, at = lines[position.line], 0
            if self.encoding == "utf-32" or line.isascii():
                at = position.character
            while self._units(line[:at]) < position.character:
                at += 1
            assert at <= len(line)
            return starts[position.line] + at

        pieces, at = [], 0
        for edit in edits or ():
            start, end = index(edit.range.start), index(edit.range.end)
            assert at <= start <= end
            pieces += [text[at:start], edit.new_text]
            at = end
        return "".join([*pieces, text[at:]])

    async def formatted(self, uri: str) -> str:
        edits = await self.client.text_document_formatting_async(
            types.DocumentFormattingParams(types.TextDocumentIdentifier(uri), SPACES)
        )
        return self.applied(uri, edits)

    async def typed(self, uri: str, at: int, sign: str) -> str:
        params = types.DocumentOnTypeFormattingParams(
            types.TextDocumentIdentifier(uri), self.position(self.texts[uri], at), sign, SPACES
        )
        return self.applied(uri, await self.client.text_document_on_type_formatting_async(params))

    async def ranged(self, uri: str, start: int, end: int) -> str:
        """The text with the statements laid out that reach into a stretch (in characters)."""
        text = self.texts[uri]
        wanted = types.Range(self.position(text, start), self.position(text, end))
        params = types.DocumentRangeFormattingParams(
            types.TextDocumentIdentifier(uri), wanted, SPACES
        )
        return self.applied(uri, await self.client.text_document_range_formatting_async(params))

    async def actions(
        self, uri: str, about: Sequence[types.Diagnostic] = (), only: Sequence[str] | None = None
    ) -> Sequence[types.CodeAction]:
        found = await self.client.text_document_code_action_async(types.CodeActionParams(
            types.TextDocumentIdentifier(uri),
            about[0].range if about else types.Range(types.Position(0, 0), types.Position(0, 0)),
            types.CodeActionContext(list(about), only=only),
        ))
        return [action for action in found or () if isinstance(action, types.CodeAction)]

    def edits_of(self, action: types.CodeAction, uri: str) -> list[types.TextEdit]:
        """The edits that an action makes in a text, against the version that it has."""
        assert action.edit is not None and action.edit.document_changes is not None
        found: list[types.TextEdit] = []
        for change in action.edit.document_changes:
            if isinstance(change, types.TextDocumentEdit) and change.text_document.uri == uri:
                assert change.text_document.version == self.versions[uri]
                found += [edit for edit in change.edits if isinstance(edit, types.TextEdit)]
        return found


@asynccontextmanager
async def editing(
    encoding: str = "utf-16", port: int | None = None, **options: object
) -> AsyncIterator[Editor]:
    """A server and an editor that speaks with it; both have ended afterwards."""
    client = LanguageClient()
    if port is None:
        await client.start_io(sys.executable, "-P", "-m", "stilo", "serve")
    else:
        await client.start_tcp("127.0.0.1", port)
    general = types.GeneralClientCapabilities(position_encodings=[encoding])  # type: ignore[list-item]
    sync = types.TextDocumentSyncClientCapabilities(will_save_wait_until=True)
    texts = types.TextDocumentClientCapabilities(synchronization=sync)
    capabilities = types.ClientCapabilities(general=general, text_document=texts)
    editor = Editor(client, encoding)
    begun = await client.initialize_session(
        types.InitializeParams(capabilities, initialization_options=options)
    )
    editor.server = begun.capabilities
    yield editor
    await client.shutdown_session()
    await client.stop()
