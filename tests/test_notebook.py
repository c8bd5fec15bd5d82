"""Notebooks: the code in cells is laid out, and nothing else changes."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

import stilo

SOURCES: list[Any] = [
    ["%matplotlib inline\n", "x=1;\n", "!ls \\\n", "  -l\n", "plot( x );"],
    ["%%bash\n", "ls   -l"],
    "fähre = { 'deck':1 }\n",
    ["berth?"],
    [],
    "",
    ["# a comment"],
    ["y = await  fetch( 'x' )"],
]
WANTED: list[Any] = [
    ["%matplotlib inline\n", "x = 1\n", "!ls \\\n", "  -l\n", "plot(x);"],
    ["%%bash\n", "ls   -l"],
    "fähre = {'deck': 1}\n",
    ["berth?"],
    [],
    "",
    ["# a comment"],
    ["y = await fetch('x')"],
]


def notebook(sources: list[Any], language: str = "python", **layout: Any) -> str:
    cells = [
        {"cell_type": "code", "metadata": {}, "outputs": ["x=1"], "source": s} for s in sources
    ]
    cells.insert(0, {"cell_type": "markdown", "metadata": {}, "source": ["x=1\n", "y"]})
    about = {"kernelspec": {"language": language}}
    return json.dumps({"cells": cells, "metadata": about, "nbformat": 4}, **layout)


def lay_out(
    document: str | bytes, lines: tuple[int, int] | None = None
) -> stilo.Result | stilo.DocumentResult:
    style = stilo.Styles(style="default").of("fares.ipynb")
    return stilo.reformat_styled(document, style, lines=lines, name="fares.ipynb")


@pytest.mark.parametrize(
    "layout",
    [{"indent": 1}, {}, {"separators": (",", ":")}, {"indent": 4, "ensure_ascii": False}],
    ids=str,
)
def test_only_code_changes(layout: dict[str, Any]) -> None:
    result = lay_out(notebook(SOURCES, **layout))
    assert result.text == notebook(WANTED, **layout)
    again = lay_out(result.data)
    assert not again.changed and not again.findings


def test_line_ends_and_marks_of_the_document_stay() -> None:
    before = notebook([["a=1\n", "b  =  2"]], indent=1).replace("\n", "\r\n")
    after = notebook([["a = 1\n", "b = 2"]], indent=1).replace("\n", "\r\n")
    assert lay_out(b"\xef\xbb\xbf" + before.encode()).data == b"\xef\xbb\xbf" + after.encode()


def test_a_line_more_stands_as_the_others_do() -> None:
    result = lay_out(notebook([["import os; os.name"]], indent=1))
    assert json.loads(result.text)["cells"][1]["source"] == ["import os\n", "\n", "os.name"]
    assert '\n    "import os\\n",\n    "\\n",\n    "os.name"\n' in result.text


def test_edits_lead_to_the_result() -> None:
    document = notebook(SOURCES, indent=1).encode()
    result = lay_out(document)
    pieces, at = [], 0
    for edit in result.edits:
        pieces += [document[at:edit.start], edit.text]
        at = edit.end
    assert b"".join([*pieces, document[at:]]) == result.data


def test_findings_and_decisions_name_the_line_of_the_document() -> None:
    result = lay_out(notebook([["%time x\n", "y=1"]], indent=1))
    line = notebook([["%time x\n", "y=1"]], indent=1).split("\n").index('    "y=1"') + 1
    assert str(result.findings[0]).startswith(f'{line}:7: in cell 2: no space before "="')
    found = result.decision(line, 6)
    assert (found.position, found.before) == ((line, 6), '"%time x"')
    with pytest.raises(stilo.OutOfRange, match="no code in line 1"):
        result.decision(1)


def test_lines_within() -> None:
    document = notebook([["a=1\n", "b=2"], ["c=3"]], indent=1)
    line = document.split("\n").index('    "b=2"') + 1
    assert lay_out(document, (line, line)).text == document.replace("b=2", "b = 2")


@pytest.mark.parametrize(
    "document, message",
    [
        ("{", "fares.ipynb: no notebook: Expecting property name"),
        ("[]", "fares.ipynb: no notebook of nbformat 4: it has no list of cells"),
        (notebook(["x=1"], "r"), "fares.ipynb: its cells are in r, not in python"),
        (
            notebook(["x=1", ["x=1\n", "if x\n", "  y"]], indent=1),
            "fares.ipynb:27:10: in cell 3, line 2: syntax error: expected ':'",
        ),
    ],
)
def test_what_cannot_be_laid_out_is_left(document: str, message: str) -> None:
    with pytest.raises(stilo.StiloError) as caught:
        lay_out(document)
    assert str(caught.value).startswith(message)


def test_commands(place, run):
    path = Path("fares.ipynb")
    path.write_text(notebook([["x=1"]], indent=1))
    assert run("proof", "fares.ipynb").exit_code == 1
    assert run("apply", "fares.ipynb").exit_code == 0
    assert path.read_text() == notebook([["x = 1"]], indent=1)
    assert run("proof", "fares.ipynb").exit_code == 0
    saving = ("--within", "1", "--set", "width=60", "--save-in", "directive")
    assert "into the cell yourself" in run("settings", "fares.ipynb", *saving).output
    assert path.read_text() == notebook([["x = 1"]], indent=1)


code = st.text("ab =+(),'\"#%!?;\\\n\t é", max_size=30)


def _solid(text: str) -> str:
    """A text without white space, and without what joins lines."""
    return "".join(text.replace("\\\n", "").split())


@given(st.lists(code | code.map(lambda t: t.splitlines(keepends=True)), max_size=4))
def test_any_document_keeps_all_but_its_code(sources: list[Any]) -> None:
    document = notebook(sources, indent=1)
    try:
        result = lay_out(document)
    except stilo.SyntaxFault:
        return
    before, after = json.loads(document), json.loads(result.text)
    for one, other in zip(before["cells"], after["cells"], strict=True):
        said, says = "".join(one.pop("source")), "".join(other.pop("source"))
        if one["cell_type"] == "code":
            assert _solid(said).rstrip(";") == _solid(says).rstrip(";") or ";" in said
    assert before == after
    assert lay_out(result.data).text == result.text
