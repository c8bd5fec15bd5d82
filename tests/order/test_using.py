"""Imports beside lines for a preprocessor: these are no comments of theirs, and part them."""

from __future__ import annotations

import pytest

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


UNUSED = {"import.unused": "remove"}


def kept(text: str, language: str = "csharp") -> list[str]:
    """The imports of a text without those that it shows to be needless."""
    found = stilo.reformat(text, language, UNUSED).text.split("\n")
    return [line.strip() for line in found if line.strip().startswith("using")]


def test_another_name_that_nothing_refers_to_goes() -> None:
    assert (
        kept("using D = S.Deck;\nusing L = S.Lane;\n\nclass A { L l; }\n") == ["using L = S.Lane;"]
    )


@pytest.mark.parametrize(
    "use",
    [
        "/// <see cref=\"D\"/>\nclass A {}",
        "class A {\n#if X\n#else\nD d;\n#endif\n}",
        "class A { string s = nameof(D); }",
        "namespace N { using E = D.F; }",
    ],
)
def test_another_name_stays_wherever_it_is_used(use: str) -> None:
    assert kept(f"using D = S.Deck;\n\n{use}\n")[0] == "using D = S.Deck;"


def test_one_with_a_comment_stays() -> None:
    assert kept("using D = S.Deck; // for the winter\n\nclass A {}\n")


def test_a_namespace_that_all_code_is_in_need_not_be_named() -> None:
    text = "using System;\nusing S;\nusing S.Quay;\nusing S.Qua;\nusing S.Quay.Deck;\n\nnamespace S.Quay { class A {} }\n"
    assert kept(text) == ["using System;", "using S.Qua;", "using S.Quay.Deck;"]


@pytest.mark.parametrize(
    "more",
    ["class B {}", "[assembly: B]", "namespace T { class B {} }", "#if X\nclass B {}\n#endif"]
)
def test_it_must_where_other_code_stands_beside(more: str) -> None:
    beside, after = (more, "") if more[0] == "[" else ("", more)
    assert kept(f"using S;\n{beside}\nnamespace S {{ class A {{}} }}\n{after}\n") == ["using S;"]


def test_within_a_namespace_none_goes_for_where_it_stands() -> None:
    text = "namespace S.Q {\n  using S;\n  using D = S.Deck;\n  class A {}\n}\n"
    assert kept(text) == ["using S;", "using D = S.Deck;"]


def test_what_other_files_decide_is_told() -> None:
    result = stilo.reformat("using System;\nusing S;\n\nclass A {}\n", "csharp", UNUSED)
    assert isinstance(result, stilo.Result)
    assert result.unseen_imports == ("System", "S")
    assert stilo.reformat("using System;\n\nclass A {}\n", "csharp").unseen_imports == ()


def test_directives_within_namespaces_are_sorted_in_them() -> None:
    text = "using Z;\nusing A;\nnamespace S {\n  using Y;\n  // b\n  using B;\n  namespace T {\n    using X;\n    using C;\n  }\n  class D {}\n}\n"
    found = stilo.reformat(text, "csharp", GROUPS)
    lines = [line.strip() for line in found.text.split("\n")]
    assert [line for line in lines if line[:2] in ("us", "//")] == [
        "using A;", "using Z;", "// b", "using B;", "using Y;", "using C;", "using X;"
    ]
    assert not stilo.reformat(found.text, "csharp", GROUPS).changed


def test_in_each_branch_they_are_sorted() -> None:
    text = "using Z;\nusing Y;\n#if A\nusing X;\nusing W;\n#else\nusing V;\nusing U;\n#endif\n\nclass D {}\n"
    assert stilo.reformat(text, "csharp", GROUPS).text == (
        "using Y;\nusing Z;\n#if A\nusing W;\nusing X;\n#else\nusing U;\nusing V;\n#endif\n\nclass D {}\n"
    )


def test_the_command_says_what_other_files_decide(place, run) -> None:
    place({"Deck.cs": "using Skerry;\nusing System;\n\nclass Deck {}\n"})
    done = run("arrange", "--set", "import.unused=remove", "Deck.cs")
    said = "Deck.cs: whether Skerry, System are needed depends on other files; they stay"
    assert said in done.output
