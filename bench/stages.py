"""Where the time goes: lines/s per stage, against the parser alone in the same run.

    python bench/stages.py FOLDER --language java [--limit N]

Prints for each stage its share in multiples of the parser's own time, then the
whole job (with verification) in lines/s, the ratio to the parser, growth when
the input doubles, and peak memory. Fetches nothing.
"""

from __future__ import annotations

import argparse
import gc
import resource
import sys
import time
from collections import Counter
from collections.abc import Callable
from pathlib import Path
from typing import Any

import stilo
from stilo.layout.fit import fit
from stilo.layout.measures import Measures
from stilo.layout.planning import plan
from stilo.layout.render import render
from stilo.source import Source
from stilo.verify.check import check


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path, nargs="+")
    parser.add_argument("--language", required=True)
    parser.add_argument("--limit", type=int, default=10 ** 9)
    arguments = parser.parse_args()
    gc.disable()  # as it is while a text is laid out
    language = stilo.load_language(arguments.language)
    punctuation = language.kinds.punctuation
    sources = []
    paths = sorted(
        p for folder in arguments.folder for g in language.facts.globs for p in folder.rglob(g)
    )
    for path in paths[:arguments.limit]:
        try:
            stilo.reformat_file(path, language)
            sources.append(Source.from_bytes(path.read_bytes(), str(path)))
        except stilo.StiloError as error:
            print(error)
    lines = sum(source.data.count(b"\n") for source in sources)

    times: Counter[str] = Counter()

    def timed(name: str, function: Callable[..., Any], *args: Any) -> Any:
        start = time.process_time()
        result = function(*args)
        times[name] += time.process_time() - start
        return result

    # The parser alone, and the whole job, in turn, so that both meet the same machine.
    for source in sources:
        timed("parser alone", language.read, source.data)
        timed("whole job", stilo.reformat, source.raw, language)
    values = language.values({})
    rows = language.rows(values)
    measures = Measures.of(values)
    for source in sources:
        parsed = timed("parse", language.read, source.data)
        tree = timed("flatten", getattr, parsed, "tree")
        planned = timed("rules and gaps", plan, tree, rows, punctuation, measures)
        fitted = timed("fit", fit, planned, measures)
        rendered = timed("render", render, planned, fitted, values)
        text = timed("join", rendered.text)
        timed("verify", check, language, source, source, planned, rendered, text)
    unit = times["parser alone"]
    print(f"{len(sources)} files, {lines} lines; parser alone {lines / unit:,.0f} lines/s")
    for stage in ("parse", "flatten", "rules and gaps", "fit", "render", "join", "verify"):
        print(f"  {stage:15} {times[stage] / unit:6.2f} times the parser")
    job = times["whole job"]
    print(f"whole job {lines / job:,.0f} lines/s, {job / unit:.2f} times the parser's time")

    growth(language, sources)
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(f"peak memory {peak:.0f} MB")
    return 0


def growth(language: stilo.Language, sources: list[Source]) -> None:
    """Print how the time grows when the largest file is repeated twice and four times."""
    largest = max(sources, key=lambda source: len(source.data))
    if b"package " in largest.data[:20000]:
        body = (
            largest.data[largest.data.index(b"\nimport "):] if b"\nimport " in largest.data else b""
        )
    else:
        body = largest.data
    seconds = []
    for times in (1, 2, 4):
        text = body * times
        try:
            stilo.reformat(text, language)
            start = time.process_time()
            stilo.reformat(text, language)
            seconds.append(time.process_time() - start)
        except stilo.StiloError:
            return
    ratios = ", ".join(f"{b / a:.2f}" for a, b in zip(seconds, seconds[1:]))
    print(f"growth: twice the input, {ratios} times the time ({largest.name.rsplit('/', 1)[-1]})")


if __name__ == "__main__":
    sys.exit(main())
