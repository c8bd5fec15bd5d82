"""JavaScript and TypeScript: line ends that end statements, and commas that count."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import stilo

LONG = "passengerOfTheSailing && vehicleOfThePassenger"


@pytest.mark.parametrize(
    "text, never",
    [
        (f"return_(() => {{ return {LONG} }})\n", "return\n"),
        (f"function* f() {{ yield {LONG} }}\n", "yield\n"),
        (f"throw new Error({LONG})\n", "throw\n"),
        (f"const f = (passengerOfTheSailing, vehicleOf) => {LONG}\n", "\n=>"),
        ("theNumberOfSailingsOfTheWholeLine[northernHarbour]++\n", "\n++"),
    ],
)
@pytest.mark.parametrize("width", [20, 30, 40])
def test_none_is_put_where_it_would_end_one(text: str, never: str, width: int) -> None:
    result = stilo.reformat(text, "javascript", {"width": width}).text
    lines = "\n".join(line.strip() for line in result.split("\n"))
    assert never not in lines


STATEMENTS = st.sampled_from([
    "a = b",
    "f()",
    "let x = 1",
    "if (a) b()",
    "do f()\nwhile (a)",
    "x++",
    "class A { a = 1\n b }",
    "return_",
    "throw_(a)",
    "for (;;) f()",
    "var g = function () {}",
    "label: f()",
    "'text'",
    "import_()",
])


@settings(deadline=None, max_examples=60)
@given(
    statements=st.lists(STATEMENTS, min_size=1, max_size=6),
    width=st.integers(20, 60),
    short=st.sampled_from(["never", "authored", "fits"]),
    hang=st.sampled_from(["fits", "line"]),
)
def test_none_is_taken_where_it_ends_one(
    statements: list[str], width: int, short: str, hang: str
) -> None:
    """Each statement still begins a line, and a second run changes nothing."""
    style = {"width": width, "*.short": short, "bare-body.hang": hang}
    once = stilo.reformat("\n".join(statements) + "\n", "javascript", style)
    lines = [line for line in once.text.split("\n") if line and not line[0].isspace()]
    first = [statement.split()[0].split("(")[0] for statement in statements]
    found = iter(lines)
    assert all(any(line.startswith(word) for line in found) for word in first)
    assert not stilo.reformat(once.text, "javascript", style).changed


@pytest.mark.parametrize(
    "text",
    [
        "x = [1, ,];\n",
        "x = [, ,];\n",
        "let [a, ...b] = c;\n",
        "function f(a, ...b) {}\n",
        "const { a, ...b } = c;\n",
    ]
)
@pytest.mark.parametrize("trailing", ["stacked", "never", "keep"])
@pytest.mark.parametrize("wrap", ["stack", "stack-always"])
def test_commas_that_count_neither_come_nor_go(text: str, trailing: str, wrap: str) -> None:
    style = {"*.trailing": trailing, "*.wrap": wrap}
    result = stilo.reformat(text, "javascript", style).text
    assert "".join(result.split()) == "".join(text.split())


def test_members_that_no_sign_parts_keep_a_line_each() -> None:
    text = "type A = {\n  a: string\n  b: number\n}\n"
    for style in ({}, {"*.authored": "no"}, {"type-entries.wrap": "row"}, {"density": "dense"}):
        assert stilo.reformat(text, "typescript", style).text == text


def test_what_the_grammar_of_typescript_cannot_read_stays() -> None:
    text = "let  a = 1\nlet b: = 2\nlet  c = 3\n"
    result = stilo.reformat(text, "typescript")
    assert result.text == "let a = 1\nlet b: = 2\nlet c = 3\n"
    assert [unread.position.line for unread in result.unread] == [2]


@pytest.mark.parametrize(
    "line",
    [
        "let a: Map<import('./b').C<D>, E>",
        "type A<in out B, out C> = D",
        "import A = B.C",
        "type A = {\n  (a: B): C\n  <D>(a: D): C\n}",
    ],
)
def test_what_it_does_not_know_is_read_otherwise(line: str) -> None:
    result = stilo.reformat(f"{line}\nlet  z = 1\n", "typescript")
    assert result.text == f"{line}\nlet z = 1\n"
    assert not result.unread


def test_imports_are_sorted_between_those_that_name_nothing() -> None:
    text = (
        "import { z } from './z.js'\nimport fs from 'node:fs'\nimport b from \"b\"\nimport './polyfill.js'\n"
        "import y from 'y'\nimport * as x from 'x'\n"
    )
    assert stilo.reformat(text, "javascript", {"import.order": "groups"}).text == (
        "import fs from 'node:fs'\n\nimport b from \"b\"\n\nimport { z } from './z.js'\n"
        "import './polyfill.js'\nimport * as x from 'x'\nimport y from 'y'\n"
    )


@pytest.mark.parametrize(
    "language, text, line",
    [
        ("javascript", "function f() {\n  return\n  `${tide}`\n}\n", 3),
        ("tsx", "const f = () => { return // low\n <p>{tide}</p> }\n", 2),
        ("javascript", "function *f() { yield\n`tide`\n}\n", 2),
        ("typescript", "interface\ntide\n{}\n", 2),
    ],
)
def test_a_line_that_a_grammar_takes_for_the_value_of_the_one_before_is_told(
    language: str, text: str, line: int
) -> None:
    """These words end a statement at the end of their line; joined, the text would be another program."""
    with pytest.raises(
        stilo.SyntaxFault, match=rf"^text:{line}:\d+: the grammar \w+ takes this line for a part of"
    ):
        stilo.reformat(text, language)


def test_words_that_end_a_statement_may_stand_alone_or_be_names() -> None:
    text = "for (;;) {\n  tide = { return\n: 1 };\n  if (tide.return\n) break\n;\n  const f = async () => 1;\n}\n"
    result = stilo.reformat(text, "javascript").text
    assert result == (
        "for (;;) {\n  tide = { return: 1 };\n  if (tide.return) break;\n  const f = async () => 1;\n}\n"
    )


@pytest.mark.parametrize("language", ["javascript", "typescript", "tsx"])
def test_from_goes_on_with_an_export(language: str) -> None:
    text = "export { tide }\nfrom './tides'\n"
    result = stilo.reformat(text, language, {"statement-ends": "sign"}).text
    assert result == "export { tide } from './tides';\n"


@pytest.mark.parametrize("language", ["javascript", "typescript", "tsx"])
@pytest.mark.parametrize(
    "text", ["const tide /* low\n or high */ = 1;\n", "export /* low\n tide */ default 1;\n"]
)
def test_a_line_end_in_a_comment_ends_no_statement_before_what_goes_on(
    language: str, text: str
) -> None:
    result = stilo.reformat(text, language).text
    assert result.split() == text.split()
    assert not stilo.reformat(result, language).changed


def test_an_import_in_code_gets_no_comma() -> None:
    text = "const board: import('./board-of-the-quay.js').Board = await import('./board-of-the-quay.js');\n"
    style = {"arguments.trailing": "stacked", "width": 30}
    result = stilo.reformat(text, "typescript", style).text
    assert "," not in result and len(result.splitlines()) > 3
