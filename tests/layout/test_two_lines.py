"""Arguments that fill two lines of their own, and what a flowing sequence leaves room for."""

from __future__ import annotations

import pytest

import stilo

STYLE = {"width": 60, "arguments.inner-line": "two", "indent": 4, "continuation": 8}


def laid_out(call: str, language: str = "c", **style: str) -> str:
    """A call as a statement of a function, without the function."""
    text = stilo.reformat(f"void f() {{ {call} }}\n", language, {**STYLE, **style}).text
    return "".join(line[4:] + "\n" for line in text.split("\n")[2:-2])


TWO = """\
report(
        quay->name, depth_of(quay), "low tide", 4,
        lanes->first);
"""
EACH = """\
report(
        quay->name,
        depth_of(quay),
        "a long message of the tide",
        lanes->first,
        lanes->second,
        berth->number);
"""


def test_arguments_fill_two_lines_but_no_more() -> None:
    call = 'report(quay->name, depth_of(quay), "low tide", 4, lanes->first);'
    assert laid_out(call) == TWO
    assert laid_out(call, **{"arguments.inner-line": "yes"}).count("\n") == 6
    call = (
        'report(quay->name, depth_of(quay), "a long message of the tide", lanes->first, '
        "lanes->second, berth->number);"
    )
    assert laid_out(call) == EACH


def test_where_a_comment_opens_an_item_each_has_a_line() -> None:
    call = "report(quay->name, depth_of(quay, // now\n 4), first->lane, second->lane, third);"
    assert laid_out(call).count("\n") > 6


def test_an_item_longer_than_the_line_leaves_no_two_lines() -> None:
    call = 'report(quay, "a text that is too long for its line whatever becomes of it", one, two);'
    assert laid_out(call).split("\n")[1:-2] == [
        "        quay,",
        '        "a text that is too long for its line whatever becomes of it",',
        "        one,",
    ]


def test_two_lines_of_which_one_is_too_long_are_none() -> None:
    call = 'report(quay, sea, "a text that is too long for its line whatever becomes of it");'
    assert laid_out(call).split("\n")[1:3] == ["        quay,", "        sea,"]


def test_a_function_among_the_arguments_opens_beside_none_of_them() -> None:
    call = "report(quay_of_the_sailing, [&](int berth) { moor(berth); load(berth); }, lanes, deck, tide);"
    assert "        lanes,\n        deck,\n" in laid_out(call, "cpp")


@pytest.mark.parametrize("body", ["top: 0", "padding-left: var(--the-height-of-the-board)"])
def test_the_last_line_of_a_selector_leaves_room_for_the_brace_alone(body: str) -> None:
    """What follows it opens where it does not fit."""
    text = f".board-of-departures.has-icons-left .sailing .berth {{ {body} }}\n"
    style = {"width": 40, "rule-body.short": "fits"}
    result = stilo.reformat(text, "css", style)
    assert result.text.startswith(".board-of-departures.has-icons-left\n  .sailing .berth {")
    assert not stilo.reformat(result.text, "css", style).changed


@pytest.mark.parametrize("lines", ["two", "yes"])
def test_arguments_that_share_a_line_stay_beside_no_object_that_opens(lines: str) -> None:
    """It would then be said to be opened by its author, and each argument have a line."""
    call = 'Ferry.defineSomeProperties(TheQuay.prototype, "constructor", { writable: true, configurable: true, enumerable: true, value: sea });'
    style = {"width": 60, "arguments.inner-line": lines}
    result = stilo.reformat(call + "\n", "javascript", style)
    assert '  TheQuay.prototype,\n  "constructor",\n  {' in result.text
    assert not stilo.reformat(result.text, "javascript", style).changed
