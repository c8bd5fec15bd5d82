"""Lay out parts of real files by chance, and count: the same program, the same outside, settled.

    python bench/ranges.py FOLDER [FOLDER …] --language python --jobs 2000 [--seed 1] [--set NAME=VALUE]
        [--typescript DIR]

A job is a file, at its own indent or laid out at another first, and one of: a range of lines; several;
lines that were changed (some white space in them is); or a directive that leaves an item. The program is
compared by `programs.py`, without Stilo. Outside is every line that no statement asked for stands on: for
Python told by its own syntax tree, elsewhere by the statements of Stilo's own result. JavaScript and TypeScript are
read by the npm package `typescript`, which has to be told.
"""

from __future__ import annotations

import argparse
import ast
import random
import sys
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from functools import lru_cache, partial
from pathlib import Path

import stilo
from corpus import files_of
from fuzz import moved_lines
from programs import difference, is_valid, start_compiler
from scripts import NAMES

#: Styles that a file is laid out by first, so that its indent is another than the default.
OTHERS: tuple[dict[str, str], ...] = (
    {"indent": "2"},
    {"indent-with": "tabs", "indent": "4", "tab-width": "4"},
    {"indent": "3"},
    {"indent": "8"},
)
LEAVE = {
    "python": "# stilo: leave",
    "java": "// stilo: leave",
    "toml": "# stilo: leave",
    **dict.fromkeys(NAMES, "// stilo: leave"),
}


@lru_cache(maxsize=8)
def text_of(path: Path, language: str, other: int) -> bytes | None:
    """A file, at its own indent or another; None if it is no use."""
    data = path.read_bytes()
    if not data.strip() or len(data) > 400_000 or not is_valid(language, data):
        return None
    if other >= 0:
        try:
            data = stilo.reformat(data, language, OTHERS[other]).data
        except stilo.StiloError:
            return None
    return data


def job(number: int, paths: list[Path], language: str, seed: int, style: dict[str, str]) -> str:
    """Do one job: a word for the count; what failed begins with a capital."""
    chance = random.Random(seed * 10 ** 9 + number)
    # Jobs that follow each other share a file, which need be read only once.
    shared = random.Random(seed * 10 ** 9 + number // 8)
    path = shared.choice(paths)
    data = text_of(path, language, shared.randrange(-2, len(OTHERS)))
    if data is None:
        return "no use"
    rows = data.splitlines(keepends=True)
    kind = chance.choice(["range", "range", "ranges", "hunks", "leave"])
    if kind == "leave" and language not in LEAVE:
        kind = "range"
    lines: list[tuple[int, int]] | None = []
    left: list[bytes] = []
    for _ in range(chance.randint(2, 6) if kind in ("ranges", "hunks") else 1):
        first = chance.randint(1, len(rows))
        lines.append((first, min(len(rows), first + chance.choice([0, 0, 1, 3, 10, 40]))))
    lines.sort()
    if kind == "hunks":
        for first, last in lines:
            for at in range(first - 1, last):
                rows[at] = rows[at].replace(b" = ", b"  =  ").replace(b", ", b",")
        data = b"".join(rows)
        if not is_valid(language, data):
            return "no use"
    if kind == "leave":
        at = lines[0][0] - 1
        margin = rows[at][:len(rows[at]) - len(rows[at].lstrip())]
        rows.insert(at, margin + LEAVE[language].encode() + b"\n")
        data, lines = b"".join(rows), None
        if not is_valid(language, data):
            return "no use"
    try:
        result = stilo.reformat(data, language, style, lines=lines, name=str(path))
    except stilo.DirectiveError:
        return "no use"
    except stilo.StiloError as error:
        return f"REFUSED {kind}: {error}"
    wrong = difference(language, data, result.data)
    if wrong:
        return f"OTHER PROGRAM {kind} {lines}: {path}: {wrong}"
    if lines is not None and (line := outside(result, language, lines)):
        return f"OUTSIDE {kind} {lines}: {path}:{line}"
    if kind == "leave":
        left = [data[start:end] for start, end in left_items(result)]
        if any(item not in result.data for item in left):
            return f"LEFT ITEM CHANGED: {path} line {at + 1}"
    again = stilo.reformat(
        result.data,
        language,
        style,
        lines=None if lines is None else [moved_lines(result, some) for some in lines],
    )
    if again.data != result.data:
        return f"UNSETTLED {kind} {lines}: {path}"
    return f"{kind}: same program, same outside, settled"


def left_items(result: stilo.Result) -> list[tuple[int, int]]:
    """Where what a directive leaves stands in the source."""
    tree, source = result._plan.tree, result.source
    return [
        (
            source.original(tree.token_start[run.start - 1 if run.start else 0]),
            source.original(tree.token_end[run.stop - 1]),
        )
        for run in result.directives.left
        if run.start < run.stop
    ]


def outside(result: stilo.Result, language: str, lines: list[tuple[int, int]]) -> int:
    """The first line that was changed though no statement asked for stands on it, or 0."""
    source = result.source
    asked: set[int] = set()
    for first, last in lines:
        asked.update(range(first, last + 1))
    asked = python_lines(source.data, asked) if language == "python" else own_lines(result, asked)
    for edit in result.edits:
        # White space before a statement belongs to it: blank lines, and the end of the line above.
        text = source.raw[edit.start:edit.end]
        first = source.raw.count(b"\n", 0, edit.start) + 1
        last = source.raw.count(b"\n", 0, edit.end) + 1
        touched = {last} if not text.strip() else set(range(first, last + 1))
        if not touched & asked and not (not text.strip() and first in asked):
            return first
    return 0


def python_lines(data: bytes, asked: set[int]) -> set[int]:
    """The lines of all statements, or headers of them, that reach into lines."""
    lines = data.split(b"\n")
    spans: list[tuple[int, int]] = []
    for node in ast.walk(ast.parse(data)):
        if isinstance(node, (ast.stmt, ast.ExceptHandler, ast.match_case)):
            first = node.lineno if hasattr(node, "lineno") else node.pattern.lineno
            for decorator in getattr(node, "decorator_list", ()):
                spans.append((decorator.lineno, decorator.end_lineno or decorator.lineno))
            body = getattr(node, "body", None)
            end = body[0].lineno - 1 if body else node.end_lineno
            while body and end > first and not lines[end - 1].split(b"#")[0].strip():
                end -= 1
            if body and lines[body[0].lineno - 1][:body[0].col_offset].strip():
                end = body[0].lineno  # the body stands on the last line of the header
            spans.append((first, max(first, end or first)))
    found = set(asked)
    grown = True
    while grown:  # statements that share a line
        grown = False
        for first, last in spans:
            if (
                any(line in found for line in range(first, last + 1))
                and not set(range(first, last + 1)) <= found
            ):
                found.update(range(first, last + 1))
                grown = True
    return found


def own_lines(result: stilo.Result, asked: set[int]) -> set[int]:
    """The lines of the tokens whose gaps were laid out."""
    tree, source = result._plan.tree, result.source
    found = set(asked)
    for token in result._touched or ():
        if token < len(tree.token_start):
            found.add(source.position(tree.token_start[token]).line)
            found.add(source.position(tree.token_end[token]).line)
    return found


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path, nargs="+")
    parser.add_argument("--language", required=True)
    parser.add_argument("--jobs", type=int, default=1000)
    parser.add_argument("--first", type=int, default=0)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--set", action="append", default=[], metavar="NAME=VALUE")
    parser.add_argument("--typescript", type=Path)
    arguments = parser.parse_args()
    style = dict(item.split("=", 1) for item in arguments.set)
    globs = [g for g in stilo.load_language(arguments.language).facts.globs if g != "*.ipynb"]
    paths = files_of(arguments.folder, globs)
    work = partial(job, paths=paths, language=arguments.language, seed=arguments.seed, style=style)
    count: Counter[str] = Counter()
    numbers = range(arguments.first, arguments.first + arguments.jobs)
    reads = {"initializer": start_compiler, "initargs": (arguments.typescript,)}
    with ProcessPoolExecutor(**reads) as pool:
        for number, said in zip(numbers, pool.map(work, numbers, chunksize=8)):
            if said[0].isupper():
                print(f"job {number}: {said}", flush=True)
                said = " ".join(word for word in said.split() if word.isupper())
            count[said] += 1
    for name, number in sorted(count.items()):
        print(f"{number:8} {name}")
    return int(any(name[0].isupper() for name in count))


if __name__ == "__main__":
    sys.exit(main())
