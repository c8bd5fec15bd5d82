"""Values in brackets of their own, and lists in lists, that stay as their author opened them; and their bounds."""

from __future__ import annotations

import pytest

import stilo
from stilo.layout.groups import Group

#: what it is about → (language, width, what its author wrote, the result, or "" if that is the same)
CASES: dict[str, tuple[str, int, str, str]] = {
    "pieces of a text in brackets of their own": (
        "python", 40, "call = ('all cars off the deck, '\n        'then the lorries')\n", ""
    ),
    "terms in such brackets": (
        "python", 36, "late = (tide.is_low and wind.is_up\n        or not crew.is_here)\n", ""
    ),
    "terms in the head of a statement": (
        "python", 34, "if (tide.is_low and wind.is_up\n    or not crew.is_here):\n    wait()\n", ""
    ),
    "terms that are all a call is given": (
        "python", 34, "wait(tide.is_low and wind.is_up\n     or not crew.is_here)\n", ""
    ),
    "a value and its condition": (
        "python", 30, "berth = moor(harbour.inner\n             if low else deck)\n", ""
    ),
    "what fits on a line loses the brackets": (
        "python", 40, "length = (cars\n          + lorries)\n", "length = cars + lorries\n"
    ),
    "terms that stand elsewhere": (
        "python",
        36,
        "late = (tide.is_low and wind.is_up\n    or not crew.is_here)\n",
        "late = (\n    tide.is_low and wind.is_up\n    or not crew.is_here\n)\n",
    ),
    "pieces of a text that a backslash parts": (
        "python",
        60,
        "call = 'no berth at the quay ' \\\n       'for this sailing'\n",
        "call = (\n    'no berth at the quay '\n    'for this sailing'\n)\n",
    ),
    "terms that a backslash parts": (
        "python",
        36,
        "late = tide.is_low and wind.is_up \\\n       or not crew.is_here\n",
        "late = (\n    tide.is_low and wind.is_up\n    or not crew.is_here\n)\n",
    ),
    "brackets take a column each": (
        "python",
        30,
        "length = (cars_on_the_lower_deck\n          + bicycles_of_the_crew)\n",
        "length = (\n    cars_on_the_lower_deck\n    + bicycles_of_the_crew\n)\n",
    ),
    "the last line holds the bracket": (
        "python", 32, "length = (cars_on_the_lower_deck\n          + bicycles_of_crew_x)\n", ""
    ),
    "the last line has room for the bracket": (
        "python", 33, "length = (cars_on_the_lower_deck\n          + bicycles_of_crew_xyz)\n", ""
    ),
    "the last line lacks room for it": (
        "python",
        32,
        "length = (cars_on_the_lower_deck\n          + bicycles_of_crew_xyz)\n",
        "length = (\n    cars_on_the_lower_deck\n    + bicycles_of_crew_xyz\n)\n",
    ),
    "the line has room for the bracket and what follows": (
        "python", 28, "if (cars_are_here\n    and bicycles_of_crew_x):\n    moor()\n", ""
    ),
    "the line lacks room for what follows": (
        "python",
        27,
        "if (cars_are_here\n    and bicycles_of_crew_x):\n    moor()\n",
        "if (\n    cars_are_here\n    and bicycles_of_crew_x\n):\n    moor()\n",
    ),
    "pieces of a text that have room for the bracket": (
        "python", 26, "call = ('all off, '\n        'lorries then go')\n", ""
    ),
    "pieces of a text that lack it": (
        "python",
        25,
        "call = ('all off, '\n        'lorries then go')\n",
        "call = (\n    'all off, '\n    'lorries then go'\n)\n",
    ),
    "terms that fill their lines anew leave room for it": (
        "python",
        27,
        "decks = (lower\n         + upper + middle_one + sun)\n",
        "decks = (lower + upper\n         + middle_one\n         + sun)\n",
    ),
    "a list that begins a line of an aligned one": (
        "python", 36, "moor(gull,\n     (first_berth_of_all,\n      second_berth_of_all))\n", ""
    ),
    "a list within that fits but for what follows": (
        "c",
        50,
        'int a = report(LATE,\n               (code(TIDE),\n                text("too low today")));\n',
        'int a = report(\n        LATE,\n        (code(TIDE), text("too low today")));\n',
    ),
    "a list in an aligned one": (
        "c", 40,
        "int a = report(LATE,\n               (code(TIDE),\n                text(\"too low today\")));\n",
        ""
    ),
    "a list within that no longer fits": (
        "c",
        36,
        "int a = report(LATE,\n               (code(TIDE),\n                text(\"too low today\")));\n",
        "int a = report(\n        LATE,\n        (code(TIDE),\n                text(\"too low today\")));\n",
    ),
    "tabs of four columns": (
        "c", 40, "int a = moor_at(first_berth,\n\t\t\t\tsecond_berth_of_all);\n",
        "int a = moor_at(first_berth,\n                second_berth_of_all);\n",
    ),
    "tabs of eight columns": (
        "c", 40, "int a = moor_at(first_berth,\n\t\tsecond_berth_of_all);\n",
        "int a = moor_at(first_berth,\n                second_berth_of_all);\n",
    ),
    "a list that ends with a text of several lines": (
        "python", 60, 'say(to="crew",\n    text="""All\n    off.\n    """)\n', ""
    ),
    "rows of a call that has to be opened, if they spare three lines": (
        "python",
        30,
        "moor(\n    gull, 'tern', auk,\n    crew=4, lanes=2, late=no)\n",
        "moor(\n    gull, 'tern', auk,\n    crew=4, lanes=2, late=no\n)\n",
    ),
    "a row whose item has several lines": (
        "python",
        24,
        "moor(\n    gull, tern, crew=4,\n    lanes=of(first_deck),\n    late=no, free=yes)\n",
        "moor(\n    gull, tern, crew=4,\n    lanes=of(\n        first_deck\n    ),\n    late=no, free=yes\n)\n",
    ),
    "pieces of a text that fit on a line": (
        "python", 60, "call = ('all off, '\n        'lorries')\n", ""
    ),
    "rows that spare two": (
        "python",
        24,
        "moor(\n    gull, 'tern',\n    crew=4, lanes=22)\n",
        "moor(\n    gull,\n    'tern',\n    crew=4,\n    lanes=22\n)\n",
    ),
    "rows of which one does not fit": (
        "python",
        24,
        "moor(\n    gull, 'tern', auk, skua,\n    crew=4, lanes=2, late=no)\n",
        "moor(\n    gull,\n    'tern',\n    auk,\n    skua,\n    crew=4,\n    lanes=2,\n    late=no\n)\n",
    ),
    "rows of a call that fits on a line": (
        "python", 60, "moor(\n    gull, 'tern',\n    crew=4, lanes=2)\n",
        "moor(gull, 'tern', crew=4, lanes=2)\n"
    ),
    "a remark behind the bracket": (
        "python", 30, "moor(  # by day\n    gull, crew=4, lanes=2\n)\n", ""
    ),
    "an item a line below such a remark": (
        "python", 30, "moor(  # by day\n    gull,\n    crew=4\n)\n", ""
    ),
    "a remark within": (
        "python",
        30,
        "moor(  # by day\n    gull, crew=4,  # few\n    lanes=2)\n",
        "moor(  # by day\n    gull,\n    crew=4,  # few\n    lanes=2\n)\n",
    ),
    "types in a subscript": (
        "python", 44, "Lanes = Mapping[\n    HarbourOfDeparture, Sequence[Sailing]\n]\n", ""
    ),
    "their comma, on one line": (
        "python", 40, "Lanes = Mapping[Deck, Lane,]\n", "Lanes = Mapping[Deck, Lane]\n"
    ),
    "their comma, an item a line": (
        "python", 40, "Lanes = Mapping[\n    Deck,\n    Lane,\n]\n", ""
    ),
    "the comma of a sole one": ("python", 40, "lane = lanes[deck,]\n", ""),
    "columns of assignments": ("python", 40, "deck  = 1\nlanes = 2\n", ""),
    "arrays in arrays": ("toml", 40, "a = [[1], [2],]\n", "a = [[1], [2]]\n"),
}


@pytest.mark.parametrize("name", CASES)
def test_case(name: str) -> None:
    language, width, text, wanted = CASES[name]
    result = stilo.reformat(text, language, {"width": width})
    assert result.text == (wanted or text)
    assert not stilo.reformat(result.text, language, {"width": width}).changed


@pytest.mark.parametrize(
    "language, width, text",
    [
        (
            "java",
            32,
            'int a = moor(dock("a berth",\n                  dock(f(x, y),\n                       f(x, y),  dock(gull,\n'
            "                                      gull),\n                       gull)),a + b,\n             a + b);\n",
        ),
        (
            "cpp",
            60,
            'int a = moor(dock("a berth",\n                  dock("a berth",\n                       gull), a << b << c,dock(f(x, y),f(x, y)),\n'
            '                  {1, 2}),\n             dock("a berth"),gull,a << b << c);\n',
        ),
        (
            "python",
            60,
            "moor(dock(f(x, y),\n          dock([1, 2]),gull,\n          dock(gull,\n               [1, 2], gull)),(a,\n"
            "                               b), [1, 2], 'a berth',\n     'a berth')\n",
        ),
        (
            "python",
            60,
            "moor(gull,  dock(dock(gull)),  dock(gull,\n                                    'a berth',  (a,\n"
            "                                                 b)), (a,\n"
            "                                                       b))\n",
        ),
        (
            "python",
            60,
            "moor(f(x, y), dock(gull, (a,\n                          b), gull, f(x, y), gull, gull, [1, 2], gull,\n"
            "                   'a berth'), gull)\n",
        ),
    ],
)
def test_lists_that_stay_are_settled(language: str, width: int, text: str) -> None:
    """Where several lists in one stay as they are, or one that is not the last of its row, the second run sees the same."""
    once = stilo.reformat(text, language, {"width": width})
    assert not stilo.reformat(once.text, language, {"width": width}).changed


def test_what_is_looked_at_grows_as_the_list_does(monkeypatch: pytest.MonkeyPatch) -> None:
    """Each row asks for the lists in it alone, not for all that the list holds."""
    asked = 0
    known = Group.is_as_authored.fget

    def count(group: Group) -> bool:
        nonlocal asked
        asked += 1
        return known(group)

    monkeypatch.setattr(Group, "is_as_authored", property(count))
    found: list[int] = []
    for rows in (50, 100):
        asked = 0
        text = "moor(dock(a),\n" + "     dock(b, c), dock(d),\n" * rows + "     dock(e))\n"
        stilo.reformat(text, "python", {"width": 40})
        found.append(asked)
    assert 0 < found[1] < 3 * found[0]
