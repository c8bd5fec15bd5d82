"""Where a text does not parse: the place, what is missing, and what it would close."""

from __future__ import annotations

import pytest

import stilo

FAULTS = [
    ("json", '{"a": 1,}', 1, 9, "expected property name enclosed in double quotes"),
    ("json", '{"a" 1}', 1, 6, "expected ':' delimiter"),
    ("json", '{"a": 1 "b": 2}', 1, 9, "expected ',' delimiter"),
    ("json", '{"a": tru}', 1, 7, "expected value"),
    ("json", "[1 // c\n 2]", 1, 2, '"1" is not expected here'),  # its own reader knows no comments
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
    ("toml", "a = = 1\n", 1, 5, "invalid value"),
    ("toml", "a b = 1\n", 1, 3, "expected '=' after a key in a key/value pair"),
    ("toml", "a = 1 2\n", 1, 7, "expected newline or end of document after a statement"),
    ("toml", 'a = """x\n', 1, 9, "unterminated string"),
    ("python", "x = 1\n" * 20 + "if x\n    y()\n", 21, 5, "expected ':'"),
    ("python", 's = """abc\nx = 1\n', 1, 5, None),  # in the words of the Python that runs
    ("python", "def f(:\n  pass\n", 1, 7, '")" is missing, to close "(" of 1:6'),
    ("python", "x = )\n", 1, 5, '")" closes nothing that is open'),
    ("python", "é = 'a\n", 1, 5, None),
    # What a template opens, its own sign closes.
    ("javascript", "quay(`${a}`, b);\nberth(`${a}`;\nx = {};\n", 2, 13, 'to close "("'),
    ("javascript", "quay(`${a}`, ]);\n", 1, 14, '"]" closes nothing'),
]


@pytest.mark.parametrize("language, text, line, column, message", FAULTS)
def test_a_fault_is_located(
    language: str, text: str, line: int, column: int, message: str | None
) -> None:
    with pytest.raises(stilo.SyntaxFault) as caught:
        stilo.reformat(text, language, name="berth")
    told = str(caught.value)
    assert told.startswith(f"berth:{line}:{column}: syntax error: ")
    assert told.endswith("; the file is left as it was")
    if message is not None:
        assert message in told


@pytest.mark.parametrize("language", ["json", "java", "toml"])
@pytest.mark.parametrize("text", ["", "\n", "\n\n  \n"])
def test_nothing_is_no_fault(language: str, text: str) -> None:
    assert stilo.reformat(text, language).text.strip() == ""
