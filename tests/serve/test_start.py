"""The code that is kept from one start of the server to the next."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
from pathlib import Path

import attr._make
import attrs
import pytest

from stilo.serve.start import compiled_once, light_classes
from stilo.user_cache import cache_folder, code_folder, keep


def berth(fields: dict[str, type]) -> type:
    """A class as attrs makes it."""
    return attrs.make_class("Berth", {name: attrs.field(type=of) for name, of in fields.items()})


def made(path: Path | None, fields: dict[str, type], monkeypatch: pytest.MonkeyPatch) -> int:
    """How often something was compiled to make a class, while code is kept in a file."""
    calls: list[str] = []

    def counted(text: str, name: str, kind: str) -> object:
        calls.append(text)
        return compile(text, name, kind)

    with monkeypatch.context() as patch:
        patch.setattr("stilo.serve.start.compile", counted, raising=False)
        with compiled_once(path):
            found = berth(fields)
    assert found(*range(len(fields))) == found(*range(len(fields)))
    assert repr(found(*range(len(fields)))).startswith("Berth(")
    assert not hasattr(attr._make, "compile")  # what was put there is gone
    return len(calls)


def test_what_was_compiled_is_not_compiled_again(tmp_path, monkeypatch) -> None:
    path = tmp_path / "below" / "code"
    assert made(path, {"number": int}, monkeypatch) > 0
    assert made(path, {"number": int}, monkeypatch) == 0
    assert made(path, {"deck": int, "length": int}, monkeypatch) > 0  # another text is another code
    assert made(path, {"number": int}, monkeypatch) == 0  # and what was known stays


def test_code_is_known_by_its_text_and_not_by_its_name(tmp_path) -> None:
    for _ in range(2):
        with compiled_once(tmp_path / "code"):
            found = [attr._make.compile(text, "<quay>", "exec") for text in ("x = 1", "x = 2")]
        assert [code.co_consts[0] for code in found] == [1, 2]


@pytest.mark.parametrize(
    "spoil",
    [
        lambda data: data[:-1],
        lambda data: b"",
        lambda data: data[:3] + bytes([data[3] ^ 1]) + data[4:],
    ]
)
def test_a_file_that_is_not_whole_is_not_read(spoil, tmp_path, monkeypatch) -> None:
    path = tmp_path / "code"
    made(path, {"number": int}, monkeypatch)
    path.write_bytes(spoil(path.read_bytes()))
    assert made(path, {"number": int}, monkeypatch) > 0
    assert made(path, {"number": int}, monkeypatch) == 0  # it was written anew


@pytest.mark.skipif(os.name != "posix", reason="modes are those of POSIX")
def test_a_file_that_others_may_write_is_not_read(tmp_path, monkeypatch) -> None:
    path = tmp_path / "code"
    made(path, {"number": int}, monkeypatch)
    assert path.stat().st_mode & 0o077 == 0
    path.chmod(0o622)
    assert made(path, {"number": int}, monkeypatch) > 0


def test_an_error_leaves_nothing_behind(tmp_path) -> None:
    with pytest.raises(ZeroDivisionError), compiled_once(tmp_path / "code"):
        1 / 0
    assert not hasattr(attr._make, "compile") and not list(tmp_path.iterdir())


def test_a_class_is_made_once_and_without_a_copy_of_all_names() -> None:
    with pytest.raises(ZeroDivisionError), light_classes():
        @attrs.define
        class Berth:
            number: int

        assert attrs.fields(Berth).number.type == "int" and Berth(3) == Berth(number=3)
        assert not hasattr(Berth, "__slots__") and "pytest" not in Berth.__init__.__globals__
        1 / 0

    @attrs.define
    class Deck:
        number: int

    assert hasattr(Deck, "__slots__") and "pytest" in Deck.__init__.__globals__


def test_the_classes_of_the_protocol_are_light(tmp_path, monkeypatch) -> None:
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path))
    told = """
from stilo.serve.start import serve
serve()
import sys
from lsprotocol.types import Position
sys.exit(f"{hasattr(Position, '__slots__')} {'Range' in Position.__init__.__globals__}")
"""
    run = subprocess.run(
        [sys.executable, "-c", told], stdin=subprocess.DEVNULL, capture_output=True, text=True
    )
    assert run.stderr == "False False\n"


@pytest.mark.skipif(os.name != "posix", reason="signals are those of POSIX")
def test_an_interrupt_ends_a_server_that_waits_for_input() -> None:
    body = b'{"jsonrpc":"2.0","id":1,"method":"initialize","params":{"capabilities":{}}}'
    command = [sys.executable, "-m", "stilo", "serve"]
    with subprocess.Popen(
        command,
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        preexec_fn=lambda: signal.signal(signal.SIGINT, signal.SIG_DFL),  # as in a terminal
    ) as server:
        assert server.stdin is not None and server.stdout is not None
        server.stdin.write(b"Content-Length: %d\r\n\r\n%s" % (len(body), body))
        server.stdin.flush()
        assert server.stdout.readline()  # it answers, and waits for more
        server.send_signal(signal.SIGINT)
        try:
            assert server.wait(10) == -signal.SIGINT
        finally:
            server.kill()


def test_code_is_never_kept_where_a_repository_may_be(tmp_path, monkeypatch) -> None:
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path))
    monkeypatch.setenv("STILO_CACHE", "here")
    assert cache_folder() == Path("here").absolute() and code_folder() is None
    monkeypatch.setenv("STILO_CACHE", "off")
    assert cache_folder() is None and code_folder() is None
    monkeypatch.delenv("STILO_CACHE")
    assert cache_folder() == code_folder() == tmp_path / "stilo"
    monkeypatch.setattr("platformdirs.user_cache_path", lambda *names, **more: Path("here"))
    assert cache_folder() is None and code_folder() is None


def test_what_cannot_be_kept_leaves_nothing_behind(tmp_path) -> None:
    (tmp_path / "known").mkdir()
    assert keep(tmp_path / "new", b"berth") and not keep(tmp_path / "known", b"berth")
    assert not keep(tmp_path / "new" / "below", b"berth")
    assert sorted(path.name for path in tmp_path.iterdir()) == ["known", "new"]


def test_what_lays_out_is_not_loaded_before_it_is_needed() -> None:
    """An editor waits for the start; the rest is loaded while it sends its texts."""
    said = "import sys, stilo.serve.server as s; s.make(); print(*(n for n in sys.modules if n.startswith('stilo.')))"
    loaded = (
        subprocess
            .run([sys.executable, "-c", said], capture_output=True, text=True, check=True).stdout
            .split()
    )
    assert "stilo.serve.server" in loaded
    assert not {"stilo.language", "stilo.calls", "stilo.serve.answers"} & set(loaded)
