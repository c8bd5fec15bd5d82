"""The check of every result before it is handed out.

The result is parsed again; its tree must have the same shape and kinds, and
each node must begin and end at the very tokens that were written for it.
Comments are compared by their text, white space at the edges of their lines
left out.
"""

from __future__ import annotations

from itertools import accumulate, chain
from operator import add

import tree_sitter

from stilo.errors import Fault, UnsafeResult
from stilo.layout.render import Rendered
from stilo.source import Source
from stilo.tree.flat import Tree
from stilo.tree.grammar import Grammar, flatten, outline


def verify(
    grammar: Grammar,
    source: Source,
    tree: Tree,
    rendered: Rendered,
    text: bytes,
    comments: list[int],
    whole: frozenset[int],
) -> None:
    """Compare a result with the tree it was made from. Raises UnsafeResult with the place.

    What is compared: the parse of the result has no error; its tree has the same shape, node for
    node, tokens included; every token starts where it was written; each comment has its text.
    """
    data = text if text.endswith(b"\n") else text + b"\n"
    parsed = grammar.parse(data)
    opaque = whole | grammar.plain
    written = _starts(rendered)
    if (
        not parsed.root_node.has_error
        and all(_same_comment(tree.token_text(t), rendered.tokens[t]) for t in comments)
    ):
        shape, starts = outline(parsed, opaque)
        if shape == tree.shape and (starts == written or _without_empty(parsed, opaque, written)):
            return
    raise UnsafeResult(_difference(source, tree, flatten(parsed, opaque), written))


def _without_empty(parsed: tree_sitter.Tree, opaque: frozenset[int], written: list[int]) -> bool:
    """The same comparison for trees with leaves without text, which are no tokens."""
    return flatten(parsed, opaque).token_start == written


def _starts(rendered: Rendered) -> list[int]:
    """Where each token starts in the result."""
    lengths = map(len, rendered.tokens)
    return list(accumulate(map(add, map(len, rendered.gaps), chain((0,), lengths))))[:-1]


def _same_comment(before: bytes, after: bytes) -> bool:
    if before == after:
        return True
    return [line.strip() for line in before.split(b"\n")] == [
        line.strip() for line in after.split(b"\n")
    ]


def _difference(source: Source, tree: Tree, again: Tree, written: list[int]) -> Fault:
    """The first token that would not survive, as a fault of the source."""
    token = 0
    for token, start in enumerate(written):
        if (
            token >= len(again.token_start)
            or again.token_start[token] != start
            or again.kind[again.token_node[token]] != tree.kind[tree.token_node[token]]
        ):
            break
    line, column = source.position(tree.token_start[token] if tree.token_start else 0)
    shown = tree.token_text(token).decode("utf-8", "replace")[:40] if tree.token_start else ""
    return Fault(
        source.name,
        line,
        column,
        f"the result would read differently from {shown!r} on; the file is left as it was "
        "(a fault of the sheet or of Stilo: please report it)",
    )
