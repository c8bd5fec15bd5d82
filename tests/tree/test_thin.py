"""A tree without some of its nodes: that of a text with white space in their place."""

from __future__ import annotations

from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

import stilo
from stilo.edits import blanked
from stilo.tree.flat import Tree
from stilo.tree.thin import without

LANGUAGE = stilo.load_language("java")
TEXT = b"""class Berth {
    int number; // from the quay

    void moor(Ship ship) { ropes.add(ship.bow()); ropes.add(ship.stern()); }
    int free() { return 3; }
}
interface Quay { Berth berth(int number); }
enum Deck { CAR, TRUCK }
"""


def items(tree: Tree) -> list[int]:
    """The nodes that may go: those with something behind them in the same parent."""
    found = []
    for node in range(len(tree.kind)):
        found += list(tree.children(node))[1:-1]
    return sorted(found)


@given(st.sets(st.integers(0, 200)), st.booleans())
def test_it_is_the_tree_of_a_text_with_white_space_in_their_place(chosen, is_known) -> None:
    tree = LANGUAGE.read(TEXT).tree
    if is_known:
        tree = replace(tree, known_texts=[text.upper() for text in tree.texts])
    of = items(tree)
    holes: list[range] = []
    for node in sorted({of[number % len(of)] for number in chosen}):
        if not holes or node >= holes[-1].stop:
            holes.append(range(node, tree.after(node)))
    found = without(tree, holes)
    gone = {node for hole in holes for node in hole}
    kept = [node for node in range(len(tree.kind)) if node not in gone]
    tokens = [token for token, leaf in enumerate(tree.token_node) if leaf not in gone]
    assert found.kind == [tree.kind[node] for node in kept]
    assert (
        found.parent
        == [kept.index(tree.parent[node]) if tree.parent[node] >= 0 else -1 for node in kept]
    )
    assert found.texts == [tree.texts[token] for token in tokens]
    assert found.token_start == [tree.token_start[token] for token in tokens]
    assert found.token_end == [tree.token_end[token] for token in tokens]
    assert found.data == blanked(tree.data, [tree.extent(hole.start) for hole in holes])
    assert [kept[leaf] for leaf in found.token_node] == [tree.token_node[t] for t in tokens]
    for number, node in enumerate(kept):
        assert tokens[found.last(number)] == tree.last(node)


def test_runs_of_several_nodes_go_as_one() -> None:
    tree = LANGUAGE.read(TEXT).tree
    first, second, third = tree.children(0)
    found = without(tree, [range(first, third)])
    assert found.texts == [tree.texts[token] for token in range(tree.first(third), len(tree.texts))]
    assert found.data.count(b"\n") == tree.data.count(b"\n")
    assert found.column(0, 4) == 0 and found.token_start[0] == tree.start(third)


def test_without_nothing_it_is_the_same() -> None:
    tree = LANGUAGE.read(TEXT).tree
    assert without(tree, []) is tree
