"""Lay files out in one style, then in another, then in the first again: is it the first alone?

    python bench/restyle.py FOLDER --language java --styles default whitesmiths
"""

from __future__ import annotations

import argparse
import sys
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from pathlib import Path

import stilo
from corpus import files_of


def compare(path: Path, language: str, names: tuple[str, str]) -> str:
    """`same`, `not parsed`, or where the third result first differs from the first."""
    one, other = (stilo.Styles(None, name, language).of(path) for name in names)
    try:
        first = stilo.reformat_styled(path.read_bytes(), one, name=str(path))
        between = stilo.reformat_styled(first.data, other, name=str(path))
        back = stilo.reformat_styled(between.data, one, name=str(path))
        # The other style straight from the source, too.
        straight = stilo.reformat_styled(path.read_bytes(), other, name=str(path))
    except stilo.SyntaxFault:
        return "not parsed"
    if between.data != straight.data:
        return f"{path}: the second style depends on the first"
    if back.data == first.data:
        return "same"
    lines = zip(first.text.split("\n"), back.text.split("\n"))
    line = next((n for n, (a, b) in enumerate(lines, 1) if a != b), 0)
    return f"{path}:{line}: differs"


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path, nargs="+")
    parser.add_argument("--language", required=True)
    parser.add_argument("--styles", nargs=2, default=["default", "whitesmiths"])
    parser.add_argument("--limit", type=int, default=10 ** 9)
    arguments = parser.parse_args()
    globs = stilo.load_language(arguments.language).facts.globs
    paths = files_of(arguments.folder, globs)[:arguments.limit]
    job = partial(compare, language=arguments.language, names=tuple(arguments.styles))
    with ProcessPoolExecutor() as pool:
        found = list(pool.map(job, paths, chunksize=4))
    for line in found:
        if line not in ("same", "not parsed"):
            print(line)
    same, unparsed = found.count("same"), found.count("not parsed")
    print(
        f"{' → '.join([*arguments.styles, arguments.styles[0]])}: files: {len(found)}, "
        f"same: {same}, not parsed: {unparsed}"
    )
    return 0 if same + unparsed == len(found) else 1


if __name__ == "__main__":
    sys.exit(main())
