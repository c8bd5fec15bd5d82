"""The check of every result before it is handed out.

The result is parsed again; its tree must have the very same shape, tokens
included, and its text must be the same but for white space. Comments are
compared line by line, white space at the edges of their lines left out.
"""

from __future__ import annotations

from stilo.errors import Fault, UnsafeResult
from stilo.layout.render import Rendered
from stilo.source import Source
from stilo.tree.flat import BLANKS, Tree
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
    node, every token with its kind; no character but white space came, went or moved; each
    comment has its lines. (White space within other tokens is copied with them.)
    """
    data = text if text.endswith(b"\n") else text + b"\n"
    parsed = grammar.parse(data)
    opaque = whole | grammar.plain
    if (
        not parsed.root_node.has_error
        and text.translate(None, BLANKS) == source.data.translate(None, BLANKS)
        and all(_same_comment(tree.token_text(t), rendered.tokens[t]) for t in comments)
        and outline(parsed, opaque) == tree.shape
    ):
        return
    raise UnsafeResult(_difference(source, tree, flatten(parsed, opaque, data), rendered))


def _same_comment(before: bytes, after: bytes) -> bool:
    if before == after:
        return True
    return [line.strip() for line in before.split(b"\n")] == [
        line.strip() for line in after.split(b"\n")
    ]


def _difference(source: Source, tree: Tree, again: Tree, rendered: Rendered) -> Fault:
    """The first token that would not survive, as a fault of the source."""
    token = 0
    for token, text in enumerate(rendered.tokens):
        if (
            token >= len(again.token_start)
            or again.texts[token] != text
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
