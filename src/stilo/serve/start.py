"""The start of the language server: an editor waits for it.

lsprotocol has more than 500 classes, and attrs takes half of a start to make them. For each it writes methods as
text and has Python compile it: what Python compiles of a module is kept beside the module, and this keeps what it
compiles of these texts in the user's cache. Besides, attrs makes each class twice,
for slots, and gives each a copy of the 900 names of its module: a server does without both.
"""

from __future__ import annotations

import gc
import importlib.util
import marshal
import os
import signal
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from functools import partial
from hashlib import blake2b
from importlib import import_module
from pathlib import Path
from types import CodeType, SimpleNamespace
from typing import Any

from stilo.user_cache import code_folder, keep

#: The most bytes of kept code: ten times what there is.
MOST = 10 << 20
_SIZE = 16


def serve(port: int | None = None) -> None:
    """Serve an editor over standard input and output, or one that connects to a port of this machine."""
    gc.disable()  # the server looks for garbage itself, now and then
    if signal.getsignal(signal.SIGINT) is signal.default_int_handler:
        signal.signal(signal.SIGINT, signal.SIG_DFL)  # there is nothing to save, and a thread waits for input
    folder = code_folder()
    with light_classes(), compiled_once(None if folder is None else folder / _name()):
        from stilo.serve.server import serve as begin
    begin(port)


@contextmanager
def light_classes() -> Iterator[None]:
    """Have attrs make each class once, without slots, and give it no copy of the names of its module.

    All that is lost: annotations of `__init__` that are strings cannot be resolved any more; those of fields can.
    """
    try:
        public: Any = import_module("attrs")
        inner: Any = import_module("attr._make")
        define = public.define
    except (ImportError, AttributeError):  # attrs has another structure by now
        yield
        return
    public.define = partial(define, slots=False)
    inner.sys = SimpleNamespace(**{**vars(sys), "modules": {}})  # for that module alone
    try:
        yield
    finally:
        public.define, inner.sys = define, sys


@contextmanager
def compiled_once(path: Path | None) -> Iterator[None]:
    """Compile no text for attrs that was compiled when this was last done. path: where the code is kept, if anywhere.

    Code is known by a digest of its whole text, so that it is never that of another one.
    """
    try:
        attrs: Any = import_module("attr._make")
    except ImportError:  # attrs has another structure by now
        path = None
    if path is None:
        yield
        return
    kept = _read(path)
    is_new = False

    def compiled(text: str, name: str, kind: str) -> CodeType:
        nonlocal is_new
        key = _digest(f"{kind} {name}\0{text}".encode())
        found = kept.get(key)
        if found is None:
            found = kept[key] = compile(text, name, kind)
            is_new = True
        return found

    attrs.compile = compiled  # in place of the built-in function, in that module alone
    try:
        yield
    finally:
        del attrs.compile
    if is_new:
        data = marshal.dumps(kept)
        keep(path, _digest(data) + data)


def _name() -> str:
    """The name of the file: this Python's code is of no use to another."""
    return f"protocol-{importlib.util.MAGIC_NUMBER.hex()}"


def _read(path: Path) -> dict[bytes, CodeType]:
    """The code that was kept; none if the file is not whole, or another user may have written it."""
    try:
        with open(path, "rb") as stream:
            about = os.fstat(stream.fileno())
            if os.name == "posix" and (about.st_uid != os.getuid() or about.st_mode & 0o022):
                return {}
            digest, data = stream.read(_SIZE), stream.read(MOST)
        return marshal.loads(data) if digest == _digest(data) else {}
    except (OSError, ValueError, EOFError, TypeError):
        return {}


def _digest(data: bytes) -> bytes:
    return blake2b(data, digest_size=_SIZE).digest()
