"""Which imports a file does not need: those whose names nothing in it refers to.

Not a search in the text: each place where such a name stands is looked up in the tree. What a sheet
says of it there (`name`), and what the scopes around it make known themselves, decide whether it
refers to the import. Only places at which the words of imports stand are looked at.
"""

from __future__ import annotations

import re
from bisect import bisect_right
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field

from stilo.order.marks import Marks
from stilo.order.statements import ALL, Entry, Import
from stilo.tree.flat import Tree

#: Values of the properties `name` and `scope`.
USE, BIND, GLOBAL, QUOTED = "use", "bind", "global", "quoted"
NONE, OWN, LOOSE, OUTSIDE = "none", "own", "loose", "outside"


@dataclass(frozen=True)
class Hiding:
    """What of a language may refer to names unseen.

    words: names that, where they are used, may reach any other (`eval` and its like). said: patterns of
    what in a comment refers to names. comments: the kinds of comments.
    """

    words: Sequence[str]
    said: re.Pattern[bytes] | None
    comments: frozenset[int]


@dataclass
class _Name:
    """A name that is imported: where it stands in code, and what is known of these places."""

    uses: list[int] = field(default_factory=list)  # leaves
    binders: set[int] = field(default_factory=set)  # scopes that make it known themselves
    is_used: bool = False


def hides(tree: Tree, marks: Marks, hiding: Hiding) -> bool:
    """Whether something in a text may refer to names unseen: a word of the language, or a star."""
    if not hiding.words:
        return False
    pattern = re.compile(rb"\b(?:" + b"|".join(w.encode() for w in hiding.words) + rb")\b|\*")
    for match in pattern.finditer(tree.data):
        leaf = _leaf(tree, match.start())
        if leaf < 0 or tree.kind[leaf] in hiding.comments:
            continue
        if match.group() == b"*":
            if marks.word(leaf, "part") == "wildcard" or (
                tree.parent[leaf] > 0 and marks.word(tree.parent[leaf], "part") == "wildcard"
            ):
                return True
        elif marks.word(leaf, "name") == USE:
            return True
    return False


def unused(
    runs: Iterable[Sequence[Import]], tree: Tree, marks: Marks, hiding: Hiding
) -> list[Entry]:
    """The names in runs of imports that nothing in the text refers to.

    Imports that must not move, or that comments speak of, are not asked for, nor is what another
    name makes known under the same word (`a as a`), which is how a name is passed on.
    """
    asked: dict[str, list[Entry]] = {}
    inside: list[tuple[int, int]] = []
    for run in runs:
        for item in run:
            inside.append((item.start, item.end))
            if item.moves != "yes" or item.has_comments or item.head or item.is_headed:
                continue
            for entry, (name, _) in zip(
                (e for e in item.entries if e.name != ALL), item.bindings()
            ):
                if not entry.has_comments and entry.alias != entry.name:
                    asked.setdefault(name, []).append(entry)
    if not asked:
        return []
    names = _look_up(set(asked), sorted(inside), tree, marks, hiding)
    return [entry for name, found in asked.items() if not names[name].is_used for entry in found]


def _look_up(
    wanted: set[str], inside: list[tuple[int, int]], tree: Tree, marks: Marks, hiding: Hiding
) -> Mapping[str, _Name]:
    """What is known of each name from the places where its word stands, but in imports."""
    names = {name: _Name() for name in wanted}
    words = sorted((re.escape(name.encode()) for name in wanted), key=len, reverse=True)
    starts = [start for start, _ in inside]
    data = tree.data.decode()
    is_plain = len(data) == len(tree.data)
    pattern = re.compile(rb"(?<![\w$\x80-\xff])(?:" + b"|".join(words) + rb")(?![\w$\x80-\xff])")
    for match in pattern.finditer(tree.data):
        at = match.start()
        number = bisect_right(starts, at) - 1
        if number >= 0 and at < inside[number][1]:
            continue
        name = names[match.group().decode()]
        if not name.is_used:
            _look_at(name, at, match.end(), tree, marks, hiding)
    for name in names.values():
        if not name.is_used:
            name.is_used = any(_reaches(leaf, name, tree, marks) for leaf in name.uses)
    if not is_plain:
        # A word may be written with other letters that mean the same to the language.
        _keep_like(names, data)
    return names


def _keep_like(names: Mapping[str, _Name], text: str) -> None:
    """Keep names that some word outside ASCII may stand for."""
    import unicodedata

    for word in set(re.findall(r"\w*[^\W\x00-\x7f]\w*", text)):
        name = names.get(unicodedata.normalize("NFKC", word))
        if name is not None:
            name.is_used = True


def _leaf(tree: Tree, offset: int) -> int:
    """The leaf of the token at an offset, or -1."""
    token = bisect_right(tree.token_start, offset) - 1
    if token < 0 or offset >= tree.token_end[token]:
        return -1
    return tree.token_node[token]


def _look_at(
    name: _Name, start: int, end: int, tree: Tree, marks: Marks, hiding: Hiding
) -> None:
    """Take in one place where a name's word stands."""
    leaf = _leaf(tree, start)
    if leaf < 0:
        return
    if tree.kind[leaf] in hiding.comments:
        first, _ = tree.extent(leaf)
        text = tree.data[slice(*tree.extent(leaf))]
        if hiding.said is not None:
            name.is_used = any(
                first + said.start() <= start and end <= first + said.end()
                for said in hiding.said.finditer(text)
            )
        return
    role = marks.word(leaf, "name")
    if role in (QUOTED, GLOBAL):
        name.is_used = True
    elif role == USE:
        name.uses.append(leaf)
    elif role == BIND:
        scope = _scope(leaf, tree, marks)
        if scope < 0:
            name.is_used = True  # made known at the top again: nothing is sure
        else:
            name.binders.add(scope)


def _scope(leaf: int, tree: Tree, marks: Marks) -> int:
    """The nearest scope around a place, or -1 at the top."""
    node, skips = tree.parent[leaf], _skips(leaf, marks)
    while node >= 0:
        kind = marks.word(node, "scope")
        if kind in (OWN, LOOSE):
            if not skips:
                return node
            skips = False
        skips = skips or kind == OUTSIDE
        node = tree.parent[node]
    return -1


def _skips(node: int, marks: Marks) -> bool:
    return marks.word(node, "scope") == OUTSIDE


def _reaches(leaf: int, name: _Name, tree: Tree, marks: Marks) -> bool:
    """Whether a use is of the import: no scope around it makes the name known itself."""
    if not name.binders:
        return True
    node, skips = tree.parent[leaf], _skips(leaf, marks)
    while node >= 0:
        kind = marks.word(node, "scope")
        if kind in (OWN, LOOSE):
            if not skips and kind == OWN and node in name.binders:
                return False
            skips = False
        skips = skips or kind == OUTSIDE
        node = tree.parent[node]
    return True
