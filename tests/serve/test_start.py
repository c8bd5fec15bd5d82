"""The start of the server."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
from concurrent.futures import ThreadPoolExecutor
from threading import Barrier

import attrs
import pytest

from stilo.serve.server import LOOKED_AT, looked_at
from stilo.serve.start import made_later


def berth() -> tuple[type, list[type]]:
    """A class that is made later, and those that were made so far."""
    made: list[type] = []

    class Berth:
        number: int
        deck: str = "main"

    return made_later(attrs.define, made.append, Berth), made


def test_a_class_is_made_when_its_first_object_is_built() -> None:
    cls, made = berth()
    assert not made
    first, second = cls(3), cls(number=3, deck="main")
    assert (
        first == second and repr(first).endswith("Berth(number=3, deck='main')") and made == [cls]
    )
    assert isinstance(first, cls) and not hasattr(cls, "__slots__")
    with pytest.raises(TypeError):
        cls()


def test_a_class_is_made_once_by_whoever_waited_for_it() -> None:
    cls, made = berth()
    waiting = cls.__init__
    for number in (3, 4):
        late = cls.__new__(cls)
        waiting(late, number)
        assert late == cls(number)
    assert made == [cls]


def test_a_class_is_made_when_its_fields_are_asked_for() -> None:
    cls, made = berth()
    assert [field.name for field in attrs.fields(cls)] == ["number", "deck"] and made == [cls]
    assert attrs.has(cls) and cls(3).deck == "main" and made == [cls]


def test_a_class_that_extends_another_has_its_fields() -> None:
    cls, made = berth()

    class Wide(cls):
        width: int = 4

    wide = made_later(attrs.define, made.append, Wide)
    assert wide(3, width=5) == wide(3, "main", 5) and made == [cls, wide]


def test_methods_of_its_own_stay() -> None:
    class Berth:
        number: int

        def __eq__(self, other: object) -> bool:
            return True

        def __repr__(self) -> str:
            return "quay"

    cls = made_later(attrs.define, lambda made: None, Berth)
    assert cls(1) == cls(2) and repr(cls(1)) == "quay"


def test_two_threads_make_a_class_once() -> None:
    for _ in range(50):
        cls, made = berth()
        together = Barrier(4)

        def build(number: int) -> int:
            together.wait()
            return cls(number).number

        with ThreadPoolExecutor(4) as pool:
            assert list(pool.map(build, range(4))) == [0, 1, 2, 3]
        assert made == [cls]


def test_of_what_an_editor_can_do_no_more_is_read_than_is_looked_at() -> None:
    said = {
        "general": {"positionEncodings": ["utf-8"], "markdown": {"parser": "tide"}},
        "textDocument": {"hover": {}, "synchronization": {"willSave": True}},
        "workspace": [4],
        "window": {},
    }
    assert looked_at(said, LOOKED_AT) == {
        "general": {"positionEncodings": ["utf-8"]},
        "textDocument": {"synchronization": {"willSave": True}},
        "workspace": [4],
    }
    assert looked_at(None, LOOKED_AT) is None


def test_few_classes_of_the_protocol_are_made_at_the_start() -> None:
    told = """
from stilo.serve.start import _Later, serve
serve()
import attrs, sys
from lsprotocol import types
later = [one for one in types.ALL_TYPES_MAP.values() if isinstance(getattr(one, "__dict__", {}).get("__attrs_attrs__"), _Later)]
line = attrs.fields(types.Range).start.type is types.Position
sys.exit(f"{len(later) > 500} {attrs.define.__module__} {line}")
"""
    run = subprocess.run(
        [sys.executable, "-c", told], stdin=subprocess.DEVNULL, capture_output=True, text=True
    )
    assert run.stderr == "True attr._next_gen True\n"


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
