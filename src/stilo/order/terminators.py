"""The sign at the end of a statement that may be left out where a line ends: written, or taken out where it is safe.

What becomes of it is decided before anything is laid out: the text is read again with the signs added and taken, and
must have the same tree but for them. A sign goes only where the statement stands in a body with a line for each, and
what follows it does not go on with it.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import NamedTuple

from stilo.edits import Edit
from stilo.layout.gaps import Rows
from stilo.layout.match import match
from stilo.order.passes import Ordered, rewritten
from stilo.order.text import Text
from stilo.sheet.properties import Value
from stilo.source import LineRange
from stilo.support import Form
from stilo.tree.flat import Tree


class _Ending(NamedTuple):
    """How a statement is to end: by which token it does, whether that is its sign, and what asks for another end."""

    token: int
    sign: bytes
    is_written: bool
    setting: str


def put_terminators(
    text: Text,
    values: Mapping[str, Value],
    lines: Sequence[LineRange] | None,
    left: Sequence[range],
) -> Ordered | None:
    """The text with the signs at the ends of its statements as a style asks for; None if that changes nothing.

    lines: only statements that reach into these. left: runs of gaps that stay as they are. Raises UnsafeResult.
    """
    language = text.language
    if language.facts.goes_on is None or not language.may_end(values):
        return None
    tree = text.tree
    endings = _endings(text, language.rows(values), lines, left)
    forms = []
    for ending in sorted(endings):
        start, end = tree.token_start[ending.token], tree.token_end[ending.token]
        shown = ending.sign.decode()
        if ending.is_written:
            edit = Edit(start, end, b"" if _ends_line(text, ending.token) else b"\n")
            message = f'"{shown}" not wanted at the end of a line'
        else:
            edit = Edit(end, end, ending.sign)
            message = f'"{shown}" wanted at the end of the statement'
        at = start if ending.is_written else max(start, end - 1)
        forms.append(Form(at, (edit,), message, ending.setting))
    signs = {ending.sign for ending in endings}
    return rewritten(
        text,
        forms,
        "terminator",
        "other ends of statements",
        lambda new: _without(new.tree, signs) == _without(tree, signs),
    )


def _endings(
    text: Text, rows: Rows, lines: Sequence[LineRange] | None, left: Sequence[range]
) -> set[_Ending]:
    """The ends of statements that are to be others."""
    tree, source = text.tree, text.source
    row = match(tree, rows, ()).row
    comments = text.language.comments
    is_comment = [tree.kind[leaf] in comments for leaf in tree.token_node]
    stay = {token for gaps in left for token in gaps}
    found = set()
    for node, number in enumerate(row):
        style = rows.style[number]
        sign, mode = str(style["terminator"].value), str(style["terminated"].value)
        if sign == "none" or mode == "keep":
            continue
        first, last = tree.first(node), tree.last(node)
        while is_comment[last]:
            last -= 1
        if stay and (first in stay or last in stay):
            continue
        if lines is not None:
            begin = source.position(tree.token_start[first]).line
            end = source.position(tree.token_end[last]).line
            if not any(begin <= b and a <= end for a, b in lines):
                continue
        wanted = sign.encode()
        at = _written(tree, node, last, wanted)
        setting = style["terminated"].setting
        if mode == "sign" and at < 0:
            found.add(_Ending(last, wanted, False, setting))
        elif mode == "line" and at >= 0 and _is_needless(text, row, rows, is_comment, node, at):
            found.add(_Ending(at, wanted, True, setting))
    return found


def _ends_line(text: Text, token: int) -> bool:
    """Whether a line or a body ends after a token."""
    tree, comments = text.tree, text.language.comments
    following = token + 1
    while following < len(tree.texts) and b"\n" not in tree.between(following):
        if tree.texts[following] == b"}":
            return True
        if tree.kind[tree.token_node[following]] not in comments:
            return False
        following += 1
    return True


def _written(tree: Tree, node: int, last: int, sign: bytes) -> int:
    """The token that ends a node with its sign, in the node or right behind it; -1 if there is none."""
    if tree.texts[last] == sign:
        return last
    following = last + 1
    if following < len(tree.texts) and tree.texts[following] == sign:
        if tree.parent[tree.token_node[following]] == tree.parent[node]:
            return following
    return -1


def _is_needless(
    text: Text, row: Sequence[int], rows: Rows, is_comment: Sequence[bool], node: int, at: int
) -> bool:
    """Whether a statement ends without its sign, too, once a line ends there."""
    tree, goes_on = text.tree, text.language.facts.goes_on
    assert goes_on is not None
    if at == tree.first(node) or goes_on.open_end.fullmatch(tree.texts[at - 1]):
        return False
    following = at + 1
    while following < len(tree.texts) and is_comment[following]:
        following += 1
    if following == len(tree.texts):
        return True
    if tree.texts[following] == b"}":
        return True
    if tree.texts[following] == tree.texts[at]:  # a statement that is nothing else
        return False
    around = tree.parent[node]
    while around >= 0 and rows.style[row[around]]["wrap"].value != "stack-always":
        if tree.last(around) > at:  # something stands behind it there
            return False
        around = tree.parent[around]
    if around < 0 or tree.parent[tree.gap_right(following)] != around:
        return False
    start = tree.token_start[following]
    return goes_on.begins.match(tree.data[start : start + 200]) is None


def _without(tree: Tree, signs: set[bytes]) -> tuple[list[bytes], list[int]]:
    """The tokens of a tree and the kinds of its nodes, but for such signs."""
    gone = {leaf for leaf, text in zip(tree.token_node, tree.texts) if text in signs}
    texts = [text for text in tree.texts if text not in signs]
    return texts, [kind for node, kind in enumerate(tree.kind) if node not in gone]
