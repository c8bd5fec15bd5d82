"""Sheets: what selectors match, which rule wins, what is reported when a sheet is wrong."""

from __future__ import annotations

from functools import lru_cache

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import stilo
from stilo.language import Language
from stilo.layout.match import match
from stilo.registry import BASE, sheet_text
from stilo.source import Source

HEAD = '@language tides { grammar: tree_sitter_json; pairs: "{" "}" "[" "]"; }\n'


@lru_cache
def language(rules: str) -> Language:
    return Language([("base.stilo", sheet_text(BASE)), ("tides.stilo", HEAD + rules)])


def matched(rules: str, text: str, name: str = "cost") -> list[str]:
    """The texts of the nodes to which the rules give the value 77 of a property."""
    tides = language("string { token: whole } comment { comment: line }\n" + rules)
    source = Source.from_text(text)
    tree = tides.read(source.data).tree
    rows = tides.rows(tides.values({}))
    row = match(tree, rows, ()).row
    return [tree.text(n) for n, r in enumerate(row) if rows.style[r][name].value == 77]


TEXT = '{"a": 1, "b": [2, 3, [], {"c": 4}], "d": [] }'

SELECTORS = [
    ("number", ["1", "2", "3", "4"]),
    ('":"', [":", ":", ":", ":"]),
    ("array > number", ["2", "3"]),
    ("array number", ["2", "3", "4"]),
    ("array array", ["[]"]),
    ("document > * > pair > #value", ["1", '[2, 3, [], {"c": 4}]', "[]"]),
    ("pair > string#key", ['"a"', '"b"', '"c"', '"d"']),
    ("number + \",\"", [",", ","]),
    ("number ~ number", ["3"]),
    ('"[" + number', ["2"]),
    ('[text="3"]', ["3"]),
    ('string[text^="\\"b"]', ['"b"']),
    ('string[text$="d\\""]', ['"d"']),
    ('number[text~="^[34]$"]', ["3", "4"]),
    ("pair:first-child", []),
    ('"{":first-child', ["{", "{"]),
    ('"]":last-child', ["]", "]", "]"]),
    ("number:only-child", []),
    ("document > object:only-child", [TEXT]),
    ("array:empty", ["[]", "[]"]),
    ("array:not(:empty)", ['[2, 3, [], {"c": 4}]']),
    ("pair > :is(number, array)", ["1", '[2, 3, [], {"c": 4}]', "4", "[]"]),
    ("pair:has(> array:empty)", ['"d": []']),
    ("pair:has(object)", ['"b": [2, 3, [], {"c": 4}]']),
    ("array:has(array)", ['[2, 3, [], {"c": 4}]']),  # nothing holds itself, or what stands before it
    ("array:has(pair)", ['[2, 3, [], {"c": 4}]']),
    ('number:has(+ ",")', ["2", "3"]),
    ("pair:has(> number)", ['"a": 1', '"c": 4']),
    ('number:has(+ "," + number)', ["2"]),
    ('array:has(> "," + * + ",")', ['[2, 3, [], {"c": 4}]']),
    ('array:has(> "[" + "]", > "," + object)', ["[]", "[]", '[2, 3, [], {"c": 4}]']),
    ('number:has(+ "]", + "," + array)', ["3"]),
    ("number, array > array", ["1", "2", "3", "[]", "4"]),
]


@pytest.mark.parametrize("selector, texts", SELECTORS, ids=[s for s, _ in SELECTORS])
def test_selector(selector: str, texts: list[str]) -> None:
    found = matched(f"{selector} {{ cost: 77 }}", TEXT)
    assert sorted(found) == sorted(texts)


def test_what_children_tell_is_kept_apart_from_what_a_text_tells() -> None:
    by_text, by_children = (
        'array[text="[1]"] { cost: 77 }', 'array:has(> number + "]") { grant: all }'
    )
    for rules in (by_text + by_children, by_children + by_text):
        assert matched(rules, "[[1], [2], [3], [4, 4], [1]]") == ["[1]", "[1]"]


def test_comments_are_no_ones_sibling() -> None:
    assert matched('"[" + number { cost: 77 }', "[ // deck\n 2, 3]") == ["2"]
    assert matched("number:first-child { cost: 77 }", "/* a */ 7") == ["7"]


@pytest.mark.parametrize(
    "selector, text, texts",
    [
        ('number:behind([text="/* a */"])', "[/* a */ 1, /* b */ 2, 3]", ["1"]),
        ('number:behind([text~="a"], [text~="b"])', "[/* a */ 1, /* b */ 2, 3]", ["1", "2"]),
        ("number:behind(*)", "[/* a */\n1, 2]", []),  # it ends the bracket's line
        ("number:behind(*)", "[\n// a\n1, // b\n2]", ["1"]),
        ("array:behind(*)", "/* a */ [1]", ["[1]"]),
        ("array:behind(*)", "// a\n[1]", ["[1]"]),
        ("number:behind(*)", "/* a */ [1]", []),
        ("number:behind(*)", "1 /* a */", []),
    ],
)
def test_a_node_behind_a_comment(selector: str, text: str, texts: list[str]) -> None:
    assert matched(f"{selector} {{ cost: 77 }}", text) == texts


# A condition that always holds keeps a selector from being answered by kinds alone.
NEIGHBOURS = [
    ('number:has(+ ",")', 'number:has(+ ","[text=","])'),
    ('*:has(+ "," + number, + "]")', '*:has(+ "," + number[text~=""], + "]")'),
    ("array:has(> number, > array)", 'array:has(> number[text~=""], > array)'),
    ('array:has(> "," + * + ",")', 'array:has(> "," + *[text~=""] + ",")'),
    # The last of these pairs tell by kind no more than that it may be so.
    ("document:has(> number:first-child)", 'document:has(> number[text~=""]:first-child)'),
    ('array:has(> "[":first-child + number)', 'array:has(> "[" + number[text~=""])'),
    ('array:has(> "," + number + "]":last-child)', 'array:has(> "," + number[text~=""] + "]")'),
    ('array:has(> "[" + * + *)', 'array:has(> "[" + *[text~=""] + *)'),
    ("array:has(> array > number)", "array:has(> :not(number) > number)"),
    ('array:has(> "," + array > number)', 'array:has(> "," + :not(number) > number)'),
    ('array:has(> "[":first-child + array > ",")', 'array:has(> "[" + :not(number) > ",")'),
    ("document:has(> comment + number)", "document:has(> comment + number:first-child)"),
    (
        'array:has(> number + ",", > "[" + array)',
        'array:has(> number[text~=""] + ",", > "[" + array)',
    ),
]


@settings(deadline=None)
@given(st.recursive(
    st.sampled_from(["1", "/* deck */ 2", "3 /* 4, 5 */"]),
    lambda items: st.lists(items, max_size=4).map(lambda some: f"[{', '.join(some)}]"),
    max_leaves=12,
))
def test_neighbours_that_are_told_by_kind_are_those_that_a_walk_finds(text: str) -> None:
    for quick, slow in NEIGHBOURS:
        assert matched(f"{quick} {{ cost: 77 }}", text) == matched(f"{slow} {{ cost: 77 }}", text)


def test_roles_match_like_classes_and_the_strongest_rule_gives_them() -> None:
    rules = "number { role: items } array > number { role: entries } .entries { cost: 77 }"
    assert matched(rules, TEXT) == ["2", "3"]
    both = "array > number { role: items entries }"
    for given, wanted in ((both, ["2", "3"]), ("number { role: entries }", [])):
        assert matched(f"{given} .items.entries {{ cost: 77 }}", TEXT) == wanted


def test_cascade_is_by_sheet_then_specificity_then_order() -> None:
    assert matched("array > number { cost: 77 } number { cost: 1 }", TEXT) == ["2", "3"]
    assert matched("number { cost: 77 } number { cost: 1 }", TEXT) == []
    # The base sheet's role rules are weaker than any rule of the language's own.
    assert matched("array { role: arguments } array { cost: 77 }", "[1]") == ["[1]"]


def test_every_value_remembers_its_rule_and_setting() -> None:
    result = stilo.reformat('{"a" :1}', "json")
    decision = result.decision(1, 6)
    assert decision.outcome == "no space"
    reason = decision.reasons[0]
    assert (reason.setting, reason.value) == ("map-colon.before", "none")
    line = int(reason.place.split(":")[1])
    assert "@role map-colon" in sheet_text(BASE).splitlines()[line - 1]


FAULTS = [
    (
        "numbr { cost: 1 }",
        'tides.stilo:2:1: the grammar has no kind of node "numbr"; did you mean "number"?',
    ),
    ('"@" { cost: 1 }', 'tides.stilo:2:1: the grammar has no token "@"'),
    ("number { wrapp: row }", 'tides.stilo:2:10: unknown property "wrapp"; did you mean "wrap"?'),
    (
        "number { wrap: stak }",
        "tides.stilo:2:10: wrap cannot be 'stak'; did you mean \"stack\"?: none, row, flow, stack, stack-always",
    ),
    (
        "number { cost: 5000 }",
        "tides.stilo:2:10: cost cannot be '5000': a whole number from 0 to 1000",
    ),
    (
        "number { align: setting(itmes.align) }",
        'tides.stilo:2:10: unknown setting "itmes.align"; did you mean "items.align"?',
    ),
    ("number { role: item }", 'tides.stilo:2:10: unknown role "item"; did you mean "items"?'),
    (
        ".argumnts { cost: 1 }",
        'tides.stilo:2:2: unknown role "argumnts"; did you mean "arguments"?',
    ),
    (
        "pair > #valeu { cost: 1 }",
        'tides.stilo:2:8: the grammar has no field "valeu"; did you mean "value"?',
    ),
    ("number { cost: 1; cost: 2 }", 'tides.stilo:2:19: "cost" is declared twice in this block'),
    (
        "number { cost: 1 }\nnumber { cost: 2 }",
        'tides.stilo:3:1: "cost" of "number" is declared already in line 2',
    ),
    (
        "number:frist-child { cost: 1 }",
        'tides.stilo:2:8: unknown condition ":frist-child"; did you mean "first-child"?',
    ),
    ("> number { cost: 1 }", 'tides.stilo:2:1: ">" joins nothing'),
    ("number[txt=\"1\"] { cost: 1 }", 'tides.stilo:2:7: an attribute is written [text="…"]'),
    (
        "number[text~=\"(\"] { cost: 1 }",
        "tides.stilo:2:14: not a pattern: missing ), unterminated subpattern at position 0",
    ),
    (
        "pair:has(> #key) { cost: 1 }",
        "tides.stilo:2:6: roles and fields are not known yet inside :has()",
    ),
    (".items { role: entries }", "tides.stilo:2:1: a rule that gives a role cannot ask for one"),
    ("@rol deck { wrap: row }", 'tides.stilo:2:1: unknown rule "@rol"; did you mean "role"?'),
    (
        "@custom-selector :--many array;\n:--mayn { cost: 1 }",
        'tides.stilo:3:2: unknown name ":--mayn"; did you mean "--many"?',
    ),
    (
        "@custom-selector many array;",
        "tides.stilo:2:18: a name is written :--name, followed by selectors",
    ),
    (
        "@setting tide { default: 1 }",
        "tides.stilo:2:1: tide needs `values`, `range` or `parts`, and `default`",
    ),
    (
        "@setting tide { values: low high; default: ebb }",
        "tides.stilo:2:35: tide cannot be 'ebb': low, high",
    ),
    (
        "@role deck { wrap: tall }",
        "tides.stilo:2:14: wrap cannot be 'tall': none, row, flow, stack, stack-always",
    ),
]


@pytest.mark.parametrize("rules, message", FAULTS, ids=[r for r, _ in FAULTS])
def test_fault_is_placed_and_has_a_nearmatch(rules: str, message: str) -> None:
    with pytest.raises(stilo.SheetError) as caught:
        language(rules)
    assert message in [str(fault) for fault in caught.value.faults]


OWN = [
    ("number { cost: 1 }", 1, "the sheet names no grammar, and no language to add its rules to"),
    (
        "@language tides { grammar: tree_sitter_json; without: indnt; }",
        46,
        '"without" names no setting: "indnt"; did you mean "indent"?',
    ),
    ("@language tides { grammar: tree_sitter_none; }", 19, "no such grammar; install the package"),
]


@pytest.mark.parametrize("text, column, message", OWN)
def test_fault_of_a_sheet_given_as_text(text: str, column: int, message: str) -> None:
    with pytest.raises(stilo.SheetError) as caught:
        stilo.define_language(text)
    assert str(caught.value).startswith(f"sheet:1:{column}: ") and message in str(caught.value)


def test_rules_over_a_language_of_ours() -> None:
    rules = "@language java { files: \"*.jav\"; }\n.binary-operator { before: none; after: none }"
    java = stilo.define_language(rules)
    assert (java.name, java.facts.globs) == ("java", ("*.jav",))
    assert stilo.reformat("int a = b + c;", java).text == "int a=b+c;\n"
    assert stilo.reformat("int a = b + c;", "java").text == "int a = b + c;\n"


def test_all_faults_come_at_once() -> None:
    with pytest.raises(stilo.SheetError) as caught:
        language("numbr { cost: 1 }\nnumber { wrapp: row; wrap: stak }")
    assert [fault.line for fault in caught.value.faults] == [2, 3, 3]


def test_a_sheet_cannot_make_stilo_import_code() -> None:
    text = "@language x { grammar: os; }"
    with pytest.raises(stilo.SheetError, match="tree_sitter_"):
        Language([("base.stilo", sheet_text(BASE)), ("x.stilo", text)])


@pytest.mark.parametrize("name", stilo.language_names())
def test_our_sheets_are_sound(name: str) -> None:
    own = stilo.load_language(name)
    assert own.name == name
    assert all(meaning for meaning in own.roles.values())
    assert all(setting.meaning for setting in own.settings.values())


def test_a_name_fits_what_its_selectors_fit() -> None:
    text = '@custom-selector :--many array, object; :--many:not(object) > "," { before: space }'
    result = stilo.reformat('{"a": [1, 2], "b": 1}', stilo.define_language(text, on="json"))
    assert result.text == '{"a": [1 , 2], "b": 1}\n'
