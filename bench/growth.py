"""How time grows with size and depth: each construct at three sizes, each twice the last.

    python bench/growth.py

A nested call, a long list, a long chain, a long sum, and one very long line, in
the settings as they come and with everything aligned. Prints seconds, and how
many times longer twice the size takes. Fetches nothing, needs no files.
"""

from __future__ import annotations

import sys
import time
from collections.abc import Callable

import stilo

LIMIT = 2.5


def java(expression: str) -> str:
    return f"class A {{ void f() {{ var x = {expression}; }} }}"


def nested(size: int) -> str:
    return java("sail(" * size + "berth" + ", deck)" * size)


def items(size: int) -> str:
    return java("new int[] {" + ", ".join(str(n * 7919) for n in range(size)) + "}")


def arguments(size: int) -> str:
    return java("book(" + ", ".join(f"ticket{n}" for n in range(size)) + ")")


def chain(size: int) -> str:
    return java("timetable" + "".join(f".sailing{n}(x)" for n in range(size)))


def terms(size: int) -> str:
    return java(" + ".join(f"fare{n}.of(car, {n})" for n in range(size)))


def conditions(size: int) -> str:
    return java(" && ".join(f"berth{n}.isOpen(car)" for n in range(size)))


def columns(size: int) -> str:
    return java('"' + "x" * (size // 2) + '" + f("' + "y" * (size // 2) + '")')


CASES: list[tuple[str, Callable[[int], str], int]] = [
    ("calls nested, deep", nested, 40),
    ("array items", items, 5000),
    ("arguments", arguments, 5000),
    ("links of a chain", chain, 300),
    ("terms of a sum", terms, 2000),
    ("clauses of a condition", conditions, 2000),
    ("columns of one line", columns, 200_000),
]
ALIGNED = {
    "arguments.align": "yes",
    "arguments.open": "same-line",
    "chain.align": "yes",
    "operation.align": "yes",
    "condition.align": "yes",
    "items.align": "yes",
}


def seconds(text: str, style: dict[str, str]) -> float:
    best = 1e9
    for _ in range(5):
        start = time.process_time()
        stilo.reformat(text, "java", style)
        best = min(best, time.process_time() - start)
    return best


def main() -> int:
    worst = 0.0
    stilo.reformat(java("1"), "java")
    for style in ({}, ALIGNED):
        print("aligned" if style else "as it comes")
        for name, make, size in CASES:
            times = [seconds(make(size * n), style) for n in (1, 2, 4)]
            ratios = [b / a for a, b in zip(times, times[1:])]
            worst = max(worst, *ratios)
            shown = ", ".join(f"{t:.3f}" for t in times)
            print(
                f"  {name:24} {size:7} ×1, ×2, ×4: {shown} s; "
                f"twice the size: {ratios[0]:.2f}, {ratios[1]:.2f} times the time"
            )
    print(f"worst: {worst:.2f} (limit {LIMIT})")
    return 0 if worst <= LIMIT else 1


if __name__ == "__main__":
    sys.exit(main())
