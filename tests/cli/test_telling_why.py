"""What `proof` and `why` tell: counts, first places, settings, and what another value would give."""

from __future__ import annotations

import pytest

import stilo
from stilo.explain.findings import CODES

DECK = "def load(lorry,trailer):\n  if lorry: return  lorry\n  return trailer;\n"


def test_few_files_are_shown_with_their_first_places(place, run) -> None:
    place({"deck.py": DECK, "tidy.py": "x = 1\n"})
    done = run("proof", "deck.py", "tidy.py")
    assert done.exit_code == 1
    lines = done.output.splitlines()
    assert lines[0].startswith("deck.py: 6 places not in style, most by indent = 4 (2), ")
    assert lines[1:4] == [
        '  1:16: no space before "trailer", 1 wanted (comma.after = space)',
        "      def load(lorry,trailer):",
        "                     ^",
    ]
    assert "  and 3 more" in lines
    assert "By setting, or by rule where no setting decides:" in lines
    assert "  2  indent = 4" in lines
    assert lines[-1] == "6 places in 1 of 2 files not in style; --report all lists every place"


def test_many_files_are_summed_up(place, run) -> None:
    place({f"deck{n}.py": DECK for n in range(40)})
    done = run("proof", *(f"deck{n}.py" for n in range(40)))
    lines = done.output.splitlines()
    assert lines[0] == "Files with the most places:"
    assert "  150  in 25 more files" in lines
    assert "  80  indent = 4" in lines
    assert len(lines) < 60
    listed = (
        run("proof", "--report", "all", *(f"deck{n}.py" for n in range(40))).output.splitlines()
    )
    assert len(listed) == 40 * 6 + 1
    assert listed[1] == "deck0.py:2:1: indent of 2 spaces, 4 spaces wanted (indent = 4)"


def test_a_caret_stands_below_the_place_in_long_and_wide_lines(place, run) -> None:
    place({"deck.py": f"tide = '港港港',1\nx = [{'1, ' * 60}2 ,3]\n"})
    lines = run("proof", "deck.py").output.splitlines()
    assert lines[2:4] == ["      tide = '港港港',1", " " * (6 + len("tide = '港港港',") + 3) + "^"]
    shown = lines[lines.index(next(line for line in lines if "1, 1, 1" in line)) + 1]
    assert shown.strip() == "^" and len(shown) < 90


KINDS = [
    ("if x: y\n", {}, "line-break", "suite.short"),
    ("x = (\n1)\n", {}, "joined-lines", None),
    ("x =\\\ny.z\n", {}, "joined-lines", None),
    ("x=1\n", {}, "spaces", "binary-operator.before"),
    ("x =y()\n", {}, "spaces", "binary-operator.after"),
    ("return  deck.lane\n", {}, "spaces", None),
    ("from deck import  lane\n", {}, "spaces", None),
    ("x = 1\n\n\n\n\ny = 2\n", {}, "blank-lines", "file.blank-most"),
    ("def f():\n  pass\n", {}, "indent", "indent"),
    ("def f():\n\tpass\n", {}, "indent", "indent-with"),
    ("x = 1  \n", {}, "file-end", "final-newline"),
    ("x = (1 + 2)\n", {}, "brackets", "value-brackets"),
    ("x = 1;\n", {}, "idle-sign", None),
    ("f(a,)\n", {"arguments.trailing": "never"}, "separator", "arguments.trailing"),
    ("x = 'a'\n", {"string-quotes": "double"}, "spelling", "string-quotes"),
    ("#" + " word" * 20 + "\n", {"comment-columns": 40}, "comment", "comment-columns"),
    ("import b\nimport a\n", {"import.order": "groups"}, "imports", "import.sort"),
    ("x = 1\r\n", {"line-ends": "lf"}, "bytes", "line-ends"),
]


@pytest.mark.parametrize(
    "text, style, code, setting", KINDS, ids=[k[2] + str(n) for n, k in enumerate(KINDS)]
)
def test_a_finding_has_a_code_a_range_and_a_setting(
    text: str, style: dict[str, object], code: str, setting: str | None
) -> None:
    findings = stilo.reformat(text, "python", style).findings
    found = next(f for f in findings if f.code == code)
    assert code in CODES and found.position <= found.end
    assert '""' not in found.message
    if setting is not None:
        assert found.reason.setting == setting


def test_why_names_what_a_person_would_change(place, run) -> None:
    call = f"load({', '.join(f'lorry_{n}' for n in range(12))})\n"
    place({"deck.py": call})
    result = stilo.reformat(call, "python")
    closing = len(call) - 1
    assert (
        [r.setting for r in result.decision(1, closing).reasons if r.setting][:2]
        == ["arguments.close", "arguments.wrap"]
    )
    said = run("why", f"deck.py:1:{closing}", "--try").output
    assert "  decided by  arguments.close = own-line" in said
    assert "  arguments.close can also be same-line, item-column" in said
    tried = said[said.index("arguments.close = same-line"):]
    assert "lorry_11)" in tried.split("\n\n")[0]


def test_why_takes_a_place_of_the_result(place, run) -> None:
    place({"deck.py": "x=1;y=2\nif x: z=3\n"})
    said = run("why", "--in-result", "deck.py:4").output
    assert said.startswith('deck.py:2:7: between ":" and "z"')
    refused = run("why", "--in-result", "deck.py:9")
    assert refused.exit_code == 2 and "line 9 of the result" in refused.output


def test_a_place_of_the_result_leads_back_to_the_source() -> None:
    result = stilo.reformat("import b\nimport a\nx=[a,b]\n", "python", {"import.order": "groups"})
    line = result.text.splitlines().index("x = [a, b]") + 1
    assert result.source_place(line, 6) == (3, 4)
    assert result.source_place(line) == (3, 1)
    for wrong in (0, 99):
        with pytest.raises(stilo.OutOfRange):
            result.source_place(wrong)


def test_the_statement_at_a_place_is_shown_as_laid_out() -> None:
    result = stilo.reformat("def f():\n  if x: y=1\n  z( )\n", "python")
    assert result.statement(3) == "    z()"
    assert result.statement(2, 9).strip() == "y = 1"
    style = {"condition.wrap": "stack-always"}
    whole = stilo.reformat("a()\nif x and y: z\n", "python", style).statement(2, 10)
    assert whole == "if (\n    x\n    and y\n):"
    text = '{\n"berth":{\n"lanes":4}}'
    assert stilo.reformat(text, "json").statement(3, 2) == '    "lanes": 4'


@pytest.mark.parametrize(
    "name, text, style, reasons",
    [
        (
            "A.java",
            "class A {\n\n    int a;\n}\n",
            {"declaration-body.blank-edges": "drop"},
            ["declaration-body.blank-edges = drop"],
        ),
        (
            "A.java",
            "class A {\n    void a() {\n\n        b();\n\n    }\n}\n",
            {},
            ["the rule for all tokens (blank-edges: drop)"] * 2,
        ),
        (
            "a.py",
            "class A:\n\n    a = 1\n",
            {"definitions.blank-kept": "0"},
            ["definitions.blank-kept = 0"],
        ),
        ("a.py", "a = 1\n\n\n\nb = 2\n", {"file.blank-most": "1"}, ["file.blank-most = 1"]),
    ],
)
def test_what_takes_blank_lines_away_is_named(
    name: str, text: str, style: dict[str, str], reasons: list[str]
) -> None:
    result = stilo.reformat(text, stilo.language_for_file(name), style)
    assert [finding.reason.short() for finding in result.findings] == reasons
