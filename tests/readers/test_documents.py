"""Markdown: blocks and words, what must not change in them, and what a style may."""

from __future__ import annotations

from textwrap import dedent

import pytest
from hypothesis import given
from hypothesis import strategies as some
from markdown_it import MarkdownIt

import stilo

PARTS = [
    "Boats",
    "leave",
    "at",
    "nine.",
    "The",
    "- ",
    "* ",
    "+ ",
    "1. ",
    "2) ",
    "> ",
    "# ",
    "## ",
    "\n",
    "\n\n",
    "  ",
    "    ",
    "`a  b`",
    "``",
    "`",
    "[quay](a b)",
    "[quay](<a> 't')",
    "[a]: b",
    "<b>",
    "<div>",
    "</div>",
    "<!-- c -->",
    "***",
    "---",
    "===",
    "```",
    "~~~py",
    "| a | b |",
    "|--|:-:|",
    "\\",
    "\\\n",
    "  \n",
    "&amp;",
    "*x*",
    "__y__",
    "**y z**",
    "_x *y* z_",
    "7. ",
    "![i](j)",
]


def html(text: str) -> str:
    """What is made of a document, with the same white space whatever its lines are."""
    made = MarkdownIt("commonmark").enable("table").render(text)
    return "".join(made.split())


def laid_out(text: str, **style: str | int) -> str:
    result = stilo.reformat(
        text, "markdown", {name.replace("_", "-"): v for name, v in style.items()}
    )
    again = stilo.reformat(
        result.text, "markdown", {name.replace("_", "-"): v for name, v in style.items()}
    )
    assert again.text == result.text
    assert not again.findings
    return result.text


@given(
    some.lists(some.sampled_from(PARTS), max_size=25).map("".join),
    some.fixed_dictionaries({
        "paragraphs": some.sampled_from(["keep", "flow", "row", "sentences"]),
        "tables": some.sampled_from(["keep", "columns", "short"]),
        "bullets": some.sampled_from(["keep", "dash", "star"]),
        "numbers": some.sampled_from(["keep", "begun", "counted", "same"]),
        "headings": some.sampled_from(["keep", "marks", "underlined"]),
        "emphasis": some.sampled_from(["keep", "star", "underscore"]),
        "strong_emphasis": some.sampled_from(["keep", "star", "underscore"]),
        "width": some.sampled_from([20, 40, 80]),
    }),
)
def test_any_text_says_the_same(text: str, style: dict[str, str | int]) -> None:
    assert html(laid_out(text, **style)) == html(text)


@pytest.mark.parametrize(
    "text, prose, wanted",
    [
        ("One two\nthree\n", "keep", "One two\nthree\n"),
        ("One two\nthree\n", "row", "One two three\n"),
        ("One two. Three\nfour.\n", "sentences", "One two.\nThree four.\n"),
        ("See Mr. Quay, e.g. The boat.\n", "sentences", "See Mr. Quay, e.g. The boat.\n"),
        ("Line  \nbreak\\\nhere\n", "row", "Line  \nbreak\\\nhere\n"),
        ("Boat number\n2. leaves\n", "row", "Boat number\n2. leaves\n"),  # it is text there, and no list
        ("a\n    - b\n", "keep", "a - b\n"),  # without its indent it would be a list
        ("`a\nb` c\nd\n", "row", "`a\nb` c d\n"),  # within code a line end is its author's
        ("A [quay](q.html\n'North') b\n", "row", "A [quay](q.html\n'North') b\n"),
        ("c:\\ d\n", "row", "c:\\ d\n"),
    ],
)
def test_lines_of_prose(text: str, prose: str, wanted: str) -> None:
    assert laid_out(text, paragraphs=prose) == wanted


def test_no_line_begins_with_what_is_read_as_something_else() -> None:
    words = ["boats", "-", "1.", "#", ">", "+", "===", "```x", "<div>", "|", "[a]:", "***", "---"]
    text = "Quay " + " leave ".join(words) + " end\n"
    for width in range(20, 60):
        assert html(laid_out(text, paragraphs="flow", width=width)) == html(text)


def test_words_fill_their_lines_up_to_the_width() -> None:
    assert (
        laid_out("a" * 9 + " " + "b" * 10 + "\n", paragraphs="flow", width=20)
        == f"{'a' * 9} {'b' * 10}\n"
    )
    assert (
        laid_out("a" * 10 + " " + "b" * 10 + "\n", paragraphs="flow", width=20)
        == f"{'a' * 10}\n{'b' * 10}\n"
    )
    assert (
        laid_out("- 船船船船 船船船船船\n", paragraphs="flow", width=20)
        == "- 船船船船\n  船船船船船\n"
    )


def test_items_stand_under_the_first_thing_in_them() -> None:
    text = "10.   a\n      b\n\n      - c\n\n            code\n"
    assert laid_out(text) == "10. a\n    b\n\n    - c\n\n          code\n"


def test_tabs_count_four_columns() -> None:
    text = "-\ta\n\n\tb\n\n\t\tcode\n"
    assert laid_out(text) == "- a\n\n  b\n\n      code\n"


def test_a_list_whose_items_stand_close_gets_no_blank_line() -> None:
    assert laid_out("- # a\n  b\n- c\n") == "- # a\n  b\n- c\n"
    assert laid_out("# a\nb\n") == "# a\n\nb\n"


@pytest.mark.parametrize("html", ["  <div>", "\n   <div>\n   Quay\n   </div>"])
def test_html_below_a_list_does_not_come_into_its_last_item(html: str) -> None:
    assert laid_out(f"*   a\n{html}\n", bullets="dash") == f"*   a\n{html}\n"
    assert laid_out(f"*   a\n{dedent(html)}\n", bullets="dash").startswith("- a\n")


def test_lists_that_follow_each_other_keep_their_marks() -> None:
    assert laid_out("* a\n\n- b\n", bullets="star") == "* a\n\n- b\n"
    assert laid_out("+ a\n  - b\n\ntext\n\n* c\n", bullets="dash") == "- a\n  - b\n\ntext\n\n- c\n"
    assert laid_out("* ---\n", bullets="dash") == "* ---\n"  # else it would be a line across


@pytest.mark.parametrize(
    "tables, wanted",
    [
        (
            "keep",
            "| a | b |\n| --- | --: |\n| 船 | 2 |\n\n| a   |   b |\n| --- | --: |\n| 1   |  22 |\n",
        ),
        (
            "columns",
            "| a   |   b |\n| --- | --: |\n| 船  |   2 |\n\n| a   |   b |\n| --- | --: |\n| 1   |  22 |\n",
        ),
        ("short", "| a | b |\n| --- | --: |\n| 船 | 2 |\n\n| a | b |\n| --- | --: |\n| 1 | 22 |\n"),
    ],
)
def test_tables(tables: str, wanted: str) -> None:
    assert (
        laid_out("|a|b|\n|-|-:|\n|船|2|\n\n|a  |b|\n|---|--:|\n|1|22|\n", tables=tables) == wanted
    )


def test_a_table_with_columns_of_the_right_alone_stays_in_columns() -> None:
    text = "|  a |\n| -: |\n| 10 |\n"
    assert laid_out(text) == "|   a |\n| --: |\n|  10 |\n"


def test_a_table_may_be_wider_than_the_page() -> None:
    text = "| a | b |\n| --- | --- |\n| " + "x" * 30 + " | c |\n"
    assert laid_out(text, width=20, tables="columns").splitlines()[0] == f"| a{' ' * 29} | b   |"


@pytest.mark.parametrize(
    "text",
    [
        "",
        "\n",
        "a",
        "---\ntitle: x\n---\n",
        "+++\na = 1\n+++\n\nb\n",
        "[a]: b\n[c]: d\n",
        "```\nopen",
        "<div>\n\n</div>\n",
        "\ufeff# a\n",
        "- \n",
        ">\n",
        "|a|\n|-|\n",
        "a\n---\n",
        "1)     code\n",
    ],
)
def test_what_says_little_stays_what_it_is(text: str) -> None:
    assert html(laid_out(text)) == html(text.removeprefix("\ufeff"))


def test_line_ends_stay() -> None:
    assert stilo.reformat(b"# a\r\nb\r\n", "markdown").data == b"# a\r\n\r\nb\r\n"


def test_a_carriage_return_alone_is_a_fault() -> None:
    with pytest.raises(
        stilo.SyntaxFault, match=r"^notice.md:1:2: the reader of Markdown cannot read"
    ):
        stilo.reformat("a\rb\n", "markdown", name="notice.md")


def test_directives_are_comments() -> None:
    text = (
        "<!-- stilo: leave -->\n*   a\n\n*   b\n\nc\n\n<!-- stilo: set paragraphs=row -->\n\nd\ne\n"
    )
    assert laid_out(text) == text.replace("d\ne", "d e")


def test_depth_breaks_nothing() -> None:
    deep = "".join(f"{'  ' * n}- a\n" for n in range(200))
    assert html(laid_out(deep)) == html(deep)
    assert laid_out("> " * 200 + "a\n") == "> " * 200 + "a\n"


def part_of(text: str, first: int, last: int, **style: str) -> str:
    return stilo.reformat(text, "markdown", style, lines=(first, last)).text


def test_a_list_is_laid_out_whole() -> None:
    text = "Boats:\n\n  *   a\n  *   b\n      c\n\nand   so on\n\n* d\n"
    wanted = "Boats:\n\n- a\n- b\n  c\n\nand   so on\n\n* d\n"
    for line in (3, 4, 5):
        assert part_of(text, line, line, bullets="dash") == wanted


def test_marks_of_a_list_stay_together_where_an_item_stays() -> None:
    text = "* a\n<!-- stilo: leave -->\n* b\n\nc\n\n* d\n  <!-- stilo: leave -->\n  *  e\n"
    assert "* a\n" in laid_out(text, bullets="dash")
    assert laid_out(text, bullets="dash").endswith("- d\n  <!-- stilo: leave -->\n  *  e\n")


def test_cells_stand_where_the_line_below_the_head_says() -> None:
    text = "|a|b|c|\n|:-:|-:|:-|\n|eins|zwei|drei|\n"
    assert (
        laid_out(text, tables="columns")
        == ("|  a   |    b | c    |\n| :--: | ---: | :--- |\n| eins | zwei | drei |\n")
    )


def test_a_line_that_is_text_for_its_lack_of_indent_gets_no_line() -> None:
    assert laid_out("- | a | b |\n|--|:-:|\n") == "- | a | b | |--|:-:|\n"


def test_html_keeps_its_indent_within_an_item() -> None:
    text = "-   a\n\n      <div>\n    x\n      </div>\n"
    assert laid_out(text) == "- a\n\n    <div>\n  x\n    </div>\n"


def test_what_would_take_too_long_is_told() -> None:
    with pytest.raises(stilo.SyntaxFault, match="a paragraph has more than 1000 opening brackets"):
        stilo.reformat("a " + "![" * 5000 + "\nb\n", "markdown", {"paragraphs": "row"})
    assert laid_out("- [a](b)\n" * 3000).count("[a](b)") == 3000


@pytest.mark.parametrize("end", ["yes", "no"])
@pytest.mark.parametrize(
    "text", ["```\n\n", "~~~\n\n\n", "```\na\n\n", "```\na\n\n\n", "- ```\n  a\n\n"]
)
def test_blank_lines_at_the_end_belong_to_a_fence_that_is_open(text: str, end: str) -> None:
    result = stilo.reformat(text, "markdown", {"final-newline": end})
    assert not result.changed
    assert not result.findings


@pytest.mark.parametrize(
    "way, text, wanted",
    [
        ("counted", "3. a\n3. b\n9. c\n", "3. a\n4. b\n5. c\n"),
        ("same", "3. a\n4. b\n9. c\n", "3. a\n3. b\n3. c\n"),
        ("begun", "3. a\n3. b\n9. c\n", "3. a\n3. b\n3. c\n"),
        ("begun", "3. a\n5. b\n9. c\n", "3. a\n4. b\n5. c\n"),
        ("keep", "3. a\n3. b\n9. c\n", "3. a\n3. b\n9. c\n"),
        ("counted", "9) a\n   b\n9) c\n   d\n", "9) a\n   b\n10) c\n    d\n"),
        ("counted", "1. a\n   - x\n1. b\n\n2) c\n2) d\n", "1. a\n   - x\n2. b\n\n2) c\n3) d\n"),
        ("counted", "999999999. a\n1. b\n", "999999999. a\n1. b\n"),
        ("counted", "> 1. a\n> 1. b\n", "> 1. a\n> 1. b\n"),  # a quote is a text of its own
        (
            "counted",
            "1. a\n\n<!-- stilo: leave -->\n1. b\n1. c\n",
            "1. a\n\n<!-- stilo: leave -->\n1. b\n1. c\n",
        ),
    ],
)
def test_numbers(way: str, text: str, wanted: str) -> None:
    assert laid_out(text, numbers=way) == wanted


@pytest.mark.parametrize(
    "form, text, wanted",
    [
        ("marks", "A *b*\n===\nc\n", "# A *b*\n\nc\n"),
        ("marks", "A\n---\n", "## A\n"),
        ("marks", "A\nb\n---\n", "A\nb\n---\n"),
        ("marks", "1\\. a #\n===\n", "1\\. a #\n===\n"),  # the sign at its end would be none of it
        ("underlined", "# A *b* ##\n", "A *b*\n=====\n"),
        ("underlined", "a\n## 船船\n", "a\n\n船船\n----\n"),
        ("underlined", "# a\n## b\n### c\n", "a\n===\n\nb\n---\n\n### c\n"),
        ("underlined", "# - a\n\n# 1. b\n\n#\n", "# - a\n\n# 1. b\n\n#\n"),
        ("underlined", "- # a\n", "- # a\n"),
        ("underlined", "# [a]: b\n", "# [a]: b\n"),
    ],
)
def test_headings(form: str, text: str, wanted: str) -> None:
    assert laid_out(text, headings=form) == wanted


@pytest.mark.parametrize(
    "text, wanted",
    [
        ("_a_ *b* __c__ **d**\n", "*a* *b* __c__ __d__\n"),
        ("_a b\nc_\n", "*a b\nc*\n"),
        ("a_b_c d*e*f x**y**z\n", "a_b_c d*e*f x**y**z\n"),
        ("_a *b* c_ ***d***\n", "_a *b* c_ ***d***\n"),
        ("`_a_` \\_a_ <b _a_> http://a/_b_/\n", "`_a_` \\_a_ <b _a_> http://a/_b_/\n"),
        ("[_a_](_b_) ![_a_](b)\n", "[_a_](_b_) ![_a_](b)\n"),
        ("[a _b_][] _c_\n\n[a _b_]: d\n", "[a _b_][] *c*\n\n[a _b_]: d\n"),
        ("> _a_\n", "> _a_\n"),  # a quote is a text of its own
        ("| _a_ | **b** |\n| --- | --- |\n", "| *a* | __b__ |\n| --- | --- |\n"),
        ("# _a_\n", "# *a*\n"),
        ("_(a)_: _b_.\n", "*(a)*: *b*.\n"),
    ],
)
def test_emphasis(text: str, wanted: str) -> None:
    assert laid_out(text, emphasis="star", strong_emphasis="underscore") == wanted


def test_forms_in_a_range_alone() -> None:
    result = stilo.reformat(
        "1. _a_\n1. _b_\n1. _c_\n",
        "markdown",
        {"numbers": "counted", "emphasis": "star"},
        lines=(2, 2)
    )
    assert result.text == "1. _a_\n2. *b*\n1. _c_\n"
    assert [(f.code, f.position) for f in result.findings] == [
        ("form", (2, 1)), ("form", (2, 4))
    ]


def test_a_form_that_would_say_something_else_is_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    from stilo.edits import Edit
    from stilo.languages.markdown import SUPPORT
    from stilo.support import Form

    def forms(tree: object, values: object) -> list[Form]:
        return [Form(0, (Edit(0, 1, b"#"),), "no", "headings")]

    monkeypatch.setitem(vars(SUPPORT), "forms", forms)
    with pytest.raises(stilo.UnsafeResult, match="with other forms"):
        stilo.reformat("- a\n", "markdown")


def test_texts_are_laid_out_beside_other_forms() -> None:
    style = stilo.Styles({"headings": "underlined"}, "default", "markdown").of("notice.md")
    result = stilo.reformat_styled("# a\n\n>  b\n", style)
    assert result.text == "a\n===\n\n> b\n"
    assert not stilo.reformat_styled(result.data, style).changed


@pytest.mark.parametrize(
    "text, wanted, setting, value",
    [
        ("A\n===\n\nB\n===\n", "# A\n\nB\n===\n", "headings", "marks"),
        ("_a\nb_ _c_\n", "*a\nb* *c*\n", "emphasis", "star"),
    ],
)
def test_a_range_takes_a_form_as_a_whole(text: str, wanted: str, setting: str, value: str) -> None:
    for lines in ((1, 1), (2, 2)):
        result = stilo.reformat(text, "markdown", {setting: value}, lines=lines)
        assert result.text == wanted if setting == "headings" else result.text.startswith("*a\nb*")


def test_a_table_may_have_any_number_of_columns() -> None:
    text = "\n".join("|" + cell * 1_200 for cell in ("a|", "-|", "bb|")) + "\n"
    result = stilo.reformat(text, "markdown", {"tables": "columns"}).text.split("\n")
    assert result[0] == "|" + " a   |" * 1_200 and result[2] == "|" + " bb  |" * 1_200
