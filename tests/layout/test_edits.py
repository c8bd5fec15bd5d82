"""Edits that a style asks for: separators after last items, and comments wrapped anew."""

from __future__ import annotations

import re

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import stilo
from stilo.edits import apply_edits


@pytest.mark.parametrize("text", [b"```[\n ", b"```\nx\n  ", b"```\n", b"tide", b""])
def test_edits_add_the_last_line_end_though_it_is_within_a_token(text: bytes) -> None:
    result = stilo.reformat(text, "markdown")
    assert apply_edits(text, result.edits) == result.data


words = st.lists(
    st.text("abcdefghij", min_size=1, max_size=12)
        | st.sampled_from(["-", "1.", "@tag", "x;", "(a", "埠頭"]),
    min_size=1,
    max_size=40,
)


def said(text: str) -> str:
    return re.sub(r"[\s/*]", "", text)


@given(words, st.integers(20, 80), st.integers(0, 3))
@settings(max_examples=150, deadline=None)
def test_wrapped_prose_says_the_same_and_is_settled(
    some: list[str], width: int, depth: int
) -> None:
    comment = "// " + " ".join(some)
    text = "class A { " * depth + "\n" + comment + "\n" + "}" * depth
    once = stilo.reformat(text, "java", {"comment-columns": width})
    again = stilo.reformat(once.text, "java", {"comment-columns": width})
    assert again.text == once.text
    assert said(once.text) == said(text)


def test_only_sentences_are_wrapped() -> None:
    long = "word " * 12
    for kept in (f"// - {long}", f"//{long}", f"// {long};", f"// {long} https://skerry.example"):
        result = stilo.reformat(kept.rstrip() + "\n", "java", {"comment-columns": 40})
        assert result.text == kept.rstrip() + "\n"
    wrapped = stilo.reformat(f"// {long}\n", "java", {"comment-columns": 40})
    assert wrapped.text.count("//") == 2
    assert wrapped.findings[-1].message == "the comment is not wrapped to 40 columns"


@pytest.mark.parametrize("tail", ["stacked", "never"])
@given(
    st.lists(st.integers(0, 10 ** 6), min_size=1, max_size=12), st.booleans(), st.integers(20, 60)
)
@settings(max_examples=60, deadline=None)
def test_a_separator_stands_behind_the_last_item_only_where_wanted(
    tail: str, numbers: list[int], has_one: bool, width: int
) -> None:
    items = ", ".join(map(str, numbers)) + ("," if has_one else "")
    text = f"class A {{ int[] lanes = {{{items}}}; }}"
    style = {"items.trailing": tail, "width": width}
    result = stilo.reformat(text, "java", style)
    lines = result.text.count("\n") - 4  # of items, where the list is opened
    ends = re.search(r"(,?)\s*\};", result.text)
    assert ends is not None
    is_shared = lines <= 1 < len(numbers) or lines < 1
    wanted = not is_shared and (lines == len(numbers) or has_one)
    assert (ends.group(1) == ",") == (tail == "stacked" and wanted), result.text
    assert max(map(len, result.text.split("\n"))) <= width or width < 40
    assert stilo.reformat(result.text, "java", style).text == result.text
    assert [int(n) for n in re.findall(r"\d+", result.text)] == numbers


@given(
    st.recursive(
        st.sampled_from(["a", "berth", "lorries_on_the_deck"]),
        lambda inner: st.tuples(
            st.sampled_from(["f(%s)", "[%s]", "{%s}", "ship.find(%s)(1,)"]),
            st.lists(inner, min_size=1, max_size=3).map(", ".join),
            st.sampled_from(["", ","]),
        ).map(lambda parts: parts[0] % (parts[1] + parts[2])),
        max_leaves=8,
    ),
    st.integers(20, 60),
    st.sampled_from(["opened", "keep", "stacked", "never"]),
)
@settings(deadline=None)
def test_a_separator_that_goes_leaves_all_settled(value: str, width: int, tail: str) -> None:
    style = {f"{role}.trailing": tail for role in ("arguments", "items", "entries")}
    once = stilo.reformat(f"x = {value}\n", "python", {"width": width, **style})
    again = stilo.reformat(once.text, "python", {"width": width, **style})
    assert again.text == once.text
    if tail == "opened" and once.text.count("\n") == 1:
        assert not re.search(r",[]})]", once.text.replace(",)", ""))
