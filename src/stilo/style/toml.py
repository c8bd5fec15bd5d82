"""TOML (toml.io) with places: values by the standard library, positions by the grammar."""

from __future__ import annotations

import re
import tomllib
from collections.abc import Iterator
from typing import TYPE_CHECKING, Any

from stilo.errors import ConfigError, Fault
from stilo.source import Position

if TYPE_CHECKING:
    import tree_sitter

_WITH_KEYS = ("table", "table_array_element", "pair", "inline_table")

#: How deep tables and lists may be nested.
MOST_DEEP = 50
#: A key as the words on the way to it, such as ("arguments", "wrap").
Path = tuple[str, ...]


def read_toml(text: str, name: str) -> dict[str, Any]:
    """The document as nested dicts. Raises ConfigError with the place of what is no TOML."""
    try:
        document = tomllib.loads(text)
        _see_depth(document)
        return document
    except RecursionError as error:
        raise ConfigError([
            Fault(name, 1, 1, "not TOML that can be read: nested too deep"),
        ]) from error
    except tomllib.TOMLDecodeError as error:
        message = str(error)
        found = re.search(r" \(at line (\d+), column (\d+)\)$", message)
        line, column = (int(found[1]), int(found[2])) if found else (text.count("\n") + 1, 1)
        message = re.sub(r" \(at .*\)$", "", message)
        fault = Fault(name, line, column, f"not TOML: {message[:1].lower()}{message[1:]}")
        raise ConfigError([fault]) from error
    except ValueError as error:  # a number of thousands of digits
        raise ConfigError([
            Fault(name, 1, 1, "not TOML that can be read: a number is too long"),
        ]) from error


def _see_depth(document: dict[str, Any]) -> None:
    """Raises RecursionError where tables or lists are nested deeper than any file of settings needs."""
    level: list[Any] = [document]
    for _ in range(MOST_DEEP):
        level = [
            inner
            for value in level
            for inner in (value.values() if isinstance(value, dict) else value)
            if isinstance(inner, (dict, list))
        ]
    if level:
        raise RecursionError


def key_places(text: str) -> dict[Path, Position]:
    """Where each key, and each table's name, is first written. The text must be TOML."""
    data = text.encode()
    places: dict[Path, Position] = {}

    def note(path: Path, node: tree_sitter.Node) -> None:
        line, column = node.start_point
        start = data.rfind(b"\n", 0, node.start_byte) + 1
        characters = len(data[start : start + column].decode("utf-8", "replace"))
        for length in range(1, len(path) + 1):
            places.setdefault(path[:length], Position(line + 1, characters + 1))

    stack: list[tuple[tree_sitter.Node, Path]] = [(_root(text), ())]
    while stack:
        node, path = stack.pop()
        key = next((c for c in node.named_children if c.type.endswith("_key")), None)
        if key is not None:
            path = (*path, *_words(key))
            note(path, key)
        stack += [(c, path) for c in reversed(node.named_children) if c.type in _WITH_KEYS]
    return places


def last_line(text: str, table: Path) -> int | None:
    """The number of the line (from 1) in which a table's last key ends, or its head.

    Of the document itself 0 if it has no key before its first table. None if there is no such table.
    """
    found = None if table else 0
    for node in _root(text).named_children:
        if node.type == "table":
            inner = [child for child in node.named_children if child.type == "pair"]
            key = next(c for c in node.named_children if c.type.endswith("_key"))
            if tuple(_words(key)) == table:
                found = (inner[-1].end_point[0] if inner else node.start_point[0]) + 1
        elif node.type == "pair" and not table:
            found = node.end_point[0] + 1
    return found


def _root(text: str) -> tree_sitter.Node:
    import tree_sitter
    from stilo.installed import import_installed

    grammar = import_installed("tree_sitter_toml").language()
    parser = tree_sitter.Parser(tree_sitter.Language(grammar))
    return parser.parse(text.encode()).root_node


def _words(key: Any) -> Iterator[str]:
    if key.type == "dotted_key":
        for part in key.named_children:
            yield from _words(part)
    else:
        text = key.text.decode()
        yield str(tomllib.loads(f"k = {text}")["k"]) if key.type == "quoted_key" else text
