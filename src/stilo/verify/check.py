"""The one way for bytes to be handed out: they are read again and compared with their source.

Whatever made a result (a whole file, some lines, imports alone, a cell of a notebook), its bytes pass
here. `Checked` bytes are made nowhere else, and nothing else is written to a source file.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from stilo.errors import Fault, UnsafeResult
from stilo.layout.plan import Plan
from stilo.layout.render import Rendered
from stilo.source import BOM, Source
from stilo.verify.compare import compare, reading, see_ends, see_spelling, see_words

if TYPE_CHECKING:
    from stilo.language import Language
    from stilo.readers import Parsed


class Checked(bytes):
    """The bytes of a result that mean the same as its source. Made by this package alone."""


def check(
    language: Language,
    read: Source,
    source: Source,
    plan: Plan,
    rendered: Rendered,
    data: bytes,
    part: Parsed | None = None,
) -> Checked:
    """See that the bytes of a result mean the same as the source.

    read: the source as it came. source: the same, or with its imports in order (which is checked when
    they are put in order). plan, rendered: how the result came about, with all edits of tokens. data: all
    bytes of the result. part: see `compare`. Raises UnsafeResult with the place, and SyntaxFault where the
    language's own check cannot read the source.
    """
    if data == read.raw:
        own = language.support.check
        if own is not None and not plan.tree.is_full:  # a grammar may take what is missing for nothing
            reading(read, lambda: own(data, data, False))
        return Checked(data)
    see_words(language, source, plan.tree)
    see_ends(language, source, plan.tree)
    text = rendered.text()
    if not text.endswith(b"\n"):
        text += b"\n"
    is_plain = data == text and b"\r" not in data and not data.startswith(BOM)
    if not is_plain and Source.from_bytes(data, read.name, source.charset).data != text:
        raise _unsafe(
            read, 1, "in these line ends and this encoding, the result would read differently"
        )
    charset_of = language.support.charset
    if charset_of is not None and source.charset == "utf-8":
        charset = reading(read, lambda: charset_of(read.raw))
        if charset != charset_of(data):
            raise _unsafe(read, 1, f"the result would not be read as {charset} any more")
    see_spelling(language, source, plan.tree)
    compare(language, source, plan, rendered, data, text, part)
    return Checked(data)


def check_document(
    source: Source, data: bytes, said: Callable[[bytes], object], wanted: object
) -> Checked:
    """See that a document of several texts, each checked, says what it is to say.

    said: what a document says, so that documents that say the same are equal; wanted: this of the result.
    Raises UnsafeResult.
    """
    if data != source.raw and said(data) != wanted:
        raise _unsafe(source, 1, "the document around what was laid out would read differently")
    return Checked(data)


def checked_same(raw: bytes) -> Checked:
    """The bytes of a source that is left as it is."""
    return Checked(raw)


def _unsafe(source: Source, line: int, message: str) -> UnsafeResult:
    return UnsafeResult(Fault(source.name, line, 1, f"{message}; the file is left as it was"))
