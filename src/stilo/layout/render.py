"""From decided gaps to text: line ends, indents, blank lines, comments moved along."""

from __future__ import annotations

import re
from bisect import bisect_left, bisect_right
from collections.abc import Callable, Iterator, Mapping, Sequence, Set
from dataclasses import replace
from functools import cached_property, partial

from stilo.layout.aligned import reach, set_in_columns
from stilo.layout.comments import is_directive
from stilo.layout.directives import respaced
from stilo.layout.edits import EditKind, TokenEdit
from stilo.layout.filled import fill, justify, shorten
from stilo.layout.fit import Fitted
from stilo.layout.gaps import MID, OPEN
from stilo.layout.kept import NOTHING_KEPT, Kept
from stilo.layout.measures import AUTHOR_TAB
from stilo.layout.optional_brackets import settle_brackets
from stilo.layout.plan import Margin, Plan
from stilo.layout.prose import rewrap
from stilo.layout.spelling import marks_beside, respell
from stilo.layout.trailing import settle_tails
from stilo.records import dataclass
from stilo.sheet.properties import Value
from stilo.tree.flat import Tree
from stilo.width import display_width

#: Columns that a tab takes in texts whose lines follow the first.
FOLLOWED_TAB = 4
# A further line of a comment that begins with a star.
_STARRED = re.compile(rb"\n[ \t]*\*")
# The margin of the second line of a comment, if two stars begin it.
_TWO_STARS = re.compile(rb"[^\n]*\n([ \t]*)\*\*")
# A line without text, with the line end before it.
_BLANK_LINE = re.compile(rb"\n[ \t\r\f\v]*\n")


@dataclass(frozen=True)
class Rendered:
    """The result as pieces: the white space before each token and each token's text.

    `gaps` has one piece more than `tokens`: what ends the text. edits: all changes of tokens, in order.
    aligned: tokens that a column has, so that the spaces before them follow from other lines. kept: what
    is as it is in the source.
    """

    gaps: list[bytes]
    tokens: list[bytes]
    edits: Sequence[TokenEdit] = ()
    aligned: Set[int] = frozenset()
    kept: Kept = NOTHING_KEPT

    def has(self, kind: EditKind) -> bool:
        """Whether some edit is of a kind."""
        return any(edit.kind is kind for edit in self.edits)

    @cached_property
    def changes_code(self) -> bool:
        """Whether something that is no white space came, went or is spelt otherwise."""
        return any(edit.kind.changes_code for edit in self.edits)

    @cached_property
    def gone(self) -> frozenset[int]:
        """The tokens of code of which nothing is left."""
        return frozenset(e.token for e in self.edits if e.kind.changes_code and e.is_gone)

    def edited(self, texts: Sequence[bytes]) -> list[bytes]:
        """The tokens of the source, with all edits of code."""
        edited = list(texts)
        for edit in self.edits:
            if edit.kind.changes_code:
                edited[edit.token] = edit.after
        return edited

    def text(self) -> bytes:
        """The whole text, with `\\n` as line end."""
        return self._text

    @cached_property
    def _text(self) -> bytes:
        pieces = [b""] * (len(self.gaps) + len(self.tokens))
        pieces[::2] = self.gaps
        pieces[1::2] = self.tokens
        return b"".join(pieces)


def render(
    plan: Plan,
    fitted: Fitted,
    values: Mapping[str, Value],
    keeps_end: bool = False,
    kept: Kept = NOTHING_KEPT,
) -> Rendered:
    """Write each gap and token out.

    keeps_end: an idle sign at the end of the text stays. kept: what is written as it is in the source.
    """
    rendered = _laid_out(plan, fitted, values, keeps_end, kept)
    return _with_kept(plan, fitted, values, rendered, kept) if kept else rendered


def _laid_out(
    plan: Plan, fitted: Fitted, values: Mapping[str, Value], keeps_end: bool, kept: Kept
) -> Rendered:
    tokens = list(plan.tree.texts)
    if not tokens:
        return Rendered([b""], [])
    width, tab = int(values["width"]), int(values["tab-width"])
    margins = Margins(fitted, tab_columns(values))
    gaps = _decided_gaps(plan, fitted, margins, int(values["comment-distance"]))
    edits = respell(plan, tokens)
    edits += settle_tails(plan, fitted, gaps, tokens)
    edits += settle_brackets(plan, fitted, gaps, tokens)
    edits += _without_idle(plan, fitted, gaps, tokens, keeps_end, kept)
    fillers = shorten(plan, tokens) if plan.rows.has_fills else {}
    aligned = set_in_columns(plan, fitted, gaps, tokens, width, tab, kept)
    if plan.rows.has_fills:
        edits += fill(plan, gaps, tokens, fillers, aligned, kept.tokens)
        justify(plan, gaps, aligned)
    if plan.rows.has_directive_columns:
        edits += respaced(plan, fitted, gaps, tokens, width, tab)
    edits += _move_comments(plan, margins, gaps, tokens, values)
    if plan.rows.has_inner_lines:
        edits += _align_texts(plan, margins, gaps, tokens, kept)
    if prose := int(values["comment-columns"]):
        edits += rewrap(plan, fitted, gaps, tokens, prose, kept, margins.text)
    has_end = bool(tokens) and tokens[-1].endswith(b"\n")  # which belongs to the last token
    gaps.append(b"\n" if values["final-newline"] == "yes" and not has_end else b"")
    return Rendered(gaps, tokens, edits, aligned)


def _decided_gaps(
    plan: Plan, fitted: Fitted, margins: Margins, comment_distance: int
) -> list[bytes]:
    """What stands in each gap by the plan and the line ends that were found."""
    tree, tab = plan.tree, margins.tab
    blanks = (b"", b" ")
    gaps = list(map(blanks.__getitem__, plan.space))
    distance = b" " * comment_distance
    for token in plan.trailing:
        if token not in fitted.breaks and not tree.between(token).count(b"\n"):
            gaps[token] = distance
    if fitted.margins:
        for token, column in fitted.breaks.items():
            gaps[token] = b"\n" + margins.text(token, column)
    else:
        line_of = {column: b"\n" + margin_of(column, tab) for column in set(fitted.breaks.values())}
        for token, column in fitted.breaks.items():
            gaps[token] = line_of[column]
    for token in _on_brace_lines(plan, fitted):
        begin, column = fitted.breaks[token - 1], fitted.breaks[token]
        blanks_before = column - begin - display_width(tree.texts[token - 1].decode())
        if blanks_before > 0:
            is_stop = tab and column % tab == 0 and blanks_before < tab
            gaps[token] = b"\t" if is_stop else b" " * blanks_before
    for token, lines in _blank_lines(plan).items():
        if token in fitted.breaks:
            gaps[token] = b"\n" * lines + gaps[token]
    if b"\f" in tree.data:
        _keep_pages(plan, gaps)
    return gaps


def _without_idle(
    plan: Plan, fitted: Fitted, gaps: list[bytes], tokens: list[bytes], keeps_end: bool, kept: Kept
) -> list[TokenEdit]:
    """Take out the signs that do nothing at the end of a line, such as a semicolon."""
    tree, edits = plan.tree, list[TokenEdit]()
    for token in plan.idle:
        following = token + 1
        while following in plan.trailing:
            following += 1
        if following in kept.gaps:
            is_idle = b"\n" in tree.between(following)
        else:
            is_idle = following in fitted.breaks
        if is_idle or (following == len(tokens) and not keeps_end):
            declared = plan.rows.style[plan.row[tree.token_node[token]]]["idle"]
            edits.append(TokenEdit(token, EditKind.IDLE, tokens[token], b"", declared))
            tokens[token] = gaps[token] = b""
    return edits


def _move_comments(
    plan: Plan,
    margins: Margins,
    gaps: list[bytes],
    tokens: list[bytes],
    values: Mapping[str, Value],
) -> list[TokenEdit]:
    """Move the further lines of comments along with the first, and take spaces off their ends."""
    edits = list[TokenEdit]()
    trims = values["trim-comments"] == "yes"
    for token in plan.comments:
        text = moved = tokens[token]
        if is_directive(plan, token):
            continue
        if b"\n" in text:
            line, column = margins.line(token)
            stars = 0 if _has_stars_below(plan.tree, token) else 1
            if token in plan.trailing:
                beside = column + reach(tokens, gaps, line, token) + len(gaps[token])
                column = beside if _is_room(text, beside, values, stars) else column
            moved = _move_comment(text, column, partial(margins.text, token), values, stars)
            moved = moved if trims else _with_blanks(moved, text)
        elif trims and text[-1:].isspace():
            moved = text.rstrip()
        if moved != text:
            edits.append(
                TokenEdit(token, EditKind.COMMENT, text, moved, _reason_to_move(text, moved))
            )
            tokens[token] = moved
    return edits


def shifted(plan: Plan, rendered: Rendered, values: Mapping[str, Value], column: int) -> bytes:
    """The whole text with each line further in that begins in no token, or in one that moves along."""
    rows, leaves, comments = plan.rows, plan.tree.token_node, plan.comment_set
    start = margin_of(column, tab_columns(values))

    def moved(text: bytes) -> bytes:
        first, *lines = text.split(b"\n")
        return b"\n".join([first, *(start + line if line.strip() else line for line in lines)])

    pieces = [start if rendered.tokens else b""]
    for token, (gap, text) in enumerate(zip(rendered.gaps, rendered.tokens)):
        lines, end, margin = gap.rpartition(b"\n")
        pieces.append(lines + end + start + margin if end else gap)
        goes_along = token in comments or rows.inner_lines[plan.row[leaves[token]]] != "keep"
        pieces.append(moved(text) if goes_along else text)
    return b"".join([*pieces, rendered.gaps[-1]])


def _reason_to_move(text: bytes, moved: bytes) -> str:
    """The setting by which lines of a comment move, or lose spaces at their ends."""
    return "trim-comments" if text.split() == moved.split() and b"\n" not in text else "indent"


def _with_kept(
    plan: Plan, fitted: Fitted, values: Mapping[str, Value], rendered: Rendered, kept: Kept
) -> Rendered:
    """The same, with what stays as it is in the source."""
    if plan.rows.has_spelling:
        kept = replace(kept, tokens=kept.tokens | marks_beside(plan, kept.tokens))
    gaps, tokens = list(rendered.gaps), list(rendered.tokens)
    for token in kept.gaps:
        gaps[token] = plan.tree.between(token)
    for run in kept.moved:
        if run.start not in kept.gaps:
            _move_along(plan, fitted, values, gaps, run)
    for token in kept.tokens:
        if token < len(tokens):
            tokens[token] = plan.tree.source_text(token)
    return replace(
        rendered,
        gaps=gaps,
        tokens=tokens,
        kept=kept,
        aligned=rendered.aligned - kept.gaps,
        edits=[edit for edit in rendered.edits if edit.token not in kept.tokens],
    )


def _move_along(
    plan: Plan, fitted: Fitted, values: Mapping[str, Value], gaps: list[bytes], run: range
) -> None:
    """Set the further lines of a statement, in place, as far in from its first as they were."""
    width = int(values["tab-width"])
    margins = Margins(fitted, tab_columns(values))

    def column(margin: bytes) -> int:
        return len(margin.expandtabs(width))

    begin = plan.tree.between(run.start).rpartition(b"\n")[2]
    further = fitted.breaks.get(run.start, 0) - column(begin)
    for token in run[1:] if further else ():
        lines, end, margin = gaps[token].rpartition(b"\n")
        if end:
            at = max(0, column(margin) + further)
            gaps[token] = lines + end + margins.text(run.start, at)


def tab_columns(values: Mapping[str, Value]) -> int:
    """Columns that a tab takes in indents, or 0 where they are made of spaces."""
    return int(values["tab-width"]) if values["indent-with"] == "tabs" else 0


class Margins:
    """The white space that lines begin with."""

    def __init__(self, fitted: Fitted, tab: int) -> None:
        self.tab = tab
        self._fitted = fitted
        self._lines = sorted({*fitted.cuts, *fitted.margins})

    def text(self, token: int, column: int) -> bytes:
        """What the line of a token begins with, or one below it, if that is at a column."""
        if not self._fitted.margins:
            return margin_of(column, self.tab)
        at = bisect_right(self._lines, token) - 1
        kept = self._fitted.margins.get(self._lines[at]) if at >= 0 else None
        root = None if kept is None else self._root(kept)
        if root is None or root.text == margin_of(root.column, self.tab) or column < root.column:
            return margin_of(column, self.tab)
        return self._below(root, column)

    def _root(self, margin: Margin) -> Margin:
        """The outermost margin that, with what the style puts after it, makes this one."""
        found, around = margin, margin.around
        while around is not None:
            if margin.column >= around.column and margin.text == self._below(around, margin.column):
                found = around
            around = around.around
        return found

    def _below(self, margin: Margin, column: int) -> bytes:
        """A margin, and what leads from there to a column: tabs as far as they go, then spaces."""
        tabs = column // self.tab - margin.column // self.tab if self.tab else 0
        spaces = column % self.tab if tabs else column - margin.column
        return margin.text + b"\t" * tabs + b" " * spaces

    def column(self, token: int) -> int:
        """The column at which the line of a token begins."""
        return self.line(token)[1]

    def line(self, token: int) -> tuple[int, int]:
        """The token that begins the line of another, and at which column."""
        breaks = self._fitted.breaks
        while token and token not in breaks:
            token -= 1
        return token, breaks.get(token, 0)


def _keep_pages(plan: Plan, gaps: list[bytes]) -> None:
    """Leave the form feeds that part a file into pages: each on a blank line."""
    for token in range(1, len(gaps)):
        if b"\f" in plan.tree.between(token) and b"\n" in gaps[token]:
            is_blank = gaps[token].count(b"\n") > 1
            gaps[token] = b"\n\f" + gaps[token][1 if is_blank else 0:]


def _on_brace_lines(plan: Plan, fitted: Fitted) -> list[int]:
    """First items that stand beside the delimiter before them, which begins a line."""
    if not plan.rows.has_brace_lines:
        return []
    comments = plan.comment_set
    return [
        group.gaps[0]
        for group in plan.groups
        if group.style["open"].value == "brace-line"
            and not group.hanging
            and group.parts[0] == OPEN
            and group.gaps[0] in fitted.breaks
            and group.gaps[0] - 1 in fitted.breaks
            and comments.isdisjoint((group.gaps[0] - 1, group.gaps[0]))
    ]


def _blank_lines(plan: Plan) -> dict[int, int]:
    """How many blank lines stand before each token that has some."""
    tree, asked = plan.tree, plan.blanks
    starts, ends, texts = tree.token_start, tree.token_end, tree.data
    there: set[int] = set()  # tokens after blank lines in the source
    for found in _BLANK_LINE.finditer(tree.data):
        token = bisect_left(starts, found.end())
        if token and token < len(starts) and ends[token - 1] <= found.start():
            there.add(token)
    lines: dict[int, int] = {}
    wanted = there.union(asked)
    for group in plan.groups:
        if wanted.isdisjoint(group.gaps):
            continue
        allowed = int(group.style["blank-most"].value)
        keeps_edges = group.style["blank-edges"].value == "keep"
        for token, part in zip(group.gaps, group.parts):
            if token in wanted and (keeps_edges or part == MID):
                found_here = texts.count(b"\n", ends[token - 1], starts[token]) - 1
                least = asked.get(token, 0) if part == MID else 0
                lines[token] = max(least, min(found_here, allowed))
    for token in there.difference(lines):
        allowed = int(plan.style(plan.code_from(token))["blank-kept"].value)
        if allowed:
            lines[token] = min(texts.count(b"\n", ends[token - 1], starts[token]) - 1, allowed)
    return lines


def _has_stars_below(tree: Tree, token: int) -> bool:
    """Whether the lines of a comment begin with two stars that stand below the two signs it begins with."""
    found = _TWO_STARS.match(tree.source_text(token))
    if found is None:
        return False
    return len(found[1].expandtabs(AUTHOR_TAB)) == tree.column(token, AUTHOR_TAB)


def _move_comment(
    text: bytes,
    column: int,
    margin: Callable[[int], bytes],
    values: Mapping[str, Value],
    stars: int,
) -> bytes:
    """Set the further lines of a block comment to where the comment now stands.

    column: at which its line begins. margin: what lines begin with, by their column. stars: how many columns further in
    the stars stand at the begins of lines.

    Where most begin with a star, the stars are set under the first, and other lines keep their distance
    from the first of these; else the lines keep their places among themselves and the leftmost is set to
    stand three columns in from the comment's own, and the end of it one. Where the end has a line of its own that
    begins where the leftmost does, or more than two columns before it, it is set under the begin.
    """
    first, *rest = [line.rstrip() for line in text.split(b"\n")]
    starred = len(_STARRED.findall(text))
    if starred == len(rest):
        start = b"\n" + margin(column + stars)
        return first + b"".join([start + line.lstrip() for line in rest])
    width = int(values["tab-width"])
    expanded = [_with_plain_margin(line, width) for line in rest]
    if 2 * starred > sum(map(bool, rest)):
        return b"\n".join([first, *_under_stars(expanded, column + stars, margin)])
    last = expanded[-1].lstrip()
    inner = [line for line in expanded[:-1] if line]
    closes_alone = last.strip(b"*-=/") == b"" and bool(inner)
    if not closes_alone and last:
        inner.append(expanded[-1])
    least = min((len(line) - len(line.lstrip()) for line in inner), default=0)
    inward, closing = 3, 1
    if closes_alone:
        apart = least - (len(expanded[-1]) - len(last))
        if apart == 0 or apart > 2:  # its author set the end of it under its begin
            inward, closing = apart, 0
    moved = []
    for line in expanded:
        body = line.lstrip()
        depth = len(line) - len(body) - least
        moved.append(margin(column + inward + depth) + body if body else b"")
    if closes_alone:
        moved[-1] = margin(column + closing) + last
    return b"\n".join([first, *moved])


def _is_room(text: bytes, column: int, values: Mapping[str, Value], stars: int) -> bool:
    """Whether the further lines of a comment fit below it, where it begins at a column."""
    width = int(values["width"])
    lines = _move_comment(text, column, lambda at: b" " * at, values, stars).split(b"\n")
    return all(display_width(line.decode()) <= width for line in lines[1:])


def _with_plain_margin(line: bytes, tab: int) -> bytes:
    """A line with spaces in place of the tabs that it begins with."""
    body = line.lstrip(b" \t")
    return b" " * len(line[:len(line) - len(body)].expandtabs(tab)) + body


def _under_stars(
    lines: list[bytes], column: int, margin: Callable[[int], bytes]
) -> Iterator[bytes]:
    """Lines of a comment, their stars at a column; those without one as far from it as from the first."""
    home = next(len(line) - len(line.lstrip()) for line in lines if line.lstrip()[:1] == b"*")
    for line in lines:
        body = line.lstrip()
        away = 0 if body[:1] == b"*" else len(line) - len(body) - home
        yield margin(max(0, column + away)) + body if body else b""


def _align_texts(
    plan: Plan, margins: Margins, gaps: list[bytes], tokens: list[bytes], kept: Kept
) -> list[TokenEdit]:
    """Move the further lines of texts along with them, in place. Returns the edits."""
    rows, row, leaf = plan.rows, plan.row, plan.tree.token_node
    edits: list[TokenEdit] = []
    for token in plan.opaque:
        how = rows.inner_lines[row[leaf[token]]]
        is_moved = b"\n" in tokens[token] or how == "follow" and tokens[token][:1].isspace()
        if how == "keep" or token in kept.tokens or not is_moved:
            continue
        begin, column = margins.line(token)
        if how == "align":
            text = _moved_text(tokens[token], margins.text(token, column))
        else:
            if begin != token:
                column += reach(tokens, gaps, begin, token) + len(gaps[token])
            before = plan.tree.column(token, FOLLOWED_TAB)
            text = _following_text(tokens[token], before, column)
            if how == "further":
                margin = b"\n" + b" " * (column + FOLLOWED_TAB)
                text = margin.join(line.lstrip(b" \t") for line in tokens[token].split(b"\n"))
        if text != tokens[token]:
            declared = rows.style[row[leaf[token]]]["inner-lines"]
            edits.append(TokenEdit(token, EditKind.LINES, tokens[token], text, declared))
            tokens[token] = text
    return edits


def _following_text(text: bytes, before: int, after: int) -> bytes:
    """A text with its further lines as far from its first as they were, which began at a column, and begins
    at another. Those that stood further out begin where the first does."""
    if before == after:
        return text
    first, *rest = text.split(b"\n")
    # What begins with white space does so by as many columns as a tab takes, which are a margin of all lines.
    further = FOLLOWED_TAB if first[:1].isspace() else 0
    moved = [_past_columns(b" " * before + first, before, further)]
    for line in rest:
        line = _past_columns(line, before, further)
        moved.append(b" " * after + line if line else b"")
    return b"\n".join(moved)


def _past_columns(line: bytes, column: int, further: int) -> bytes:
    """A line without the white space before a column, and with so many columns more as spaces."""
    width = len(line[:len(line) - len(line.lstrip())].expandtabs(FOLLOWED_TAB))
    kept = max(0, min(width - column, further))
    return b" " * kept + past_column(line, column + kept)


def past_column(line: bytes, column: int) -> bytes:
    """A line without the white space before a column; what a tab takes past it is spaces."""
    at = reached = 0
    while reached < column and line[at : at + 1] in (b" ", b"\t"):
        tab = FOLLOWED_TAB - reached % FOLLOWED_TAB
        reached += tab if line[at : at + 1] == b"\t" else 1
        at += 1
    return b" " * (reached - column) + line[at:]


def _moved_text(text: bytes, margin: bytes) -> bytes:
    """A text with its further lines set so that the leftmost stands at the margin.

    As PEP 257 reads such texts: tabs take eight columns, blank lines and what stands before the
    closing quotes alone have no say.
    """
    first, *rest = text.split(b"\n")
    last = rest[-1].lstrip()
    closes_alone = last in (b'"""', b"'''")
    bodies = [line.lstrip(b" \t") for line in rest]
    indents = [len(l[:len(l) - len(b)].expandtabs(8)) for l, b in zip(rest, bodies)]
    said = zip(indents[:-1], bodies[:-1]) if closes_alone else zip(indents, bodies)
    least = min((indent for indent, body in said if body), default=-1)
    if least < 0:  # nothing but the closing quotes, whose place then is part of the text
        return text
    moved = [
        margin + b" " * (indent - least) + body if body or indent > least else b""
        for indent, body in zip(indents, bodies)
    ]
    if closes_alone:
        moved[-1] = margin + b" " * max(0, indents[-1] - least) + last
    return b"\n".join([first, *moved])


def _with_blanks(moved: bytes, text: bytes) -> bytes:
    """A comment with the spaces at the ends of its lines that it had."""
    ends = [line[len(line.rstrip()):] for line in text.split(b"\n")]
    return b"\n".join([line + end for line, end in zip(moved.split(b"\n"), ends)])


def margin_of(column: int, tab: int) -> bytes:
    """What a line begins with that is so many columns in. tab: columns that a tab takes; 0: no tabs."""
    return b"\t" * (column // tab) + b" " * (column % tab) if tab else b" " * column
