"""Print statements that do not fit, chosen at random, as they are laid out: to be read.

    python bench/python_statements.py FOLDER [FOLDER …] --seed 7 --count 100 [--set width=100]

A statement counts that stands on more than one line of the result though no body or text in it does.
"""

from __future__ import annotations

import argparse
import ast
import random
import sys
import warnings
from collections.abc import Iterator
from pathlib import Path

import stilo
from corpus import files_of


def statements(text: str) -> Iterator[str]:
    """The statements on more than one line, headers of bodies without these."""
    lines = text.split("\n")
    for node in ast.walk(ast.parse(text)):
        if not isinstance(node, ast.stmt):
            continue
        body = getattr(node, "body", None)
        last = body[0].lineno - 1 if body else node.end_lineno or 0
        first = node.lineno
        has_long_text = (
            not body
            and any(
                isinstance(part, ast.Constant) and part.end_lineno != part.lineno
                for part in ast.walk(node)
            )
        )
        while body and last > first and not lines[last - 1].rstrip().endswith(":"):
            last -= 1
        if last > first and not has_long_text:
            yield "\n".join(lines[first - 1 : last])


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path, nargs="+")
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--count", type=int, default=100)
    parser.add_argument("--set", action="append", default=[], metavar="NAME=VALUE")
    arguments = parser.parse_args()
    warnings.simplefilter("ignore")
    chance = random.Random(arguments.seed)
    paths = files_of(arguments.folder, ["*.py"])
    chance.shuffle(paths)
    style = dict(item.split("=", 1) for item in arguments.set)
    shown = 0
    for path in paths:
        try:
            result = stilo.reformat(path.read_bytes(), "python", style, name=str(path))
        except stilo.StiloError:
            continue
        found = list(statements(result.text))
        for statement in chance.sample(found, min(2, len(found))):
            shown += 1
            print(f"--- {shown}: {path.name}\n{statement}")
            if shown == arguments.count:
                return 0
    return 0


if __name__ == "__main__":
    sys.exit(main())
