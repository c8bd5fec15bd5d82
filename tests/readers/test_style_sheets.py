"""How style sheets are read: what stands together, what stands apart, and what cannot be read."""

from __future__ import annotations

import pytest

import stilo
from stilo.languages.css.reader import KINDS, StyleSheetReader
from stilo.readers.reader import Wanted


def shape(text: str) -> str:
    """The tree of a text: nodes as (kind …), leaves as their texts."""
    parsed = StyleSheetReader().read(text.encode(), Wanted())
    assert parsed.error is None
    tree, pieces = parsed.tree, list[str]()
    token = 0
    for kind in tree.shape:
        if kind < 0:
            pieces.append(")")
        elif kind in tree.inner:
            pieces.append(f" ({KINDS.names[kind]}")
        else:
            pieces.append(f" {tree.texts[token].decode()}")
            token += 1
    return "".join(pieces).strip()


def selector(text: str) -> str:
    return shape(f"{text}{{}}").removeprefix("(stylesheet (rule (selectors ").partition(
        ") (block"
    )[0]


def value(text: str) -> str:
    found = shape(f"a{{b:{text}}}")
    return found[found.index("(declaration b : ") + 17:].removesuffix(") })))")


@pytest.mark.parametrize(
    "text, wanted",
    [
        ("a.b:hover", "a.b:hover"),
        ("a .b", "a .b"),
        ("a>b", "a > b"),
        ("a:not(.b) .c", "(run a: (call not ( .b ))) .c"),
        ("a:not(.b).c", "(run a: (call not ( .b )) .c)"),
        ("a[b]", "(run a (brackets [ b ]))"),
        ("a [b]", "a (brackets [ b ])"),
        ("a,b c", "a , (selector b c)"),
        ("a/**/ b", "a /**/ b"),
    ],
)
def test_white_space_between_selectors_counts(text: str, wanted: str) -> None:
    assert selector(text) == wanted


@pytest.mark.parametrize(
    "text, wanted",
    [
        ("1px -2px", "1px -2px"),
        ("12px/1.5 x,y", "(value 12px/1.5 x) , y"),
        ("red!important", "red !important"),
        ("red ! important", "red ! important"),
        ("f( 1px , g(2) )", "(call f ( 1px , (call g ( 2 )) ))"),
        ("a/**/b", "a/**/b"),
        ('"a"b', '(run "a" b)'),
    ],
)
def test_values_are_words_and_lists(text: str, wanted: str) -> None:
    assert value(text) == wanted


def test_an_item_with_a_block_is_a_rule_but_for_a_property_of_ones_own() -> None:
    assert shape("a{b:c{d:e}}").count("(rule") == 2
    assert shape("a{--b:{d:e}}").count("(rule") == 1
    assert "(feature min-width : 1px)" in shape("@media (min-width:1px){}")


@pytest.mark.parametrize(
    "text, place, message",
    [
        ("a { b: c", "1:3", '"{" is not closed'),
        ("a { b { c }", "1:3", '"{" is not closed'),
        ("a { b: c\\}", "1:3", '"{" is not closed'),
        ("ä { b: (c; }", "1:12", '"}" closes nothing that is open'),
        ("/* ü */ }", "1:9", '"}" closes nothing that is open'),
        ('a { b: "c\n }', "1:8", "the string is not closed on its line"),
        ("a {}\n/* b", "2:1", "the comment is not closed"),
        ("a { b: url(c", "1:8", "the url() is not closed, or holds a quote or a bracket"),
        ("a { b: \\\n }", "1:8", "the backslash before a line end escapes nothing"),
    ],
)
def test_what_is_left_open_is_told_where_it_begins(text: str, place: str, message: str) -> None:
    with pytest.raises(stilo.SyntaxFault) as found:
        stilo.reformat(text, "css", name="board.css")
    assert (
        str(found.value)
        == (f"board.css:{place}: syntax error: {message}; the file is left as it was")
    )


@pytest.mark.parametrize("text", ["", " \n", "/* a */\n", "\ufeffa { b: c }\n", "é { ü: ä; }\n"])
def test_what_has_nothing_to_lay_out_stays(text: str) -> None:
    wanted = "" if text.isspace() else text
    assert stilo.reformat(text, "css").data == wanted.encode()


def test_depth_breaks_nothing() -> None:
    deep = "a{" * 400 + "}" * 400
    result = stilo.reformat(deep, "css", {"indent": 0})
    assert result.text.count("{") == 400
    brackets = "a { b: " + "(" * 20_000 + ")" * 20_000 + " }\n"
    assert (
        "".join(stilo.reformat(brackets, "css").text.split())
        == brackets.replace(" ", "").replace("}", ";}").strip()
    )


def test_line_ends_of_both_kinds_and_form_feeds_are_counted() -> None:
    assert stilo.reformat(b"a {\r\n  b: c\r\n}\r\n", "css").data == b"a {\r\n  b: c;\r\n}\r\n"
    with pytest.raises(stilo.SyntaxFault, match="^text:3:1: "):
        stilo.reformat(b"a {}\r\n\x0cb {}\n}\n", "css")


def test_what_is_important_over_two_lines_is_measured_by_each() -> None:
    text = f"a {{\n  b: {'x ' * 36}!\nimportant;\n}}\n"
    assert stilo.reformat(text, "css").text == text
