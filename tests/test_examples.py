"""The scripts in `examples/` run as they stand, and say what they promise."""

from __future__ import annotations

import ast
import subprocess
import sys
from pathlib import Path
from shutil import copytree

import stilo
from conftest import DEMO

EXAMPLES = Path(__file__).parent.parent / "examples"


def output(script: str, *arguments: object) -> str:
    command = [sys.executable, EXAMPLES / script, *arguments]
    done = subprocess.run(list(map(str, command)), capture_output=True, text=True, check=True)
    assert not done.stderr
    return done.stdout


def test_findings_as_a_table(tmp_path: Path) -> None:
    (tmp_path / "a.py").write_text("x=1\ny = 2\n")
    (tmp_path / "b.py").write_text("z=f(1,2)\n")
    assert output("findings_table.py", tmp_path).splitlines() == [
        "     2 places in    2 files: binary-operator.before = space",
        "     2 places in    2 files: binary-operator.after = space",
        "     1 places in    1 files: comma.after = space",
    ]


def test_styles_compared() -> None:
    lines = output("compare_styles.py", DEMO / "Sailing.java").splitlines()
    counts = {line.split()[0]: int(line.split()[1]) for line in lines}
    assert counts["allman"] > counts["default"] > 200 and "whitesmiths" in counts


def test_a_language_of_ones_own(tmp_path: Path) -> None:
    path = tmp_path / "summer.timetable"
    path.write_text(
        '{"days":["sat","sun"],"sailings":[{"berth":4,"at":"06:15"},{"berth":2,"at":"07:05"}]}'
    )
    assert output("own_language.py", path) == (
        '{\n  "days": ["sat", "sun"],\n  "sailings": [\n    { "berth": 4, "at": "06:15" },\n'
        '    { "berth": 2, "at": "07:05" }\n  ]\n}\n'
    )


def test_generated_code() -> None:
    text = output("generated_code.py")
    fares = ast.parse(text).body[0]
    assert isinstance(fares, ast.ClassDef) and len(fares.body) == 3
    assert '\n        """The fare of cars.\n\n        Crossings' in text
    assert max(map(len, text.splitlines())) <= 72


def test_queries_in_strings_by_a_sheet_of_ones_own(tmp_path: Path, monkeypatch) -> None:
    folder = tmp_path / "queries"
    copytree(EXAMPLES / "queries", folder)
    monkeypatch.chdir(folder)
    path = Path("berths.py")
    wanted = path.read_text()
    flat = wanted.replace("\n    left join", "  left join").replace("\n            and", " and")
    flat = flat.replace("b.number, b.quay", "b.number,b.quay").replace('= """\n', '= """')
    flat = flat.replace("number\n\"\"\"", 'number"""').replace("\n                ", " ")
    assert flat != wanted
    path.write_text(flat)
    result = stilo.reformat_file(path)
    assert result.text == wanted
    assert spaceless(flat) == spaceless(wanted)
    assert not result.unread


def spaceless(text: str) -> str:
    """What a program says, with all white space in its strings taken out."""
    return "".join(ast.dump(ast.parse(text)).replace("\\n", "").split())
