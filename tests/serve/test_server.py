"""The language server, driven by a client over standard input and output, and over a socket."""

from __future__ import annotations

import asyncio
import socket
import subprocess
import sys
from collections.abc import Coroutine
from pathlib import Path
from typing import Any

import pytest
from lsprotocol import types
from pygls.exceptions import JsonRpcException

import stilo
from editor import SPACES, editing
from stilo.serve import server

MESSY = "import os\ndef sail( berth,tide ):\n   deck = 1\n   lane =   {  'berth':berth }\n   return   lane\n"
WIDE = 'x = [ "⛴️ 岸壁 🚢", 1 ]  # é\ny =  { "🚢":2,   "b":"𝄞" }\n'


def run(steps: Coroutine[Any, Any, None]) -> None:
    asyncio.run(asyncio.wait_for(steps, 60))


@pytest.mark.parametrize("encoding", ["utf-8", "utf-16", "utf-32"])
def test_all_is_laid_out_whatever_an_editor_counts_in(tmp_path: Path, encoding: str) -> None:
    async def steps() -> None:
        async with editing(encoding) as editor:
            uri = editor.open(tmp_path / "a.py", WIDE)
            assert await editor.formatted(uri) == stilo.reformat(WIDE, "python").text
            editor.type(uri, WIDE.index("岸"), WIDE.index("岸") + 2, "𝄞")
            editor.type(uri, WIDE.index("y ="), WIDE.index("y ="), " " * 3)
            assert "𝄞" in editor.texts[uri]
            editor.type(uri, 0, len(editor.texts[uri]), WIDE)
            at = WIDE.index("y =")
            assert await editor.ranged(uri, at, at + 1) == WIDE[:at] + 'y = {"🚢": 2, "b": "𝄞"}\n'
            assert await editor.typed(uri, at, "\n") == 'x = ["⛴️ 岸壁 🚢", 1]  # é\n' + WIDE[at:]

    run(steps())


def test_lines_end_where_the_protocol_says(tmp_path: Path) -> None:
    """A form feed and a separator of paragraphs end no line; a carriage return does."""
    text = "a =  1\r\n\fb =  '\u2028' # x\r\nc =   2\r\n"

    async def steps() -> None:
        async with editing() as editor:
            uri = editor.open(tmp_path / "a.py", text)
            at = text.index("c =")
            assert await editor.ranged(uri, at, at) == text[:at] + "c = 2\r\n"
            assert await editor.formatted(uri) == stilo.reformat(text, "python").text

    run(steps())


def test_pages_with_their_scripts(tmp_path: Path) -> None:
    text = "<div>\n<p>a  b</p>\n<script>\nif(a){b( )}\n</script>\n</div>\n"
    laid_out = "<div>\n    <p>a b</p>\n    <script>\n        if (a) {\n          b()\n        }\n    </script>\n</div>\n"

    async def steps() -> None:
        async with editing() as editor:
            uri = editor.open(tmp_path / "a.html", text, "html")
            assert await editor.formatted(uri) == laid_out
            at = text.index("a  b")
            assert await editor.ranged(uri, at, at + 1) == text.replace("a  b", "a b")

    run(steps())


def test_over_a_socket(tmp_path: Path) -> None:
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    command = [sys.executable, "-P", "-m", "stilo", "serve", "--port", str(port)]
    server = subprocess.Popen(command)

    async def steps() -> None:
        for _ in range(200):
            try:
                socket.create_connection(("127.0.0.1", port)).close()
                break
            except OSError:
                await asyncio.sleep(0.05)

    async def talk() -> None:
        async with editing(port=port) as editor:
            uri = editor.open(tmp_path / "a.py", MESSY)
            assert await editor.formatted(uri) == stilo.reformat(MESSY, "python").text

    try:
        run(talk_when_ready(port, talk))
        assert server.wait(20) == 0
    finally:
        server.kill()
        server.wait()


async def talk_when_ready(port: int, talk: Any) -> None:
    for _ in range(200):
        try:
            await talk()
            return
        except OSError:
            await asyncio.sleep(0.05)
    pytest.fail("no server")


@pytest.mark.parametrize(
    "language, text, sign, wanted",
    [
        ("python", "x=[1,\n 2]|\ny =  3\n", "\n", "x = [1, 2]|\ny =  3\n"),
        (
            "python",
            "def f( a ):\n    if a :\n        b( a )|\n",
            "\n",
            "def f( a ):\n    if a :\n        b(a)|\n",
        ),
        ("python", "def f( a ):|\n", "\n", "def f( a ):|\n"),  # no statement yet
        ("python", "x=1|\n\n\n\n", "\n", "x = 1|\n\n\n\n"),
        ("python", "x = f( 1,|\n", "\n", "x = f( 1,|\n"),  # nor here
        ("python", "x  =  (  # why\n|\n 1)\n", "\n", "x  =  (  # why\n|\n 1)\n"),
        (
            "java",
            "class A {\n    int  x=1 ;|  // why\n    int y ;\n}\n",
            ";",
            "class A {\n    int  x=1 ;|  // why\n    int y ;\n}\n",  # a comment stands behind it
        ),
        (
            "java",
            "class A {\n    int f() {\n        if (a)\n            b( ) ;|\n        else c( ) ;\n    }\n}\n",
            ";",
            "class A {\n    int f() {\n        if (a)\n            b();|\n        else c( ) ;\n    }\n}\n",
        ),
        (
            "java",
            "class A {\nvoid f( ) { g( ) ; }|\n\nint  x;\n}\n",
            "}",
            "class A {\nvoid f() {\n    g();\n}|\n\nint  x;\n}\n",
        ),
        (  # a statement in one that is in style but for it
            "java",
            "class A {\n    int f() {\n        g(a -> {\n            b( a ) ;|\n            c();\n        });\n    }\n}\n",
            ";",
            "class A {\n    int f() {\n        g(a -> {\n            b(a);|\n            c();\n        });\n    }\n}\n",
        ),
        (  # and in one that is not
            "java",
            "class A {\n    int f() {\n      g(a -> {\n            b( a ) ;|\n            c();\n        });\n    }\n}\n",
            ";",
            "class A {\n    int f() {\n      g(a -> {\n            b( a ) ;|\n            c();\n        });\n    }\n}\n",
        ),
        (
            "java",
            "class A { void f( ) { for (int i=0;| ) } }\n",
            ";",
            "class A { void f( ) { for (int i=0;| ) } }\n",
        ),
    ],
)
def test_what_a_sign_ends_is_laid_out(
    tmp_path: Path, language: str, text: str, sign: str, wanted: str
) -> None:
    """The bar is where the sign was typed; nothing after it moves."""
    at = text.index("|") + (sign == "\n")

    async def steps() -> None:
        async with editing() as editor:
            uri = editor.open(
                tmp_path / f"A.{language[:2] if language == 'python' else language}",
                text.replace("|", ""),
                language
            )
            assert await editor.typed(uri, at, sign) == wanted.replace("|", "")

    run(steps())


def test_what_can_be_read_of_a_broken_text_is_laid_out(tmp_path: Path) -> None:
    text = "def f( a ):\n    x=1\n    y = = 2\n    z=3\n\n\ndef g( b ):\n    return  foo(b,\n"

    async def steps() -> None:
        async with editing() as editor:
            uri = editor.open(tmp_path / "a.py", text)
            wanted = text.replace("f( a )", "f(a)").replace("x=1", "x = 1").replace("z=3", "z = 3")
            assert await editor.formatted(uri) == wanted
            at = text.index("x=1")
            assert await editor.ranged(uri, at, at) == text.replace("x=1", "x = 1")

    run(steps())


def test_the_editors_own_options_count_where_nothing_else_says(tmp_path: Path) -> None:
    text = "def f():\n  return 1\n"
    wide = types.FormattingOptions(tab_size=8, insert_spaces=True)

    async def steps() -> None:
        async with editing() as editor:
            uri = editor.open(tmp_path / "a.py", text)
            params = types.DocumentFormattingParams(types.TextDocumentIdentifier(uri), wide)
            edits = await editor.client.text_document_formatting_async(params)
            assert editor.applied(uri, edits) == "def f():\n        return 1\n"
            (tmp_path / "stilo.toml").write_text("indent = 3\n")
            changed = types.FileEvent(
                (tmp_path / "stilo.toml").as_uri(), types.FileChangeType.Created
            )
            editor.client.workspace_did_change_watched_files(
                types.DidChangeWatchedFilesParams([changed])
            )
            edits = await editor.client.text_document_formatting_async(params)
            assert editor.applied(uri, edits) == "def f():\n   return 1\n"

    run(steps())


def test_before_a_save_only_where_asked(tmp_path: Path) -> None:
    async def saved(asked: bool) -> object:
        async with editing(layOutOnSave=asked) as editor:
            uri = editor.open(tmp_path / "a.py", MESSY)
            sync = editor.server.text_document_sync
            assert isinstance(sync, types.TextDocumentSyncOptions)
            assert bool(sync.will_save_wait_until) is asked
            if not asked:
                return None
            params = types.WillSaveTextDocumentParams(
                types.TextDocumentIdentifier(uri), types.TextDocumentSaveReason.Manual
            )
            edits = await editor.client.text_document_will_save_wait_until_async(params)
            return editor.applied(uri, edits)

    async def steps() -> None:
        assert await saved(True) == stilo.reformat(MESSY, "python").text
        await saved(False)

    run(steps())


def test_imports_in_order_and_a_choice_where_a_name_may_be_several(tmp_path: Path) -> None:
    said = 'import.wildcards = "expand"\nimport.order = "groups"\n'
    (tmp_path / "stilo.toml").write_text(said)
    (tmp_path / "port").mkdir()
    for name in ("deck", "tide"):
        (tmp_path / name).mkdir()
        (tmp_path / name / "Lane.java").write_text(f"package {name};\n\npublic class Lane {{}}\n")
    text = "package port;\n\nimport tide.*;\nimport deck.*;\n\nclass Sailing { Lane  lane; }\n"

    async def steps() -> None:
        async with editing() as editor:
            uri = editor.open(tmp_path / "port" / "Sailing.java", text, "java")
            found = await editor.actions(uri, only=["source"])
            assert {action.title for action in found} == {
                "Put the imports in order",
                "Put the imports in order; Lane is deck.Lane",
                "Put the imports in order; Lane is tide.Lane",
            }
            assert {action.kind for action in found} == {types.CodeActionKind.SourceOrganizeImports}
            chosen = next(action for action in found if "tide.Lane" in action.title)
            after = editor.applied(uri, editor.edits_of(chosen, uri))
            assert "import tide.Lane;\n" in after
            assert after.endswith("\nclass Sailing { Lane  lane; }\n")  # and no more than that

    run(steps())


def test_findings_only_where_asked(tmp_path: Path) -> None:
    async def found(asked: bool) -> object:
        async with editing(diagnostics=asked) as editor:
            uri = editor.open(tmp_path / "a.py", MESSY)
            return [f.code for f in await editor.findings(uri)]

    async def steps() -> None:
        assert await found(False) == []
        assert "spaces" in str(await found(True))

    run(steps())


def test_what_can_be_done_about_a_finding(tmp_path: Path) -> None:
    async def steps() -> None:
        async with editing(diagnostics=True) as editor:
            uri = editor.open(tmp_path / "a.py", MESSY)
            about = next(
                f
                for f in await editor.findings(uri)
                if f.data["setting"] == "opening-bracket.after"
            )
            assert about.source == "stilo" and about.range.start.line == 3
            found = {a.title: a for a in await editor.actions(uri, [about], ["quickfix"])}

            def after(title: str) -> str:
                return editor.applied(uri, editor.edits_of(found[title], uri))

            laid_out = MESSY.replace("lane =   {  'berth':berth }", "lane = {'berth': berth}")
            assert after("Lay out this statement") == laid_out
            everywhere = after("Lay out all that opening-bracket.after asks for in this file")
            assert everywhere == MESSY.replace("{  ", "{")
            assert "   # stilo: leave\n   lane" in after("Leave this item as it is")
            title = "Set opening-bracket.after to space in a new stilo.toml"
            changes = found[title].edit.document_changes
            assert isinstance(changes[0], types.CreateFile)
            (edit,) = changes[1].edits
            assert edit.new_text == '[python]\nopening-bracket.after = "space"\n'
            said = after("Set opening-bracket.after to space for this line")
            assert "   # stilo: set begin opening-bracket.after=space\n   lane" in said

    run(steps())


def test_a_changed_setting_holds_at_once(tmp_path: Path) -> None:
    async def steps() -> None:
        async with editing(diagnostics=True) as editor:
            uri = editor.open(tmp_path / "a.py", "x = { 'berth': 1 }\n")
            assert await editor.findings(uri)
            settings = tmp_path / "stilo.toml"
            said = 'opening-bracket.after = "space"\nclosing-bracket.before = "space"\n'
            other = editor.open(settings, said, "toml")
            assert not await editor.findings(other)
            settings.write_text(said)
            editor.published.clear()
            editor.client.text_document_did_save(
                types.DidSaveTextDocumentParams(types.TextDocumentIdentifier(other))
            )
            assert not await editor.findings(uri)

    run(steps())


def test_files_of_settings_are_checked_completed_and_explained(tmp_path: Path) -> None:
    text = "width = 9\n[python]\nindent-with = \ntuple."

    async def steps() -> None:
        async with editing() as editor:
            uri = editor.open(tmp_path / "stilo.toml", text, "toml")
            (fault,) = await editor.findings(uri)
            assert fault.severity == types.DiagnosticSeverity.Error
            document = types.TextDocumentIdentifier(uri)

            async def offered(at: int) -> list[str]:
                params = types.CompletionParams(document, editor.position(text, at))
                found = await editor.client.text_document_completion_async(params)
                return [item.label for item in found]

            assert {"width", "style", "python"} <= set(await offered(0))
            assert await offered(text.index("= \n") + 2) == ['"spaces"', '"tabs"']
            assert "trailing" in await offered(len(text))
            params = types.HoverParams(document, types.Position(0, 1))
            hover = await editor.client.text_document_hover_async(params)
            assert "A number from 20 to 400." in hover.contents.value
            (link, *_) = await editor.client.text_document_document_link_async(
                types.DocumentLinkParams(document)
            )
            assert link.data == "width"

    run(steps())


def test_sheets_are_checked_completed_and_explained(tmp_path: Path) -> None:
    text = "@language python {\n  files: \"*.deck\";\n}\ncall { wrap: no }\nif_statement {\n  b"

    async def steps() -> None:
        async with editing() as editor:
            uri = editor.open(tmp_path / "deck.stilo", text, "stilo")
            faults = await editor.findings(uri)
            assert faults and all(f.range.start.line >= 3 for f in faults)
            document = types.TextDocumentIdentifier(uri)
            params = types.CompletionParams(document, editor.position(text, len(text)))
            found = await editor.client.text_document_completion_async(params)
            assert "blank-before" in [item.label for item in found]
            hover = await editor.client.text_document_hover_async(
                types.HoverParams(document, types.Position(3, 8))
            )
            assert hover.contents.value.startswith("**wrap**: ")

    run(steps())


def test_what_decided_white_space_is_told_where_the_pointer_is(tmp_path: Path) -> None:
    text = "x = f(a,  b)\n"

    async def steps() -> None:
        async with editing() as editor:
            uri = editor.open(tmp_path / "a.py", text)

            async def told(at: int) -> str | None:
                params = types.HoverParams(
                    types.TextDocumentIdentifier(uri), editor.position(text, at)
                )
                found = await editor.client.text_document_hover_async(params)
                return None if found is None else found.contents.value

            assert "comma.after" in str(await told(text.index("  b")))
            assert "between the start of the file" in str(await told(0))
            assert await told(text.index("b)")) is None

    run(steps())


def test_what_cannot_be_answered_is_an_error_of_the_protocol(tmp_path: Path) -> None:
    (tmp_path / "stilo.toml").write_text("width = 9\n")

    async def steps() -> None:
        async with editing() as editor:
            uri = editor.open(tmp_path / "a.py", MESSY)
            with pytest.raises(JsonRpcException) as caught:
                await editor.formatted(uri)
            assert caught.value.code == types.LSPErrorCodes.RequestFailed
            assert "stilo.toml:1:1: width cannot be 9" in caught.value.message
            (tmp_path / "stilo.toml").write_text('skip = ["*.py"]\n')
            editor.client.workspace_did_change_watched_files(types.DidChangeWatchedFilesParams([]))
            assert await editor.formatted(uri) == MESSY
            other = editor.open(tmp_path / "notes.unknown", "x  =  1", "unknown")
            assert await editor.formatted(other) == "x  =  1"

    run(steps())


def test_an_answer_for_an_older_text_is_not_given(tmp_path: Path) -> None:
    text = "".join(f"x{n} = [ {n} ]\n" for n in range(3000))

    async def steps() -> None:
        async with editing() as editor:
            uri = editor.open(tmp_path / "a.py", text)
            params = types.DocumentFormattingParams(types.TextDocumentIdentifier(uri), SPACES)
            asked = asyncio.ensure_future(editor.client.text_document_formatting_async(params))
            await asyncio.sleep(0.05)
            editor.type(uri, 0, 0, "y = 1\n")
            with pytest.raises(JsonRpcException) as caught:
                await asked
            assert caught.value.code == types.LSPErrorCodes.ContentModified
            assert (await editor.formatted(uri)).startswith("y = 1\nx0 = [0]\n")

    run(steps())


def test_requests_can_be_cancelled(tmp_path: Path) -> None:
    text = "".join(f"x{n} = [ {n} ]\n" for n in range(3000))

    async def steps() -> None:
        async with editing() as editor:
            uri = editor.open(tmp_path / "a.py", text)
            params = types.DocumentFormattingParams(types.TextDocumentIdentifier(uri), SPACES)
            protocol = editor.client.protocol
            asked = protocol.send_request("textDocument/formatting", params, msg_id="first")
            editor.client.cancel_request(types.CancelParams("first"))
            with pytest.raises(JsonRpcException) as caught:
                await asyncio.wrap_future(asked)
            assert caught.value.code == types.LSPErrorCodes.RequestCancelled
            assert await editor.formatted(uri) == stilo.reformat(text, "python").text

    run(steps())


@pytest.mark.parametrize(
    "message",
    [
        b"Content-Length: 9\r\n\r\nnot json!",
        b'Content-Length: 17\r\n\r\n{"jsonrpc":"2.0"}',
        b'Content-Length: 54\r\n\r\n{"jsonrpc":"2.0","id":7,"method":"textDocument/hover"}',
    ],
)
def test_malformed_messages_stop_nothing(message: bytes) -> None:
    begin = (
        b'{"jsonrpc":"2.0","id":1,"method":"initialize","params":'
        b'{"processId":null,"rootUri":null,"capabilities":{}}}'
    )
    end = b'{"jsonrpc":"2.0","id":2,"method":"shutdown"}'
    told = b'{"jsonrpc":"2.0","method":"exit"}'
    framed = [b"Content-Length: %d\r\n\r\n%s" % (len(text), text) for text in (begin, end, told)]
    done = subprocess.run(
        [sys.executable, "-P", "-m", "stilo", "serve"],
        input=framed[0] + message + framed[1] + framed[2],
        capture_output=True,
        timeout=60,
    )
    assert b'"id":2' in done.stdout.replace(b'"id": 2', b'"id":2')
    assert b"Traceback" not in done.stderr


def test_texts_that_are_not_open_and_places_that_are_not_there(tmp_path: Path) -> None:
    async def steps() -> None:
        async with editing() as editor:
            with pytest.raises(JsonRpcException):
                await editor.client.text_document_formatting_async(types.DocumentFormattingParams(
                    types.TextDocumentIdentifier("file:///nowhere.py"), SPACES
                ))
            for text in ("", "\n", "x =  1", "\ud800"):
                uri = editor.open(tmp_path / "a.py", text)
                far = types.Position(99, 99)
                params = types.DocumentRangeFormattingParams(
                    types.TextDocumentIdentifier(uri), types.Range(far, far), SPACES
                )
                if text == "\ud800":
                    continue
                await editor.client.text_document_range_formatting_async(params)
                await editor.formatted(uri)

    run(steps())


def test_a_language_of_ones_own(tmp_path: Path) -> None:
    sheet = """
    @language berths { grammar: tree_sitter_json; files: "*.berths"; tokens: "[][{}:,]" "[^][{}:,\\\\s]+"; }
    string, number { token: word }
    array { wrap: stack; indent: block }
    "[" { after: none; break: open } "]" { before: none; break: close }
    "," { before: none; after: space; break: after }
    """
    (tmp_path / "berths.stilo").write_text(sheet)
    (tmp_path / "stilo.toml").write_text('[sheets]\nberths = "berths.stilo"\n')

    async def steps() -> None:
        async with editing() as editor:
            uri = editor.open(tmp_path / "north.berths", "[1,2 ,  3]\n", "berths")
            assert await editor.formatted(uri) == "[1, 2, 3]\n"

    run(steps())


def test_memory_is_given_back_now_and_then(monkeypatch: pytest.MonkeyPatch) -> None:
    given: list[int] = []
    monkeypatch.setattr(server, "_give_back_memory", lambda: given.append(1))
    found = server.make()
    found.documents.open("file:///quay.py", "quay.py", "python", 0, "berth = 1\n")
    for _ in range(2 * server.COLLECT_AFTER):
        found.text("file:///quay.py")
    assert len(given) == 2


def test_memory_is_given_back_when_nothing_is_typed(monkeypatch: pytest.MonkeyPatch) -> None:
    given: list[int] = []
    monkeypatch.setattr(server, "_give_back_memory", lambda: given.append(1))
    monkeypatch.setattr(server, "PAUSE", 0)
    run(server.make()._look("file:///no-longer-open.py"))
    assert given == [1]


def test_an_error_that_is_answered_holds_nothing_of_the_layout(tmp_path: Path) -> None:
    found = server.make()
    text = found.documents.open("a", "a.py", "python", 0, "")

    def fails(text: object) -> None:
        raise stilo.StiloError("no berth")

    with pytest.raises(JsonRpcException, match="no berth") as raised:
        found._answered(text, fails)
    assert raised.value.__context__ is None


def test_nothing_is_kept_of_changes_that_were_told(tmp_path: Path) -> None:
    found = server.make()
    uri = (tmp_path / "quay.py").as_uri()
    found.documents.open(uri, "quay.py", "python", 0, "berth = 1\n")
    found.look_for_findings = lambda uri: None
    for version in range(1, 5):
        found.protocol.handle_message(types.DidChangeTextDocumentNotification(
            types.DidChangeTextDocumentParams(
                types.VersionedTextDocumentIdentifier(version, uri),
                [types.TextDocumentContentChangeWholeDocument(f"berth = {version}\n")],
            )
        ))
    assert found.documents.texts[uri].raw == b"berth = 4\n"
    assert not found.protocol._request_futures
