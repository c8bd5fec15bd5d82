"""Reformatting: a text in, a result out, the program unchanged.

This is the whole of the core in order: source, tree, plan (gaps and groups),
fit, text, check. Nothing is printed, nothing is kept between calls but what
is compiled of a sheet, and that is shared safely between threads.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from stilo.edits import apply_edits
from stilo.errors import SyntaxFault, UnreadableSource
from stilo.language import Language
from stilo.layout.bound import moved_from_lines
from stilo.layout.columns import Measures
from stilo.layout.fit import Fitted, fit
from stilo.layout.kept import NOTHING_KEPT, Kept, find_kept, find_margins, keeping
from stilo.layout.plan import MARK, NO_MARGINS, Block, Margin, Plan
from stilo.layout.planning import plan
from stilo.layout.render import Rendered, render
from stilo.order.asked import ORDER_ALONE, is_wanted
from stilo.order.order import order_of
from stilo.order.passes import Ordered, new_lines, put_in_order
from stilo.order.project import Project
from stilo.order.text import Text
from stilo.reading import MOST_SOURCE, read_file
from stilo.registry import load_language
from stilo.result import Result, edits_of, line_end, with_line_ends
from stilo.sheet.properties import Value
from stilo.source import BOM, OTHER_CHARSETS, LineRange, Source
from stilo.style.directives import Directives, directive_words, read_directives
from stilo.verify.check import Checked, check, checked_same

if TYPE_CHECKING:
    from stilo.notebook import NotebookResult
    from stilo.style.given import Given
    from stilo.style.resolve import FileStyle, Styles

#: Among how many of the first tokens such comments are looked for that act by standing there.
MOST_HEAD = 50
#: How often it is seen whether a comment that acts on its line still does: a statement that keeps its lines
#: may take those of a neighbour with it.
ROUNDS = 3
Style = Mapping[str, Value | str]
#: First and last line, or several such pairs, or None for all lines.
Lines = LineRange | Sequence[LineRange] | None


def reformat(
    text: str | bytes,
    language: str | Language,
    style: Style | None = None,
    *,
    lines: Lines = None,
    name: str = "text",
    only_order: bool = False,
) -> Result:
    """Lay a text out by a language's sheet.

    text: the source; bytes are read as UTF-8, or as the setting `charset` says. language: a name
    or a Language. style: values of settings, by name. lines: first and last line (1-based,
    both included), or several such pairs; only the statements that reach into them are laid out. name:
    for messages. only_order: put the imports in order, and lay out no more than what that writes anew.
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
    lines: Lines = None,
    name: str = "text",
    only_order: bool = False,
) -> Result | NotebookResult:
    """Lay a text out by the style that was found for a file; else as `reformat`.

    Of a notebook, by its name, the code in its cells is laid out. Raises UnreadableSource also
    where it is none, or has cells in another language.
    """
    if style.language.facts.is_notebook(name):
        from stilo.notebook import reformat_notebook

        data = text.encode() if isinstance(text, str) else text
        in_cells = {**style.values, "line-ends": "lf", "charset": "keep"}

        def lay_out(cell: Source, within: Sequence[LineRange] | None) -> Result:
            return reformat_source(
                cell, style.language, in_cells, within, style.origins, True, only_order=only_order
            )

        source = Source.from_bytes(data, name)
        return reformat_notebook(source, style.language, lay_out, line_ranges(lines))
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
    lines: Lines = None,
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
        return read_file(path, MOST_SOURCE)
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
    lines: Lines,
    name: str,
    project: Project | None,
    only_order: bool,
) -> Result:
    if isinstance(text, str):
        source = Source.from_text(text, name)
    else:
        source = Source.from_bytes(text, name, str(values["charset"]))
    return reformat_source(
        source,
        language,
        values,
        line_ranges(lines),
        origins,
        project=project,
        only_order=only_order,
    )


def line_ranges(lines: Lines) -> list[LineRange] | None:
    """A range of lines, or several, as a list; None stands for all lines."""
    if lines is None:
        return None
    if len(lines) == 2 and isinstance(lines[0], int) and isinstance(lines[1], int):
        return [(lines[0], lines[1])]
    return [item for item in lines if not isinstance(item, int)]


def reformat_source(
    source: Source,
    language: Language,
    values: Mapping[str, Value],
    lines: Sequence[LineRange] | None = None,
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
    source.has_lines(lines or ())
    try:
        parsed = language.read_source(source)
    except SyntaxFault:
        is_left = _is_left(source, language)
        if not is_left:
            raise
        source = Source.from_bytes(b"", source.name)
        parsed = language.read(source.data)
    text = Text(source, parsed, language)
    ordered: Ordered | None = None
    if is_wanted(values) and not (is_cell or is_left):
        ordered = put_in_order(text, values, lines, project)
    if ordered is not None:
        text = ordered.text
        lines = new_lines(ordered, read, lines)
    if only_order:
        lines = list(ordered.new_runs()) if ordered is not None else []
    layout = _lay_out(text, values, lines, is_cell)
    if layout.directives.leaves_file or is_left:
        data = checked_same(read.raw)
    else:
        data = _handed_out(read, text, layout, values)
    return Result(
        read,
        language,
        values,
        origins or {},
        layout.directives,
        data,
        layout.plan,
        layout.fitted,
        layout.rendered,
        layout.touched,
        ordered,
    )


class _Layout(NamedTuple):
    """A text laid out: all that was decided of it, and which gaps were asked for (None: all)."""

    directives: Directives
    plan: Plan
    fitted: Fitted
    rendered: Rendered
    touched: Sequence[int] | None


def _lay_out(
    text: Text, values: Mapping[str, Value], lines: Sequence[LineRange] | None, is_cell: bool
) -> _Layout:
    """Decide all gaps of a text, and write out what is not to stay as it is.

    lines: those whose statements are laid out, or None for all.
    """
    measures = Measures.of(values)
    said, planned = _planned(text, values, measures, lines is not None)
    if text.language.facts.margins_matter and values["indent-with"] == "tabs":
        steps = {measures.indent, *(region.measures.indent for region in said.regions)}
        if any(step % int(values["tab-width"]) for step in steps):
            # Margins of tabs and spaces would not begin alike from block to block.
            values = {**values, "indent-with": "spaces"}
    fitted = fit(planned, measures)
    kept, touched = NOTHING_KEPT, None
    if said.left or lines is not None:
        source = text.source
        stretches = None if lines is None else [source.stretch(some) for some in lines]
        kept, touched = find_kept(planned, fitted, said.left, stretches)
        staying = kept.gaps
        if not text.language.facts.margins_matter:
            # What a directive leaves need not stand where the rest of its block does.
            everything = range(len(planned.space))
            staying = set(everything).difference(everything if touched is None else touched)
        margins = find_margins(planned, staying, int(values["tab-width"]))
        if margins:
            said, planned = _planned(text, values, measures, True, margins)
            fitted = fit(planned, measures)
            kept, touched = find_kept(planned, fitted, said.left, stretches)
    kept = _with_comments(kept, text, planned, values)
    rendered = render(planned, fitted, values, is_cell, kept)
    for number in range(ROUNDS if planned.bound else 0):
        moved = moved_from_lines(planned, fitted, rendered)
        if not moved:
            break
        kept = keeping(kept, moved, in_place=number == ROUNDS - 1)
        rendered = render(planned, fitted, values, is_cell, kept)
    return _Layout(said, planned, fitted, rendered, touched)


def _with_comments(kept: Kept, text: Text, planned: Plan, values: Mapping[str, Value]) -> Kept:
    """The same, and the comments that stay as they are for what they say."""
    pattern, texts = text.language.facts.first_lines, planned.tree.texts
    head = 0
    for token in planned.comments:
        if token > MOST_HEAD or any(t not in planned.comment_set for t in range(head, token)):
            break
        if pattern.match(texts[token]):
            head = token + 1
    headers: frozenset[bytes] = frozenset()
    if values["comment-columns"] and values.get("import.headers"):
        headers = order_of(text.language, values, None).headers()
    said = [token for token in planned.comments if texts[token] in headers] if headers else []
    if not head and not said:
        return kept
    first = range(head)
    return Kept(kept.gaps | set(first), kept.tokens | {*first, *said}, kept.moved)


def _planned(
    text: Text,
    values: Mapping[str, Value],
    measures: Measures,
    is_part: bool,
    margins: Mapping[Block, Margin] = NO_MARGINS,
) -> tuple[Directives, Plan]:
    """What the directives of a text say, and its plan.

    is_part: the tree is to be the same whatever the margins of its blocks, which are `margins` where
    they keep their own.
    """
    language, source, bare = text.language, text.source, text.tree
    punctuation = language.kinds.punctuation
    # What is left out of the tree for speed must not matter to the check.
    is_quick = language.support.check is not None and not language.wanted.fields and not is_part
    is_quick = is_quick and not language.opens_what_fits(values)
    room = int(values["width"]) if is_quick else 0
    keeps = values.get("value-brackets") == "keep"
    tree = language.bracketed(bare, room, keeps)
    said = read_directives(tree, source, language, values)
    if room and (said.left or any(map(language.opens_what_fits, said.values))):
        return _planned(text, values, measures, True, margins)
    rows = language.rows(values, *said.values)
    bound = language.bound(values)
    planned = plan(tree, rows, punctuation, measures, said.regions, margins, bound)
    if planned.lacking:
        tree = language.with_lacking(tree, planned.lacking, room, keeps)
        said = read_directives(tree, source, language, values)
        planned = plan(tree, rows, punctuation, measures, said.regions, margins, bound)
    return said, planned


def _handed_out(read: Source, text: Text, layout: _Layout, values: Mapping[str, Value]) -> Checked:
    """The bytes of a result, which are checked as they are.

    read: the source as it came. text: the same, or with its imports in order.
    """
    source, language = text.source, text.language
    eol = line_end(read, values)
    written = layout.rendered.text()
    if layout.touched is None:
        data = _finish(source, written, eol, str(values["charset"]))
    else:
        eol = b"\r\n" if source.has_crlf else b"\n"
        edits = edits_of(source, layout.plan, layout.rendered, eol, layout.touched)
        data = apply_edits(source.raw, edits)
    return check(language, read, source, layout.plan, layout.rendered, data)


def _is_left(source: Source, language: Language) -> bool:
    """Whether a file that does not parse says itself that it is to be left as it is."""
    if MARK not in source.data:
        return False
    comments = language.read(source.data).leading_comments()
    return any(directive_words(comment) == ["leave", "file"] for comment in comments)


def _finish(source: Source, text: bytes, eol: bytes, charset: str) -> bytes:
    if source.raw in (b"", OTHER_CHARSETS.get(source.charset, BOM)):
        return source.raw
    text = with_line_ends(text, eol)
    if source.charset != "utf-8":
        mark = OTHER_CHARSETS[source.charset] if source.has_bom else b""
        return mark + source.encode(text)
    return BOM + text if _wants_bom(source, charset) else text


def _wants_bom(source: Source, charset: str) -> bool:
    return charset == "utf-8-bom" or (charset == "keep" and source.has_bom)
