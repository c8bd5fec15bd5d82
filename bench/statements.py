"""Print statements, lists or heads that do not fit, chosen at random, as they are laid out: to be read.

    python bench/statements.py FOLDER … --language java --seed 7 --count 100 [--lists | --heads] [--set width=100]

A statement counts that stands on more than one line of the result though no body in it does, and with `--lists` a
list in brackets that does; with `--heads` what comes before the first body of a statement, if it is longer than a
line. No more than two of a file, and nothing of more than 30 lines.
"""

from __future__ import annotations

import argparse
import random
import sys
from collections.abc import Iterator
from pathlib import Path

import stilo
from corpus import files_of
from stilo.language import Language
from stilo.source import Source
from stilo.tree.flat import Tree

#: The most lines of what is shown.
MOST_LINES = 30


def found_in(language: Language, text: bytes, lists: bool) -> Iterator[str]:
    """The statements of a text, or its lists, that stand on more than one line."""
    tree = language.read(text).tree
    pairs = {opening.encode(): end.encode() for opening, end in language.facts.pairs.items()}
    for node in range(1, len(tree.kind)):
        if tree.last_token.get(node) is None or tree.kind[node] in language.comments:
            continue
        first, last = tree.first(node), tree.last(node)
        is_in_brackets = pairs.get(tree.texts[first]) == tree.texts[last]
        is_statement = tree.kind[tree.parent[node]] in language.body_kinds
        is_list = is_in_brackets and tree.kind[node] not in language.body_kinds
        if not (is_list if lists else is_statement):
            continue
        start, end = tree.extent(node)
        rows = text.count(b"\n", start, end) + 1
        is_whole = not any(_is_body(language, tree, token) for token in range(first + 1, last))
        if 1 < rows <= MOST_LINES and is_whole and first != last:
            line = text.rfind(b"\n", 0, start) + 1
            yield text[line:end].decode()


def heads_in(language: Language, text: bytes, width: int) -> Iterator[str]:
    """What comes before the first body of each statement of a text, where it is longer than a line."""
    tree = language.read(text).tree
    for node in range(1, len(tree.kind)):
        if (
            tree.kind[tree.parent[node]] not in language.body_kinds
            or tree.last_token.get(node) is None
        ):
            continue
        first, last = tree.first(node), tree.last(node)
        body = next((t for t in range(first + 1, last) if _is_body(language, tree, t)), None)
        if body is None:
            continue
        begin, end = tree.token_start[first], tree.token_end[body]
        if (
            text.count(b"\n", begin, end) < MOST_LINES
            and len(b" ".join(text[begin:end].split())) > width
        ):
            yield text[text.rfind(b"\n", 0, begin) + 1 : end].decode()


def _is_body(language: Language, tree: Tree, token: int) -> bool:
    """Whether a body with lines of its own begins at a token."""
    node = tree.gap_right(token)
    while tree.kind[node] not in language.body_kinds and tree.last_token.get(node) is not None:
        node += 1
    begin, end = tree.extent(node)
    has_lines = tree.begins_line(token) or b"\n" in tree.data[begin:end]
    return tree.kind[node] in language.body_kinds and has_lines


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path, nargs="+")
    parser.add_argument("--language", default="python")
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--count", type=int, default=100)
    what = parser.add_mutually_exclusive_group()
    what.add_argument("--lists", action="store_true")
    what.add_argument("--heads", action="store_true")
    parser.add_argument("--set", action="append", default=[], metavar="NAME=VALUE")
    arguments = parser.parse_args()
    language = stilo.load_language(arguments.language)
    chance = random.Random(arguments.seed)
    paths = files_of(arguments.folder, language.facts.globs)
    chance.shuffle(paths)
    style = dict(item.split("=", 1) for item in arguments.set)
    shown = 0
    for path in paths:
        try:
            result = stilo.reformat(path.read_bytes(), language, style, name=str(path))
            text = Source.from_bytes(result.data, str(path)).data
            if arguments.heads:
                found = list(heads_in(language, text, int(result.values["width"])))
            else:
                found = list(found_in(language, text, arguments.lists))
        except stilo.StiloError:
            continue
        for statement in chance.sample(found, min(2, len(found))):
            shown += 1
            print(f"--- {shown}: {path.name}\n{statement}")
            if shown == arguments.count:
                return 0
    return 0


if __name__ == "__main__":
    sys.exit(main())
