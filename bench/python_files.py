"""Count over Python files: syntax trees equal, comments kept, settled, no avoidable overflow.

    python bench/python_files.py FOLDER [FOLDER …] --set width=100

Files that Python itself cannot parse are skipped; every other file that is not laid out is named.
"""

from __future__ import annotations

import argparse
import ast
import io
import sys
import tokenize
import warnings
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from pathlib import Path

from wcwidth import wcswidth

import stilo
from corpus import check, files_of


def shape(data: bytes, cleans: bool) -> str:
    """The syntax tree as text, without places; names are deleted alike with brackets or without.

    cleans: docstrings count for what `inspect.cleandoc` makes of them.
    """
    tree = ast.parse(data)
    for node in ast.walk(tree):
        if isinstance(node, (ast.Module, ast.ClassDef, ast.FunctionDef, ast.AsyncFunctionDef)):
            doc = ast.get_docstring(node, clean=True) if cleans else None
            if doc is not None:
                node.body[0] = ast.Expr(ast.Constant(doc))
        if isinstance(node, ast.Delete) and len(node.targets) == 1:
            node.targets = getattr(node.targets[0], "elts", node.targets)
    return ast.dump(tree)


def comments(data: bytes) -> list[str]:
    """All comments, in order."""
    tokens = tokenize.tokenize(io.BytesIO(data).readline)
    return [token.string.rstrip() for token in tokens if token.type == tokenize.COMMENT]


def closed_brackets(data: bytes, width: int) -> list[int]:
    """Lines past the width, as `tokenize` sees them, with a bracket that might be opened there.

    Independent of what Stilo knows of sequences: a pair with something in it, on one line that is too
    long without its comment, and so far in that a new line after the first would be shorter.
    """
    found: list[int] = []
    lines = data.decode("utf-8-sig").split("\n")
    if max(map(len, lines)) <= width:
        return found
    ends: Counter[int] = Counter()
    opened: list[tokenize.TokenInfo] = []
    pairs: list[tuple[int, int]] = []
    passed = (tokenize.COMMENT, tokenize.NEWLINE, tokenize.NL)
    before = None
    for token in tokenize.tokenize(io.BytesIO(data).readline):
        if token.type not in passed:
            ends[token.end[0]] = max(ends[token.end[0]], token.end[1])
        if token.type == tokenize.OP and token.string in "([{":
            opened.append(token)
        elif token.type == tokenize.OP and token.string in ")]}":
            opening = opened.pop()
            if opening.start[0] == token.start[0] and opening is not before:
                pairs.append(opening.start)
        before = token
    for number, column in pairs:
        indent = len(lines[number - 1]) - len(lines[number - 1].lstrip())
        code = lines[number - 1][:ends[number]]
        if wcswidth(code) > width and column > indent + 8:
            found.append(number)
    return found


def check_python(
    path: Path, settings: dict[str, str], tries: int
) -> tuple[Counter[str], list[str]]:
    """What is to be counted of a file, and its failures."""
    warnings.simplefilter("ignore")
    data = path.read_bytes()
    cleans = settings.get("docstrings") == "align"
    try:
        before = shape(data, cleans)
    except (SyntaxError, ValueError, RecursionError):
        return Counter(skipped=1), []
    styles = stilo.Styles(settings, "default", "python")
    count, failures = check(path, styles, tries)
    if count["refused"] or count["not parsed"]:
        return count, failures
    result = stilo.reformat_styled(data, styles.of(path), name=str(path))
    try:
        if shape(result.data, cleans) == before:
            count["trees equal"] += 1
        else:
            failures.append(f"tree differs: {path}")
    except SyntaxError as error:
        failures.append(f"no longer Python: {path}:{error.lineno}")
    brackets = closed_brackets(result.data, int(result.values["width"]))
    if brackets and settings.get("value-brackets") != "keep":
        failures.append(f"brackets might be opened: {path}: {brackets[:5]}")
    if comments(result.data) == comments(data):
        count["comments kept"] += 1
    else:
        failures.append(f"comments differ: {path}")
    return count, failures


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path, nargs="+")
    parser.add_argument("--limit", type=int, default=10 ** 9)
    parser.add_argument("--tries", type=int, default=3)
    parser.add_argument("--set", action="append", default=[], metavar="NAME=VALUE")
    arguments = parser.parse_args()
    settings = dict(item.split("=", 1) for item in arguments.set)
    paths = files_of(arguments.folder, ["*.py"])[:arguments.limit]
    count: Counter[str] = Counter()
    clean = True
    with ProcessPoolExecutor() as pool:
        job = partial(check_python, settings=settings, tries=arguments.tries)
        for counted, failures in pool.map(job, paths, chunksize=4):
            count += counted
            for failure in failures:
                clean = False
                print(failure, flush=True)
    print(", ".join(f"{name}: {number}" for name, number in count.items()))
    return 0 if clean else 1


if __name__ == "__main__":
    sys.exit(main())
