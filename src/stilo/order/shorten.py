"""Whole paths in code, for which an import and the last word of them may stand."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from typing import NamedTuple

from stilo.order.catalogue import FILES
from stilo.order.imports import ALL, Import
from stilo.order.surroundings import Surroundings
from stilo.tree.flat import Tree

DOT = b"."


class Path(NamedTuple):
    """A name with the module it is written with: where that begins, and where the name does."""

    start: int
    end: int
    module: str
    name: str


class Shortened(NamedTuple):
    """The paths that are to be cut down to their names, and what is to be imported for that."""

    paths: tuple[Path, ...] = ()
    added: tuple[tuple[str, str], ...] = ()


def shorten(
    runs: Iterable[Sequence[Import]], around: Surroundings, kinds: frozenset[int]
) -> Shortened:
    """Find the paths that can be shortened without any word coming to mean something else.

    kinds: those of nodes that may be such paths.
    """
    items = [item for run in runs for item in run]
    found = list(_paths(items, around, kinds))
    if not found:
        return Shortened()
    names = around.look_up(frozenset(path.name for path in found), items)
    imported = {name: whole for item in items for name, whole in item.bindings()}
    modules = Counter(name for name, _ in {(path.name, path.module) for path in found})
    taken = around.inner | around.implicit
    for item in items:
        if any(entry.name == ALL for entry in item.entries):
            taken |= around.catalogue.names(item.module, item.form.offers) or frozenset()
    chosen = []
    for path in found:
        known = names[path.name]
        whole = f"{path.module}:{path.name}"
        if imported.get(path.name) == whole:
            is_free = not known.binders and not known.is_bound_at_top
        else:
            is_free = (
                path.name not in imported
                and path.name not in taken
                and modules[path.name] == 1
                and not (known.is_used or known.is_said or known.binders)
            )
        if is_free:
            chosen.append(path)
    added = sorted({(p.module, p.name) for p in chosen if p.name not in imported})
    return Shortened(tuple(chosen), tuple(added))


def _paths(items: Sequence[Import], around: Surroundings, kinds: frozenset[int]) -> Iterable[Path]:
    """The paths in the code, outermost ones, whose module is known and offers the name."""
    tree = around.tree
    spans = [(item.start, item.end) for item in items]
    bare = _words_alone(tree)
    for node, kind in enumerate(tree.kind):
        if kind not in kinds or tree.kind[tree.parent[node]] in kinds:
            continue
        tokens = range(tree.first(node), tree.last(node) + 1)
        texts = [tree.texts[token] for token in tokens]
        words = [text.decode() for text in texts[::2]]
        is_path = all(t == DOT for t in texts[1::2]) and all(w.isidentifier() for w in words)
        start = tree.token_start[tokens[0]]
        if not is_path or words[0] in bare or any(a <= start < b for a, b in spans):
            continue
        if around.marks.word(node, "qualified") != "yes":
            continue
        for length in range(1, len(words)):
            module = ".".join(words[:length])
            if words[length] in (around.catalogue.names(module, FILES) or ()):
                yield Path(start, tree.token_start[tokens[2 * length]], module, words[length])
                break


def _words_alone(tree: Tree) -> set[str]:
    """Words that stand somewhere with no dot after them: they may be more than part of a path."""
    following = [*tree.texts[1:], b""]
    return {
        text.decode("utf-8", "replace")
        for text, behind, before in zip(tree.texts, following, [b"", *tree.texts])
        if behind != DOT and before != DOT
    }
