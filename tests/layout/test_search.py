"""How much the search for line ends looks at: each body once, not once for each way to open what is around it."""

from __future__ import annotations

from collections import Counter

import pytest

import stilo
from stilo.layout import fit
from stilo.layout.frontier import Frontier, offer
from stilo.layout.measures import Measures
from stilo.layout.planning import plan

LONG = "announce(theNameOfTheFerry, theHourOfDeparture, theQuayThatSheLeavesFrom, tide);"


@pytest.fixture
def solved(monkeypatch: pytest.MonkeyPatch) -> Counter[int]:
    """How often each group has been laid out, by number."""
    counts: Counter[int] = Counter()
    solve = fit._Fitter._solve

    def count(self, number, *rest):
        counts[number] += 1
        return solve(self, number, *rest)

    monkeypatch.setattr(fit._Fitter, "_solve", count)
    return counts


def nested(depth: int, last: str = ");") -> str:
    """Calls within the last argument of calls, each with statements that do not fit."""
    return (
        "".join(f"berth{n}.onArrival('deck', () => {{\n{LONG}\n" for n in range(depth))
        + f"}}{last}\n" * depth
    )


def test_bodies_are_laid_out_once_however_deep_they_are_nested(solved: Counter[int]) -> None:
    result = stilo.reformat(nested(8), "javascript", {"width": 60})
    assert max(solved.values()) == 1
    assert len(solved) >= 16  # a list of arguments and a statement for each call
    assert "  berth1.onArrival('deck', () => {\n" in result.text


def test_what_passes_the_width_is_laid_out_after_other_ways(solved: Counter[int]) -> None:
    """The text before the last argument is too long for a line, so that its body goes one step in at once."""
    text = f"sail('{'tide ' * 8}', 'quay', 'ramp', () => {{\n{LONG}\n}});\n"
    result = stilo.reformat(text, "javascript", {"width": 60})
    assert "  () => {\n    announce(\n" in result.text
    assert max(solved.values()) == 1


def test_what_passes_the_width_whatever_is_done_stays_in_the_search(solved: Counter[int]) -> None:
    """One text is too long wherever it stands, so the ways are told apart by how far each goes past the width."""
    text = f"sail(() => {{\n{LONG}\nlog('{'tide' * 20}');\n}});\n"
    result = stilo.reformat(text, "javascript", {"width": 60})
    assert result.text.startswith("sail(() => {\n  announce(\n")
    far = f"sail('{'y' * 50}', () => {{\nlog('{'tide' * 20}');\n}});\n"
    result = stilo.reformat(far, "javascript", {"width": 60})
    assert (
        result.text.startswith("sail(\n")
        and not stilo.reformat(result.text, "javascript", {"width": 60}).changed
    )


def test_of_ways_that_cost_the_same_the_one_that_stays_closed_is_taken() -> None:
    """Wherever it was looked at: else what an author wrapped would come out otherwise than what the first run did."""
    text = (
        "const x = {\n  list: (query?: TListQueryType) => [...queryKeyFactory.lists(), query ? { query } : undefined]"
        '.filter((k) => !!k) as unknown as readonly [T, "list", { query: TListQueryType }],\n}\n'
    )
    result = stilo.reformat(text, "typescript", {"width": 78}).text
    assert not stilo.reformat(result, "typescript", {"width": 78}).changed
    assert "].filter((k) => !!k) as unknown" in result


def test_what_a_body_costs_further_in_says_nothing_of_it_further_out() -> None:
    language = stilo.load_language("javascript")
    tree = language.bracketed(language.read(nested(2).encode()).tree)
    measures = Measures(60, 2, 2)
    planned = plan(tree, language.rows(language.values({})), language.kinds.punctuation, measures)
    fitter = fit._Fitter(planned, measures)
    body = max(fitter.bodies)
    around = planned.groups[planned.groups[body].around]
    fitter.floors[body] = 4, 100
    assert [fitter._least(around, indent) for indent in (3, 4, 5)] == [0, 100, 100]


@pytest.mark.parametrize(
    ("language", "text", "style"),
    [
        ("python", "x = " + "tide(berth)(" * 60 + "a" + ")" * 60, {}),
        ("javascript", "x = " + "quay.sail(" * 60 + "a" + ")" * 60, {}),
        ("javascript", "x = " + "tide => sail(" * 60 + "a" + ")" * 60, {}),
        ("toml", "decks = " + "[" * 60 + "1" + "]" * 60, {"items.open": "either"}),
    ],
)
def test_what_is_nested_deeply_is_looked_at_in_few_ways(
    language: str, text: str, style: dict[str, str], solved: Counter[int]
) -> None:
    result = stilo.reformat(text + "\n", language, {"width": 79, **style})
    assert (
        result.changed and not stilo.reformat(result.text, language, {"width": 79, **style}).changed
    )
    assert solved.total() < 40_000


@pytest.mark.parametrize(("depth", "deep"), [(24, 0), (25, 1), (26, 2)])
def test_a_list_in_more_than_so_many_is_deep(depth: int, deep: int) -> None:
    language = stilo.load_language("toml")
    tree = language.bracketed(language.read(f"x = {'[' * depth}1{']' * depth}\n".encode()).tree)
    planned = plan(
        tree, language.rows(language.values({})), language.kinds.punctuation, Measures(20, 2, 2)
    )
    assert sum(group.deep for group in planned.groups) == deep


def test_only_what_is_nested_deeply_has_one_way_to_open() -> None:
    """Each call is two sequences, its links and its arguments: the first of the innermost is the 25th."""
    deep, deeper = (
        "x = " + "quay.sailing(" * calls + "quay.tide" + ")" * calls + "\n" for calls in (12, 13)
    )
    assert "(quay.tide))" in stilo.reformat(deep, "python", {"width": 79}).text
    assert "(\n" in stilo.reformat(deeper, "python", {"width": 79}).text


@pytest.mark.parametrize(("depth", "most"), [(30, 20), (200, 40)])
def test_deep_lists_that_are_aligned_end_in_few_columns(
    depth: int, most: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Each list may be opened or not, so there is a column more to end in for each: up to twice the width."""
    solve = fit._Fitter._solve
    ends: list[int] = []

    def count(self, *asked):
        found = yield from solve(self, *asked)
        ends.append(len(found))
        return found

    monkeypatch.setattr(fit._Fitter, "_solve", count)
    style = {"width": 20, "indent": 2, "items.align": "yes", "items.close": "same-line"}
    stilo.reformat(f"x = {'[' * depth}{']' * depth}\n", "toml", style)
    assert max(ends) == most


def test_of_equals_the_earlier_is_kept_whatever_was_found_worse_before() -> None:
    """An end found with a higher cost first must not stand before one that was found meanwhile."""
    found: Frontier = {}
    for end, cost in ((80, 9), (17, 8), (19, 5), (17, 5), (19, 5)):
        offer(found, end, cost, None)
    assert found == {80: (9, None), 17: (5, None), 19: (5, None)}
    assert list(found) == [80, 19, 17]
