"""The language server, driven by a client over standard input and output, and over a socket."""

from __future__ import annotations

import asyncio
import sys
from collections.abc import AsyncIterator, Sequence
from contextlib import asynccontextmanager
from pathlib import Path

import pytest
from lsprotocol import types
from pytest_lsp import LanguageClient

import stilo

SPACES = types.FormattingOptions(tab_size=4, insert_spaces=True)


class Editor:
    """A client with texts of its own, to which edits are applied as an editor would."""

    def __init__(self, client: LanguageClient, encoding: str) -> None:
        self.client, self.encoding = client, encoding
        self.texts: dict[str, str] = {}
        self.versions: dict[str, int] = {}

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

    def index(self, text: str, position: types.Position) -> int:
        start = 0
        for _ in range(position.line):
            start = text.index("\n", start) + 1
        at = start
        while self._units(text[start:at]) < position.character:
            at += 1
        return at

    def applied(self, uri: str, edits: Sequence[types.TextEdit] | None) -> str:
        text = self.texts[uri]
        for edit in reversed(edits or ()):
            start = self.index(text, edit.range.start)
            text = text[:start] + edit.new_text + text[self.index(text, edit.range.end):]
        return text

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

    async def actions(
        self, uri: str, about: Sequence[types.Diagnostic] = (), only: Sequence[str] | None = None
    ) -> Sequence[types.CodeAction]:
        found = await self.client.text_document_code_action_async(types.CodeActionParams(
            types.TextDocumentIdentifier(uri),
            about[0].range if about else types.Range(types.Position(0, 0), types.Position(0, 0)),
            types.CodeActionContext(list(about), only=only),
        ))
        return [action for action in found or () if isinstance(action, types.CodeAction)]


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
    general = types.GeneralClientCapabilities(position_encodings=[encoding])
    capabilities = types.ClientCapabilities(general=general)
    await client.initialize_session(
        types.InitializeParams(capabilities, initialization_options=options)
    )
    yield Editor(client, encoding)
    await client.shutdown_session()
    await client.stop()


def run(steps: object) -> None:
    asyncio.run(asyncio.wait_for(steps, 60))  # type: ignore[arg-type]


MESSY = "import os\ndef sail( berth,tide ):\n   return   {  'berth':berth }\n"


@pytest.mark.parametrize("encoding", ["utf-8", "utf-16", "utf-32"])
def test_a_text_is_laid_out_whatever_the_editor_counts_in(tmp_path: Path, encoding: str) -> None:
    text = 'x = [ "⛴️ 岸壁 🚢", 1 ]  # é\ny =  { "🚢":2,   "b":"𝄞" }\n'

    async def steps() -> None:
        async with editing(encoding) as editor:
            uri = editor.open(tmp_path / "a.py", text)
            assert await editor.formatted(uri) == stilo.reformat(text, "python").text
            at = text.index("y =")
            editor.type(uri, at, at, "🚢 = 1\n".replace("🚢", "z"))
            editor.type(uri, text.index("岸"), text.index("岸") + 2, "𝄞")
            wanted = stilo.reformat(editor.texts[uri], "python").text
            assert await editor.formatted(uri) == wanted

    run(steps())
