"""Which comments act on their line, by their words: suppressions do, and notes to a reader do not."""

from __future__ import annotations

import pytest

import stilo

SUPPRESSING = {
    "c": [
        "// NOLINT(x)",
        "// NOCHECK",
        "/* lint -e534 */",
        "// checker: off",
        "// lint: disable x",
    ],
    "csharp": ["// NOCHECK", "// Checker disable once UnusedMember", "// lint: ignore"],
    "java": ["// NOTIDES", "// CHECK: OFF"],
    "python": ["# noqa: E501", "# type: ignore[x]", "# layout: off"],
}
REMARKS = [
    "NOTE",
    "NOTE: on deck",
    "NOTES",
    "NOTICE",
    "NONE left",
    "NORMAL tide",
    "TODO: enable this",
    "note: on windows",
    "Note: off the quay",
    "We disable this",
    "Only disable when late",
    "lanes: one or two",
    "berth: on the left",
]


@pytest.mark.parametrize(
    "language, comment",
    [(language, word) for language, words in SUPPRESSING.items() for word in words]
)
def test_a_suppression_acts_on_its_line(language: str, comment: str) -> None:
    pattern = stilo.load_language(language).bound({"bound-comments": ""})
    assert pattern is not None and pattern.search(comment.encode()), comment


@pytest.mark.parametrize("language", sorted(SUPPRESSING))
@pytest.mark.parametrize("words", REMARKS)
def test_a_remark_does_not(language: str, words: str) -> None:
    mark = "#" if language == "python" else "//"
    pattern = stilo.load_language(language).bound({"bound-comments": ""})
    assert pattern is not None and not pattern.search(f"{mark} {words}".encode())


def test_so_a_statement_below_a_note_is_laid_out() -> None:
    text = "class A\n{\n    // NOTE: slow\n    int a = F( 1 );\n}\n"
    assert stilo.reformat(text, "csharp").text == text.replace("F( 1 )", "F(1)")


CALLBACK = """\
board.onChange(function (sailing) {
        lower( ramp );
        const lanes=count(sailing,
              deck); // NOCHECK
        // NOCHECK
        load( lanes,
            deck );
        when(late, () => { tell( "late", // NOCHECK
            sailing ) });
        open( deck );
});
"""


def test_in_a_function_that_is_passed_only_the_statement_keeps_its_lines() -> None:
    """And goes further in or out with the line that it begins."""
    wanted = """\
board.onChange(function (sailing) {
  lower(ramp);
  const lanes=count(sailing,
        deck); // NOCHECK
  // NOCHECK
  load( lanes,
      deck );
  when(late, () => { tell( "late", // NOCHECK
      sailing ) });
  open(deck);
});
"""
    result = stilo.reformat(CALLBACK, "javascript")
    assert result.text == wanted
    assert not stilo.reformat(wanted, "javascript").changed


def test_in_a_body_within_an_expression_only_the_statement_keeps_its_lines() -> None:
    text = """\
class A {
    Runnable r = () -> {
        lower( ramp );
        load(lanes,
          deck); // NOCHECK
        open( deck );
    };
}
"""
    wanted = text.replace("( ramp )", "(ramp)").replace("( deck )", "(deck)")
    assert stilo.reformat(text, "java").text == wanted
