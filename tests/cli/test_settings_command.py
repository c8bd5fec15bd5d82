"""`stilo settings`: what it shows, its filters, and saving."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

import stilo

BERTH = (
    "class Berth {\n    void moor() {\n        deck.place(lorry, lane);\n    }\n\n"
    "    int lane = free + taken;\n}\n"
)


def shown(run, *arguments: object) -> dict[str, dict]:
    done = run("settings", "Berth.java", "--json", *arguments)
    assert done.exit_code == 0, done.output
    return {entry["name"]: entry for entry in json.loads(done.output)}


def test_every_setting_is_shown_with_value_origin_and_meaning(place, run) -> None:
    place({"Berth.java": BERTH, "stilo.toml": "\n[java]\nindent = 2\n"})
    found = shown(run)
    assert list(found) == list(stilo.load_language("java").settings)
    assert found["indent"] == {
        "name": "indent",
        "value": 2,
        "default": 4,
        "layer": "project",
        "file": "stilo.toml",
        "line": 3,
        "permitted": {"least": 0, "most": 16},
        "role": "",
        "role-meaning": "",
        "meaning": "How many columns a block is indented.",
    }
    assert found["arguments.wrap"]["permitted"] == ["row", "flow", "stack", "stack-always"]
    assert found["arguments.wrap"]["role-meaning"] == "arguments of a call"
    assert all(entry["meaning"] for entry in found.values())


def test_filters(place, run) -> None:
    place({"Berth.java": BERTH, "stilo.toml": 'indent = 2\narguments.wrap = "row"\nwidth = 100\n'})
    assert set(shown(run, "--changed")) == {"indent", "arguments.wrap"}
    assert (
        set(shown(run, "--role", "chain"))
        == {f"chain.{a}" for a in ("wrap", "align", "line-most", "keep")}
    )
    assert "." not in "".join(shown(run, "--role", "common"))
    done = run("settings", "Berth.java", "--role", "chian")
    assert done.exit_code == 2 and 'no role \'chian\'; did you mean "chain"?' in done.output


def test_those_that_matter_are_those_that_a_decision_consulted(place, run) -> None:
    place({"Berth.java": BERTH})
    call, sum_ = shown(run, "--within", "3"), shown(run, "--within", "6")
    assert {"arguments.wrap", "member-sign.before", "comma.after", "width"} <= set(call)
    assert {"assignment.wrap", "operation.wrap", "binary-operator.before"} <= set(sum_)
    assert not {"arguments.wrap", "comma.after"} & set(sum_)
    assert not {"assignment.wrap", "enum-items.wrap", "loop-header.wrap"} & set(call)
    # Closed as the call is, nothing asks where its closing parenthesis would stand.
    assert "arguments.close" not in call
    every = set(shown(run, "--matters"))
    assert set(call) | set(sum_) <= every < set(stilo.load_language("java").settings)


def test_a_setting_that_does_not_matter_changes_nothing() -> None:
    """Over the demo file: no setting but the consulted ones changes the layout at any value."""
    from conftest import DEMO

    java = stilo.load_language("java")
    text = (DEMO / "Sailing.java").read_bytes().split(b"enum Status")[0] + b"}"
    plain = stilo.reformat(text, java)
    silent = [n for n in java.settings if n not in plain.settings_consulted]
    assert len(silent) > 20
    for name in silent:
        for value in java.settings[name].values_shown:
            assert stilo.reformat(text, java, {name: value}).data == plain.data, (name, value)


TOML = '# ours\nwidth = 90 # wide\n\n# for Java\n[java]\nindent = 2 # two\n\n# the rest\n[json]\nindent = 2\n'

SAVED = [
    (
        "a value that is there",
        {"stilo.toml": TOML},
        "stilo.toml",
        ["indent=3"],
        TOML.replace("2 # two", "3 # two"),
    ),
    (
        "a new one in the language's table",
        {"stilo.toml": TOML},
        "stilo.toml",
        ["arguments.wrap=row"],
        TOML.replace("2 # two\n", '2 # two\narguments.wrap = "row"\n'),
    ),
    (
        "a new one at the top",
        {"stilo.toml": TOML},
        "stilo.toml",
        ["comma.after=none", "--common"],
        TOML.replace("# wide\n", '# wide\ncomma.after = "none"\n'),
    ),
    ("a new file", {}, "stilo.toml", ["indent=3"], "[java]\nindent = 3\n"),
    (
        "the shared file",
        {"pyproject.toml": "[tool.stilo]\r\nwidth = 80\r\n"},
        "pyproject.toml",
        ["indent=3"],
        "[tool.stilo]\r\nwidth = 80\r\n\r\n[tool.stilo.java]\r\nindent = 3\r\n",
    ),
    (
        "a table of a role",
        {"stilo.toml": '[java.arguments]\nwrap = "row" # flat\n'},
        "stilo.toml",
        ["arguments.wrap=flow"],
        '[java.arguments]\nwrap = "flow" # flat\n',
    ),
]


@pytest.mark.parametrize(
    "files, target, given, wanted", [c[1:] for c in SAVED], ids=[c[0] for c in SAVED]
)
def test_saving_in_the_project_keeps_comments_and_order(
    place, run, files: dict[str, str], target: str, given: list[str], wanted: str
) -> None:
    folder = place({**files, "Berth.java": BERTH})
    options = [o for o in given if o.startswith("--")]
    values = [x for v in given if not v.startswith("--") for x in ("--set", v)]
    done = run("settings", "Berth.java", "--save-in", "project", "--yes", *values, *options)
    assert done.exit_code == 0, done.output
    assert (folder / target).read_bytes().decode() == wanted
    assert f"+++ b/{target}" in done.output
    again = run("settings", "Berth.java", "--save-in", "project", "--yes", *values, *options)
    assert "says so already" in again.output


def test_saving_asks_first_and_writes_nothing_without_a_yes(place, run) -> None:
    folder = place({"Berth.java": BERTH})
    arguments = ("settings", "Berth.java", "--save-in", "project", "--set", "indent=3")
    done = run(*arguments, text=b"n\n")
    assert "nothing written" in done.output and not (folder / "stilo.toml").exists()
    run(*arguments, text=b"y\n")
    assert (folder / "stilo.toml").read_text() == "[java]\nindent = 3\n"


def test_saving_elsewhere(place, run, personal) -> None:
    folder = place({
        "Berth.java": BERTH,
        "stilo.toml": "indent = 2\n",
        ".editorconfig": "[*.java]\n# on\n\n[*.md]\n",
    })
    done = run("settings", "Berth.java", "--save-in", "personal", "--yes", "--set", "indent=3")
    assert personal.read_text() == "[java]\nindent = 3\n"
    assert "note: stilo.toml:1 (project) still gives indent the value 2" in done.output
    run("settings", "Berth.java", "--save-in", "editorconfig", "--yes", "--set", "comma.after=none")
    text = (folder / ".editorconfig").read_text()
    assert text == "[*.java]\nstilo.comma.after = none\n# on\n\n[*.md]\n"
    run("settings", "Berth.java", "--save-in", "editorconfig", "--yes", "--changed")
    assert stilo.Styles(style="default").of("Berth.java").values["comma.after"] == "space"
    (folder / "stilo.toml").unlink()
    personal.unlink()
    from stilo.style import editorconfig

    editorconfig.forget()
    values = stilo.Styles().of("Berth.java").values
    assert (values["indent"], values["comma.after"]) == (2, "none")


def test_saving_a_directive_around_lines(place, run) -> None:
    folder = place({"Berth.java": BERTH})
    arguments = (
        "settings",
        "Berth.java",
        "--save-in",
        "directive",
        "--yes",
        "--set",
        "arguments.wrap=stack-always",
    )
    assert run(*arguments, "--within", "3").exit_code == 0
    assert (folder / "Berth.java").read_text().splitlines()[2:5] == [
        "        // stilo: set begin arguments.wrap=stack-always",
        "        deck.place(lorry, lane);",
        "        // stilo: set end",
    ]
    broken = run(*arguments, "--within", "2-3")
    assert broken.exit_code == 2 and "stands in another block" in broken.output
    (folder / "berth.json").write_text("{}")
    refused = run(
        "settings", "berth.json", "--save-in", "directive", "--set", "indent=3", "--within", "1"
    )
    assert refused.exit_code == 2 and "json has no comments" in refused.output


def test_styles_are_listed_with_what_they_are(run) -> None:
    done = run("settings", "--styles")
    assert (
        [line for line in done.output.splitlines() if line[0] != " "] == list(stilo.style_names())
    )
    assert "Allman: every brace on its own line" in done.output


def test_the_schema_takes_good_settings_and_refuses_bad_ones(run) -> None:
    import tomllib

    import jsonschema

    done = run("settings", "--schema")
    checker = jsonschema.Draft7Validator(json.loads(done.output))
    good = 'style = "gnu"\nwidth = 80\nskip = ["a"]\n[java]\narguments.wrap = "row"\n[files]\n"*.x" = "json"\n'
    assert not list(checker.iter_errors(tomllib.loads(good)))
    for bad in (
        "width = 8",
        'indent = "2"',
        'arguments.wrap = "rows"',
        "[java]\nwidht = 80",
        "zzz = 3",
    ):
        assert list(checker.iter_errors(tomllib.loads(bad))), bad


def test_a_style_is_saved_with_the_values(place, run) -> None:
    place({"Berth.java": "class A { void f() {} }\n", "line/tides.toml": "width = 60\n"})
    asked = ("--style", "allman", "--indent", "2", "--width", "90")
    saved = run("settings", "Berth.java", *asked, "--save-in", "project", "--yes")
    assert saved.exit_code == 0
    assert (
        Path("stilo.toml").read_text() == ('style = "allman"\n\n[java]\nwidth = 90\nindent = 2\n')
    )
    asked_for = run("preview", "Berth.java", *asked).output
    assert run("preview", "Berth.java").output == asked_for
    other = run(
        "settings", "Berth.java", "--style", "line/tides.toml", "--save-in", "project", "--yes"
    )
    assert other.exit_code == 0
    assert 'style = "line/tides.toml"' in Path("stilo.toml").read_text()
    refused = run("settings", "Berth.java", "--style", "gnu", "--save-in", "editorconfig")
    assert refused.exit_code == 2 and "--changed saves its values there" in refused.output


def test_values_of_the_personal_file_do_not_get_into_that_of_a_team(place, run, personal) -> None:
    place({"Berth.java": "class A { void f() {} }\n"})
    personal.parent.mkdir()
    personal.write_text("indent = 7\n")
    run("settings", "Berth.java", "--width", "90", "--changed", "--save-in", "project", "--yes")
    assert Path("stilo.toml").read_text() == "[java]\nwidth = 90\n"


WISHES = [
    ("closing bracket", "arguments.close"),
    ("space before call parentheses", "call-parentheses.before"),
    ("one argument a line", "arguments.wrap"),
    ("blank lines between fields", "body.blank-most"),
    ("else on a new line", "after-body.before"),
    ("trailing comma", "items.trailing"),
    ("operators at line ends", "operation.breaks"),
    ("arguments aligned", "arguments.align"),
    ("short bodies on one line", "function-body.short"),
    ("comments at 72 columns", "comment-columns"),
    ("line length", "width"),
    ("two spaces", "indent"),
    ("brace on its own line", "function-body.brace"),
]


@pytest.mark.parametrize("words, name", WISHES)
def test_settings_are_found_by_the_words_that_people_bring(
    place, run, words: str, name: str
) -> None:
    place({"Berth.java": BERTH})
    assert name in list(shown(run, "--find", words))[:8]


def test_settings_can_be_read_at_80_columns(place, run) -> None:
    place({"Berth.java": BERTH, "stilo.toml": "indent = 2\n"})
    lines = run("settings", "Berth.java").output.splitlines()
    assert "    from stilo.toml:1 (project)" in lines
    assert any(line.startswith("arguments.wrap = stack   or row flow") for line in lines)
    assert max(map(len, lines)) <= 100
