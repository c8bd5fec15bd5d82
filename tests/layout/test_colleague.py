"""What a careful colleague would have written by hand: one case for each habit, and its boundary."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import stilo

CASES: dict[str, tuple[str, str, dict[str, object], str]] = {
    # Loops
    "a body of several lines leaves the head of its loop alone": (
        "javascript",
        "for (a = 0; a < b.length; a++) lane = harbour[a] + deckOfTheNextSailing;",
        {"width": 40},
        "for (a = 0; a < b.length; a++)\n  lane =\n    harbour[a] + deckOfTheNextSailing;",
    ),
    # Chains
    "a list that opens anyway opens in place": (
        "python",
        "sailings = timetable.between(first_day, last_day, harbour=vallay, deck=True).sorted()",
        {"width": 40},
        "sailings = timetable.between(\n    first_day,\n    last_day,\n    harbour=vallay,\n    deck=True\n).sorted()",
    ),
    "where others open too each link begins a line": (
        "python",
        "a = select(berth_of_sailing, deck_of_sailing, lane)"
        ".of(sailings).join(lanes_of_decks, ramps_of, deck=True).all()",
        {"width": 40},
        "a = (\n    select(\n        berth_of_sailing,\n        deck_of_sailing, lane\n    )\n"
        "        .of(sailings)\n        .join(\n            lanes_of_decks,\n            ramps_of,\n"
        "            deck=True\n        )\n        .all()\n)",
    ),
    "the list of the second of two calls opens in place": (
        "javascript",
        "parser.sailings.for('vallay').tap(first_day, last_day, harbour, deck, lane)",
        {"width": 40},
        "parser.sailings.for('vallay').tap(\n  first_day,\n  last_day,\n  harbour,\n  deck,\n  lane\n)",
    ),
    "so does that of the only link, if it lacks room for no more than a comma": (
        "python",
        'self.fail(_("no {sailing} here").format(sailing=self.name.title(), berth=berth_of(a)), lane)',
        {"width": 61},
        'self.fail(\n    _("no {sailing} here").format(\n        sailing=self.name.title(), berth=berth_of(a)\n    ),\n    lane\n)',
    ),
    "a link begins a line before the one that opens": (
        "javascript",
        "parser.sailings.for(first_day, last_day).tap(first_day, last_day, { harbour: harbour, deck })",
        {"width": 40},
        "parser.sailings.for(first_day, last_day)\n  .tap(first_day, last_day, {\n    harbour: harbour,\n    deck\n  })",
    ),
    "a link that fits begins a line": (
        "python",
        "sailings = timetable.between(first, last).sorted()",
        {"width": 40},
        "sailings = (\n    timetable.between(first, last)\n        .sorted()\n)",
    ),
    "little is won by opening a short word": (
        "python",
        "lanes = [timetable.sailings[0].deck] * len(quays)",
        {"width": 46},
        "lanes = (\n    [timetable.sailings[0].deck] * len(quays)\n)",
    ),
    # Lists of names and numbers
    "names and numbers share lines": (
        "python",
        "x = [100, 200, 300, lane]",
        {"width": 20},
        "x = [\n    100, 200, 300,\n    lane\n]",
    ),
    "with anything else among them each has its own": (
        "python",
        "x = [100, 200, 300, f()]",
        {"width": 20},
        "x = [\n    100,\n    200,\n    300,\n    f(),\n]",
    ),
    "unless a setting has all alike": (
        "python",
        "x = [100, 200, 300, lane]",
        {"width": 20, "items.atoms": "same"},
        "x = [\n    100,\n    200,\n    300,\n    lane,\n]",
    ),
    "texts each have their own": (
        "json",
        '["quay", "lane", "ramp"]',
        {"width": 20},
        '[\n  "quay",\n  "lane",\n  "ramp"\n]',
    ),
    "an item with a comment begins a line": (
        "json",
        "[1, 2, // two\n3]",
        {},
        "[\n  1,\n  2, // two\n  3\n]",
    ),
    # Separators after last items
    "one is added where each item has a line": (
        "python",
        "def f(first_lane, second_lane=2): pass",
        {"width": 24},
        "def f(\n    first_lane,\n    second_lane=2,\n):\n    pass",
    ),
    "and none where they share one": (
        "python",
        "def f(first, second): pass",
        {"width": 20},
        "def f(\n    first, second\n):\n    pass",
    ),
    "a sole item keeps the one that it needs": (
        "python",
        "x = (1,)\ny = 2,",
        {},
        "x = (1,)\ny = 2,",
    ),
    "of several it goes": ("python", "x = (1, 2,)", {}, "x = (1, 2)"),
    # Chains
    "a chain breaks at its links before several arguments": (
        "java",
        "class A { int x = check(first).with(second, third); }",
        {"width": 40, "continuation": 4},
        "class A {\n    int x = check(first)\n        .with(second, third);\n}",
    ),
    "not before a sole one that is too long anyway": (
        "java",
        "class A { int x = check(first).with(secondOfAll + third); }",
        {"width": 34, "continuation": 4},
        "class A {\n    int x = check(first).with(\n        secondOfAll + third);\n}",
    ),
    "names before the first call stay together": (
        "python",
        "x = os.path.join(lane, deck).replace(a, b)",
        {"width": 36},
        "x = (\n    os.path.join(lane, deck)\n        .replace(a, b)\n)",
    ),
    "no call in the middle is opened": (
        "python",
        "x = text.replace(a, b).replace(c, d)[0]",
        {"width": 30},
        "x = (\n    text.replace(a, b)\n        .replace(c, d)[0]\n)",
    ),
    "a sole call opens in place, for want of lines": (
        "java",
        "class A { int x = check(compare(firstOfAll, secondOfAll, y())); }",
        {"width": 40, "continuation": 4},
        "class A {\n    int x = check(compare(\n        firstOfAll, secondOfAll, y()));\n}",
    ),
    "but not where it fits on a line of its own": (
        "python",
        "x = check(compare(firstOfAll, secondOfAll))",
        {"width": 40},
        "x = check(\n    compare(firstOfAll, secondOfAll)\n)",
    ),
    "nor a chain of calls": (
        "python",
        "check(compare(first, second).with_all(third, fourth))",
        {"width": 40},
        "check(\n    compare(first, second)\n        .with_all(third, fourth)\n)",
    ),
    "a product clings to its last call": (
        "python",
        "x = factor * compare(first_of_all, second)",
        {"width": 40},
        "x = factor * compare(\n    first_of_all, second\n)",
    ),
    "a default opens on the line of what it stands for": (
        "python",
        "lanes = lanes or ['first lane', 'second lane', 'third']",
        {"width": 40},
        "lanes = lanes or [\n    'first lane',\n    'second lane',\n    'third',\n]",
    ),
    "and so in JavaScript": (
        "javascript",
        "const lanes = given ?? { first: 'car', second: 'coach' }; x = { lanes: given || ['first', 'second', 'third'] };",
        {"width": 40},
        "const lanes = given ?? {\n  first: 'car',\n  second: 'coach'\n};\nx = {\n  lanes: given || [\n    'first',\n    'second',\n    'third'\n  ]\n};",
    ),
    "but not where several conditions stand before it": (
        "javascript",
        "const lanes = first && second || { first: 'car', second: 'coach' };",
        {"width": 40},
        "const lanes =\n  first && second ||\n  { first: 'car', second: 'coach' };",
    ),
    "a sole call with a body in it is opened like any other": (
        "java",
        "class A { int x = check(compare(y -> { f(); }, z)); }",
        {"width": 60, "continuation": 4},
        "class A {\n    int x = check(\n        compare(\n            y -> {\n                f();\n            },\n            z));\n}",
    ),
    # Conditional values in a row
    "each condition has a line with its value": (
        "java",
        "class A { int x = isFirst ? one : isSecond ? two : three; }",
        {"width": 40, "continuation": 4},
        "class A {\n    int x = isFirst ? one\n        : isSecond ? two\n        : three;\n}",
    ),
    "and so in Python": (
        "python",
        "x = one if first else two if second else three",
        {"width": 30},
        "x = (\n    one if first\n    else two if second\n    else three\n)",
    ),
    # Operators
    "an inner operator stays tight": ("python", "x = 2*y**2 + z", {}, "x = 2*y**2 + z"),
    "an outer one does not": ("python", "x = y+z", {}, "x = y + z"),
    "nor one of the same precedence": ("python", "x = a+b+c", {}, "x = a + b + c"),
    "nor one with a space on one side": ("python", "x = 2 *y + z", {}, "x = 2 * y + z"),
    "in brackets inside an operation it may": (
        "java",
        "class A { int x = (a+b)*c; }",
        {},
        "class A {\n    int x = (a+b) * c;\n}",
    ),
    "anywhere, or nowhere, if a setting says so": (
        "python",
        "x = y+z*2",
        {"binary-operator.tight": "nowhere"},
        "x = y + z * 2",
    ),
    "what would be read otherwise gets its space": (
        "java",
        "class A { int x = a-(-b)*- -c + d; }",
        {},
        "class A {\n    int x = a - (-b)*- -c + d;\n}",
    ),
    # Columns
    "columns stay": (
        "python",
        "a = 1      # one\nbcd = 22   # two\n",
        {},
        "a = 1     # one\nbcd = 22  # two",
    ),
    "no column where no more than its space stands before any": (
        "python",
        "x = f(a,b)  # one\nx = f(abc)  # two\n\nyy = 1      # set apart\n",
        {},
        "x = f(a, b)  # one\nx = f(abc)  # two\n\nyy = 1  # set apart",
    ),
    "by chance is no column": (
        "toml",
        'title="x"\na.b  =  1\n',
        {},
        'title = "x"\na.b = 1',
    ),
    "nor is one that stands alone": (
        "python",
        "a = 1      # one\nb = 2  # two",
        {},
        "a = 1  # one\nb = 2  # two",
    ),
    "a line of another column ends it": (
        "java",
        "class A {\n    int  a;\n    long b;\n    String c;\n}",
        {},
        "class A {\n    int  a;\n    long b;\n    String c;\n}",
    ),
    # Heads and bodies
    "throws has a line of its own": (
        "java",
        "class A { void sail(Berth berth, Lane lane, Deck deck) throws Storm, Fog {} }",
        {"width": 42, "continuation": 4},
        "class A {\n    void sail(\n        Berth berth, Lane lane, Deck deck)\n        throws Storm, Fog {}\n}",
    ),
    # Terms and pieces of texts
    "terms that are all a call is given begin beside its bracket": (
        "java",
        'throw new IllegalStateException("no berth for " + sailing + " at " + tide);',
        {"width": 48},
        'throw new IllegalStateException("no berth for "\n        + sailing + " at " + tide);',
    ),
    "so do a condition's values": (
        "c",
        "void f(void) { moor(tide_is_high_enough ? inner_berth : outer_berth); }",
        {"width": 36},
        "void f(void)\n{\n    moor(tide_is_high_enough\n            ? inner_berth\n            : outer_berth);\n}",
    ),
    "beside others they do not": (
        "csharp",
        'Say(name, "no berth for " + sailing + " at " + tide);',
        {"width": 40},
        'Say(\n        name,\n        "no berth for " + sailing\n                + " at " + tide);',
    ),
    "pieces of a text open within a sole call": (
        "python",
        "defects.append(Defect('no berth at the inner quay '\n'for this sailing'))",
        {"width": 40},
        "defects.append(Defect(\n    'no berth at the inner quay '\n    'for this sailing'\n))",
    ),
    "what follows them stands on their last line": (
        "python",
        "warn('no berth at the quay of %s '\n'for this sailing' % quay, Late)",
        {"width": 40},
        "warn(\n    'no berth at the quay of %s '\n    'for this sailing' % quay,\n    Late\n)",
    ),
    "a call of such a text does not open in place": (
        "python",
        "raise Late('no berth at the quay of {} '\n'for this sailing'.format(quay))",
        {"width": 40},
        "raise Late(\n    'no berth at the quay of {} '\n    'for this sailing'.format(quay)\n)",
    ),
    "a sole tuple opens in place": (
        "python",
        "berth = join((harbour.name, quay.number, lane.letter))",
        {"width": 40},
        "berth = join((\n    harbour.name,\n    quay.number,\n    lane.letter,\n))",
    ),
    # Bodies and types
    "links stay on the line of a body's end, whatever is in it": (
        "java",
        "void f() { new Sailing() {\n // late\n int a; }.moor(berth).depart(); }",
        {},
        "void f() {\n    new Sailing() {\n        // late\n        int a;\n    }.moor(berth).depart();\n}",
    ),
    "a function that calls one with a function breaks after its own sign": (
        "java",
        "decks.forEach((deck, lanes) -> lanes.forEach(lane -> load.accept(deck, lane)));",
        {"width": 70},
        "decks.forEach((deck, lanes) ->\n        lanes.forEach(lane -> load.accept(deck, lane)));",
    ),
    "an object type is joined at its end": (
        "typescript",
        "type Berth = { harbour: string, quay: number } & Tide",
        {"width": 40},
        "type Berth = {\n  harbour: string,\n  quay: number\n} & Tide",
    ),
    "signs before a word of a mapped type": (
        "typescript",
        "type A<T> = { -readonly [K in keyof T]: T[K] }",
        {},
        "type A<T> = { -readonly [K in keyof T]: T[K] }",
    ),
    "an overload is beside what it stands for": (
        "python",
        "@overload\ndef f(x: int) -> int: ...\ndef f(x): return x",
        {},
        "@overload\ndef f(x: int) -> int: ...\ndef f(x):\n    return x",
    ),
    "a blank line after a comment that opens a body": (
        "python",
        "def f():\n    # first\n\n    x = 1",
        {},
        "def f():\n    # first\n\n    x = 1",
    ),
}


@pytest.mark.parametrize("name", CASES)
def test_case(name: str) -> None:
    language, text, style, wanted = CASES[name]
    result = stilo.reformat(text, language, style)
    assert result.text == wanted + "\n"
    assert not stilo.reformat(result.text, language, style).changed


@given(
    rows=st.lists(
        st.tuples(st.sampled_from("ab"), st.integers(1, 9), st.integers(0, 6)),
        min_size=2,
        max_size=6
    ),
    width=st.sampled_from([20, 24, 80]),
)
@settings(max_examples=60, deadline=None)
def test_columns_are_settled(rows: list[tuple[str, int, int]], width: int) -> None:
    """Whatever stands at one column by chance, or nearly, and wherever a line is too long for it."""
    text = "".join(f"{name * count} = 1{' ' * space}# lane\n" for name, count, space in rows)
    once = stilo.reformat(text, "python", {"width": width})
    assert not stilo.reformat(once.text, "python", {"width": width}).changed
    columns = {line.index("#") for line in text.splitlines()}
    if len(columns) == 1 and width == 80 and min(space for _, _, space in rows) > 1:
        assert len({line.index("#") for line in once.text.splitlines()}) == 1


def test_a_line_alone_is_set_at_the_column_of_those_around_it() -> None:
    text = "class A {\n    int     lane;\n    String   name  ;\n    int     deck;\n}\n"
    other = text.replace("String   name", "String  name")
    for given_, wanted in ((other, "    String  name;"), (text, "    String name;")):
        result = stilo.reformat(given_, "java", lines=(3, 3))
        assert result.text.splitlines()[2] == wanted
        assert result.text.splitlines()[1::2] == given_.splitlines()[1::2]


def test_a_line_that_keeps_its_margin_is_no_part_of_a_column() -> None:
    text = 'a = [\n   "b",   # one\n   # stilo: leave\n   "cc",  # two\n   "ddd", # three\n]\n'
    once = stilo.reformat(text, "toml").text
    assert '   "cc", # two' in once
    assert stilo.reformat(once, "toml").text == once


def test_why_an_operator_has_no_spaces() -> None:
    result = stilo.reformat("x = 2*y + z\n", "python")
    assert result.decision(1, 6).reasons[0].setting == "binary-operator.tight"
    assert "binary-operator.tight" in result.settings_consulted


def test_a_column_is_told_by_all_cells_of_its_lines() -> None:
    """Here a name stands where a sign of another run does, and is not taken for the first cell of its line."""
    text = (
        "class Berth {\n long n               = 2;\n double depthInMetres = 4.5;\n\n"
        " void f() {\n  zz  = 3;\n  zzz = 4;\n }\n}\n"
    )
    result = stilo.reformat(text, "java", {"width": 36, "indent": 1})
    assert result.text == text


@pytest.mark.parametrize("comment", ["// low", "/* low\n or high */"])
@pytest.mark.parametrize("language", ["java", "c", "cpp", "csharp", "javascript"])
def test_a_body_stands_in_from_its_header_whatever_comment_is_in_that(
    language: str, comment: str
) -> None:
    head = "function" if language == "javascript" else "void"
    function = f"{head} f() {{ if (sea &&\n{comment}\ntide) {{ sail(); }} }}\n"
    if language in ("java", "csharp"):
        function = f"class A {{ {function} }}\n"
    lines = stilo.reformat(function, language).text.split("\n")
    margin = {line.strip(): len(line) - len(line.lstrip()) for line in lines}
    header = next(margin[line] for line in margin if line.startswith("if ("))
    assert margin["sail();"] == header + (2 if language == "javascript" else 4)


@pytest.mark.parametrize(
    ("language", "text"),
    [
        ("java", "class Ferry extends // low\nShip { int tide; }\n"),
        ("javascript", "class Ferry extends // low\nShip { tide() {} }\n"),
        ("typescript", "function tide(): sea is // low\nBay { sail(); }\n"),
    ],
)
def test_a_body_goes_by_the_line_that_its_construct_begins_on(language: str, text: str) -> None:
    lines = stilo.reformat(text, language).text.split("\n")
    assert lines[-2] == "}" and not lines[-3].lstrip().startswith("}")
    assert len(lines[-3]) - len(lines[-3].lstrip()) == (4 if language == "java" else 2)
    value = stilo.reformat("x = // low\n() => { sail(); tide(); };\n", "javascript").text
    assert value == "x = // low\n  () => {\n    sail();\n    tide();\n  };\n"


def test_what_a_comment_sets_further_in_is_its_own_line_alone() -> None:
    text = "x = // low\n  function () { return 1; };\nsail();\n"
    assert stilo.reformat(text, "javascript").text == text


@pytest.mark.parametrize("brace", ["own-line-in", "own-line"])
def test_a_step_that_a_brace_stands_in_counts(brace: str) -> None:
    """At 42 columns the call fits where the braces stand under the heads, and not where they stand in."""
    text = "class A {\n{\nObjects.requireNonNull(finisher);\n}\n}\n"
    result = stilo.reformat(text, "java", {"width": 42, "declaration-body.brace": brace}).text
    is_in = brace == "own-line-in"
    assert ("(\n" in result) == is_in
    assert max(map(len, result.split("\n"))) <= 42
