"""Results of fitting: for each column at which a last line may end, the least cost with that end, and its breaks.

Of a statement only the cheapest result counts, but what stands after a part on its last line decides where that line
had best end. So each part gives all its ends, and what is around it chooses.
"""

from __future__ import annotations

from typing import Union

#: What a line costs, what a declared cost of 1 does, and what a column past the width does.
LINE = 1
PENALTY = 10 ** 6
OVERFLOW = 10 ** 12

#: Broken gaps, as a linked list: what comes earlier, and either gaps with the column at which their lines begin, or
#: another such list.
Rope = Union[tuple["Rope", Union["Rope", tuple[list[int], int]]], None]
Frontier = dict[int, tuple[int, Rope]]


def offer(frontier: Frontier, end: int, cost: int, rope: Rope) -> None:
    """Keep the cheaper of two ways to end at a column; of equals, the earlier.

    What is kept stands in the order in which it was found, whatever was looked at and found worse.
    """
    known = frontier.get(end)
    if known is not None:
        if cost >= known[0]:
            return
        del frontier[end]
    frontier[end] = (cost, rope)


def shifted(frontier: Frontier, columns: int, limit: int, forgets: bool) -> Frontier:
    """The frontier after so many more columns of plain text, which are charged as far as they pass the width.

    forgets: whether all ends past the width are one.
    """
    moved: Frontier = {}
    for column, (cost, rope) in frontier.items():
        end = column + columns
        if end > limit:
            cost += (end - max(column, limit)) * OVERFLOW
            if forgets:
                end = limit
        offer(moved, end, cost, rope)
    return moved


def charged(frontier: Frontier, over: int) -> Frontier:
    """The frontier, with columns past the width before it."""
    if not over:
        return frontier
    return {end: (cost + over * OVERFLOW, rope) for end, (cost, rope) in frontier.items()}


def cheapest(frontier: Frontier) -> tuple[int, Rope]:
    """The least cost, wherever its last line ends; of equals, the earlier."""
    if len(frontier) == 1:
        (only,) = frontier.values()
        return only
    return min(frontier.values(), key=lambda value: value[0])


def cheapest_ends(frontier: Frontier, most: int) -> Frontier:
    """No more than so many ends, the cheapest: where lines are aligned, each level of a deep nest adds some."""
    if len(frontier) <= most:
        return frontier
    kept = set(sorted(frontier, key=lambda end: frontier[end][0])[:most])
    return {end: value for end, value in frontier.items() if end in kept}


def breaks_in(rope: Rope) -> dict[int, int]:
    """The broken gaps of a rope → the columns at which their lines begin."""
    found: dict[int, int] = {}
    stack: list[Rope] = [rope]
    while stack:
        at = stack.pop()
        while at is not None:
            at, item = at
            if item is None:
                continue
            tokens, column = item
            if isinstance(tokens, list):
                for token in tokens:
                    found[token] = column  # type: ignore[assignment]
            else:
                stack.append(item)  # type: ignore[arg-type]
    return found
