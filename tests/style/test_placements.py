"""The textbook brace placements, point by point, on one text.

Each point is what the literature says of a placement: The C Programming Language (K&R); The C++
Programming Language (Stroustrup); Computing Concepts with C++ Essentials (Horstmann); the GNU
Coding Standards; and for Allman, Whitesmiths, Ratliff and the one true brace the common accounts.
"""

from __future__ import annotations

import pytest

import stilo

TEXT = (
    "class Berth { int lane; int board(int deck) { while (deck > 0) { if (full(deck)) { deck--; "
    "lane = 0; } else if (late) { return 1; } else { load(deck); } } try { sail(); } catch (Storm e)"
    " { wait(e); } do { tie(); } while (lane > 0); return 0; } }"
)

#: What the placements are used on beside that: empty bodies, switches of both kinds, lambdas, initialisers,
#: anonymous classes, try with resources, loops of every kind.
MORE = (
    "class Berth { Berth() {} int[] lanes = {1, 2}; enum Deck { UPPER, MAIN } static { tie(); } void f() { "
    "for (int i = 0; i < n; i++) { g(); } for (Lane lane : lanes) { lane.f(); } while (busy) {} "
    "switch (a) { case 1: b(); break; default: c(); } switch (a) { case 2 -> { b(); } default -> c(); } "
    "Runnable r = () -> { sail(); }; Runnable none = () -> {}; Object o = new Object() { void f() { g(); } }; "
    "try (Log log = open()) { log.f(); } finally { close(); } synchronized (this) { g(); } } }"
)
#: style → what stands in it, beyond `POINTS`.
MORE_POINTS = {
    "allman": [
        "    {\n        for (int i = 0; i < n; i++)\n        {\n            g();\n        }\n        for (Lane lane : lanes)\n        {\n",
        "        switch (a)\n        {\n            case 1:\n                b();\n",
        "            case 2 ->\n            {\n                b();\n            }\n            default -> c();\n",
        "        Runnable r = () ->\n        {\n            sail();\n        };\n",
        "        Object o = new Object()\n        {\n            void f()\n            {\n                g();\n            }\n        };\n",
        "        try (Log log = open())\n        {\n            log.f();\n        }\n        finally\n        {\n",
        "    static\n    {\n        tie();\n    }\n",
        "    int[] lanes = {1, 2};\n\n    enum Deck\n    {\n        UPPER,\n        MAIN\n    }\n",
        "        synchronized (this)\n        {\n",
    ],
    "k-and-r": [
        "        Runnable r = () -> {\n            sail();\n        };\n",
        "        switch (a) {\n            case 1:\n",
        "            case 2 -> {\n                b();\n            }\n",
        "        Object o = new Object() {\n            void f()\n            {\n                g();\n            }\n        };\n",
        "        } finally {\n",
    ],
    "one-true-brace": ["        for (Lane lane : lanes) {\n", "        try (Log log = open()) {\n"],
    "stroustrup": ["        }\n        finally {\n            close();\n        }\n"],
    "whitesmiths": [
        "        switch (a)\n            {\n            case 1:\n                b();\n                break;\n",
        "        for (Lane lane : lanes)\n            {\n            lane.f();\n            }\n",
        "        Runnable r = () ->\n            {\n            sail();\n            };\n",
        "    enum Deck\n        {\n        UPPER,\n        MAIN\n        }\n",
    ],
    "gnu": [
        "    switch (a)\n      {\n      case 1:\n        b ();\n        break;\n",
        "    for (Lane lane : lanes)\n      {\n        lane.f ();\n      }\n",
        "    try (Log log = open ())\n      {\n        log.f ();\n      }\n    finally\n      {\n",
        "  static\n  {\n    tie ();\n  }\n",
    ],
    "horstmann": [
        "      switch (a)\n      {  case 1:\n            b();\n            break;\n         default:\n",
        "   enum Deck\n   {  UPPER,\n      MAIN\n   }\n",
        "      for (Lane lane : lanes)\n      {  lane.f();\n      }\n",
    ],
    "ratliff": [
        "        for (Lane lane : lanes) {\n            lane.f();\n            }\n",
        "        switch (a) {\n            case 1:\n                b();\n",
        "        UPPER,\n        MAIN\n        }\n",
    ],
    "java-conventions": [
        "        switch (a) {\n        case 1:\n            b();\n            break;\n        default:\n            c();\n        }\n",
    ],
}

POINTS = {
    "allman": {
        "the brace stands on its own line under the head": "    int board(int deck)\n    {\n",
        "the same for branches and loops": "        while (deck > 0)\n        {\n            if (full(deck))\n            {\n",
        "statements stand one step in from the braces": "            {\n                deck--;\n",
        "the closing brace stands under the opening one": "                lane = 0;\n            }\n",
        "else begins its own line": "            }\n            else if (late)\n            {\n",
        "types, too": "class Berth\n{\n    int lane;\n",
        "catch begins its own line": "        }\n        catch (Storm e)\n        {\n",
    },
    "k-and-r": {
        "the brace of a function stands on its own line": "    int board(int deck)\n    {\n        while",
        "that of a loop at the end of its line": "        while (deck > 0) {\n",
        "that of a branch, too": "            if (full(deck)) {\n                deck--;\n",
        "else stands between braces": "            } else if (late) {\n",
        "the last while stands behind the brace": "        } while (lane > 0);\n",
        "that of a type at the end of its line": "class Berth {\n",
    },
    "one-true-brace": {
        "the brace of a function stands on its own line": "    int board(int deck)\n    {\n",
        "all others at the end of the line": "            if (full(deck)) {\n",
        "else stands between braces": "            } else {\n",
        "catch, too": "        } catch (Storm e) {\n",
    },
    "stroustrup": {
        "the brace of a function stands on its own line": "    int board(int deck)\n    {\n",
        "that of a branch at the end of its line": "            if (full(deck)) {\n",
        "that of a type, too": "class Berth {\n",
        "else begins its own line": "            }\n            else if (late) {\n",
        "catch, too": "        }\n        catch (Storm e) {\n",
    },
    "whitesmiths": {
        "the brace stands on its own line, one step in": "        while (deck > 0)\n            {\n",
        "what it holds stands under it": "            {\n            if (full(deck))\n                {\n                deck--;\n",
        "the closing brace stands with what it closes": "                lane = 0;\n                }\n",
        "else stands under if": "            else if (late)\n                {\n",
        "functions and types, too": "class Berth\n    {\n    int lane;\n\n    int board(int deck)\n        {\n",
    },
    "gnu": {
        "braces of branches stand one step of two in": "    while (deck > 0)\n      {\n",
        "what they hold stands two further in": "      {\n        if (full (deck))\n          {\n            deck--;\n",
        "the closing brace stands under the opening one": "            lane = 0;\n          }\n",
        "the brace of a function stands under its head": "  int board (int deck)\n  {\n    while",
        "else stands under if": "          }\n        else if (late)\n          {\n",
        "a blank stands before each parenthesis": "full (deck)",
        "the last while begins its own line": "      }\n    while (lane > 0);\n",
    },
    "horstmann": {
        "the brace stands under the head, the first statement beside it": "   int board(int deck)\n   {  while (deck > 0)\n      {  if (full(deck))\n         {  deck--;\n",
        "the other statements stand under the first": "         {  deck--;\n            lane = 0;\n         }\n",
        "the closing brace has its own line": "         {  return 1;\n         }\n",
        "else begins its own line": "         }\n         else if (late)\n         {  return 1;\n",
        "types, too": "class Berth\n{  int lane;\n",
    },
    "ratliff": {
        "the opening brace stands at the end of the line": "    int board(int deck) {\n        while (deck > 0) {\n",
        "the closing one stands with what it closes": "                deck--;\n                lane = 0;\n                }\n",
        "else begins its own line": "                }\n            else if (late) {\n",
        "functions and types, too": "        return 0;\n        }\n    }\n",
    },
}


@pytest.mark.parametrize(
    "style, point", [(style, point) for style, points in POINTS.items() for point in points]
)
def test_point(style: str, point: str) -> None:
    result = stilo.reformat_styled(TEXT, stilo.Styles(style=style).of("Berth.java"))
    assert POINTS[style][point] in result.text


@pytest.mark.parametrize(
    "style, lines", [(style, lines) for style, found in MORE_POINTS.items() for lines in found]
)
def test_every_construct(style: str, lines: str) -> None:
    found = stilo.Styles(style=style).of("Berth.java")
    once = stilo.reformat_styled(MORE, found)
    assert lines in once.text, once.text
    assert not stilo.reformat_styled(once.text, found).changed


@pytest.mark.parametrize("style", stilo.style_names())
def test_an_empty_body_stands_on_the_line_of_its_head(style: str) -> None:
    text = stilo.reformat_styled(MORE, stilo.Styles(style=style).of("Berth.java")).text
    for head in ("Berth()", "while (busy)", "Runnable none = () ->"):
        assert f"{head} {{}}".replace(" (", "(") in text.replace(" (", "(")


@pytest.mark.parametrize("style", stilo.style_names())
def test_settled_and_each_its_own(style: str) -> None:
    found = stilo.Styles(style=style).of("Berth.java")
    once = stilo.reformat_styled(TEXT, found)
    assert not stilo.reformat_styled(once.text, found).changed
    others = [n for n in stilo.style_names() if n not in (style, "one-true-brace", "k-and-r")]
    for other in others:
        assert stilo.reformat_styled(TEXT, stilo.Styles(style=other).of("B.java")).text != once.text


def test_the_eight_are_here() -> None:
    assert set(POINTS) <= set(stilo.style_names())
    assert len(POINTS) == 8


#: The same in other languages: one text each, and what stands in it in each placement.
OTHERS = {
    "b.cpp": (
        "class Berth { public: int board(int deck) { while (deck > 0) { if (full(deck)) { deck--; lane = 0; } "
        "else if (late) { return 1; } else { load(deck); } } try { sail(); } catch (Storm &e) { wait(e); } do { "
        "tie(); } while (lane > 0); return 0; } };",
        {
            "allman": [
                "class Berth\n{\npublic:\n    int board(int deck)\n    {\n        while (deck > 0)\n        {\n",
                "            if (full(deck))\n            {\n                deck--;\n                lane = 0;\n            }\n            else if (late)\n            {\n",
                "        }\n        catch (Storm &e)\n        {\n",
            ],
            "k-and-r": [
                "class Berth {\npublic:\n    int board(int deck)\n    {\n        while (deck > 0) {\n",
                "            } else if (late) {\n",
                "        } catch (Storm &e) {\n",
                "        } while (lane > 0);\n",
            ],
            "one-true-brace": ["    int board(int deck)\n    {\n", "            } else {\n"],
            "stroustrup": [
                "    int board(int deck)\n    {\n",
                "            }\n            else if (late) {\n",
            ],
            "whitesmiths": [
                "    int board(int deck)\n        {\n        while (deck > 0)\n            {\n            if (full(deck))\n                {\n                deck--;\n",
            ],
            "gnu": [
                "  int board (int deck)\n  {\n    while (deck > 0)\n      {\n        if (full (deck))\n          {\n            deck--;\n",
            ],
            "horstmann": [
                "   int board(int deck)\n   {  while (deck > 0)\n      {  if (full(deck))\n         {  deck--;\n            lane = 0;\n         }\n",
            ],
            "ratliff": [
                "    int board(int deck) {\n        while (deck > 0) {\n            if (full(deck)) {\n                deck--;\n                lane = 0;\n                }\n            else if (late) {\n",
            ],
        },
    ),
    "B.cs": (
        "class Berth { int Board(int deck) { while (deck > 0) { if (Full(deck)) { deck--; lane = 0; } else if "
        "(late) { return 1; } else { Load(deck); } } try { Sail(); } catch (Storm e) { Wait(e); } do { Tie(); } "
        "while (lane > 0); return 0; } }",
        {
            "allman": [
                "class Berth\n{\n    int Board(int deck)\n    {\n        while (deck > 0)\n        {\n",
                "            if (Full(deck))\n            {\n                deck--;\n                lane = 0;\n            }\n            else if (late)\n            {\n",
                "        }\n        catch (Storm e)\n        {\n",
            ],
            "k-and-r": [
                "class Berth {\n    int Board(int deck)\n    {\n        while (deck > 0) {\n",
                "            } else if (late) {\n",
                "        } catch (Storm e) {\n",
                "        } while (lane > 0);\n",
            ],
            "one-true-brace": ["    int Board(int deck)\n    {\n", "            } else {\n"],
            "stroustrup": [
                "    int Board(int deck)\n    {\n",
                "            }\n            else if (late) {\n",
            ],
            "whitesmiths": [
                "    int Board(int deck)\n        {\n        while (deck > 0)\n            {\n            if (Full(deck))\n                {\n                deck--;\n",
            ],
            "gnu": [
                "  int Board (int deck)\n  {\n    while (deck > 0)\n      {\n        if (Full (deck))\n          {\n            deck--;\n",
            ],
            "horstmann": [
                "{  int Board(int deck)\n   {  while (deck > 0)\n      {  if (Full(deck))\n         {  deck--;\n            lane = 0;\n         }\n",
            ],
            "ratliff": [
                "    int Board(int deck) {\n        while (deck > 0) {\n            if (Full(deck)) {\n                deck--;\n                lane = 0;\n                }\n            else if (late) {\n",
            ],
        },
    ),
}


@pytest.mark.parametrize("name", OTHERS)
@pytest.mark.parametrize("style", [style for style in POINTS if style != "java-conventions"])
def test_every_placement_in_other_languages(name: str, style: str) -> None:
    text, points = OTHERS[name]
    found = stilo.Styles(style=style).of(name)
    once = stilo.reformat_styled(text, found)
    for lines in points[style]:
        assert lines in once.text, once.text
    assert not stilo.reformat_styled(once.text, found).changed
