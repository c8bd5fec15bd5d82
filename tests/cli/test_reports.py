"""The forms in which `stilo proof` reports."""

from __future__ import annotations

import json
import subprocess
from pathlib import Path

import jsonschema
import pytest

import stilo

FILES = {"a.py": "x=f(1,\n2)\n", "b.py": "y = 1\n", "c d.json": '{"berth":4}\n'}
SCHEMA = {
    "type": "object",
    "properties": {
        **dict.fromkeys(["path", "code", "message"], {"type": "string", "minLength": 1}),
        **dict.fromkeys(
            ["line", "column", "end-line", "end-column"], {"type": "integer", "minimum": 1}
        ),
        "setting": {"type": ["string", "null"]},
        "value": {"type": ["string", "integer"]},
        "from": {"type": "string"},
    },
    "additionalProperties": False,
}


def report(run, form: str) -> str:
    done = run("proof", ".", "--report", form)
    assert done.exit_code == 1 and "in 2 of 3 files not in style" in done.stderr
    return done.stdout


def test_names(place, run) -> None:
    place(FILES)
    assert report(run, "names") == "a.py\nc d.json\n"


def test_a_patch_makes_all_right(place, run) -> None:
    folder: Path = place(FILES)
    patch = report(run, "patch")
    subprocess.run(["git", "apply", "-"], input=patch.encode(), cwd=folder, check=True)
    assert run("proof", ".").exit_code == 0


def test_json_says_what_the_library_says(place, run) -> None:
    place(FILES)
    records = [json.loads(line) for line in report(run, "json").splitlines()]
    for record in records:
        jsonschema.validate(record, {**SCHEMA, "required": list(SCHEMA["properties"])})
    found = stilo.reformat_file("a.py").findings
    mine = [record for record in records if record["path"] == "a.py"]
    assert [record["message"] for record in mine] == [finding.message for finding in found]
    assert mine[0]["setting"] == "binary-operator.before" and mine[0]["column"] == 2


@pytest.mark.parametrize("form", ["short", "all", "names", "patch", "json"])
def test_what_is_in_style_is_reported_by_nothing(place, run, form: str) -> None:
    place({"b.py": "y = 1\n"})
    done = run("proof", "b.py", "--report", form)
    assert (done.exit_code, done.output) == (0, "")
