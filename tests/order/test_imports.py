"""Imports in order: groups, sorting, merging, what stays where it is, and how it is told."""

from __future__ import annotations

import ast
import contextlib
import json
import re
import subprocess
import sys
from dataclasses import replace
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import stilo
from stilo.edits import apply_edits

ON = {"import.order": "groups"}


def ordered(text: str, language: str = "python", **style: object) -> str:
    """A text with its imports in order; a second run must change nothing, and edits lead there."""
    values = {**ON, **{name.replace("__", "."): value for name, value in style.items()}}
    result = stilo.reformat(text, language, values)
    again = stilo.reformat(result.text, language, values)
    assert not again.changed and not again.findings
    assert apply_edits(text.encode(), result.edits) == result.data
    if result.changed:
        assert result.findings
    return result.text


CASES = [
    ("nothing", "", ""),
    ("one import without a line end", "import os", "import os\n"),
    ("sorted", "import sys\nimport os\n", "import os\nimport sys\n"),
    (
        "the three groups of PEP 8, and what comes first",
        '"""Tides."""\nfrom .berth import Berth\nimport tides\nimport os\n'
        "from __future__ import annotations\n",
        '"""Tides."""\n\nfrom __future__ import annotations\n\nimport os\n\nimport tides\n\n'
        "from .berth import Berth\n",
    ),
    (
        "names merged, sorted, and twice only once",
        "from tides import low, high\nfrom tides import Ebb\nfrom tides import low as l, low\n",
        "from tides import Ebb, high, low, low as l\n",
    ),
    ("modules apart", "import sys, os\n", "import os\nimport sys\n"),
    ("numbers count", "import b10\nimport b2\nimport B1\n", "import B1\nimport b2\nimport b10\n"),
    (
        "further up before nearer",
        "from . import a\nfrom .b import c\nfrom ..d import e\n",
        "from ..d import e\nfrom . import a\nfrom .b import c\n",
    ),
    ("behind signs on one line", "import sys; import os\n", "import os\nimport sys\n"),
    (
        "before other code on their line",
        "import sys; import os; x = os\n",
        "import os\nimport sys\n\nx = os\n",
    ),
    (
        "joined lines",
        "from tides import low, \\\n    ebb\nimport os\n",
        "import os\n\nfrom tides import ebb, low\n",
    ),
    (
        "comments stay with their import",
        "import sys  # to leave\n# for the quay\nimport os\nimport json\n",
        "import json\n# for the quay\nimport os\nimport sys  # to leave\n",
    ),
    (
        "a comment over a paragraph heads it",
        "import tides\n\n# of Python\nimport sys\nimport os\n",
        "# of Python\nimport os\nimport sys\n\nimport tides\n",
    ),
    (
        "the comment at the begin of the file stays there",
        "# Skerry Line\nimport sys\nimport os\n",
        "# Skerry Line\nimport os\nimport sys\n",
    ),
    (
        "comments of names go with them",
        "from tides import (  # all\n    low,  # ebb\n    # the other\n    high,\n)\n",
        "from tides import (  # all\n    # the other\n    high,\n    low,  # ebb\n)\n",
    ),
    (
        "of two that say the same the one with a comment stays",
        "import os\nimport json\nimport os  # for the path\n",
        "import json\nimport os  # for the path\n",
    ),
    (
        "nothing passes a star",
        "import sys\nfrom tides import *\nimport os\nimport json\n",
        "import sys\nfrom tides import *\nimport json\nimport os\n",
    ),
    (
        "nothing passes a name that is made known twice",
        "import tides\nfrom b import low\nimport sys\nfrom a import low\nimport json\n",
        "import tides\nfrom b import low\nimport sys\nfrom a import low\nimport json\n",
    ),
    (
        "conditions and functions keep theirs",
        "import sys\nif x:\n    import b\n    import a\nimport os\nimport json\n",
        "import sys\n\nif x:\n    import b\n    import a\nimport json\nimport os\n",
    ),
    (
        "what is to be left is passed by nothing",
        "import sys\n# stilo: leave\nimport patches\nimport os\nimport json\n",
        "import sys\n# stilo: leave\nimport patches\nimport json\nimport os\n",
    ),
    (
        "a comment that comes to stand at the begin of the file",
        "from . import b\n# patched\nfrom . import a\nfrom . import c\n",
        "# patched\nfrom . import a, b, c\n",
    ),
    (
        "submodules bind what is around them",
        "import os.path\nimport os\nimport abc\n",
        "import abc\nimport os\nimport os.path\n",
    ),
]


@pytest.mark.parametrize("name, before, after", CASES, ids=[case[0] for case in CASES])
def test_order(name: str, before: str, after: str) -> None:
    assert ordered(before) == after


def test_nothing_is_put_in_order_unless_the_style_asks() -> None:
    assert not stilo.reformat("import sys\nimport os\n", "python").changed


@pytest.mark.parametrize(
    "style, after",
    [
        ({"import__names": "apart"}, "from a import b\nfrom a import c as d\n\nimport os\n"),
        ({"import__aliased": "apart"}, "from a import b\nfrom a import c as d\n\nimport os\n"),
        ({"import__group_blank": 0}, "from a import b, c as d\nimport os\n"),
        (
            {"import__headers": "Theirs | Ours"},
            "# Theirs\nfrom a import b, c as d\n\n# Ours\nimport os\n",
        ),
        ({"import__groups": "*", "import__forms": "apart"}, "import os\nfrom a import b, c as d\n"),
        ({"import__groups": "*", "import__forms": "mixed"}, "from a import b, c as d\nimport os\n"),
        ({"import__groups": ":standard"}, "import os\n\nfrom a import b, c as d\n"),
    ],
)
def test_settings(style: dict[str, object], after: str) -> None:
    given = {"import__groups": "a* | *", **style}
    named = {name.replace("group_blank", "group-blank"): value for name, value in given.items()}
    assert ordered("import os\nfrom a import c as d, b\n", **named) == after


def test_headers_do_not_pile_up() -> None:
    headers = {"import__headers": " | Of Python | Of others"}
    once = ordered("import tides\nimport os\n", **headers)
    assert once == "# Of Python\nimport os\n\n# Of others\nimport tides\n"
    assert (
        ordered(once.replace("import tides", "import abc"), **headers)
        == ("# Of Python\nimport abc\nimport os\n")
    )


def test_java() -> None:
    text = (
        "package line.skerry;\nimport static java.util.Map.entry;import org.quay.Berth;\n"
        "\timport java.util.List; // all\nimport java.util.*;\nimport java.util.List;\nclass X {}\n"
    )
    assert ordered(text, "java") == (
        "package line.skerry;\n\nimport java.util.*;\nimport java.util.List; // all\n\n"
        "import org.quay.Berth;\n\nimport static java.util.Map.entry;\n\nclass X {}\n"
    )


@pytest.mark.parametrize("end", ["\n", "\r\n"])
@pytest.mark.parametrize("mark", ["", "\ufeff"])
def test_line_ends_and_marks_stay(end: str, mark: str) -> None:
    data = f"{mark}import sys{end}import é{end}import os{end}".encode()
    result = stilo.reformat(data, "python", ON)
    assert result.data == f"{mark}import os{end}import sys{end}{end}import é{end}".encode()
    assert apply_edits(data, result.edits) == result.data


def test_the_line_ends_of_the_source_count_though_none_of_its_lines_is_left() -> None:
    data = b"import os\r\nimport os"
    result = stilo.reformat(data, "python", ON)
    assert result.data == apply_edits(data, result.edits) == b"import os\r\n"


def test_only_the_order() -> None:
    text = "import sys\nimport   os\nx=1\nimport b\nimport a\ny=2\n"
    result = stilo.reformat(text, "python", only_order=True)
    assert result.text == "import os\nimport sys\nx=1\nimport a\nimport b\ny=2\n"
    assert result.order_counts == {"moved": 2}
    assert all("belongs" in finding.message for finding in result.findings)
    assert apply_edits(text.encode(), result.edits) == result.data


def test_imports_that_move_together_are_told_of_once() -> None:
    names = ["quay", "ramp", "tide"]
    text = "".join(f"import {name}\n" for name in [*names, "abc", "berth", "deck", "lane"])
    result = stilo.reformat(text, "python", {**ON, "import.groups": "*"}, only_order=True)
    messages = [finding.message for finding in result.findings]
    assert messages == ['"import quay" and the 2 imports after it belong after "import lane"']
    assert result.order_counts == {"moved": 3}


def test_an_import_is_told_of_by_the_neighbour_it_gets() -> None:
    text = "import tide\nimport abc\nimport berth\n"
    result = stilo.reformat(text, "python", {**ON, "import.groups": "*"}, only_order=True)
    assert [f.message for f in result.findings] == ['"import tide" belongs after "import berth"']
    for text, wanted in (
        (
            "import tide\nimport abc\nimport berth\nimport zone\n",
            '"import tide" belongs after "import berth"',
        ),
        (
            "import abc\nimport deck\nimport tide\nimport berth\n",
            '"import berth" belongs before "import deck"',
        ),
    ):
        result = stilo.reformat(text, "python", {**ON, "import.groups": "*"}, only_order=True)
        assert [f.message for f in result.findings] == [wanted]
    long = "from line.skerry.harbours.of_the_outer_islands import {}_of_the_summer_season\n"
    text = long.format("tides") + long.format("ferries")
    style = {**ON, "import.groups": "*", "import.names": "apart"}
    (found,) = stilo.reformat(text, "python", style, only_order=True).findings
    assert "tides_of_the_summer" in found.message and "ferries_of_the_summer" in found.message


def test_lines_choose_the_runs_that_are_put_in_order() -> None:
    text = "import sys\nimport os\nx=1\nimport b\nimport a\ny=2\n"
    result = stilo.reformat(text, "python", ON, lines=(4, 4))
    assert result.text == "import sys\nimport os\nx=1\nimport a\nimport b\ny=2\n"
    assert stilo.reformat(text, "python", ON, lines=(6, 6)).text.startswith("import sys\nimport os")


def test_what_belongs_to_the_project_is_found_in_its_folders(place) -> None:
    place({
        "stilo.toml": '[python]\nimport.order = "groups"\n[java]\nimport.order = "groups"\n'
        'import.groups = ["*", ":project"]\n',
        "src/skerry/berth.py": "import tides\nimport skerry.quay\nimport os\n",
        "src/skerry/quay.py": "",
        "src/main/line/skerry/Berth.java": "import org.Tide; import line.skerry.deck.Lane; import line.tide.Ebb;\n",
        "src/main/line/skerry/deck/Lane.java": "",
    })
    assert (
        stilo.reformat_file("src/skerry/berth.py").text
        == ("import os\n\nimport tides\n\nimport skerry.quay\n")
    )
    assert (
        stilo.reformat_file("src/main/line/skerry/Berth.java").text
        == ("import line.tide.Ebb;\nimport org.Tide;\n\nimport line.skerry.deck.Lane;\n")
    )


def test_why_names_the_settings_and_the_new_place() -> None:
    result = stilo.reformat("import sys\nimport   os\n", "python", ON)
    decision = result.decision(2, 10)
    assert decision.position == (2, 10)
    assert [r.setting for r in decision.reasons if r.setting] == ["import.groups", "import.sort"]
    settled = stilo.reformat(result.text, "python", ON)
    assert [r.setting for r in settled.decision(1, 1).reasons] == ["import.groups", "import.sort"]
    assert not stilo.reformat("import os\n", "python").decision(1, 1).reasons


def test_an_unknown_word_in_groups_is_told(place, run) -> None:
    place({"stilo.toml": '[python]\nimport.groups = [":tides"]\n', "a.py": "import os\n"})
    done = run("apply", "a.py")
    assert done.exit_code == 2
    assert done.output.startswith("stilo.toml:2:1: import.groups cannot be a list")
    assert ":standard" in done.output


def test_arrange(place, run) -> None:
    folder = place({"a.py": "import sys\nimport os, abc\nx=1\n", "b.py": "import os\n"})
    listed = run("arrange", "--list", "a.py", "b.py")
    assert listed.exit_code == 1
    assert 'a.py:2:1: "import os" belongs before "import sys"' in listed.output
    done = run("arrange", "a.py", "b.py")
    assert done.exit_code == 0
    assert (folder / "a.py").read_text() == "import abc\nimport os\nimport sys\nx=1\n"
    assert "put in order: 1; in order before: 1" in done.output


def test_apply_tells_what_became_of_imports(place, run) -> None:
    place({"a.py": "import sys\nimport os\n"})
    done = run("apply", "--set", "import.order=groups", "a.py")
    assert "a.py: laid out, 2 lines; imports moved: 1\n" in done.output


def test_a_package_keeps_its_order_unless_the_style_says_so(place) -> None:
    place({"__init__.py": "import sys\nimport os\n"})
    assert not stilo.reformat_file("__init__.py", style=ON).changed
    style = {**ON, "import.packages": "groups"}
    assert stilo.reformat_file("__init__.py", style=style).text == "import os\nimport sys\n"


def test_cells_of_notebooks_keep_their_imports() -> None:
    cell = {"cell_type": "code", "source": "import sys\nimport os", "metadata": {}, "outputs": []}
    notebook = {"cells": [cell], "metadata": {}, "nbformat": 4, "nbformat_minor": 5}
    style = stilo.Styles(ON).of("tides.ipynb")
    data = json.dumps(notebook).encode()
    assert not stilo.reformat_styled(data, style, name="tides.ipynb", only_order=True).changed
    assert not stilo.reformat_styled(data, style, name="tides.ipynb").changed


def test_another_language_needs_only_its_sheet() -> None:
    """Of JavaScript no more than what the guide to sheets says of it."""
    guide = (Path(__file__).parents[2] / "docs" / "write-a-sheet.md").read_text("utf-8")
    rules = re.findall(
        r"```css\n(.*?)```", guide.partition("## 14.")[2].partition("## 15.")[0], re.DOTALL
    )
    assert len(rules) == 2
    language = stilo.define_language("""
        @language javascript {
          grammar: tree_sitter_javascript; files: "*.js"; comment-signs: "//"; pairs: "{" "}" "(" ")";
        }
        @setting import.groups { default: "* | :relative | :effect" }
        program { role: file; between: line; wrap: stack-always; indent: none }
        string { token: whole }
        """ + "".join(rules))
    text = (
        'import { low, ebb as fall } from "./tides";\nimport { z, gone } from "quay";\n'
        'import "patches";\nimport { berth } from "berths";\nimport { a } from "berths";\n'
        "function f(a) { return a.gone + low + fall + z; }\nberth(f);\n"
    )
    result = stilo.reformat(text, language, {**ON, "import.unused": "remove"})
    assert result.text.split("function")[0].split() == (  # how it is spaced the sheet does not say
        'import { z } from "quay" ; import { ebb as fall , low } from "./tides" ; '
        'import "patches" ; import { berth } from "berths" ;'
    ).split()


NAMES = st.sampled_from(["os", "sys", "json", "tides", "berths", "quay2", "quay10", "Deck", "abc"])
STATEMENTS = st.one_of(
    NAMES.map("import {}".format),
    st.tuples(NAMES, st.lists(NAMES, min_size=1, max_size=4, unique=True)).map(
        lambda pair: f"from {pair[0]} import {', '.join(f'{n} as {pair[0]}_{n}' for n in pair[1])}"
    ),
    st.tuples(NAMES, NAMES).map(lambda pair: f"import {pair[0]}.{pair[1]}"),
    NAMES.map(lambda name: f"import {name}  # of {name}"),
)


@settings(deadline=None)
@given(
    st.lists(STATEMENTS, max_size=12).flatmap(lambda s: st.tuples(st.just(s), st.permutations(s)))
)
def test_the_same_from_any_order(pair: tuple[list[str], list[str]]) -> None:
    texts = ["\n".join(lines) + "\n" for lines in pair]
    results = [ordered(text, import__sort="natural") for text in texts]
    assert results[0] == results[1]

    def said(text: str) -> set[str]:
        return {
            f"{getattr(node, 'module', '')} {name.name} {name.asname}"
            for node in ast.walk(ast.parse(text))
            if isinstance(node, (ast.Import, ast.ImportFrom))
            for name in node.names
        }

    assert said(texts[0]) == said(results[0])


@pytest.mark.parametrize(
    "language, text",
    [
        ("python", "import b\nimport a\n\nx = [b, a]\nimport d\nimport c\nif x: pass\n"),
        ("python", "import b, a\n"),
        ("java", "package p; import b.B; import a.A;\n/** A. */ class X { A a = f(1, B.b); }\n"),
    ],
)
def test_a_tree_is_put_together_as_if_it_had_been_read(language: str, text: str) -> None:
    from stilo.order.passes import put_in_order
    from stilo.order.text import Text
    from stilo.source import Source

    spoken = stilo.load_language(language)
    source = Source.from_text(text)
    read = Text(source, spoken.read_source(source), spoken)
    assert read.tree.kind  # so that it is put together, not read
    done = put_in_order(read, spoken.values(ON), None, None)
    assert done is not None
    again = Text(done.text.source, spoken.read_source(done.text.source), spoken)
    assert done.text.known is not None
    assert replace(done.text.known, known_texts=None) == replace(again.tree, known_texts=None)
    assert done.text.tree.texts == again.tree.texts


SKERRY = {
    "skerry/__init__.py": "",
    "skerry/quay.py": "berths = {}\n",
    "skerry/fill.py": "from skerry import quay\n\nquay.berths['north'] = 4\n",
    "skerry/board.py": "from skerry import quay\n\nopen_berths = quay.berths['north']\n",
}
MATTERS = "from skerry import fill\nfrom skerry import board\n\nprint(board.open_berths)\n"


@pytest.mark.parametrize(
    "text, settings, works",
    [
        (MATTERS, "", False),
        (MATTERS.replace("\nfrom", "  # stilo: leave\nfrom", 1), "", True),
        (f"# stilo: leave begin\n{MATTERS}".replace("\n\n", "\n# stilo: leave end\n\n"), "", True),
        (MATTERS, 'import.groups = ["skerry.fill", "*"]\nimport.names = "apart"\n', False),
        (MATTERS, 'import.order = "keep"\n', True),
    ],
)
def test_an_order_that_matters_is_kept_by_a_directive(
    place, text: str, settings: str, works: bool
) -> None:
    """The board reads what importing `fill` has put there."""
    order = "" if "import.order" in settings else 'import.order = "groups"\n'
    folder = place({**SKERRY, "main.py": text, "stilo.toml": f"[python]\n{order}{settings}"})
    result = stilo.reformat_file("main.py")
    (folder / "main.py").write_bytes(result.data)
    assert not stilo.reformat_file("main.py").changed
    done = subprocess.run([sys.executable, "main.py"], capture_output=True, text=True)
    assert (done.stdout == "4\n") == works, done.stderr


LINES = st.sampled_from([
    "import os",
    "import sys, json",
    "import a.b as ab",
    "from x import y, z as w",
    "from x import (q,  # of q\n   r,\n   # of s\n   s)",
    "from . import k",
    "from ..p import m",
    "from x import *",
    "from __future__ import annotations",
    "import os  # why",
    "# a note",
    "# Theirs",
    "# stilo: leave",
    "",
    "x = 1",
    "if x:\n    import b\n    import a",
    "import os; import re",
    "import c; y = 2",
    "from x \\\n  import t",
    "import t1 ; # of t1",
    "'''Tides.'''",
    "from é import ü",
    "import os",
    "from x import y",
    "os.x(y)",
    "__all__ = ['w']",
    "def f(os):\n    return os, k",
    "# stilo: leave begin",
    "# stilo: leave end",
])
STYLES = st.fixed_dictionaries({
    name: st.sampled_from(values)
    for name, values in {
        "import.order": ["groups", "keep"],
        "import.names": ["merge", "apart", "keep"],
        "import.sort": ["natural", "kinds", "plain", "caseless"],
        "import.headers": ["", "Theirs", " | Theirs | Ours"],
        "import.aliased": ["merge", "apart"],
        "import.forms": ["apart", "mixed"],
        "import.group-blank": [0, 1, 2],
        "import.unused": ["keep", "remove", "remove-boldly"],
        "import.scattered": ["keep", "gather", "gather-boldly"],
        "semicolons": ["split", "keep"],
        "value-brackets": ["fit", "keep"],
    }.items()
})


def said(text: str) -> list[Any]:
    """The statements of a module; each run of imports as the names it makes known."""
    found: list[Any] = []
    known: dict[str, str] = {}
    for node in [*ast.parse(text).body, None]:
        if isinstance(node, (ast.Import, ast.ImportFrom)) and node.names[0].name != "*":
            for name in node.names:
                known[name.asname or name.name] = f"{getattr(node, 'module', '')} {name.name}"
        else:
            found += [sorted(known.items()), node and ast.dump(node)]
            known = {}
    return found


def remarks(text: str) -> list[str]:
    """The comments of a text but for those above groups, in no order."""
    found = re.findall(r"# [^\r\n]*", text)
    return sorted(remark for remark in found if remark not in ("# Theirs", "# Ours"))


@settings(deadline=None)
@given(st.lists(LINES, max_size=12), STYLES, st.booleans(), st.sampled_from(["\n", "\r\n"]))
def test_any_imports_say_the_same_in_order(
    lines: list[str], style: dict[str, object], only_order: bool, end: str
) -> None:
    text = end.join(lines).replace("\r\n", "\n").replace("\n", end)
    try:
        result = stilo.reformat(text, "python", style, only_order=only_order)
    except (stilo.SyntaxFault, stilo.DirectiveError):
        return
    before, after = said(text), said(result.text)
    if style["import.unused"] == "keep" and style["import.scattered"] == "keep":
        assert after == before
    else:  # the names in any import, and the other statements
        assert (
            {pair for run in after[::2] for pair in run} <= {p for run in before[::2] for p in run}
        )
        assert after[1::2] == before[1::2]
    assert remarks(result.text) == remarks(text)
    again = stilo.reformat(result.text, "python", style, only_order=only_order)
    assert not again.changed
    assert apply_edits(text.encode(), result.edits) == result.data
    assert not result.changed or result.findings
    count = result.source.line_count
    for line in range(1, count + 1) if result.source.data.strip() else ():
        stilo.reformat(text, "python", style, only_order=only_order, lines=(line, count))
        with contextlib.suppress(stilo.OutOfRange):  # nothing may be left
            result.decision(line)


def test_any_line_can_be_asked_for() -> None:
    text = "from x import (b,  # of b\n  a)\nfrom x import (b,  # of b\n  a)\n\n\n"
    result = stilo.reformat(text, "python", {**ON, "import.names": "keep"})
    assert [result.decision(line).position.line for line in range(1, 7)] == list(range(1, 7))


@pytest.mark.parametrize("names", ["a # x\n, # y\n b", "b # x\n, # y\n a", "a # x\n, # y\n a"])
def test_names_with_comments_that_cannot_share_a_line_stay(names: str) -> None:
    text = f"from . import ({names})\n"
    assert stilo.reformat(text, "python", only_order=True).text == text
