"""HTML: what a page's own style sheets say of white space."""

from __future__ import annotations

import pytest

import stilo


def laid_out(sheet: str, body: str) -> str:
    """The body of a page with a style sheet, laid out; a second run changes nothing."""
    text = f"<head>\n<style>\n{sheet}\n</style>\n</head>\n<body>\n{body}\n</body>\n"
    chosen = stilo.Styles({}, "default", "html").of("page.html")
    result = stilo.reformat_styled(text, chosen, name="page.html")
    assert not stilo.reformat_styled(result.data, chosen, name="page.html").changed
    return result.text.partition("<body>\n")[2].rpartition("</body>")[0].strip()


LIST = "<ul class='tabs wide' id=quays><li>a</li><li>b</li></ul>"
BESIDE, BELOW = "<li>a</li><li>b</li>", "<li>a</li>\n"


@pytest.mark.parametrize(
    "sheet",
    [
        "li { display: inline }",
        "LI {\n  color: red;\n  Display : inline-block !important\n}",
        ".tabs li { display: inline-flex }",
        ".tabs>li { display: inline }",
        "body > .tabs.wide > li { display: inline }",
        "#quays li:hover, p { display: inline }",
        "li + li { display: inline }",
        ".sea, ul[class] > li:first-child { display: inline }",
        "@media print { @supports (display: grid) { li { display: inline } } }",
        "/* tabs */ .tabs /* all */ * li, li { display: inline }",
        "ul > li ~ li { display: inline }",
    ],
)
def test_items_that_stand_in_a_line_stay_beside_each_other(sheet: str) -> None:
    assert BESIDE in laid_out(sheet, LIST)


@pytest.mark.parametrize(
    "sheet",
    [
        "ol li { display: inline }",
        ".tabs.narrow li { display: inline }",
        "body > li { display: inline }",
        "#ferries li { display: inline }",
        "li::before, li:after { display: inline-block }",
        "li > ul { display: inline }",
        "body > p ~ li { display: inline }",
        "li { color: inline; content: 'x' }",
        "p + li:is(.a) b { display: inline }",
        "@font-face { display: inline }",
        "/* li { display: inline } */",
    ],
)
def test_what_a_sheet_says_of_others_changes_nothing(sheet: str) -> None:
    assert BELOW in laid_out(sheet, LIST)


def test_white_space_that_a_sheet_shows_stays() -> None:
    body = "<p class=log>low   tide\n 6:40</p>"
    assert "low   tide\n 6:40" in laid_out(".log { white-space: pre-wrap }", body)
    assert "low tide 6:40" in laid_out(".log { white-space: nowrap }", body)


def test_an_element_in_a_line_has_lines_in_it_if_it_is_a_box() -> None:
    body = "a<div><p>low</p><p>tide</p></div>b"
    assert laid_out("div { display: inline-block }", body).split("\n")[0] == "a<div>"


def test_a_label_that_is_a_box_is_read_as_any_other() -> None:
    body = "<p><label> low</label>tide</p>"
    assert laid_out("label { display: inline-block }", body) == body


def test_a_word_that_is_known_goes_before_what_a_sheet_says() -> None:
    text = "<style>\nli { display: inline }\n</style>\n<ul><li>low   tide</li></ul>\n"
    for words, item in (("li shown", "low   tide"), ("", "low tide")):
        chosen = stilo.Styles({"known-words": words}, "default", "html").of("page.html")
        assert f"<li>{item}</li>" in stilo.reformat_styled(text, chosen, name="page.html").text


def test_long_and_broken_sheets_are_read_as_far_as_they_go() -> None:
    many = "".join(f".quay{n} li {{ display: inline }}\n" for n in range(2_100))
    assert BELOW in laid_out(many, LIST)
    assert BESIDE in laid_out("li { display: inline } } .x {", LIST)
    nested = "@media print { " * 20 + "li { display: inline }" + " }" * 20
    assert BELOW in laid_out(nested, LIST)
