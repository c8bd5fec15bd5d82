"""Reformatting: a text in, a result out, the program unchanged.

This is the whole of the core in order: source, tree, plan (gaps and groups),
fit, text, check. Nothing is printed, nothing is kept between calls but what
is compiled of a sheet, and that is shared safely between threads.
"""

from __future__ import annotations

import gc
from bisect import bisect_left, bisect_right
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING

from stilo.edits import apply_edits
from stilo.errors import OutOfRange, SyntaxFault, UnreadableSource
from stilo.language import Language, load_language
from stilo.layout.columns import Measures
from stilo.layout.fit import Fitted, fit
from stilo.layout.plan import Plan
from stilo.layout.planning import plan
from stilo.layout.render import leave, render
from stilo.layout.verify import verify
from stilo.order.asked import ORDER_ALONE, is_wanted
from stilo.order.passes import Ordered, new_lines, put_in_order
from stilo.order.project import Project
from stilo.order.text import Text
from stilo.result import Result, edits_of, line_end
from stilo.sheet.properties import Value
from stilo.source import BOM, OTHER_CHARSETS, Source
from stilo.style.directives import MARK, directive_words, read_directives

if TYPE_CHECKING:
    from stilo.notebook import NotebookResult
    from stilo.style.given import Given
    from stilo.style.resolve import FileStyle, Styles

Style = Mapping[str, Value | str]


def reformat(
    text: str | bytes,
    language: str | Language,
    style: Style | None = None,
    *,
    lines: tuple[int, int] | None = None,
    name: str = "text",
    only_order: bool = False,
) -> Result:
    """Lay a text out by a language's sheet.

    text: the source; bytes are read as UTF-8, or as the setting `charset` says. language: a name
    or a Language. style: values of settings, by name. lines: first and last line (1-based,
    both included) outside which nothing is changed. name: for messages. only_order: put the imports
    in order, and lay out no more than what that writes anew. The cyclic garbage collector does not run
    meanwhile; it would find nothing.
    Raises SyntaxFault, UnreadableSource, UnknownLanguage, UnknownSetting, BadSetting,
    DirectiveError, OutOfRange, UnsafeResult, SheetError.
    """
    chosen = language if isinstance(language, Language) else load_language(language)
    if only_order:
        style = {**ORDER_ALONE, **(style or {})}
    return _reformat(text, chosen, chosen.values(style or {}), {}, lines, name, None, only_order)


def reformat_styled(
    text: str | bytes,
    style: FileStyle,
    *,
    lines: tuple[int, int] | None = None,
    name: str = "text",
    only_order: bool = False,
) -> Result | NotebookResult:
    """Lay a text out by the style that was found for a file; else as `reformat`.

    Of a notebook, by its name, the code in its cells is laid out. Raises UnreadableSource also
    where it is none, or has cells in another language.
    """
    if style.language.is_notebook(name):
        from stilo.notebook import reformat_notebook

        data = text.encode() if isinstance(text, str) else text
        in_cells = {**style.values, "line-ends": "lf", "charset": "keep"}

        def lay_out(cell: Source, within: tuple[int, int] | None) -> Result:
            return reformat_source(
                cell, style.language, in_cells, within, style.origins, True, only_order=only_order
            )

        source = Source.from_bytes(data, name)
        return reformat_notebook(source, style.language, lay_out, lines)
    values: Mapping[str, Value] = style.values
    if only_order and "import.order" not in style.origins:
        values = {**values, **ORDER_ALONE}
    project = Project(Path(name)) if is_wanted(values) else None
    return _reformat(text, style.language, values, style.origins, lines, name, project, only_order)


def reformat_file(
    path: str | Path,
    language: str | Language | None = None,
    style: Style | None = None,
    *,
    lines: tuple[int, int] | None = None,
    styles: Styles | None = None,
) -> Result | NotebookResult:
    """Lay a file out (without writing it), by its style: as the files of settings around it say.

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
        return Path(path).read_bytes()
    except FileNotFoundError:
        raise UnreadableSource(str(path), "no such file") from None
    except IsADirectoryError:
        raise UnreadableSource(str(path), "is a folder; name the files in it") from None
    except OSError as error:
        raise UnreadableSource(str(path), f"cannot be read: {error.strerror}") from error


def _reformat(
    text: str | bytes,
    language: Language,
    values: Mapping[str, Value],
    origins: Mapping[str, Given],
    lines: tuple[int, int] | None,
    name: str,
    project: Project | None,
    only_order: bool,
) -> Result:
    if isinstance(text, str):
        source = Source.from_text(text, name)
    else:
        source = Source.from_bytes(text, name, str(values["charset"]))
    return reformat_source(
        source, language, values, lines, origins, project=project, only_order=only_order
    )


@contextmanager
def _collector_paused() -> Iterator[None]:
    """Keep the cyclic garbage collector from running, unless it was off before.

    What is made of a file is many small tuples and lists that hold no cycles and go with the result;
    looking through them again and again takes a twelfth of the time.
    """
    is_on = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if is_on:
            gc.enable()


@_collector_paused()
def reformat_source(
    source: Source,
    language: Language,
    values: Mapping[str, Value],
    lines: tuple[int, int] | None = None,
    origins: Mapping[str, Given] | None = None,
    is_cell: bool = False,
    project: Project | None = None,
    only_order: bool = False,
) -> Result:
    """The steps of reformatting, in order; see `reformat`.

    is_cell: the text is a notebook's cell, whose imports stay where they are. project: to find the
    modules of the file's own project.
    """
    read = source
    is_left = False
    grammar = language.grammar
    # What is left out of the tree for speed must not matter to the check.
    room = int(values["width"]) if language.check is not None and not language.wants_fields else 0
    keeps = values.get("value-brackets") == "keep"
    try:
        parsed = grammar.parse_source(source, language.pairs)
    except SyntaxFault:
        is_left = _is_left(source, language)
        if not is_left:
            raise
        source = Source.from_bytes(b"", source.name)
        parsed = grammar.parse(source.data)
    unread = Text(source, parsed, language)
    ordered: Ordered | None = None
    if is_wanted(values) and not (is_cell or is_left):
        ordered = put_in_order(unread, values, lines, project)
    if ordered is not None:
        unread = ordered.text
        source = unread.source
        lines = lines and new_lines(ordered, read, lines)
    bare = unread.tree
    tree = grammar.bracketed(bare, room, keeps)
    measures = Measures.of(values)
    said = read_directives(tree, source, language, values)
    rows = language.rows(values, *said.values)
    planned = plan(tree, rows, grammar.punctuation, measures, said.regions)
    if planned.lacking:
        tree = grammar.with_lacking(tree, planned.lacking, room, keeps)
        said = read_directives(tree, source, language, values)
        planned = plan(tree, rows, grammar.punctuation, measures, said.regions)
    fitted = fit(planned, measures)
    rendered = render(planned, fitted, values, is_cell)
    if said.left:
        rendered = leave(planned, rendered, said.left)
    text = rendered.text()
    if said.leaves_file or is_left:
        return Result(
            read,
            language,
            values,
            origins or {},
            said,
            read.raw,
            planned,
            fitted,
            rendered,
            range(0),
            None,
        )
    if text != source.data:
        verify(grammar, source, planned, rendered, text, language.whole, language.check)
    eol = line_end(read, values)
    touched: Sequence[int] | None = None
    if only_order:
        runs = ordered.new_runs() if ordered is not None else ()
        ranges = [_touched(source, planned, fitted, run) for run in runs]
        touched = sorted({token for tokens in ranges for token in tokens})
    elif lines is not None:
        touched = _touched(source, planned, fitted, lines)
    if touched is None:
        data = _finish(source, text, eol, str(values["charset"]))
    else:
        data = apply_edits(source.raw, edits_of(source, planned, rendered, eol, touched))
    return Result(
        read,
        language,
        values,
        origins or {},
        said,
        data,
        planned,
        fitted,
        rendered,
        touched,
        ordered,
    )


def _is_left(source: Source, language: Language) -> bool:
    """Whether a file that does not parse says itself that it is to be left as it is."""
    if MARK not in source.data:
        return False
    comments = language.grammar.leading(source.data, frozenset(language.comment_kinds))
    return any(directive_words(comment) == ["leave", "file"] for comment in comments)


def _finish(source: Source, text: bytes, eol: bytes, charset: str) -> bytes:
    if source.raw in (b"", OTHER_CHARSETS.get(source.charset, BOM)):
        return source.raw
    if eol != b"\n":
        text = text.replace(b"\n", eol)
    if source.charset != "utf-8":
        mark = OTHER_CHARSETS[source.charset] if source.has_bom else b""
        return mark + source.encode(text)
    return BOM + text if _wants_bom(source, charset) else text


def _wants_bom(source: Source, charset: str) -> bool:
    return charset == "utf-8-bom" or (charset == "keep" and source.has_bom)


def _touched(source: Source, planned: Plan, fitted: Fitted, lines: tuple[int, int]) -> range:
    """The gaps of all statements that reach into a range of lines."""
    first, last = lines
    if not 1 <= first <= last <= max(1, source.line_count):
        asked = f"line {first}" if first == last else f"range of lines {first} to {last}"
        raise OutOfRange(source.name, asked, f"it has lines 1 to {source.line_count}")
    starts = planned.tree.token_start
    low = bisect_left(planned.tree.token_end, source.line_start(first) + 1)
    high = bisect_left(starts, source.line_start(last + 1))
    if low >= high:
        return range(0)
    segments = [0, *fitted.cuts, len(starts)]
    begin = segments[bisect_right(segments, low) - 1]
    end = segments[bisect_left(segments, high)]
    return range(begin, end + 1 if end == len(starts) else end)
