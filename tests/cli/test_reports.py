"""The forms in which `stilo proof` reports."""

from __future__ import annotations

import json
import shutil
import subprocess
import tarfile
from pathlib import Path

import jsonschema
import pytest

import stilo
from stilo.cli import forms
from stilo.cli.options import FORMS

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


@pytest.mark.parametrize("form", ["short", "all", "names", "patch", "json", "github"])
def test_what_is_in_style_is_reported_by_nothing(place, run, form: str) -> None:
    place({"b.py": "y = 1\n"})
    done = run("proof", "b.py", "--report", form)
    assert (done.exit_code, done.output) == (0, "")


@pytest.fixture(scope="module")
def sarif_schema(tmp_path_factory) -> dict:
    """The published schema, as a package of the npm registry holds it."""
    folder = tmp_path_factory.mktemp("schema")
    npm = shutil.which("npm")
    package = ["pack", "--silent", "@microsoft/jest-sarif@1.0.0-beta.0"]
    done = npm and subprocess.run([npm, *package], cwd=folder, capture_output=True, check=False)
    if not done or done.returncode:
        pytest.skip("npm does not give the package that holds the schema")
    with tarfile.open(next(folder.glob("*.tgz"))) as archive:
        name = next(n for n in archive.getnames() if Path(n).name.startswith("sarif-2.1.0"))
        return json.load(archive.extractfile(name))


ODD = {
    **FILES,
    "tïde table.py": "y = '⛴️'+x\n",
    "deep/d.py": "z=1\n",
    "n.ipynb": json.dumps({
        "cells": [{"cell_type": "code", "source": ["a=1"], "metadata": {}, "outputs": []}],
        "metadata": {},
        "nbformat": 4,
        "nbformat_minor": 5,
    }),
}


@pytest.mark.parametrize("bad", [{}, {"bad.py": "x = (\n"}])
def test_sarif_is_as_its_schema_wants(place, run, sarif_schema: dict, bad: dict[str, str]) -> None:
    place({**ODD, **bad})
    found = json.loads(run("proof", ".", "--report", "sarif").stdout)
    jsonschema.validate(found, sarif_schema)
    (said,) = found["runs"]
    codes = {rule["id"] for rule in said["tool"]["driver"]["rules"]}
    assert {result["ruleId"] for result in said["results"]} <= codes
    places = [result["locations"][0]["physicalLocation"] for result in said["results"]]
    uris = {place["artifactLocation"]["uri"] for place in places}
    assert uris == {"a.py", "c%20d.json", "deep/d.py", "n.ipynb", "t%C3%AFde%20table.py"}
    plus = next(p for p in places if p["artifactLocation"]["uri"].startswith("t%"))
    assert plus["region"]["startColumn"] == 9  # characters, of which the ferry has two
    assert said["invocations"][0]["executionSuccessful"] is not bool(bad)


def test_sarif_of_nothing(place, run, sarif_schema: dict) -> None:
    place({"b.py": "y = 1\n"})
    found = json.loads(run("proof", ".", "--report", "sarif").stdout)
    jsonschema.validate(found, sarif_schema)
    assert found["runs"][0]["results"] == []


def test_annotations_escape_what_their_service_reads(place, run) -> None:
    place({"50%, a:b.py": "x=1\n"})
    first, second = run("proof", ".", "--report", "github").stdout.splitlines()
    assert first == (
        "::warning file=50%25%2C a%3Ab.py,line=1,endLine=1,col=2,endColumn=2,title=spaces::"
        'no space before "=", 1 wanted (binary-operator.before = space)'
    )
    assert second.startswith("::warning file=50%25%2C a%3Ab.py,line=1,endLine=1,col=3,")


def test_a_code_quality_report(place, run) -> None:
    place(ODD)
    found = json.loads(run("proof", ".", "--report", "gitlab").stdout)
    assert len({one["fingerprint"] for one in found}) == len(found) > 4
    assert {one["location"]["path"] for one in found} >= {"c d.json", "deep/d.py"}
    assert all(
        one["location"]["lines"]["begin"] >= 1 and one["severity"] == "minor" for one in found
    )
    again = json.loads(run("proof", ".", "--report", "gitlab").stdout)
    assert again == found


def test_several_processes_report_the_same(place, run) -> None:
    place(ODD)
    for form in FORMS:
        one, three = (run("proof", ".", "--report", form, "--jobs", n, "--afresh") for n in "13")
        assert one.output == three.output and one.exit_code == three.exit_code == 1


def test_each_form_is_offered() -> None:
    assert set(FORMS) == {"short", *forms.FORMS}


def test_quiet_tells_by_the_status_alone(place, run) -> None:
    place({**FILES, "bad.py": "(\n"})
    for form in ("short", "json", "sarif"):
        done = run("proof", "a.py", "--quiet", "--report", form)
        assert done.exit_code == 1 and done.output == ""
    done = run("proof", ".", "-q")
    assert done.exit_code == 2 and done.output.startswith("bad.py:1:2: ")
    assert len(done.output.splitlines()) == 1
    assert run("apply", "a.py", "b.py", "-q").output == ""
    assert run("proof", "a.py").exit_code == 0
