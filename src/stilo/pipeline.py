"""The steps of a run, in order: read, order, lay out, write, check.

Nothing is printed, and nothing is kept between runs but what is compiled of a sheet, which threads
share safely. A document that has been read can be laid out in any number of styles.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Mapping, Sequence, Set
from dataclasses import replace
from functools import partial
from typing import NamedTuple

from stilo.edits import apply_edits
from stilo.errors import Fault, StiloError, SyntaxFault, UnsafeResult
from stilo.language import Language
from stilo.layout.bound import moved_from_lines
from stilo.layout.fit import Fitted, fit, opened_bodies
from stilo.layout.kept import NOTHING_KEPT, Kept, find_kept, find_margins, keeping
from stilo.layout.measures import Measures
from stilo.layout.plan import MARK, NO_MARGINS, Block, Margin, Plan
from stilo.layout.planning import plan
from stilo.layout.render import Rendered, margin_of, render, tab_columns
from stilo.layout.views import View, filled, stretches, thinned
from stilo.order.asked import is_wanted
from stilo.order.forms import put_forms
from stilo.order.inner_code import put_inner_code
from stilo.order.order import order_of
from stilo.order.passes import Ordered, both, new_lines, put_in_order
from stilo.order.pieces import LaidOut, put_pieces
from stilo.order.project import Project
from stilo.order.terminators import put_terminators
from stilo.order.text import Text
from stilo.readers.reading import LINES
from stilo.records import dataclass
from stilo.request import Document, Request
from stilo.result import Result, Unread, edits_of, line_end, with_line_ends
from stilo.sheet.properties import Value
from stilo.source import BOM, OTHER_CHARSETS, LineRange, Position, Source
from stilo.style.directives import Directives, directive_words, read_directives
from stilo.tree.flat import Tree
from stilo.verify.check import Checked, check, checked_same

#: Among how many of the first tokens such comments are looked for that act by standing there.
MOST_HEAD = 50
#: How often it is looked whether a comment that acts on its line still does: a statement that keeps its
#: lines may take those of a neighbour with it.
ROUNDS = 3
#: How many items of a text may stay as they are, since their result would be read otherwise.
MOST_LEFT = 4


def run(document: Document, request: Request) -> Result:
    """Read a document and lay it out: see `read` and `lay_out`."""
    return lay_out(read(document), request)


@dataclass(frozen=True)
class ReadDocument:
    """A document as it was read. is_left: it cannot be read, and says itself that it is to be left."""

    document: Document
    text: Text
    is_left: bool = False


def read(document: Document) -> ReadDocument:
    """Read a document. Raises SyntaxFault."""
    source, language = document.source, document.language
    try:
        parsed = document.parsed or language.read_source(source)
        return ReadDocument(document, Text(source, parsed, language))
    except SyntaxFault:
        if not _says_leave(source, language):
            raise
    nothing = Source.from_bytes(b"", source.name)
    return ReadDocument(document, Text(nothing, language.read(nothing.data), language), True)


def lay_out(read: ReadDocument, request: Request) -> Result:
    """Lay out a document that was read.

    Raises OutOfRange, DirectiveError, UnsafeResult, and SyntaxFault where the language's own check
    cannot read the source.
    """
    document, values = read.document, request.values
    document.source.has_lines(request.lines or ())
    project = None if document.path is None else Project(document.path)
    ordered = _in_pieces(read, request, _put_in_order(read, request, project))
    text = read.text if ordered is None else ordered.text
    lines = _lines_of(read, request, ordered)
    left: list[tuple[int, int]] = []
    while True:
        layouts = [
            _lay_out(view, values, lines, document.is_segment, request.is_rest_in_style, left)
            for view in _views(text)
        ]
        layout, views = _put_together(text, layouts)
        if layout.directives.leaves_file or read.is_left:
            data = checked_same(document.source.raw)
            break
        try:
            data = _write(document, text, layout, values)
            break
        except UnsafeResult as unsafe:
            stretch = _to_leave(text, unsafe.fault, left)
            if stretch is None:
                raise _refused(text, unsafe) from unsafe
            left.append(stretch)
    return Result(
        document.source,
        document.language,
        values,
        request.origins,
        layout.directives,
        data,
        layout.plan,
        layout.fitted,
        layout.rendered,
        layout.touched,
        views,
        _unread(text, left),
        ordered,
        project,
    )


def _says_leave(source: Source, language: Language) -> bool:
    """Whether a file that cannot be read says itself that it is to be left as it is."""
    if MARK not in source.data:
        return False
    comments = language.read(source.data).leading_comments()
    return any(directive_words(comment) == ["leave", "file"] for comment in comments)


# Order


def _put_in_order(read: ReadDocument, request: Request, project: Project | None) -> Ordered | None:
    document, text, values = read.document, read.text, request.values
    if read.is_left:
        return None
    written = None if request.only_order else _rewritten(text, values, request.lines)
    if document.is_segment or not is_wanted(values):
        return written
    if written is None:
        return put_in_order(text, values, request.lines, project)
    lines = new_lines(written, document.source, request.lines)
    ordered = put_in_order(written.text, values, lines, project)
    return written if ordered is None else both(written, ordered, document.source)


def _rewritten(
    text: Text, values: Mapping[str, Value], lines: Sequence[LineRange] | None
) -> Ordered | None:
    """The text with other ends of statements, other spaces in code within tokens, and other forms, if the style asks
    for them, but where nothing is to change."""
    language, source = text.language, text.source
    passes = [put_terminators] if language.may_end(values) else []
    passes += [put_inner_code] if language.facts.inner_code is not None else []
    passes += [put_forms] if language.support.forms is not None else []
    done: Ordered | None = None
    for put in passes:
        if done is not None:
            text, lines = done.text, new_lines(done, source, lines)
        said = read_directives(text.tree, text.source, language, values)
        found = None if said.leaves_file else put(text, values, lines, said.left)
        if found is not None:
            done = found if done is None else both(done, found, source)
    return done


def _in_pieces(read: ReadDocument, request: Request, ordered: Ordered | None) -> Ordered | None:
    """The text in order, with its long strings in pieces, if the style asks for that."""
    document, values = read.document, request.values
    language, source = document.language, document.source
    if read.is_left or request.only_order or not language.may_split(values):
        return ordered
    text, lines = read.text if ordered is None else ordered.text, _lines_of(read, request, ordered)
    said = read_directives(text.tree, text.source, language, values)
    if said.leaves_file:
        return ordered

    def laid_out(text: Text, lines: Sequence[LineRange] | None) -> LaidOut:
        done = _lay_out(text, values, lines, document.is_segment, request.is_rest_in_style, [])
        return LaidOut(done.plan.tree, done.rendered, done.touched)

    found = put_pieces(text, values, lines, said.left, laid_out)
    if ordered is None or found is None:
        return ordered if found is None else found
    return both(ordered, found, source)


def _lines_of(
    read: ReadDocument, request: Request, ordered: Ordered | None
) -> Sequence[LineRange] | None:
    """The lines to lay out, as they are once the imports are in order."""
    if read.is_left:
        return None
    if request.only_order:
        return list(ordered.new_runs(read.document.source)) if ordered is not None else []
    if ordered is None:
        return request.lines
    return new_lines(ordered, read.document.source, request.lines)


# Layout


class _Layout(NamedTuple):
    """A text laid out: all that was decided of it, and which gaps were asked for (None: all)."""

    directives: Directives
    plan: Plan
    fitted: Fitted
    rendered: Rendered
    touched: Sequence[int] | None


def _lay_out(
    text: Text,
    values: Mapping[str, Value],
    lines: Sequence[LineRange] | None,
    is_segment: bool,
    is_rest_in_style: bool,
    left: Sequence[tuple[int, int]],
) -> _Layout:
    """Decide all gaps of a text, and write out what is not to stay as it is.

    lines: those whose statements are laid out, or None for all. is_rest_in_style: the margins of the
    others are what the style asks for. left: stretches of the text that stay as they are.
    """
    measures = Measures.of(values)
    said, planned = _planned(text, values, measures, lines is not None)
    values = _with_safe_indents(text.language, values, measures, said)
    fitted = fit(planned, measures)
    opened: set[int] = set()
    while more := opened_bodies(planned, fitted) - opened:
        # What its author wrote on one line and does not fit there is laid out as if it had never stood so.
        opened |= more
        said, planned = _planned(text, values, measures, lines is not None, NO_MARGINS, opened)
        fitted = fit(planned, measures)
    kept, touched = NOTHING_KEPT, None
    said = _leaving(said, planned, left)
    if said.left or lines is not None:
        stretches = None if lines is None else [text.source.stretch(some) for some in lines]
        tab, whole = int(values["tab-width"]), (said, planned, fitted)
        # At first as if any block could keep its column; if one within an expression cannot, without that.
        for tried in (tab,) if is_rest_in_style else (None, tab):
            said, planned, fitted = whole
            kept, touched = find_kept(planned, fitted, said.left, stretches, tried)
            if is_rest_in_style:
                break
            margins = _margins_of_rest(text.language, planned, fitted, kept, touched, values)
            if margins:
                said, planned = _planned(text, values, measures, True, margins, opened)
                fitted, said = fit(planned, measures), _leaving(said, planned, left)
            asked = touched
            kept, touched = find_kept(planned, fitted, said.left, stretches, tab)
            if touched == asked:
                break
    kept = _with_comments(kept, text, planned, values)
    rendered = render(planned, fitted, values, is_segment, kept)
    for number in range(ROUNDS if planned.bound else 0):
        moved = moved_from_lines(planned, fitted, rendered)
        if not moved:
            break
        kept = keeping(kept, moved, in_place=number == ROUNDS - 1)
        rendered = render(planned, fitted, values, is_segment, kept)
    return _Layout(said, planned, fitted, rendered, touched)


def _leaving(said: Directives, planned: Plan, left: Sequence[tuple[int, int]]) -> Directives:
    """What directives say, with more stretches that are left."""
    gaps = [_gaps_in(planned.tree, *some) for some in left]
    return replace(said, left=[*said.left, *gaps]) if left else said


def _gaps_in(tree: Tree, start: int, end: int) -> range:
    """The gaps of the tokens in a stretch of the text, the one before them included."""
    return range(bisect_left(tree.token_start, start), bisect_left(tree.token_start, end))


def _to_leave(text: Text, fault: Fault, left: Sequence[tuple[int, int]]) -> tuple[int, int] | None:
    """The smallest item around a place that is to stay as it is, since it would be read otherwise.

    left: those that stay already. None where a language leaves nothing, or this would lead nowhere.
    """
    said = text.language.facts.preprocessed
    if said is None or LINES not in said.readings or len(left) >= MOST_LEFT:
        return None
    offset = text.source.offset(Position(fault.line, fault.column))
    found = [
        (item.start, item.end)
        for body in reversed(text.parsed.bodies(offset, offset, text.language.body_kinds))
        for item in body.items
        if item.start <= offset < item.end
    ]
    # What the grammar does not see stands in no item: its line.
    data = text.source.data
    found.append((
        data.rfind(b"\n", 0, offset) + 1, (data.find(b"\n", offset) + 1 or len(data) + 1) - 1
    ))
    return next(
        ((start, end) for start, end in found if not any(a <= start and end <= b for a, b in left)),
        None,
    )


def _refused(text: Text, unsafe: UnsafeResult) -> StiloError:
    """Why a text cannot be laid out: it may be due to what cannot be read."""
    if not text.parsed.unread:
        return unsafe
    place = text.source.position(text.parsed.unread[0][0])
    message = "syntax error: cannot be read, and how the rest is read depends on it; the file is left as it was"
    return SyntaxFault(Fault(text.source.name, *place, message))


def _unread(text: Text, left: Sequence[tuple[int, int]]) -> tuple[Unread, ...]:
    """The lines that stay as they are. left: those that would be read otherwise."""
    source = text.source
    said = [
        *((stretch, "cannot be read") for stretch in text.parsed.unread),
        *((stretch, "would be read otherwise") for stretch in left),
    ]
    return tuple(
        Unread(source.position(start), source.position(end - 1).line, why)
        for (start, end), why in sorted(said)
    )


def _views(text: Text) -> Sequence[Text]:
    """The views of a text, the further ones without what has no say in the layout of what is taken from them."""
    found, language = text.views, text.language
    if len(found) == 1 or MARK in text.source.data:  # what a comment says may hold to the end of the text
        return found
    trees = [view.tree for view in found]
    less = thinned(
        trees, language.branch_kind, language.line_kinds, language.body_kinds, language.comments
    )
    return [replace(view, known=tree) for view, tree in zip(found, less)]


def _put_together(text: Text, layouts: Sequence[_Layout]) -> tuple[_Layout, list[View]]:
    """The layouts of all views of a text as one, and the further views."""
    first, *others = layouts
    if not others:
        return first, []
    kind = text.language.branch_kind
    trees = [layout.plan.tree for layout in layouts]
    rendered, *further = filled(trees, [layout.rendered for layout in layouts], kind)
    views = [
        View(layout.plan, layout.fitted, text_of, taken)
        for layout, text_of, taken in zip(others, further, stretches(trees, kind))
    ]
    touched = first.touched
    if touched is not None:
        tree = first.plan.tree
        changed = [t for t in tree.tokens_of({kind}) if rendered.tokens[t] != tree.texts[t]]
        touched = sorted({*touched, *changed})
    return first._replace(rendered=rendered, touched=touched), views


def _with_safe_indents(
    language: Language, values: Mapping[str, Value], measures: Measures, said: Directives
) -> Mapping[str, Value]:
    """The same values, but no tabs where margins of tabs and spaces would not begin alike."""
    if not language.facts.margins_matter or values["indent-with"] != "tabs":
        return values
    steps = {measures.indent, *(region.measures.indent for region in said.regions)}
    is_uneven = any(step % int(values["tab-width"]) for step in steps)
    return {**values, "indent-with": "spaces"} if is_uneven else values


def _margins_of_rest(
    language: Language,
    planned: Plan,
    fitted: Fitted,
    kept: Kept,
    touched: Sequence[int] | None,
    values: Mapping[str, Value],
) -> Mapping[Block, Margin]:
    """The margins of blocks of which a part stays as it is."""
    staying = kept.gaps
    if not language.facts.margins_matter:
        # What a directive leaves need not stand where the rest of its block does.
        everything = range(len(planned.space))
        staying = set(everything).difference(everything if touched is None else touched)
    return find_margins(
        planned,
        fitted,
        staying,
        int(values["tab-width"]),
        partial(margin_of, tab=tab_columns(values)),
    )


def _with_comments(kept: Kept, text: Text, planned: Plan, values: Mapping[str, Value]) -> Kept:
    """The same, and the comments that stay as they are for what they say."""
    pattern, texts = text.language.facts.first_lines, planned.tree.texts
    head = 0
    for number, token in enumerate(planned.comments[:MOST_HEAD]):
        if token != number:  # code stands before it
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
    opened: Set[int] = frozenset(),
) -> tuple[Directives, Plan]:
    """What the directives of a text say, and its plan.

    is_part: the tree is to be the same whatever the margins of its blocks, which are `margins` where
    they keep their own. opened: see `plan`.
    """
    language = text.language
    room = 0 if is_part else _spared_columns(language, values)
    keeps = language.keeps_brackets(values)
    tree = language.bracketed(text.tree, room, keeps)
    said = read_directives(tree, text.source, language, values)
    if room and (said.left or any(map(language.opens_what_fits, said.values))):
        return _planned(text, values, measures, True, margins, opened)
    rows = language.rows(values, *said.values)
    punctuation, bound = language.kinds.punctuation, language.bound(values)
    planned = plan(tree, rows, punctuation, measures, said.regions, margins, bound, opened)
    if planned.lacking:
        tree = language.with_lacking(tree, planned.lacking, room, keeps)
        said = read_directives(tree, text.source, language, values)
        planned = plan(tree, rows, punctuation, measures, said.regions, margins, bound, opened)
    return said, planned


def _spared_columns(language: Language, values: Mapping[str, Value]) -> int:
    """On lines of up to how many columns values need not be thought of as in brackets that come and go.

    It makes no difference to the result but that the tree is smaller, so none where the check is by the
    tree itself, where a selector may look at it otherwise, or where what fits may be opened.
    """
    is_safe = language.support.check is not None and not language.wanted.fields
    return int(values["width"]) if is_safe and not language.opens_what_fits(values) else 0


# Writing


def _write(document: Document, text: Text, layout: _Layout, values: Mapping[str, Value]) -> Checked:
    """The bytes of a result, which are checked as they are.

    text: that of the document, or the same with its imports in order.
    """
    read, source, language = document.source, text.source, text.language
    if layout.touched is None:
        written = layout.rendered.text()
        data = _finish(source, written, line_end(read, values), str(values["charset"]))
    else:
        eol = b"\r\n" if source.has_crlf else b"\n"
        edits = edits_of(source, layout.plan, layout.rendered, eol, layout.touched)
        data = apply_edits(source.raw, edits)
    part = None if document.parsed is None else text.parsed
    return check(language, read, source, layout.plan, layout.rendered, data, part)


def _finish(source: Source, text: bytes, eol: bytes, charset: str) -> bytes:
    """A text in the source's encoding, with its line ends and its byte-order mark."""
    if source.raw in (b"", OTHER_CHARSETS.get(source.charset, BOM)):
        return source.raw
    text = with_line_ends(text, eol)
    if source.charset != "utf-8":
        mark = OTHER_CHARSETS[source.charset] if source.has_bom else b""
        return mark + source.encode(text)
    wants_bom = charset == "utf-8-bom" or (charset == "keep" and source.has_bom)
    return BOM + text if wants_bom else text
