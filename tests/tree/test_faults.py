"""Where a text does not parse: the place, what is missing, and what it would close."""

from __future__ import annotations

import pytest

import stilo

FAULTS = [
    ("json", '{"a": 1,}', 1, 8, '"," is not expected here'),
    ("json", '{"a" 1}', 1, 2, '"a" is not expected here'),
    ("json", "[1, 2", 1, 6, '"]" is missing, to close "[" of 1:1'),
    ("json", "[1}", 1, 3, '"}" closes nothing that is open'),
    ("json", "}", 1, 1, '"}" closes nothing that is open'),
    ("json", '{"a": [1, {"b": 2]}', 1, 18, '"}" is missing, to close "{" of 1:11'),
    ("java", "class A { void f( { } }", 1, 18, '")" is missing, to close "(" of 1:17'),
    ("java", "class A { int x = ; }", 1, 17, '"=" is not expected here'),
    ("java", "class A {", 1, 10, '"}" is missing, to close "{" of 1:9'),
    ("java", "class A { } }", 1, 13, '"}" closes nothing that is open'),
    (
        "java",
        "class Ä { int é = (1 + ; }",
        1,
        26,
        '")" seems to be missing before "}", to close "(" of 1:19',
    ),
    (
        "toml",
        "a = [1, 2\nb = 3\n",
        2,
        6,
        '"]" seems to be missing before the end of the file, to close "[" of 1:5',
    ),
    ("toml", "a = = 1\n", 1, 3, '"=" is not expected here'),
]


@pytest.mark.parametrize("language, text, line, column, message", FAULTS)
def test_a_fault_is_located(language: str, text: str, line: int, column: int, message: str) -> None:
    with pytest.raises(stilo.SyntaxFault) as caught:
        stilo.reformat(text, language, name="berth")
    expected = f"berth:{line}:{column}: syntax error: {message}; the file is left as it was"
    assert str(caught.value) == expected


@pytest.mark.parametrize("language", ["json", "java", "toml"])
@pytest.mark.parametrize("text", ["", "\n", "\n\n  \n"])
def test_nothing_is_no_fault(language: str, text: str) -> None:
    assert stilo.reformat(text, language).text.strip() == ""
