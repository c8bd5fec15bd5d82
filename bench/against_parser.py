"""The whole job against the parser alone, for files with one view, with two, and with readings of their own.

    python bench/against_parser.py FOLDER … --language c [--limit N]

Each file is parsed by its grammar as it stands, and laid out (read, laid out, checked), the better of
three runs of each. Prints the ratio of the sums by the number of views, with and without words that only
the preprocessor knows. Read on an idle machine: the parser is timed in the same run.
"""

from __future__ import annotations

import argparse
import gc
import random
import sys
import time
from collections import defaultdict
from collections.abc import Callable
from pathlib import Path

import stilo
from stilo.readers.conditional import ConditionalReader
from stilo.readers.grammar import GrammarReader


def best(work: Callable[[], object]) -> float:
    """Seconds of the best of three."""
    times = []
    for _ in range(3):
        begin = time.perf_counter()
        work()
        times.append(time.perf_counter() - begin)
    return min(times)


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path, nargs="+")
    parser.add_argument("--language", required=True)
    parser.add_argument("--limit", type=int, default=200)
    arguments = parser.parse_args()
    gc.disable()  # as the command line has it
    language = stilo.load_language(arguments.language)
    reader = language.reader
    grammar = reader._inner if isinstance(reader, ConditionalReader) else reader
    assert isinstance(grammar, GrammarReader)
    files = sorted(p for f in arguments.folder for g in language.facts.globs for p in f.rglob(g))
    sums: dict[tuple[int, bool], list[float]] = defaultdict(lambda: [0, 0.0, 0.0, 0])
    for path in random.Random(2).sample(files, min(arguments.limit, len(files))):
        raw = path.read_bytes()
        if len(raw) < 2_000:
            continue
        data = raw.replace(b"\r\n", b"\n")
        try:
            parsed = language.read(data)
            stilo.reformat(raw, language)
        except stilo.StiloError:
            continue
        views = getattr(parsed, "views", [parsed])
        is_read_otherwise = (
            any(
                leaf.kind not in (reader._kind["directive"], reader._kind["other_branch"])
                for view in views
                for leaf in getattr(view, "leaves", ())
            )
            or any(getattr(view, "dropped", ()) or getattr(view, "renamed", ()) for view in views)
        )
        found = sums[len(views), is_read_otherwise]
        found[0] += 1
        found[1] += best(lambda: grammar.parse(data))
        found[2] += best(lambda: stilo.reformat(raw, language))
        found[3] += data.count(b"\n")
    for (views, otherwise), (count, alone, whole, lines) in sorted(sums.items()):
        words = "with readings" if otherwise else "as it is"
        print(
            f"{views} view(s), {words}: {count:.0f} files, {lines:.0f} lines, parser {alone:.2f} s, "
            f"job {whole:.2f} s, {whole / alone:.1f} times"
        )
    return 0


if __name__ == "__main__":
    sys.exit(main())
