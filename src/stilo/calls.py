"""The calls by which a program has texts and files laid out."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path
from typing import TYPE_CHECKING

from stilo.embed.document import reformat_document, reformat_segments
from stilo.errors import UnreadableSource
from stilo.language import Language
from stilo.order.asked import order_alone
from stilo.pipeline import run
from stilo.reading import MOST_SOURCE, read_file
from stilo.registry import load_language
from stilo.request import Document, Lines, Request, line_ranges, narrowed
from stilo.result import Result
from stilo.sheet.properties import Value
from stilo.source import Source

if TYPE_CHECKING:
    from stilo.embed.segments import DocumentResult
    from stilo.style.resolve import FileStyle, Styles

Style = Mapping[str, Value | str]


def reformat(
    text: str | bytes,
    language: str | Language,
    style: Style | None = None,
    *,
    lines: Lines = None,
    path: str | Path | None = None,
    name: str = "",
    only_order: bool = False,
) -> Result:
    """Lay out a text.

    text: the source; bytes are read as UTF-8, or as the setting `charset` says. language: a name or a
    Language. style: values of settings, by name. lines: first and last line (1-based, both included),
    or several such pairs; only the statements that reach into them are laid out. path: where the text
    stands as a file, which tells its project's own modules from others; nothing is read or written
    there. name: what messages call it. only_order: put the imports in order, and lay out no more than
    what that writes anew. Texts of other languages in it stay; `reformat_styled` lays them out.
    Raises SyntaxFault, UnreadableSource, UnknownLanguage, UnknownSetting, BadSetting, DirectiveError,
    OutOfRange, UnsafeResult, SheetError.
    """
    chosen = language if isinstance(language, Language) else load_language(language)
    if only_order:
        style = {**order_alone(chosen), **(style or {})}
    values = chosen.values(style or {})
    chosen = chosen.knowing(values)
    source = _source(text, name or str(path or "text"), str(values["charset"]))
    document = Document(source, chosen, None if path is None else Path(path))
    return run(document, Request(values, line_ranges(lines), only_order))


def reformat_at(
    text: str, language: str | Language, column: int, style: Style | None = None
) -> str:
    """Lay out a piece of code that is to stand further in, such as what a generator puts into a class.

    text: the piece, which must be code by itself. column: at which its lines are to begin, from 0; so
    many columns fewer are left for them. The rest as for `reformat`. Texts of several lines stay as they
    are. Raises what `reformat` raises.
    """
    chosen = language if isinstance(language, Language) else load_language(language)
    values = narrowed(chosen.values(style or {}), column)
    known = chosen.knowing(values)
    document = Document(Source.from_text(text, "text"), known)
    return run(document, Request(values)).indented(column)


def reformat_styled(
    text: str | bytes,
    style: FileStyle,
    *,
    lines: Lines = None,
    name: str = "",
    only_order: bool = False,
    is_rest_in_style: bool = False,
) -> Result | DocumentResult:
    """Lay out a text by the style that was found for a file; else as `reformat`.

    is_rest_in_style: beside `lines` all is in style, so that no margin is taken from there.
    If the file is a notebook, the code in its cells is laid out. Raises UnreadableSource also where it
    is none, or has cells in another language.
    """
    values: Mapping[str, Value] = style.values
    name = name or style.path or "text"
    if style.language.facts.is_notebook(style.path):
        from stilo.embed.notebook import Notebook

        data = text.encode() if isinstance(text, str) else text
        host = Notebook(Source.from_bytes(data, name), style.language)
        request = Request(values, line_ranges(lines), only_order, style.origins)
        return reformat_segments(host, request)
    has_order = "import.order" in style.language.settings
    if only_order and has_order and "import.order" not in style.origins:
        values = {**values, **order_alone(style.language)}
    document = Document(
        _source(text, name, str(values["charset"])),
        style.language,
        Path(style.path) if style.path else None,
    )
    request = Request(
        values, line_ranges(lines), only_order, style.origins, is_rest_in_style, style.inner
    )
    return reformat_document(document, request)


def reformat_file(
    path: str | Path,
    language: str | Language | None = None,
    style: Style | None = None,
    *,
    lines: Lines = None,
    styles: Styles | None = None,
) -> Result | DocumentResult:
    """Lay out a file, without writing it, by its style: as the files of settings around it say.

    language: found by the file's name and by these files if not given. style: values of settings
    over all else. styles: to share what was read among many files; then the two are not looked at.
    A file that is to be skipped is laid out all the same: it was asked for.
    Raises ConfigError, and what `reformat` raises; a file that cannot be read is an
    UnreadableSource.
    """
    from stilo.style.resolve import Styles as Finder

    data = read_bytes(path)
    found = (styles or Finder(style, language=language)).of(path)
    return reformat_styled(data, found, lines=lines, name=str(path))


def read_bytes(path: str | Path) -> bytes:
    """A file's bytes. Raises UnreadableSource."""
    try:
        return read_file(path, MOST_SOURCE)
    except FileNotFoundError:
        raise UnreadableSource(str(path), "no such file") from None
    except IsADirectoryError:
        raise UnreadableSource(str(path), "is a folder, not a file") from None
    except OSError as error:
        raise UnreadableSource(str(path), f"cannot be read: {error.strerror}") from error


def _source(text: str | bytes, name: str, charset: str) -> Source:
    if isinstance(text, str):
        return Source.from_text(text, name)
    return Source.from_bytes(text, name, charset)
