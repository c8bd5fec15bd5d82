"""All ways to wrap over a folder: four widths, each wrap value for all sequences, both densities.

    python bench/fitting.py FOLDER... --language java [--limit N] [--tries N]

For each combination: files that parse, keep their tokens, are settled on the
second run, and have no avoidable overflow (see corpus.py; at most --tries
sequences of a file are forced open). Names each failure. Fetches nothing.
"""

from __future__ import annotations

import argparse
import sys
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from pathlib import Path

import stilo
from corpus import check, files_of, is_clean

WIDTHS = (40, 72, 100, 140)
WRAPS = ("row", "flow", "stack", "stack-always")
DENSITIES = ("dense", "airy")


def check_by_name(
    path: Path, language: str, style: dict[str, str], tries: int
) -> tuple[Counter[str], list[str]]:
    return check(path, stilo.Styles(style, "default", language), tries)


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path, nargs="+")
    parser.add_argument("--language", required=True)
    parser.add_argument("--limit", type=int, default=10 ** 9)
    parser.add_argument("--tries", type=int, default=3)
    arguments = parser.parse_args()
    language = stilo.load_language(arguments.language)
    paths = files_of(arguments.folder, language.facts.globs)[:arguments.limit]
    # Bodies are always stacked; what else is a sequence takes each value in turn.
    roles = [
        name
        for name, setting in language.settings.items()
        if name.endswith(".wrap")
            and setting.default != "stack-always"
            and name.removesuffix(".wrap") in language.used_roles
    ]
    styles = [{"density": density} for density in DENSITIES]
    styles += [dict.fromkeys(roles, wrap) for wrap in WRAPS]
    clean = True
    with ProcessPoolExecutor() as pool:
        for width in WIDTHS:
            for style in styles:
                job = partial(
                    check_by_name,
                    language=arguments.language,
                    style={"width": str(width), **style},
                    tries=arguments.tries,
                )
                count: Counter[str] = Counter()
                for counted, failures in pool.map(job, paths, chunksize=4):
                    count += counted
                    for failure in failures:
                        print(f"  {failure}")
                name = style.get("density") or next(iter(style.values()))
                shown = ", ".join(f"{name}: {number}" for name, number in count.items())
                print(f"width {width}, {name}: {shown}", flush=True)
                clean &= is_clean(count)
    return 0 if clean else 1


if __name__ == "__main__":
    sys.exit(main())
