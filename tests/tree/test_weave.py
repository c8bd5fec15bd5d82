"""Leaves put into a tree: where they stand, what they belong to, and what becomes of the rest."""

from __future__ import annotations

import stilo
from stilo.tree.flat import Tree
from stilo.tree.weave import Leaf, woven

LANGUAGE = stilo.load_language("java")
KIND = 9_999
ROOT = next(iter(LANGUAGE.kinds.numbers("program")))


def tree_of(text: str) -> Tree:
    """The tree of a text in which `$` stands for what the parser does not see."""
    return LANGUAGE.read(text.replace("$", " ").encode()).tree


def put_in(text: str, belongs: str = "", **more: object) -> Tree:
    """The same tree with each `$` in it."""
    places = [at for at, sign in enumerate(text) if sign == "$"]
    leaves = [Leaf(at, at + 1, KIND, belongs) for at in places]
    return woven(tree_of(text), text.encode(), leaves, ROOT, **more)  # type: ignore[arg-type]


def parent_of(tree: Tree, token: int) -> str:
    number = tree.kind[tree.parent[tree.token_node[token]]]
    return LANGUAGE.kinds.names[number]


def see(tree: Tree) -> None:
    """What holds of any flat tree."""
    assert tree.token_node == sorted(tree.token_node)
    assert tree.token_start == sorted(tree.token_start)
    assert all(parent < node for node, parent in enumerate(tree.parent))
    for node, last in tree.last_token.items():
        inside = [t for t, leaf in enumerate(tree.token_node) if node < leaf < tree.after(node)]
        assert last == inside[-1]
    assert tree.last_token[0] == len(tree.token_node) - 1


def test_a_leaf_stands_between_its_neighbours() -> None:
    tree = put_in("int a = f(1, $ 2); $ int b;")
    see(tree)
    at = [token for token, text in enumerate(tree.texts) if text == b"$"]
    assert [parent_of(tree, token) for token in at] == ["argument_list", "program"]


def test_at_both_ends_it_belongs_to_the_root() -> None:
    tree = put_in("$ int a; $")
    see(tree)
    assert tree.texts == [b"$", b"int", b"a", b";", b"$"]
    assert [parent_of(tree, token) for token in (0, 4)] == ["program", "program"]


def test_it_may_belong_to_what_follows() -> None:
    tree = put_in("int b; $ int a;", "next")
    see(tree)
    assert parent_of(tree, 3) == "local_variable_declaration"


def test_it_may_belong_to_what_stands_before() -> None:
    tree = put_in("f(a $); g(); h() $;", "last")
    see(tree)
    assert parent_of(tree, 3) == "argument_list"
    assert parent_of(tree, len(tree.texts) - 2) == "argument_list"


def test_the_order_of_leaves_at_one_place_stays() -> None:
    text = "int a; $# int b;"
    leaves = [Leaf(7, 8, KIND, "next"), Leaf(8, 9, KIND)]
    tree = woven(tree_of(text.replace("#", " ")), text.encode(), leaves, ROOT)
    see(tree)
    assert tree.texts[3:5] == [b"$", b"#"]


def test_into_a_tree_without_anything() -> None:
    tree = put_in("$  $")
    see(tree)
    assert (tree.texts, tree.kind[0]) == ([b"$", b"$"], ROOT)
    nothing = woven(tree_of(" "), b" ", [], ROOT)
    assert nothing.kind == [] and nothing.data == b" "


def test_tokens_go_and_others_get_another_kind() -> None:
    text = "int a; $ f();"
    tree = put_in(text, dropped=[5], renamed={9: (10, KIND)})
    see(tree)
    assert tree.texts == [b"int", b"a", b"$", b"f", b"(", b")", b";"]
    assert tree.kind[tree.token_node[3]] == KIND


def test_texts_that_are_known_stay_with_their_tokens() -> None:
    plain = tree_of("int a; $ int b;")
    known = [text.upper() for text in plain.texts]
    from dataclasses import replace

    tree = woven(replace(plain, known_texts=known), b"int a; $ int b;", [Leaf(7, 8, KIND)], ROOT)
    assert tree.texts == [b"INT", b"A", b";", b"$", b"INT", b"B", b";"]


def test_a_node_goes_with_the_last_of_its_tokens() -> None:
    tree = put_in("f(); ; g();", dropped=[5])
    see(tree)
    assert tree.texts == [b"f", b"(", b")", b";", b"g", b"(", b")", b";"]
