"""Imports beside lines for a preprocessor: these are no comments of theirs, and part them."""

from __future__ import annotations

import stilo

GROUPS = {"import.order": "groups"}


def test_using_directives_are_grouped_and_sorted_between_directives() -> None:
    text = (
        "using Skerry.Tides;\nusing System.Text;\n// about berths\nusing Skerry.Berths;\nusing System;\n"
        "#if WINTER\nusing Skerry.Snow;\nusing Skerry.Ice;\n#endif\nusing Skerry.Quays;\nusing Skerry.Lanes;\n\n"
        "class A {}\n"
    )
    assert stilo.reformat(text, "csharp", GROUPS).text == (
        "using System;\nusing System.Text;\n\n// about berths\nusing Skerry.Berths;\nusing Skerry.Tides;\n"
        "#if WINTER\nusing Skerry.Ice;\nusing Skerry.Snow;\n#endif\nusing Skerry.Lanes;\nusing Skerry.Quays;\n\n"
        "class A {}\n"
    )


def test_forms_stand_apart() -> None:
    text = "using Tides = Skerry.T;\nusing static Skerry.M;\nusing Skerry;\n\nclass A {}\n"
    assert (
        stilo.reformat(text, "csharp", GROUPS).text
        == ("using Skerry;\nusing static Skerry.M;\nusing Tides = Skerry.T;\n\nclass A {}\n")
    )


def test_none_goes_that_is_not_known_to_be_unused() -> None:
    assert "import.unused" not in stilo.load_language("csharp").settings
