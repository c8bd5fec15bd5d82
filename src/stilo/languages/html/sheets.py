"""What a page's own style sheets say of white space: which elements stand in a line, and where it is shown."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import field
from typing import Any, NamedTuple

import tinycss2

from stilo.languages.html.elements import SHOWN_STYLE
from stilo.languages.html.scan import Piece
from stilo.records import dataclass

#: What a sheet has in it, if it says anything here. `display` as of CSS Display Module Level 3.
_TELLING = re.compile(rb"display\s*:\s*(?:inline|contents|ruby)|white-space", re.IGNORECASE)
_INLINE = re.compile(r"display\s*:\s*(?:inline|contents|ruby)", re.IGNORECASE)
_BOX = re.compile(r"display\s*:\s*inline[ -](?:block|flow-root|flex|grid|table)", re.IGNORECASE)
_SHOWN = re.compile(SHOWN_STYLE, re.IGNORECASE)
#: The older parts of elements, which have one colon.
_PARTS = frozenset(("before", "after", "first-line", "first-letter"))
#: Rules around others that may or may not hold: they count.
_AROUND = frozenset(("media", "supports", "layer", "container", "scope", "starting-style"))
#: How deep rules within others are looked into.
_MOST_DEPTH = 8
#: Selectors that are taken in: each is compared with many elements.
_MOST = 2_000


class Compound(NamedTuple):
    """What a selector asks of one element, as far as names tell: its own, and its classes and identifiers.

    is_child: it stands directly in the element that the compound before it is about.
    """

    name: str
    classes: frozenset[str]
    identifiers: frozenset[str]
    is_child: bool

    def fits(self, piece: Piece) -> bool:
        """Whether an element may be meant."""
        if self.name and self.name != piece.name.decode("utf-8", "replace"):
            return False
        return self.classes <= _words(piece, b"class") and self.identifiers <= _words(piece, b"id")


class OwnSheets:
    """The rules of a page's style sheets by which elements stand in a line, or white space is shown.

    Where a rule holds only at times (`:hover`, `@media`, an attribute), it counts; so do those that others overrule.
    """

    def __init__(self, data: bytes, pieces: Sequence[Piece]) -> None:
        #: By a name that the last compound asks for: the compounds and the reading of each.
        self._rules: dict[str, list[tuple[tuple[Compound, ...], str]]] = {}
        count = 0
        for tag, raw in zip(pieces, pieces[1:]):
            text = data[raw.start:raw.end]
            if tag.name != b"style" or raw.what != "raw" or not _TELLING.search(text):
                continue
            for compounds, reading in _said(text.decode("utf-8", "replace")):
                last = compounds[-1]
                key = (
                    min(last.identifiers, default="") or min(last.classes, default="") or last.name
                )
                if key and count < _MOST:
                    count += 1
                    self._rules.setdefault(key, []).append((compounds, reading))

    def __bool__(self) -> bool:
        return bool(self._rules)

    def reading(self, piece: Piece, around: Sequence[Piece]) -> str:
        """How an element is read: `shown`, `inline`, `box`, or "".

        around: the elements that it stands in, outermost first.
        """
        name = piece.name.decode("utf-8", "replace")
        found = {
            reading
            for key in (name, *_words(piece, b"class"), *_words(piece, b"id"))
            for compounds, reading in self._rules.get(key, ())
            if compounds[-1].fits(piece) and _fit_around(compounds, around)
        }
        return next((reading for reading in ("shown", "inline", "box") if reading in found), "")


def _words(piece: Piece, attribute: bytes) -> frozenset[str]:
    """The words of an attribute, with a sign before each that tells a class from an identifier and from a name."""
    sign = "." if attribute == b"class" else "#"
    said = b" ".join(a.value for a in piece.attributes if a.name == attribute)
    return frozenset(sign + word for word in said.decode("utf-8", "replace").lower().split())


def _fit_around(compounds: Sequence[Compound], around: Sequence[Piece]) -> bool:
    """Whether the elements around one are what all compounds but the last ask for.

    One that must stand directly around another is looked for just there; of the others the innermost is taken, by
    which nothing is missed but what such a choice rules out further out.
    """
    at = len(around)
    for inner, compound in zip(reversed(compounds), reversed(compounds[:-1])):
        at -= 1
        if not inner.is_child:
            while at >= 0 and not compound.fits(around[at]):
                at -= 1
        if at < 0 or not compound.fits(around[at]):
            return False
    return True


def _said(text: str) -> Iterator[tuple[tuple[Compound, ...], str]]:
    """The selectors of a sheet that say something here, each as its compounds, and what they say."""
    todo = [(tinycss2.parse_stylesheet(text, skip_comments=True, skip_whitespace=True), 0)]
    while todo:
        rules, depth = todo.pop()
        for rule in rules:
            if rule.type == "at-rule" and rule.content and rule.lower_at_keyword in _AROUND:
                if depth < _MOST_DEPTH:
                    inner = tinycss2.parse_rule_list(
                        rule.content, skip_comments=True, skip_whitespace=True
                    )
                    todo.append((inner, depth + 1))
            elif rule.type == "qualified-rule":
                said = tinycss2.serialize(rule.content)
                kinds = (("shown", _SHOWN), ("box", _BOX), ("inline", _INLINE))
                reading = next((name for name, pattern in kinds if pattern.search(said)), "")
                if reading:
                    for compounds in _selectors(rule.prelude):
                        yield compounds, reading


def _selectors(prelude: Iterable[Any]) -> Iterator[tuple[Compound, ...]]:
    """The selectors of a rule. What stands before a sibling is left out: it says nothing of what is around."""
    selectors = [_Selector([])]
    colons = 0
    for token in prelude:
        sign = token.value if token.type == "literal" else ""
        if sign == ",":
            selectors.append(_Selector([]))
        else:
            selectors[-1].take(token, sign, colons)
        colons = colons + 1 if sign == ":" else 0
    for selector in selectors:
        selector.end()
        if selector.compounds and not selector.is_part:
            yield tuple(selector.compounds)


@dataclass
class _Selector:
    """A selector as far as it has been read: its compounds, and what is known of the one at hand.

    is_part: it is about a part of an element, such as `::before`.
    """

    compounds: list[Compound]
    name: str = ""
    names: set[str] = field(default_factory=set)
    is_begun: bool = False
    is_child: bool = False
    is_part: bool = False
    _is_class: bool = False

    def take(self, token: Any, sign: str, colons: int) -> None:
        """Read on. sign: the token, if it is one; colons: how many stand before it."""
        is_class, self._is_class = self._is_class, sign == "."
        if token.type == "whitespace":
            self.end()
        elif sign == ">":
            self.end()
            self.is_child = True
        elif sign in ("+", "~"):
            self.end()
            if self.compounds:
                self.is_child = self.compounds.pop().is_child
        else:
            self.is_begun = True
            if token.type == "hash":
                self.names.add("#" + token.value.lower())
            elif token.type == "ident" and colons:
                self.is_part |= colons > 1 or token.lower_value in _PARTS
            elif token.type == "ident" and is_class:
                self.names.add("." + token.lower_value)
            elif token.type == "ident":
                self.name = token.lower_value

    def end(self) -> None:
        """End the compound at hand."""
        if self.is_begun:
            classes = frozenset(name for name in self.names if name.startswith("."))
            identifiers = frozenset(self.names) - classes
            self.compounds.append(Compound(self.name, classes, identifiers, self.is_child))
            self.name, self.names, self.is_begun, self.is_child = "", set(), False, False
