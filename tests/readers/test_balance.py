"""Brackets that are missing or too many: the line that stays as it is, and all else laid out."""

from __future__ import annotations

import re

import pytest

import stilo
from stilo.readers import balance
from stilo.readers.balance import Listed, odd_lines

BODY = """int dock(int lane)
{
    int tide = 0;
    while (lane &&
           tide) {
        if (lane > 1) {
            moor(lane,
                 tide);
        }
        lane--;
    }
    return tide;
}
"""


def odd(text: str) -> list[str]:
    words = list(re.finditer(r"\w+|[^\s\w]", text))
    starts, ends = [w.start() for w in words], [w.end() for w in words]
    texts = [w.group().encode() for w in words]
    data = text.encode()
    return [text[a:b] for a, b in odd_lines(data, Listed(starts, ends, texts, data))]


@pytest.mark.parametrize(
    ("old", "new", "wanted"),
    [
        ("", "", []),
        ("lane--;", "lane--; }", ["lane--; }"]),  # a brace too many closes the loop
        ("tide = 0;", "tide = 0; {", ["int tide = 0; {"]),
        ("        }\n        lane", "        lane", ["if (lane > 1) {"]),  # one is missing
        ("    }\n    return", "    return", ["while (lane &&\n           tide) {"]),
        ("return tide;", "return tide);", ["return tide);"]),
        ("return tide;", "return (tide;", ["return (tide;"]),
        ("return tide;", "return [tide);", ["return [tide);"]),
        ("moor(lane,\n", "moor(lane),\n", ["moor(lane),\n                 tide);"]),
        ("lane--;", "lane--; }\n    }", ["lane--; }", "}"]),
    ],
)
def test_the_line_that_is_odd(old: str, new: str, wanted: list[str]) -> None:
    assert BODY.count(old) == 1 or not old
    assert odd(BODY.replace(old, new, 1)) == wanted


def test_tabs_and_other_styles_are_no_fault_of_their_own() -> None:
    text = BODY.replace("        lane--;", "\tlane--; }")
    assert odd(text) == ["lane--; }"]
    assert odd(text.replace("        if", "\tif")) == ["lane--; }"]
    inner = "".join(f"a{n} {{\n    b {{\n        c\n        }}\n    }}\n" for n in range(10))
    assert odd(inner) == []
    assert odd(inner.replace("c", "c\n }", 1)) == ["}"]  # closing braces stand with what they end


def test_too_many_faults_or_nothing_else_are_left_alone(monkeypatch: pytest.MonkeyPatch) -> None:
    assert odd("int dock(int lane) {\n") == []
    many = "".join(f"a{n} = (1;\n" for n in range(balance.MOST_LINES))
    assert len(odd(many + "b = 2;\n")) == balance.MOST_LINES
    assert odd(many + "b = 2;\nc = (1;\n") == []


@pytest.mark.parametrize("language", ["c", "cpp"])
def test_the_rest_is_laid_out(language: str) -> None:
    whole = stilo.reformat(BODY, language).text
    wanted = whole.replace("lane--;", "lane--;  }")
    result = stilo.reformat(wanted.replace("int tide = 0", "int  tide  =  0"), language)
    assert result.text == wanted
    (unread,) = result.unread
    line = wanted[:wanted.index("lane--")].count("\n") + 1
    assert (unread.position.line, unread.last_line) == (line, line)
    assert stilo.reformat(result.text, language).text == result.text


def test_what_would_be_read_otherwise_is_refused_at_what_cannot_be_read() -> None:
    text = "\n".join(["int x;"] * 3) + "\n@@ (\n"
    for language in ("c", "cpp"):
        try:
            assert stilo.reformat(text, language).text.endswith("@@ (\n")
        except stilo.SyntaxFault as fault:
            assert "text:4:" in str(fault)
