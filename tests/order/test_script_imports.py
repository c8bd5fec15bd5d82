"""Imports of JavaScript and TypeScript: their names, in order, merged, and without those that nothing refers to."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import stilo

ORDER = {"import.order": "groups"}
CLEAN = {**ORDER, "import.unused": "remove"}


def cleaned(text: str, language: str = "javascript", **style: str) -> str:
    """The text with its imports in order and the unused ones out; that is settled."""
    values = {**CLEAN, **{name.replace("__", "."): value for name, value in style.items()}}
    result = stilo.reformat(text, language, values, only_order=True)
    assert not stilo.reformat(result.text, language, values, only_order=True).changed
    return result.text


@pytest.mark.parametrize(
    "before, after",
    [
        ('import { c, a, b as z } from "x";\n', 'import { a, b as z, c } from "x";\n'),
        ('import { a } from "x";\nimport { b } from "x";\n', 'import { a, b } from "x";\n'),
        ('import d from "x";\nimport { b } from "x";\n', 'import d, { b } from "x";\n'),
        ('import { b } from "x";\nimport d from "x";\n', 'import d, { b } from "x";\n'),
        ('import { b } from "x"\nimport { a } from \'x\'\n', 'import { a, b } from "x"\n'),
        # Those that cannot be one stay two.
        ('import a from "x";\nimport b from "x";\n', 'import a from "x";\nimport b from "x";\n'),
        (
            'import * as n from "x";\nimport { b } from "x";\n',
            'import { b } from "x";\nimport * as n from "x";\n',
        ),
        # Nothing crosses an import without names, nor one whose names are given in quotes.
        (
            'import z from "z";\nimport "y";\nimport a from "a";\n',
            'import z from "z";\nimport "y";\nimport a from "a";\n',
        ),
        (
            'import { "a b" as c } from "x";\nimport { d } from "x";\n',
            'import { "a b" as c } from "x";\nimport { d } from "x";\n',
        ),
        # Comments stay with their names.
        (
            'import {\n  b, // of the berth\n  a,\n} from "x";\n',
            'import {\n  a,\n  b, // of the berth\n} from "x";\n',
        ),
    ],
)
def test_names_of_one_module_are_sorted_and_merged(before: str, after: str) -> None:
    result = stilo.reformat(before, "javascript", ORDER, only_order=True)
    assert result.text == after
    assert not stilo.reformat(after, "javascript", ORDER, only_order=True).changed


def test_words_of_the_language_are_names_there() -> None:
    text = 'import { null as nothing, default as whole } from "x";\n\nexport { nothing as null, whole as if };\n'
    assert stilo.reformat(text, "javascript").text == text
    assert (
        cleaned(text)
        == text.replace("null as nothing, default as whole", "default as whole, null as nothing")
    )


@pytest.mark.parametrize(
    "use",
    [
        "tide();",
        "const { [tide]: low } = day;",
        "day = { tide };",
        "export { tide };",
        "export { tide as low };",
        "export default tide;",
        "`${tide}`;",
        "class Ebb extends tide {}",
        "(low) => { const low = tide; };",
        "function f(low = tide) {}",
        "function f() { { const tide = 1; } return tide; }",
        "for (const tide of tides) {}\nf(tide);",
        "tide: for (;;) { tide(); }",
        "/** @param {tide} low */ function f(low) {}",
        "/** @jsx tide */",
        "<tide.Board />;",
    ],
)
def test_what_is_used_stays(use: str) -> None:
    text = f'import {{ tide }} from "tides";\n\n{use}\n'
    assert cleaned(text) == text


@pytest.mark.parametrize(
    "other",
    [
        "day.tide();",
        "day = { tide: 1 };",
        "tide: for (;;) {}",
        "f('tide');",
        "// tide",
        'export { tide } from "elsewhere";',
        "function f(tide) { return tide; }",
        "(tide) => tide;",
        "tide => tide;",
        "function f() { const tide = 1; return tide; }",
        "try { f(); } catch (tide) { log(tide); }",
        "<Board tide='low'>tide</Board>;",
    ],
)
def test_what_only_looks_like_it_goes(other: str) -> None:
    text = f'import {{ tide }} from "tides";\nimport {{ f, log, Board, React }} from "board";\n\n{other}\nf(log, Board, React);\n'
    assert cleaned(text).startswith('import { Board, f, log, React } from "board";\n\n')


@pytest.mark.parametrize(
    "before, after",
    [
        ('import d, { a } from "x";\n\nd;\n', 'import d from "x";\n\nd;\n'),
        ('import d, { a } from "x";\n\na;\n', 'import { a } from "x";\n\na;\n'),
        ('import d, * as n from "x";\n\nd;\n', 'import d, * as n from "x";\n\nd;\n'),
        ('import d, * as n from "x";\n\nf();\n', "f();\n"),
        ('import * as n from "x";\n\nf();\n', "f();\n"),
        (
            'import { a } from "x"; // of the tides\n\nf();\n',
            'import { a } from "x"; // of the tides\n\nf();\n',
        ),
        (
            'import { a } from "x" with { type: "json" };\n\nf();\n',
            'import { a } from "x" with { type: "json" };\n\nf();\n',
        ),
        ('import { a } from "x";\n\neval(b);\n', 'import { a } from "x";\n\neval(b);\n'),
        # What stands below is left as it is written.
        ('import { a } from "x";\n\nf( b );\n', "f( b );\n"),
    ],
)
def test_what_goes_of_an_import(before: str, after: str) -> None:
    assert cleaned(before) == after


def test_an_import_without_names_is_nothing_to_ask_about() -> None:
    text = 'import "./side.js";\nimport { z } from "b";\n\nz();\n'
    assert stilo.reformat(text, "javascript", CLEAN).unseen_imports == ()


def test_elements_refer_to_react() -> None:
    text = (
        'import React, { useState } from "react";\n\nexport const Board = () => <p>Low tide</p>;\n'
    )
    for language in ("javascript", "tsx"):
        assert cleaned(text, language).startswith('import React from "react";\n')
    assert cleaned(text.replace("<p>Low tide</p>", "1")).startswith("export")


@pytest.mark.parametrize(
    "before, after",
    [
        # Types that nothing refers to go, too; an import of types stays one.
        (
            'import type { B, A } from "x";\nimport { c, type D, type E } from "x";\n\nlet a: A = c<D>();\n',
            'import { c, type D } from "x";\nimport type { A } from "x";\n\nlet a: A = c<D>();\n',
        ),
        ('import type D from "x";\nimport type * as N from "x";\n\nf();\n', "f();\n"),
        ('import type { A } from "x";\nimport type D from "x";\n\nlet a: A<D>;\n', None),
        ('import { tide } from "x";\n\nlet a: typeof tide;\n', None),
        ('import { tide } from "x";\n\n@tide() class A {}\n', None),
        ('import * as tide from "x";\n\nlet a: tide.Low;\n', None),
        # A name of a value does not hide a type, nor do parameters of a type what is around it.
        ('import { Tide } from "x";\n\nfunction f(Tide: Tide) { return Tide; }\n', None),
        (
            'import { tide } from "x";\n\nfunction f() { type F = (tide: number) => void; return tide; }\n',
            None,
        ),
        (
            'import { tide } from "x";\n\nfunction f(tide: number) { return tide; }\n',
            "function f(tide: number) { return tide; }\n",
        ),
        ('import tide = require("x");\n\nf();\n', None),
    ],
)
def test_types(before: str, after: str | None) -> None:
    assert cleaned(before, "typescript") == (before if after is None else after)


def test_forms_apart_put_types_behind() -> None:
    text = 'import type { A } from "a";\nimport { b } from "b";\nimport type { C } from "c";\n\nlet x: A<C> = b;\n'
    mixed, apart = (
        cleaned(text, "typescript", import__forms=value) for value in ("mixed", "apart")
    )
    assert mixed == text
    assert [line.split()[1] for line in apart.splitlines()[:3]] == ["{", "type", "type"]


WORDS = st.sampled_from("low high ebb flow".split())
CLAUSES = st.one_of(
    WORDS,
    WORDS.map("* as {}".format),
    st.lists(WORDS, min_size=1, max_size=3, unique=True).map(
        lambda words: f"{{ {', '.join(words)} }}"
    ),
)


@given(
    st.lists(st.tuples(CLAUSES, st.sampled_from("abc")), min_size=1, max_size=5),
    st.sampled_from(["merge", "apart", "keep"]),
)
@settings(deadline=None)
def test_the_same_names_of_the_same_modules(imports: list[tuple[str, str]], names: str) -> None:
    """However they are merged or divided, sorted or grouped."""

    def said(text: str) -> set[str]:
        language = stilo.load_language("javascript")
        each = stilo.reformat(text, language, {**ORDER, "import.names": "apart"}, only_order=True)
        return set(each.text.split("\n"))

    text = "".join(f'import {clause} from "{module}";\n' for clause, module in imports)
    result = stilo.reformat(text, "javascript", {**ORDER, "import.names": names}, only_order=True)
    assert said(result.text) == said(text)
    again = stilo.reformat(
        result.text, "javascript", {**ORDER, "import.names": names}, only_order=True
    )
    assert not again.changed


def test_what_a_sheet_does_not_tell_of_is_not_written_anew() -> None:
    """`default` is no name by this sheet, so that the import would lose it."""
    language = stilo.define_language("""
        @language script { grammar: tree_sitter_javascript; files: "*.js"; pairs: "{" "}" "(" ")"; }
        import_statement { import: names; writes: "import {names} from {quoted};"; wraps: "{}"; role: import }
        import_statement { writes-alias: "{name} as {alias}" }
        import_statement > "from" + string { part: module }
        import_specifier > identifier { part: name }
        import_specifier > "as" + identifier { part: alias }
        """)
    text = 'import { z, default as whole } from "b";\nimport { y, x } from "b";\n'
    result = stilo.reformat(text, language, ORDER)
    assert "".join(result.text.split()) == 'import{x,y}from"b";import{z,defaultaswhole}from"b";'
