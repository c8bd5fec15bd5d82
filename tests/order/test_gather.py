"""Imports scattered among other code: which go to the head of the file, and which stay."""

from __future__ import annotations

import types

import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

import stilo
from stilo.edits import apply_edits

GATHER = {"import.order": "groups", "import.scattered": "gather"}
BOLDLY = {**GATHER, "import.scattered": "gather-boldly"}

CASES = [
    (
        "over a value and a definition",
        "import os\n\nFERRIES = 3\n\n\ndef board():\n    return os\n\n\nimport json\n\nX = json\n",
        "import json\nimport os\n\nFERRIES = 3\n\n\ndef board():\n    return os\n\n\nX = json\n",
    ),
    ("with no import at the head", "x = 1\nimport os\ny = os\n", "import os\n\nx = 1\ny = os\n"),
    (
        "below the text of the file and what is called so",
        '"""Tides."""\n__version__ = "2"\nx = 1\nimport os\ny = os\n',
        '"""Tides."""\n\n__version__ = "2"\nimport os\n\nx = 1\ny = os\n',
    ),
    (
        "below the comment that opens the file",
        "# Skerry Line\n\n# one\nx = 1\nimport os\n",
        "# Skerry Line\n\nimport os\n\n# one\nx = 1\n",
    ),
    (
        "with its comments",
        "import os\n\nx = 1\n\n# of tides\nimport tides  # ebb\n\ny = 2\n",
        "import os\n\n# of tides\nimport tides  # ebb\n\nx = 1\n\ny = 2\n",
    ),
    (
        "a paragraph with its heading",
        "import os\n\nx = 1\n# of others\nimport b\nimport a\n",
        "import os\n\n# of others\nimport a\nimport b\n\nx = 1\n",
    ),
    (
        "what the head says already, though it is used between",
        "import os\n\nx = os\nimport os\n\ny = os\n",
        "import os\n\nx = os\n\ny = os\n",
    ),
    (
        "names into the import of their module",
        "from a import b\n\nx = 1\nfrom a import c\n",
        "from a import b, c\n\nx = 1\n",
    ),
    (
        "before what comes first",
        "from __future__ import annotations\nx = 1\nimport os\n",
        "from __future__ import annotations\n\nimport os\n\nx = 1\n",
    ),
]

STAYS = [
    ("its name is made known between", "import os\n\nx = json = 1\nimport json\n"),
    ("its name is used between", "import os\n\nx = [pow]\nfrom math import pow\n"),
    ("what is between is called", "import sys\n\nsys.path.append('quay')\nimport tides\n"),
    ("a condition is between", "import os\n\nif os:\n    x = 1\nimport tides\n"),
    ("an item is set between", "import os\n\nos.environ['QUAY'] = '1'\nimport tides\n"),
    (
        "what has a decorator is between",
        "import os\n\n\n@os.x\ndef f():\n    pass\n\n\nimport tides\n",
    ),
    ("another import means something else", "import os\n\nx = 1\nfrom a import b as os\n"),
    ("a star is between", "import os\n\nx = 1\nfrom a import *\nimport tides\n"),
    ("what is to be left is between", "import os\n\n# stilo: leave\nx  =  1\nimport tides\n"),
    ("it is to be left itself", "import os\n\nx = 1\nimport tides  # stilo: leave\n"),
    ("the head's name is made known anew", "import os\n\nos = None\nimport os\n"),
    (
        "a function makes it known",
        "import os\n\n\ndef f():\n    global os\n    os = 1\n\n\nimport os\n",
    ),
]


@pytest.mark.parametrize("name, before, after", CASES, ids=[case[0] for case in CASES])
def test_goes(name: str, before: str, after: str) -> None:
    for style in GATHER, {**GATHER, "import.order": "keep"}, BOLDLY:
        result = stilo.reformat(before, "python", style)
        if style["import.order"] == "groups":
            assert result.text == after
        assert result.order_counts["gathered"] >= 1
        assert "import.scattered" in str(result.findings[-1]) or len(result.findings) > 1
        assert apply_edits(before.encode(), result.edits) == result.data
        assert not stilo.reformat(result.text, "python", style).changed
    assert not stilo.reformat(before, "python", {"import.order": "groups"}).order_counts["gathered"]


@pytest.mark.parametrize("name, text", STAYS, ids=[case[0] for case in STAYS])
def test_stays(name: str, text: str) -> None:
    result = stilo.reformat(text, "python", GATHER)
    assert result.text == text and not result.order_counts


def test_boldly_over_what_is_called() -> None:
    text = "import os\n\nlog = os.x(1)\nif log:\n    y = 1\nimport tides\n"
    result = stilo.reformat(text, "python", BOLDLY)
    assert result.text == "import os\n\nimport tides\n\nlog = os.x(1)\nif log:\n    y = 1\n"
    assert (
        [f.message for f in result.findings if "tides" in f.message]
        == ['"import tides" belongs with the imports at the head of the file']
    )


def test_what_is_not_needed_does_not_go_up_first() -> None:
    style = {**GATHER, "import.unused": "remove"}
    result = stilo.reformat("import os\n\nx = os\nimport os, json\nimport sys\n", "python", style)
    assert result.text == "import os\n\nx = os\n"
    assert result.order_counts["removed"] == 2


def test_lines_that_are_asked_for_gather_nothing() -> None:
    text = "import os\n\nx = 1\nimport json\n"
    assert stilo.reformat(text, "python", GATHER, lines=(4, 4)).text == text


LINES = st.sampled_from([
    "import json",
    "import os.path",
    "import os",
    "from math import pi",
    "from math import e as pi",
    "from math import pow, e",
    "from math import *",
    "pi = 4",
    "json = 'text'",
    "x = 1",
    "y = [pi]",
    "__all__ = ['pi', 'json']",
    "p = pow(2, 3)",
    "def f():\n    return repr(pow(2, 3))",
    "def json(): pass",
    "def g():\n    global pi\n    pi = 7",
    "z = f()",
    "g()",
    "if True:\n    import json",
    "class A:\n    json = 5",
    "for pi in range(3): pass",
    "# a note",
    "import os; json = 2",
    "# stilo: leave",
    "",
])


@settings(deadline=None, max_examples=200)
@given(st.lists(LINES, max_size=12), st.sampled_from([GATHER, BOLDLY]), st.booleans())
@example(
    ["# stilo: leave", "def g():\n    global pi\n    pi = 7", "g()", "from math import pi"],
    BOLDLY,
    False,
)
def test_a_program_runs_the_same(lines: list[str], style: dict[str, str], removes: bool) -> None:
    """All that is known at the end is the same, but for what nothing referred to."""
    text = "\n".join(lines)
    before: dict[str, object] = {}
    after: dict[str, object] = {}
    style = {**style, "import.unused": "remove"} if removes else style
    try:
        exec(text, before)
        result = stilo.reformat(text, "python", style)
    except (NameError, TypeError, stilo.DirectiveError):
        return
    exec(result.text, after)
    gone = before.keys() - after.keys() if removes else set()

    def known(names: dict[str, object]) -> dict[str, object]:
        kinds = types.FunctionType, type
        return {
            name: value.__name__ if isinstance(value, kinds) else value
            for name, value in names.items()
            if name != "__builtins__" and name not in gone
        }

    assert known(before) == known(after)
    again = stilo.reformat(result.text, "python", style)
    assert not again.changed and not again.findings
    assert apply_edits(text.encode(), result.edits) == result.data
