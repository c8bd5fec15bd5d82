"""The start of the language server: an editor waits for it.

lsprotocol has more than 500 classes, and to make them all takes almost half of a start: attrs writes the methods of
each as text, which Python then compiles. A session uses a tenth of them, so each is made when it is first used.
"""

from __future__ import annotations

import gc
import signal
from collections.abc import Callable
from contextlib import suppress
from importlib import import_module
from threading import RLock
from typing import Any

_lock = RLock()


def serve(port: int | None = None) -> None:
    """Serve an editor over standard input and output, or one that connects to a port of this machine."""
    gc.disable()  # the server looks for garbage itself, now and then
    if signal.getsignal(signal.SIGINT) is signal.default_int_handler:
        signal.signal(signal.SIGINT, signal.SIG_DFL)  # there is nothing to save, and a thread waits for input
    load_protocol()
    from stilo.serve.server import serve as begin
    begin(port)


def load_protocol() -> None:
    """Load the classes of the protocol, each to be made when it is first used; all at once if attrs or lsprotocol
    have another structure by now."""
    try:
        attrs: Any = import_module("attrs")
        define = attrs.define
    except (ImportError, AttributeError):
        return

    def later(made: Any = None, **options: Any) -> Any:
        is_plain = made is not None and not options and "__init__" not in vars(made)
        return made_later(define, _resolve, made) if is_plain else define(made, **options)

    attrs.define = later
    try:
        import_module("lsprotocol.types")
    finally:
        attrs.define = define
    with suppress(ImportError):
        hooks: Any = import_module("lsprotocol._hooks")
        hooks._resolved_forward_references = True  # each class resolves its own when it is made


def made_later(define: Callable[..., Any], then: Callable[[type], None], made: type) -> type:
    """Have a class made by `define` of attrs, and handed to `then`, when its fields are first asked for or its first
    object is built. The class has no slots: for these, attrs would make another one."""
    later: Any = _Later(made, define, then)

    def build(self: Any, *values: Any, **named: Any) -> None:
        later.make()
        self.__init__(*values, **named)

    made.__init__ = build  # type: ignore[misc]
    made.__attrs_attrs__ = later  # type: ignore[attr-defined]
    return made


class _Later:
    """Stands for the fields of a class until it is made."""

    def __init__(
        self, made: type, define: Callable[..., Any], then: Callable[[type], None]
    ) -> None:
        self.made, self.define, self.then = made, define, then
        self.is_made = False

    def __get__(self, instance: Any, owner: type) -> Any:
        self.make()
        return owner.__attrs_attrs__  # type: ignore[attr-defined]

    def make(self) -> None:
        """Make the class, once, whichever threads ask for it."""
        with _lock:
            if not self.is_made:
                self.is_made = True
                self.define(self.made, slots=False, init=True)  # init: in place of the one that waits
                self.then(self.made)


def _resolve(made: type) -> None:
    """Find the types that the fields of a class of the protocol name."""
    import attrs
    from lsprotocol import types

    attrs.resolve_types(made, types.ALL_TYPES_MAP, {})
