"""The whole job for ten large modules against `tokenize.tokenize` on the same, in one run.

    python bench/python_speed.py

Each is timed in turn, nine times, and the best of each is taken: first as any program has it that
calls both, which is what the limit is for; then with the garbage collector off, which spares `tokenize`
an eighth (Stilo keeps it from running anyway). Last comes how long each step takes, so.
"""

from __future__ import annotations

import gc
import io
import sys
import sysconfig
import time
import tokenize
from collections.abc import Callable
from pathlib import Path
from typing import Any

import stilo
from stilo.layout.fit import fit
from stilo.layout.measures import Measures
from stilo.layout.planning import plan
from stilo.layout.render import render
from stilo.order.text import Text
from stilo.source import Source
from stilo.verify.check import check

MODULES = "typing argparse datetime _pydecimal inspect subprocess tarfile doctest pydoc turtle"
ROUNDS = 9
LIMIT = 2.5


def steps_of(texts: list[bytes], language: stilo.Language) -> dict[str, float]:
    """The seconds that each step takes, in order."""
    punctuation = language.kinds.punctuation
    values = language.values({})
    rows, measures = language.rows(values), Measures.of(values)
    room = int(values["width"])
    times: dict[str, float] = {}

    def timed(name: str, function: Callable[..., Any], *arguments: Any) -> Any:
        begin = time.perf_counter()
        found = function(*arguments)
        times[name] = times.get(name, 0) + time.perf_counter() - begin
        return found

    for text in texts:
        source = Source.from_bytes(text)
        parsed = timed("parse", language.read, source.data)
        unread = Text(source, parsed, language)
        tree = timed("flat tree", getattr, unread, "tree")
        tree = timed("flat tree", language.bracketed, tree, room)
        planned = timed("rules and gaps", plan, tree, rows, punctuation, measures)
        if planned.lacking:
            tree = timed("flat tree", language.with_lacking, tree, planned.lacking, room, False)
            planned = timed("rules and gaps", plan, tree, rows, punctuation, measures)
        fitted = timed("fit", fit, planned, measures)
        rendered = timed("render", render, planned, fitted, values)
        new = timed("render", rendered.text)
        timed("verify", check, language, source, source, planned, rendered, new)
    return times


def compare(texts: list[bytes], language: stilo.Language) -> tuple[float, float]:
    """The least seconds of `tokenize.tokenize` and of the whole job, timed in turn."""
    tokenized, whole = [], []
    for _ in range(ROUNDS):
        begin = time.perf_counter()
        for text in texts:
            list(tokenize.tokenize(io.BytesIO(text).readline))
        tokenized.append(time.perf_counter() - begin)
        begin = time.perf_counter()
        for text in texts:
            stilo.reformat(text, language)
        whole.append(time.perf_counter() - begin)
    return min(tokenized), min(whole)


def main() -> int:
    library = Path(sysconfig.get_path("stdlib"))
    texts = [(library / f"{name}.py").read_bytes() for name in MODULES.split()]
    language = stilo.load_language("python")
    stilo.reformat(texts[0], language)
    lines = sum(text.count(b"\n") for text in texts)
    unit, whole = compare(texts, language)
    ratio = whole / unit
    print(f"{lines} lines: {ratio:.2f} times tokenize ({unit:.2f} s); limit {LIMIT}")
    gc.disable()
    unit, whole = compare(texts, language)
    print(f"with the collector off: {whole / unit:.2f} times tokenize ({unit:.2f} s)")
    rounds = [steps_of(texts, language) for _ in range(ROUNDS)]
    for name in rounds[0]:
        print(f"  {name:16}{min(times[name] for times in rounds) / unit:.2f}")
    return 0 if ratio <= LIMIT else 1


if __name__ == "__main__":
    sys.exit(main())
