"""Where a parse failed, what seems to be missing there, and what it would close."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

import tree_sitter

from stilo.errors import Fault
from stilo.source import Source


def locate_fault(
    root: tree_sitter.Node,
    source: Source,
    pairs: Mapping[str, str],
    misread: tree_sitter.Node | None = None,
) -> Fault:
    """Where the parse first failed, what seems to be missing, and what it would close.

    misread: what was read as something else, if nothing failed.
    """
    node = misread or _first_error(root)
    offset = node.start_byte
    unbalanced = None if misread else _unbalanced(root, pairs)
    if node.is_missing:
        name = node.type if node.is_named else f'"{node.type}"'
        message = f"{name} is missing"
        opener = _opener_before(node, pairs)
        if opener is not None:
            message += f", to close {_at(opener, source)}"
    elif unbalanced is not None:
        opener, offset, found = unbalanced
        if opener is None:
            message = f'"{found}" closes nothing that is open'
        else:
            message = (
                f'"{pairs[opener.type]}" seems to be missing before {found}, '
                f"to close {_at(opener, source)}"
            )
    else:
        message = f"{_first_word(node, source)} is not expected here"
    line, column = source.position(offset)
    return Fault(source.name, line, column, f"syntax error: {message}; the file is left as it was")


def _at(token: tree_sitter.Node, source: Source) -> str:
    line, column = source.position(token.start_byte)
    return f'"{token.type}" of {line}:{column}'


def _first_error(root: tree_sitter.Node) -> tree_sitter.Node:
    """The first node that is an error or was made up by the parser."""
    node = root
    while True:
        inner = next((c for c in node.children if c.is_error or c.is_missing or c.has_error), None)
        if node.is_error and (inner is None or not inner.is_missing):
            return node
        if inner is None or inner.is_missing:
            return inner or node
        node = inner


def _leaves(root: tree_sitter.Node) -> Iterable[tree_sitter.Node]:
    stack = [root]
    while stack:
        node = stack.pop()
        if node.child_count:
            stack.extend(reversed(node.children))
        else:
            yield node


def _unbalanced(
    root: tree_sitter.Node, pairs: Mapping[str, str]
) -> tuple[tree_sitter.Node | None, int, str] | None:
    """The first delimiter that is not paired: (what was left open, or None; where; found there)."""
    closers = set(pairs.values())
    stack: list[tree_sitter.Node] = []
    end = 0
    for leaf in _leaves(root):
        if leaf.is_missing:
            continue
        end = leaf.end_byte
        if leaf.is_named:
            continue
        if leaf.type in pairs:
            stack.append(leaf)
        elif leaf.type in closers:
            if stack and pairs[stack[-1].type] == leaf.type:
                stack.pop()
            elif any(pairs[opener.type] == leaf.type for opener in stack):
                return stack[-1], leaf.start_byte, f'"{leaf.type}"'
            else:
                return None, leaf.start_byte, leaf.type
    return (stack[-1], end, "the end of the file") if stack else None


def _opener_before(node: tree_sitter.Node, pairs: Mapping[str, str]) -> tree_sitter.Node | None:
    opener = next((o for o, c in pairs.items() if c == node.type), None)
    sibling = node.prev_sibling
    while opener is not None and sibling is not None:
        if sibling.type == opener:
            return sibling
        sibling = sibling.prev_sibling
    return None


def _first_word(node: tree_sitter.Node, source: Source) -> str:
    words = source.data[node.start_byte:node.end_byte].decode("utf-8", "replace").split()
    if not words:
        return "the end of the file"
    word = words[0][:40]
    return word if word[0] in "\"'`" else f'"{word}"'
