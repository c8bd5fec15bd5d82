"""Dataclasses that are made quickly, beside the standard ones."""

from __future__ import annotations

import dataclasses
from dataclasses import field, replace
from typing import Any

import pytest

from stilo.records import dataclass


def berths(decorator: Any, **options: bool) -> Any:
    @decorator(**options)
    class Berth:
        number: int
        decks: tuple[str, ...] = ()
        note: str = field(default="", compare=False)
        inner: Any = field(default=None, repr=False)

    return Berth


@pytest.mark.parametrize(
    "options", [{}, {"frozen": True}, {"kw_only": True}, {"frozen": True, "repr": False}]
)
def test_they_do_what_the_standard_ones_do(options: dict[str, bool]) -> None:
    mine, other = berths(dataclass, **options), berths(dataclasses.dataclass, **options)
    told: list[Any] = []
    for made in (mine, other):
        one, same, further = (
            made(number=4), made(number=4, note="tide"), made(number=4, decks=("car",))
        )
        hashes = made.__hash__ is not None and hash(one) == hash(same) != hash(further)
        shown = repr(replace(one, number=5, inner=one))
        told.append((one == same, one == further, one == 4, hashes, shown.split(" object at ")[0]))
        with pytest.raises(TypeError):
            made()
    assert told[0] == told[1]
    assert mine(number=4) != other(number=4)


def test_methods_of_its_own_stay() -> None:
    @dataclass(frozen=True)
    class Berth:
        number: int

        def __eq__(self, other: object) -> bool:
            return True

        def __hash__(self) -> int:
            return 7

        def __repr__(self) -> str:
            return "quay"

    assert Berth(1) == Berth(2) and hash(Berth(1)) == 7 and repr(Berth(1)) == "quay"


def test_with_one_field_and_with_none() -> None:
    @dataclass
    class Deck:
        lanes: list[Any]

    @dataclass(frozen=True)
    class Tide:
        pass

    deck = Deck([4])
    deck.lanes.append(deck)
    assert repr(deck).endswith("Deck(lanes=[4, ...])") and deck == Deck(deck.lanes) != Deck([])
    assert Tide() == Tide() and hash(Tide()) == hash(Tide()) and repr(Tide()).endswith("Tide()")
    assert Deck.__hash__ is None


def test_what_a_caller_gets_cannot_be_set() -> None:
    import stilo

    result = stilo.reformat("x=1\n", "python")
    for of in (result, result.edits[0], *result.findings):
        name = dataclasses.fields(of)[0].name
        with pytest.raises(dataclasses.FrozenInstanceError):
            setattr(of, name, None)
