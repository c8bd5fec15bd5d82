"""How counts are told."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping


def counted(counts: Counter[str]) -> str:
    """What was done to imports: `moved: 4, removed: 1`."""
    return ", ".join(f"{what}: {number}" for what, number in sorted(counts.items()))


def summed(counts: Iterable[Mapping[str, int]]) -> Counter[str]:
    """Several counts in one."""
    total: Counter[str] = Counter()
    for count in counts:
        total.update(count)
    return total


def told(counts: Counter[str]) -> str:
    """The same, after what else is told of a file."""
    return f"; imports {counted(counts)}" if counts else ""
