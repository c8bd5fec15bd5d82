"""The check of every result before it is handed out.

Its text must be the same but for white space and for the separators after last
items that the style edits. Comments are compared line by line, white space at
the edges of their lines left out. Then either its tokens are found by a reader
other than the grammar, where the sheet has one (and that one sees the source as
the grammar does); or the result is parsed again, and its tree must have the very
same shape, tokens included.
"""

from __future__ import annotations

import re
from bisect import bisect_left, bisect_right
from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING, TypeVar

from stilo.edits import difference
from stilo.errors import Fault, SyntaxFault, UnsafeResult
from stilo.layout.comments import is_directive
from stilo.layout.directives import same_directive
from stilo.layout.edits import EditKind
from stilo.layout.kept import statement_starts
from stilo.layout.plan import Plan
from stilo.layout.render import Rendered
from stilo.readers.padding import line_ends
from stilo.source import Source
from stilo.tree.flat import BLANKS, Tree
from stilo.tree.kinds import Kinds

if TYPE_CHECKING:
    from stilo.language import Language
    from stilo.readers import Parsed

Answer = TypeVar("Answer")


def compare(
    language: Language,
    source: Source,
    plan: Plan,
    rendered: Rendered,
    data: bytes,
    text: bytes,
    part: Parsed | None = None,
) -> None:
    """Compare a result with the tree it was made from. Raises UnsafeResult with the place.

    data: all bytes of the result; text: the same as Stilo reads them. part: the source as it was read as a part of
    another one, if it was: its result is read so, too. What is compared: no character
    but white space (and edited separators) came, went or moved; each comment has its lines; and the
    sheet's own pattern finds the very same tokens, or the parse of the result has no error and its tree
    the same shape, node for node, every token with its kind. (White space within other tokens is copied
    with them.) A language's own check takes the place of these two. Raises SyntaxFault where that one
    cannot read the source.
    """
    reads_alike, tokens, tree = language.support.check, language.facts.tokens, plan.tree
    is_edited = rendered.changes_code or language.edits_tokens
    is_wrapped = rendered.has(EditKind.WRAP)
    is_same_text = is_wrapped or _same_text(language, plan, rendered, text, is_edited)
    is_known = False
    if is_same_text and not is_wrapped and not is_edited:
        _see_tokens(language, source, tree, text)
    if tokens is not None and not (is_edited or is_wrapped):
        is_known = tokens.findall(tree.data) == tree.texts
        if is_known and is_same_text and tokens.findall(text) == rendered.tokens:
            return
    is_checked = False
    if reads_alike is not None and is_same_text:
        before, after = (source.raw, data) if source.charset == "utf-8" else (tree.data, text)
        wrong = reading(source, partial(reads_alike, before, after, rendered.has(EditKind.LINES)))
        if wrong:
            if language.is_ours:  # no rule of ours joins lines that have to stay apart
                _see_lines(language, source, plan)
            raise UnsafeResult(_fault_at(source, tree, _token_at(rendered, wrong)))
        if not is_wrapped:
            return
        is_checked = True
    alike = part and part.edited_alike(text, [difference(tree.data, text)])
    parsed = alike or language.read(text)
    may_be_same = is_same_text and not is_known and (is_checked or reads_alike is None)
    if may_be_same and not parsed.has_error:
        if is_wrapped:
            again = language.bracketed(parsed.tree)
            is_same = _same_beside_prose(language.kinds, plan, rendered, again, is_checked)
        elif language.edits_tokens:
            again = language.bracketed(parsed.tree)
            gone = {tree.token_node[t] for t in rendered.gone if t not in plan.own_signs}
            wanted = [kind for node, kind in enumerate(tree.kind) if node not in gone]
            is_same = (
                _without_tails(again.kind, language.kinds, plan)
                == _without_tails(wanted, language.kinds, plan)
            )
        elif is_edited:
            shape = parsed.shape(tree.inner)
            is_same = (
                _without_tails(shape, language.kinds, plan)
                == _without_tails(tree.shape, language.kinds, plan)
            )
        else:
            is_same = parsed.same_as(tree)
        if is_same and (not tree.has_prose or tree.spaced == parsed.tree.spaced):
            return
    again = language.bracketed(parsed.tree)
    raise UnsafeResult(_difference(source, tree, again, rendered))


def reading(source: Source, answer: Callable[[], Answer]) -> Answer:
    """What a language's own reader answers. Raises SyntaxFault where it cannot read the source."""
    try:
        return answer()
    except SyntaxError as error:
        message = f"syntax error: {error.msg}; the file is left as it was"
        place = (source.name, error.lineno or 1, max(1, error.offset or 1))
        raise SyntaxFault(Fault(*place, message)) from error


def see_spelling(language: Language, source: Source, tree: Tree) -> None:
    """Raises SyntaxFault if characters written by their numbers make other tokens than the grammar saw."""
    spelt_out = language.support.spelt_out
    if spelt_out is None or (plain := spelt_out(tree.data)) == tree.data:
        return
    spelt = list(map(spelt_out, tree.texts))
    changed = [token for token, text in enumerate(spelt) if text != tree.texts[token]]
    kinds = {tree.kind[tree.token_node[token]] for token in changed}
    if kinds <= language.comments and all(_is_one_token(language, spelt[t]) for t in changed):
        return
    parsed = language.read(plain)
    found = [] if parsed.has_error else language.bracketed(parsed.tree).texts
    for token in range(len(spelt)):
        if token >= len(found) or found[token] != spelt[token]:
            place = source.position(tree.token_start[token])
            message = (
                "a character written by its number makes other tokens here than the grammar reads; "
                "write it as itself; the file is left as it was"
            )
            raise SyntaxFault(Fault(source.name, *place, message))


def _is_one_token(language: Language, text: bytes) -> bool:
    """Whether a text is one token, read by itself."""
    parsed = language.read(text + b"\n")
    return not parsed.has_error and parsed.tree.texts == [text]


def see_words(language: Language, source: Source, tree: Tree) -> None:
    """Raises SyntaxFault if the reader took a comment for a part of a token of several words."""
    for offset in tree.misread[:1]:
        token = bisect_left(tree.token_start, offset)
        name = language.kinds.worded[tree.kind[tree.token_node[token]]].decode()
        message = (
            f"{language.reader.name} takes a comment for a part of \"{name}\" here; "
            "the file is left as it was"
        )
        raise SyntaxFault(Fault(source.name, *source.position(offset), message))


def see_ends(language: Language, source: Source, tree: Tree) -> None:
    """Raises SyntaxFault if the grammar goes on with a statement on the line after a word that ends it there."""
    words, kinds = language.facts.ends_at_line, language.kinds
    for token in [token for token, text in enumerate(tree.texts) if text in words] if words else ():
        leaf = tree.token_node[token]
        last = tree.last(tree.parent[leaf])
        if tree.kind[leaf] not in kinds.signs or tree.first(tree.parent[leaf]) != token:
            continue
        following = token + 1
        while following <= last and tree.kind[tree.token_node[following]] in language.comments:
            following += 1
        is_closed = following == last and tree.kind[tree.token_node[last]] in kinds.signs
        if following > last or is_closed:
            continue
        if b"\n" in tree.data[tree.token_end[token]:tree.token_start[following]]:
            place = source.position(tree.token_start[following])
            raise SyntaxFault(Fault(source.name, *place, _MISREAD.format(language.reader.name)))


#: Where a line begins that is no part of the one before.
_MISREAD = (
    "{} takes this line for a part of the one before, which it is not; the file is left as it was"
)


def _see_lines(language: Language, source: Source, plan: Plan) -> None:
    """Raises SyntaxFault if the grammar took a line for a part of the one before that is none."""
    facts, reader = language.facts, language.reader.name
    if facts.free_lines is None:
        return
    tree = plan.tree
    starts = statement_starts(plan)
    if facts.joins is not None:
        for token in sorted(starts):
            if facts.joins[0].search(tree.between(token)):
                place = source.position(tree.token_start[token])
                message = (
                    f"{reader} takes the indent of this joined line for another; "
                    "the file is left as it was"
                )
                raise SyntaxFault(Fault(source.name, *place, message))
    ends = line_ends(tree.data, facts.free_lines)
    for token in range(1, len(tree.token_start)):
        if token in starts or token in plan.comment_set or not tree.texts[token]:
            continue
        at = bisect_left(ends, tree.token_end[token - 1])
        if at < len(ends) and ends[at] < tree.token_start[token]:
            place = source.position(tree.token_start[token])
            raise SyntaxFault(Fault(source.name, *place, _MISREAD.format(reader)))


def _same_text(
    language: Language, plan: Plan, rendered: Rendered, text: bytes, is_edited: bool
) -> bool:
    """Whether the text is the same but for white space, and each comment has its lines."""
    tree = plan.tree
    solid = (
        b"".join(rendered.edited(tree.texts)).translate(None, BLANKS) if is_edited else tree.solid
    )
    is_same = text.translate(None, BLANKS) == solid
    written = b"" if is_same else rendered.text()
    joins = language.facts.joins
    if not is_same and joins is not None and text.rstrip(b"\n") == written.rstrip(b"\n"):
        # What is left as it is may join lines, also between the words of a token.
        gaps = joins[0].sub(b"", b"".join(rendered.gaps))
        tokens = list(rendered.tokens)
        for token, leaf in enumerate(tree.token_node if tree.is_evened else ()):
            if tree.kind[leaf] in language.kinds.worded:
                tokens[token] = joins[0].sub(b"", tokens[token])
        is_same = not gaps.strip(BLANKS) and b"".join(tokens).translate(None, BLANKS) == solid
    with_sign = {
        edit.token
        for edit in rendered.edits
        if edit.kind is EditKind.SEPARATOR and edit.after.startswith(edit.before)
    }
    return (
        is_same
        and all(
            _same_comment(plan, t, tree.token_text(t), rendered.tokens[t])
            for t in plan.comments
            if t not in with_sign and tree.kind[tree.token_node[t]] != language.branch_kind
        )
    )


def _see_tokens(language: Language, source: Source, tree: Tree, text: bytes) -> None:
    """Raises UnsafeResult if a compiler would part a text otherwise than its source."""
    lexical = language.facts.lexical
    if lexical is None:
        return
    if _tokens_of(lexical, tree.data) == (now := _tokens_of(lexical, text)):
        return
    wanted = [found for found in lexical.finditer(tree.data) if found[1]]
    at = next((n for n, (a, b) in enumerate(zip(wanted, now)) if a[1] != b), len(now))
    offset = wanted[at].start() if at < len(wanted) else 0
    token = max(0, bisect_right(tree.token_start, offset) - 1)
    raise UnsafeResult(_fault_at(source, tree, token))


def _tokens_of(lexical: re.Pattern[bytes], text: bytes) -> list[bytes]:
    """The tokens in a text, comments left out."""
    found = lexical.findall(text)
    if lexical.groups > 1:
        found = [groups[0] for groups in found]
    return [token for token in found if token]


def _same_beside_prose(
    kinds: Kinds, plan: Plan, rendered: Rendered, again: Tree, is_checked: bool
) -> bool:
    """Whether code and comments are the same, each by itself, where comments were wrapped.

    The code must have the same text, and the same shape once comments are left out, unless the
    language's own check has seen to that; the comments the same signs, once their marks are.
    """
    tree = plan.tree
    comments = plan.rows.comments

    def parts(of: Tree, texts: list[bytes]) -> tuple[bytes, bytes, list[int]]:
        is_comment = [of.kind[node] in comments for node in of.token_node]
        code = b"".join(t for t, is_said in zip(texts, is_comment) if not is_said)
        said = [t for t, is_said in zip(texts, is_comment) if is_said]
        shape = [] if is_checked else [kind for kind in of.shape if kind not in comments]
        return (
            code.translate(None, BLANKS),
            _signs(said, rendered),
            _without_tails(shape, kinds, plan),
        )

    return parts(tree, rendered.edited(tree.texts)) == parts(again, again.texts)


def _signs(comments: list[bytes], rendered: Rendered) -> bytes:
    """All that comments say, without white space and the signs of their marks."""
    marks = b"".join({edit.mark for edit in rendered.edits})
    return b"".join(comments).translate(None, BLANKS + marks)


def _without_tails(shape: list[int], known: Kinds, plan: Plan) -> list[int]:
    """A shape without the separators that nothing but comments part from a closing delimiter."""
    kinds, leaf = plan.tree.kind, plan.tree.token_node
    signs = {kind for tail in plan.tails.values() for kind in known.signs_of(tail.sign.decode())}
    signs |= {kinds[leaf[token]] for token in plan.spare}
    closers = {kinds[leaf[closing]] for closing in (*plan.tails, *plan.spare.values())}
    comments = plan.rows.comments
    spare: list[int] = []
    for sign in signs:
        at = -1
        while (at := _index(shape, sign, at + 1)) >= 0:
            after = at + 1
            while after < len(shape) and shape[after] in comments:
                after += 1
            if after < len(shape) and shape[after] in closers:
                spare.append(at)
    kept, at = list[int](), 0
    for place in sorted(spare):
        kept += shape[at:place]
        at = place + 1
    return kept + shape[at:]


def _index(shape: list[int], kind: int, start: int) -> int:
    """Where a kind stands next in a shape; -1: nowhere."""
    try:
        return shape.index(kind, start)
    except ValueError:
        return -1


def _same_comment(plan: Plan, token: int, before: bytes, after: bytes) -> bool:
    if before == after:
        return True
    if is_directive(plan, token):
        sign = str(plan.rows.style[plan.row[plan.tree.token_node[token]]]["line-join"].value)
        return same_directive(before, after, b"" if sign == "none" else sign.encode())
    return (
        [line.strip() for line in before.split(b"\n")]
        == [line.strip() for line in after.split(b"\n")]
    )


def _difference(source: Source, tree: Tree, again: Tree, rendered: Rendered) -> Fault:
    """The first token that would not survive, or else the last, as a fault of the source."""
    found = [(text, again.kind[leaf]) for text, leaf in zip(again.texts, again.token_node) if text]
    signs = {
        edit.token: edit.after[len(edit.before):]
        for edit in rendered.edits
        if edit.kind in (EditKind.SEPARATOR, EditKind.BRACKET)
    }
    token = at = 0
    for token, text in enumerate(rendered.tokens):
        if not text:
            continue
        sign = signs.get(token, b"")
        wanted = text.removesuffix(sign) or sign
        kind = tree.kind[tree.token_node[token]]
        if at >= len(found) or found[at] != (wanted, kind):
            break
        at += 2 if sign and sign != text else 1
    return _fault_at(source, tree, token)


def _token_at(rendered: Rendered, line: int) -> int:
    """The first token at or after the begin of a line of the result."""
    at = 1
    for token, (gap, text) in enumerate(zip(rendered.gaps, rendered.tokens)):
        at += gap.count(b"\n")
        if text and at >= line:
            return token
        at += text.count(b"\n")
    return max(0, len(rendered.tokens) - 1)


def _fault_at(source: Source, tree: Tree, token: int) -> Fault:
    line, column = source.position(tree.token_start[token] if tree.token_start else 0)
    shown = tree.token_text(token).decode("utf-8", "replace")[:40] if tree.token_start else ""
    return Fault(
        source.name,
        line,
        column,
        f"the result would read differently from {shown!r} on; the file is left as it was "
        "(a fault of the sheet or of Stilo: please report it)",
    )
