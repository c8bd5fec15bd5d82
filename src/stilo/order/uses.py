"""Which imports a file does not need: those whose names nothing in it refers to.

Not a search in the text: each place where such a name stands is looked up in the tree. What a sheet
says of it there (`name`), and what the scopes around it make known themselves, decide whether it
refers to the import. Only places at which the words of imports stand are looked at.
"""

from __future__ import annotations

import re
import unicodedata
from bisect import bisect_right
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import field

from stilo.language import Language
from stilo.order.imports import ALL, Entry, Import
from stilo.records import dataclass
from stilo.sheet.marks import Marks
from stilo.tree.flat import Tree

#: Values of the properties `name` and `scope`.
USE, BIND, GLOBAL, QUOTED = "use", "bind", "global", "quoted"
OWN, LOOSE, OUTSIDE = "own", "loose", "outside"
#: The bytes that words are made of.
_LETTERS = frozenset(
    bytes([code]) for code in range(256) if code >= 128 or chr(code).isalnum() or code in b"_$"
)


@dataclass(frozen=True)
class Hiding:
    """What of a language may refer to names unseen.

    words: names that, where they are used, may reach any other (`eval` and its like). said: patterns of
    what in a comment refers to names: all of it, or what their groups hold. comments: the kinds of
    comments. implied: kinds of nodes by which something refers to a word.
    """

    words: Sequence[str]
    said: Sequence[re.Pattern[bytes]]
    comments: frozenset[int]
    implied: Mapping[int, str]

    @classmethod
    def of(cls, language: Language) -> Hiding:
        """What the sheet of a language says of it."""
        facts, kinds = language.facts, language.kinds
        implied = {number: word for kind, word in facts.implies for number in kinds.numbers(kind)}
        return cls(facts.hides, facts.said, language.remarks, implied)


@dataclass
class Name:
    """A name that is asked for: where it stands in code, and what is known of these places.

    uses: leaves that refer to what has this name. binders: scopes that make it known themselves.
    is_bound_at_top: so does the file at its top. is_unsure: so it may. is_said: a comment refers to it. places: offsets of
    what was seen to use it.
    """

    uses: list[int] = field(default_factory=list)
    binders: set[int] = field(default_factory=set)
    is_used: bool = False
    is_said: bool = False
    is_bound_at_top: bool = False
    is_unsure: bool = False
    places: list[int] = field(default_factory=list)


def hides(tree: Tree, marks: Marks, hiding: Hiding) -> bool:
    """Whether a word of the language stands in a text that may refer to names unseen."""
    for word in hiding.words:
        for start, _ in _places(word, [], tree):
            leaf = _leaf(tree, start)
            if leaf >= 0 and tree.kind[leaf] not in hiding.comments:
                if marks.word(leaf, "name") == USE:
                    return True
    return False


def unused(
    runs: Iterable[Sequence[Import]], tree: Tree, marks: Marks, hiding: Hiding
) -> list[Entry]:
    """The names in runs of imports that nothing in the text refers to.

    Imports within bodies, or that must not move, or that comments speak of, are not asked for, nor is
    what another name makes known under the same word (`a as a`), which is how a name is passed on, nor a
    name that imports make known as different things, since without one of them it would be another.
    """
    asked: dict[str, list[Entry]] = {}
    meant: dict[str, str] = {}
    clashing: set[str] = set()
    inside: list[tuple[int, int]] = []
    for run in runs:
        for item in run:
            if item.is_within:  # it may refer to another one
                continue
            inside.append((item.start, item.end))
            clashing.update(
                n for n, whole in item.bindings() if meant.setdefault(n, whole) != whole
            )
            is_spoken_of = item.has_comments or item.head or item.is_headed or not item.is_plain
            if item.moves != "yes" or is_spoken_of:
                continue
            for entry, (name, _) in zip(
                (e for e in item.entries if e.name != ALL), item.bindings()
            ):
                if not entry.has_comments and entry.alias != entry.name:
                    asked.setdefault(name, []).append(entry)
    if not asked:
        return []
    inside.sort()
    used = _alike(tree) | {hiding.implied[kind] for kind in hiding.implied.keys() & tree.inner}
    return [
        entry
        for name, found in asked.items()
        if not (name in clashing or name in used or _is_needed(name, inside, tree, marks, hiding))
        for entry in found
    ]


def of_home(runs: Iterable[Sequence[Import]], tree: Tree, language: Language) -> list[Entry]:
    """The modules in runs of imports that all the code of the text is in, or in modules of: it has their
    names without them."""
    tops = language.marks(tree, "imports")
    imports = {item.start for run in runs for item in run}
    homes: list[str] = []
    for node in tops.children(0) if tree.kind else ():
        if tree.start(node) in imports or tree.kind[node] in language.remarks:
            continue
        home = next((n for n in tops.children(node) if tops.word(n, "part") == "home"), None)
        if home is None:
            return []
        homes.append("".join(tree.text(home).split()))
    return [
        entry
        for run in runs
        for item in run
        if item.form.binds == "nothing" and item.form.offers == "around" and not item.has_comments
        if not item.is_within
        for entry in item.entries
        if homes and all(f"{home}.".startswith(f"{entry.name}.") for home in homes)
    ]


def _is_needed(
    word: str, inside: list[tuple[int, int]], tree: Tree, marks: Marks, hiding: Hiding
) -> bool:
    """Whether anything refers to a name; looked into no further than it takes to know."""
    name = Name()
    waiting: list[tuple[int, set[int]]] = []  # where the scopes around a use end, and which they are
    for start, end in _places(word, inside, tree):
        while waiting and waiting[0][0] <= start:
            if not waiting.pop(0)[1] & name.binders:
                return True
        before = len(name.uses)
        _look_at(name, start, end, tree, marks, hiding)
        if name.is_used or name.is_said:
            return True
        for leaf in name.uses[before:]:
            scopes = [node for node, kind in _scopes(leaf, tree, marks) if kind == OWN]
            if not scopes:
                return True
            waiting.append((tree.extent(scopes[-1])[1], set(scopes)))
    return any(not scopes & name.binders for _, scopes in waiting)


def look_up(
    wanted: set[str], inside: list[tuple[int, int]], tree: Tree, marks: Marks, hiding: Hiding
) -> Mapping[str, Name]:
    """What is known of each name from the places where its word stands, but in imports.

    inside: start and end of each import, in order.
    """
    names = {name: Name() for name in wanted}
    for word, name in names.items():
        for start, end in _places(word, inside, tree):
            if not name.is_used:
                _look_at(name, start, end, tree, marks, hiding)
        if not name.is_used:
            reaching = [leaf for leaf in name.uses if _reaches(leaf, name, tree, marks)]
            name.places += [tree.extent(leaf)[0] for leaf in reaching]
            name.is_used = bool(reaching)
    for word in _alike(tree) & wanted:
        names[word].is_used = True
    return names


def is_made_known(
    word: str, inside: list[tuple[int, int]], tree: Tree, marks: Marks, hiding: Hiding
) -> bool:
    """Whether a name may be made known at the top of a text otherwise than by its imports."""
    name = Name()
    for start, end in _places(word, inside, tree):
        _look_at(name, start, end, tree, marks, hiding)
    return name.is_unsure


def present(words: frozenset[str], tree: Tree) -> set[str]:
    """Those of some words that stand anywhere in a text."""
    return set(words.intersection(re.findall(r"\w+", tree.data.decode())))


def _places(word: str, inside: list[tuple[int, int]], tree: Tree) -> Iterator[tuple[int, int]]:
    """Where a word stands, but in imports."""
    data, sought = tree.data, word.encode()
    at = data.find(sought)
    while at >= 0:
        end = at + len(sought)
        if data[at - 1 : at] not in _LETTERS and data[end : end + 1] not in _LETTERS:
            number = bisect_right(inside, (at, end))
            if number == 0 or at >= inside[number - 1][1]:
                yield at, end
        at = data.find(sought, end)


def _alike(tree: Tree) -> set[str]:
    """What words outside ASCII may stand for: other letters may mean the same to a language."""
    if tree.data.isascii():
        return set()
    lines = [line for line in tree.data.splitlines() if not line.isascii()]
    words = re.findall(r"\w+", b"\n".join(lines).decode())
    return {unicodedata.normalize("NFKC", word) for word in words if not word.isascii()}


def _leaf(tree: Tree, offset: int) -> int:
    """The leaf of the token at an offset, or -1."""
    token = bisect_right(tree.token_start, offset) - 1
    if token < 0 or offset >= tree.token_end[token]:
        return -1
    return tree.token_node[token]


def _look_at(name: Name, start: int, end: int, tree: Tree, marks: Marks, hiding: Hiding) -> None:
    """Take in one place where a name's word stands."""
    leaf = _leaf(tree, start)
    if leaf < 0:
        return
    if tree.kind[leaf] in hiding.comments:
        first, _ = tree.extent(leaf)
        text = tree.data[slice(*tree.extent(leaf))]
        is_said = any(
            first + low <= start and end <= first + high
            for pattern in hiding.said
            for said in pattern.finditer(text)
            for low, high in said.regs[1 if pattern.groups else 0:]
        )
        if is_said:
            name.is_said = True
            name.places.append(start)
        return
    role = marks.word(leaf, "name")
    if role in (QUOTED, GLOBAL):
        name.is_used = True
        name.is_unsure |= role == GLOBAL
    elif role == USE:
        name.uses.append(leaf)
    elif role == BIND:
        scope = _scope(leaf, tree, marks)
        if scope < 0:
            name.is_used = name.is_bound_at_top = name.is_unsure = True  # nothing is sure
        else:
            name.binders.add(scope)


def _scope(leaf: int, tree: Tree, marks: Marks) -> int:
    """The nearest scope around a place, or -1 at the top."""
    return next((node for node, _ in _scopes(leaf, tree, marks)), -1)


def _reaches(leaf: int, name: Name, tree: Tree, marks: Marks) -> bool:
    """Whether a use is of the import: no scope around it makes the name known itself."""
    return (
        not name.binders
        or not any(
            kind == OWN and node in name.binders for node, kind in _scopes(leaf, tree, marks)
        )
    )


def _scopes(leaf: int, tree: Tree, marks: Marks) -> Iterator[tuple[int, str]]:
    """The scopes around a place, the nearest first, without those that it only stands in the text of."""
    node, skips = leaf, False
    while node >= 0:
        kind = marks.word(node, "scope")
        if kind in (OWN, LOOSE) and node != leaf:
            if not skips:
                yield node, kind
            skips = False
        skips = skips or kind == OUTSIDE
        node = tree.parent[node]
