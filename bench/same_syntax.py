"""Compare the syntax trees of JavaScript or TypeScript files before and after, by TypeScript's own compiler.

    python bench/same_syntax.py FOLDER … --typescript node_modules/typescript [--language javascript]
        [--limit N] [--set NAME=VALUE …]

Needs Node.js and the package `typescript`. Each file is laid out, twice; the compiler parses source and
result, and their trees must be the same, node by node: kinds, names, and literals (strings that plus signs join
count as one). Files
that the compiler itself cannot parse are counted and left.
"""

from __future__ import annotations

import argparse
import random
import sys
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from pathlib import Path

import stilo
from scripts import Compiler


def lay_out(language: str, values: dict[str, str], path: str) -> tuple[str, bytes]:
    """What becomes of a file, and its result."""
    try:
        result = stilo.reformat(Path(path).read_bytes(), language, values, name=path)
        again = stilo.reformat(result.data, language, values, name=path)
    except stilo.StiloError as error:
        return f"refused: {error}", b""
    return ("unsettled" if again.changed else "settled"), result.data


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path, nargs="+")
    parser.add_argument("--typescript", type=Path, required=True, help="where the package is")
    parser.add_argument("--language", default="javascript")
    parser.add_argument("--limit", type=int, default=10 ** 9)
    parser.add_argument("--jobs", type=int, default=2)
    parser.add_argument("--set", action="append", default=[], metavar="NAME=VALUE")
    arguments = parser.parse_args()
    values = dict(pair.split("=", 1) for pair in arguments.set)
    globs = stilo.load_language(arguments.language).facts.globs
    skipped = ("/dist/", ".min.", "bundle", "/umd/", "/build/")
    files = sorted(
        str(p)
        for folder in arguments.folder
        for g in globs
        for p in folder.rglob(g)
        if p.is_file() and p.stat().st_size < 400_000 and not any(s in str(p) for s in skipped)
    )
    if arguments.limit < len(files):
        files = random.Random(1).sample(files, arguments.limit)
    found = Counter[str]()
    compiler = Compiler(arguments.typescript)
    work = partial(lay_out, arguments.language, values)
    with ProcessPoolExecutor(arguments.jobs) as pool:
        for path, (became, data) in zip(files, pool.map(work, files, chunksize=8)):
            found[became.partition(":")[0]] += 1
            if became == "unsettled" or became.startswith("refused"):
                print(f"{path}: {became}"[:300])
            if became.startswith("refused"):
                continue
            source = Path(path).read_bytes()
            before, after = (
                compiler.see(arguments.language, text.decode("utf-8-sig")).tree
                for text in (source, data)
            )
            said = "not parsed" if before is None else "same" if before == after else "DIFFERS"
            found[said] += 1
            if said == "DIFFERS":
                print(f"{path}: {said}")
    print(f"{len(files)} files:", ", ".join(f"{n}: {c}" for n, c in sorted(found.items())))
    return 1 if {"DIFFERS", "unsettled"} & set(found) else 0


if __name__ == "__main__":
    sys.exit(main())
