"""Imports that nothing refers to: which go, and every way of being used that keeps one."""

from __future__ import annotations

import ast

import pytest

import stilo
from stilo.edits import apply_edits

REMOVE = {"import.unused": "remove", "import.order": "keep"}


def names_kept(text: str, language: str = "python", **style: str) -> set[str]:
    """The words of a text's imports that are still there; all else must be the same."""
    values = {**REMOVE, **{name.replace("__", "."): value for name, value in style.items()}}
    result = stilo.reformat(text, language, values, only_order=True)
    assert not stilo.reformat(result.text, language, values, only_order=True).changed
    if language == "python":
        return {
            name.asname or name.name
            for node in ast.parse(result.text).body
            if isinstance(node, (ast.Import, ast.ImportFrom))
            for name in node.names
        }
    return {
        line.split(".")[-1].rstrip(";") for line in result.text.splitlines() if "import" in line
    }


GOES = [
    ("nothing refers to it", "import os\n"),
    ("only another's attribute", "import os\nimport x\nx.os\n"),
    ("only an argument's name", "import os\nf(os=1)\n"),
    ("only a text", 'import os\nx = "os"\n'),
    ("only a comment", "import os\nx = 1  # os\n"),
    ("a parameter hides it", "import os\ndef f(os):\n    return os.x\n"),
    ("a local variable hides it", "import os\ndef f():\n    os = 1\n    return lambda: os\n"),
    ("a local import hides it", "import os\ndef f():\n    import os\n    return os\n"),
    ("a loop variable hides it", "import os\ndef f():\n    for os, x in y: print(os)\n"),
    ("a comprehension hides it", "import os\nz = [os for os in y]\n"),
    (
        "an except clause hides it",
        "import os\ndef f():\n    try: pass\n    except E as os: print(os)\n",
    ),
    ("a lambda's parameter hides it", "import os\nf = lambda os: os\n"),
    ("a name that holds it", "import os\nmy_os = osx = 1\nprint(my_os)\n"),
    (
        "an inner function's name hides it",
        "import os\ndef f():\n    def os(): pass\n    return os()\n",
    ),
]

STAYS = [
    ("a reference", "import os\nos.getcwd()\n"),
    ("a decorator", "import os\n@os.x\ndef f(): pass\n"),
    ("a default, though a parameter has its name", "import os\ndef f(os=os):\n    return os\n"),
    ("a default in a lambda", "import os\nf = lambda os=os: os\n"),
    ("an annotation", "import os\ndef f(os: os) -> None: pass\n"),
    ("an annotation in quotes", 'import os\ndef f(x: "list[os.PathLike]"): pass\n'),
    ("an annotation in quotes within one", 'import os\nx: list["os.PathLike"]\n'),
    ("a type comment", "import os\nx = f()  # type: os.PathLike\n"),
    ("a type in quotes for a call", 'import os\nx = cast("os.PathLike", y)\n'),
    ("__all__", 'import os\n__all__ = ["os"]\n'),
    ("a longer __all__", 'import os\n__all__ = []\n__all__ += ["os"]\n'),
    ("another name that is the same", "import x as os\nos\n"),
    ("passed on as the same name", "from tides import os as os\n"),
    (
        "a class's body, where the name is made known as well",
        "import os\nclass C:\n    os = os.name\n",
    ),
    (
        "a method, though the class has the name",
        "import os\nclass C:\n    os = 1\n    def f(self): return os\n",
    ),
    ("the first of a comprehension", "import os\nz = [os for os in os.environ]\n"),
    ("a formatted text", 'import os\nx = f"{os.name}"\n'),
    ("a doctest", 'import os\ndef f():\n    """\n    >>> os.name\n    """\n'),
    ("global", "import os\ndef f():\n    global os\n    os = 1\n"),
    ("del", "import os\ndel os\n"),
    ("one branch that binds it", "import os\nif x:\n    os = None\n"),
    ("augmented", "import os\ndef f():\n    global os\n    os += 1\n"),
    ("a comment behind it", "import os  # opens the quay\n"),
    ("a comment above it", "import x\n# opens the quay\nimport os\n"),
    ("a directive", "# stilo: leave\nimport os\n"),
    ("eval", "import os\nx = eval(y)\n"),
    ("a star", "import os\nfrom tides import *\n"),
    ("a capture in match", "import os\nmatch x:\n    case os.name: pass\n"),
    ("a keyword in a class", "import os\nclass C(metaclass=os): pass\n"),
    ("a module of which one is inside", "import os.path\nos.getcwd()\n"),
]


@pytest.mark.parametrize("name, text", GOES, ids=[case[0] for case in GOES])
def test_goes(name: str, text: str) -> None:
    assert "os" not in names_kept(text)


@pytest.mark.parametrize("name, text", STAYS, ids=[case[0] for case in STAYS])
def test_stays(name: str, text: str) -> None:
    assert any(kept.startswith("os") for kept in names_kept(text))


def test_what_hides_uses_can_be_overruled() -> None:
    assert names_kept("import os\nx = eval(y)\n", import__unused="remove-boldly") == set()


def test_a_package_passes_its_imports_on(place) -> None:
    place({"__init__.py": "import os\n", "a.py": "import os\n"})
    for path, kept in (("__init__.py", True), ("a.py", False)):
        assert stilo.reformat_file(path, style=REMOVE).text == ("import os\n" if kept else "")


def test_names_go_one_by_one_and_the_rest_stays_as_it_was() -> None:
    text = "from tides import (\n  low,  # ebb\n  high, neap\n)\nimport a, b\n\nlow(b)\n"
    result = stilo.reformat(text, "python", REMOVE, only_order=True)
    assert result.text == "from tides import (\n    low,  # ebb\n)\nimport b\n\nlow(b)\n"
    assert result.order_counts == {"removed": 3}
    assert [f.position for f in result.findings[:3]] == [(3, 3), (3, 9), (5, 8)]


def test_the_heading_of_a_paragraph_stays() -> None:
    text = "import a\n\n# of the quay\nimport b\nimport c\n\nprint(a, c)\n"
    assert (
        stilo.reformat(text, "python", REMOVE).text
        == ("import a\n\n# of the quay\nimport c\n\nprint(a, c)\n")
    )


JAVA = "package line;\nimport java.util.List;\nimport java.util.Map;\nclass X {{ {} }}\n"


@pytest.mark.parametrize(
    "body, stays",
    [
        ("", False),
        ("List<String> x;", True),
        ("Object x = List.of();", True),
        ("Object x = y.List;", False),
        ("void f() { a.List.of(); }", False),
        ("@List int x;", True),
        ("/** {@link List#of} */ int x;", True),
        ("/** @see List */ int x;", True),
        ("/** {@code List} */ int x;", False),
        ("// List\n int x;", False),
        ("Object x = f(List::of);", True),
        ("void f() throws List {}", True),
        ("int List; ", False),
        ("<T extends List> void f() {}", True),
    ],
)
def test_java(body: str, stays: bool) -> None:
    assert ("List" in names_kept(JAVA.format(body), "java")) == stays


def test_duplicates_behind_what_goes() -> None:
    text = "import a\nimport b\nimport os\nimport os\nos.x\n"
    result = stilo.reformat(text, "python", {**REMOVE, "import.order": "groups"})
    assert result.text == "import os\n\nos.x\n"


def test_a_heading_of_which_nothing_is_needed_keeps_its_first() -> None:
    text = "x = 1\n# of tides\nimport tides\nimport berths\n"
    result = stilo.reformat(text, "python", {**REMOVE, "import.order": "groups"})
    assert result.text == "x = 1\n# of tides\nimport tides\n"


def test_of_a_name_with_two_meanings_nothing_goes() -> None:
    text = "from a import x\n\ny = 1\nfrom b import x\n"
    assert not stilo.reformat(text, "python", REMOVE, only_order=True).changed


def test_signs_and_blank_lines_go_with_what_they_belonged_to() -> None:
    for before, after in [
        ("x = 1; import os\ny = 2\n", "x = 1\ny = 2\n"),
        ("x = 1\n\nimport os\n\n\ny = 1\n", "x = 1\n\n\ny = 1\n"),
        ("x = 1\n\nimport os\n", "x = 1\n"),
        ("import os; import re; import z\nz, re\n", "import re\nimport z\nz, re\n"),
        ("import os\n", ""),
    ]:
        assert stilo.reformat(before, "python", REMOVE, only_order=True).text == after


def test_a_line_of_which_nothing_is_left_is_told() -> None:
    result = stilo.reformat("import os\n", "python", REMOVE)
    with pytest.raises(
        stilo.OutOfRange, match="text: there is no token in line 1; nothing is left"
    ):
        result.decision(1)
    with pytest.raises(stilo.OutOfRange, match="text: there is no line 1; it is empty"):
        stilo.reformat("", "python").decision(1)


@pytest.mark.parametrize("most", [1, 5_000])
def test_what_was_read_in_other_files_counts_where_it_stands_now(
    most: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("stilo.order.statements.MOST_KNOWN", most)
    style = {"import.unused": "remove", "import.order": "groups"}
    for lead in ("", "'''Berths.'''\n", "# decks\n\n", "import sys, ferry\nferry(sys)\n"):
        for used in ("rope", "berth"):
            text = f"{lead}import quay\nfrom decks import rope, berth\nimport cars\nquay({used})\n"
            result = stilo.reformat(text, "python", style)
            assert apply_edits(text.encode(), result.edits) == result.data
            assert f"import quay\nfrom decks import {used}\n" in result.text
            assert "cars" not in result.text
