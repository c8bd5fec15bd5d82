"""`*.aspect` stands for the aspect of every role that has it, in every place where a style is said."""

from __future__ import annotations

from pathlib import Path

import pytest

import stilo
from stilo.style.editorconfig import forget

PYTHON = stilo.load_language("python")
CLOSES = [name for name in PYTHON.settings if name.endswith(".close")]


def closes(values) -> dict[str, object]:
    return {name: values[name] for name in CLOSES}


WANTED = {**dict.fromkeys(CLOSES, "same-line"), "index.close": "own-line"}
PLACES = {
    "TOML, with a dot": {"stilo.toml": 'index.close = "own-line"\n"*".close = "same-line"\n'},
    "TOML, a table": {
        "stilo.toml": '[python.index]\nclose = "own-line"\n[python."*"]\nclose = "same-line"\n',
    },
    "TOML, one key": {
        "stilo.toml": '[python]\n"*.close" = "same-line"\nindex.close = "own-line"\n',
    },
    "EditorConfig": {
        ".editorconfig": "[*.py]\nstilo.index.close = own-line\nstilo.*.close = same-line\n",
    },
}


@pytest.mark.parametrize("files", PLACES.values(), ids=PLACES)
def test_in_a_file(place, files: dict[str, str]) -> None:
    place({**files, "a.py": ""})
    forget()
    style = stilo.Styles().of("a.py")
    assert closes(style.values) == WANTED
    assert style.given("arguments.close").file == next(iter(files))


def test_in_a_call_and_on_the_command_line(place, run) -> None:
    place({"a.py": "x = f(\n  aaaa, bbbb, cccc)\n"})
    style = {"index.close": "own-line", "*.close": "same-line"}
    assert closes(PYTHON.values(style)) == WANTED
    done = run("preview", "a.py", "--width", "21", "--set", "*.close=same-line")
    assert done.output == "x = f(\n    aaaa, bbbb, cccc)\n"


def test_in_a_directive() -> None:
    text = "# stilo: set *.close=same-line width=21\nx = f(aaaa, bbbb, cccc)\n"
    assert stilo.reformat(text, "python").text.endswith("f(\n    aaaa, bbbb, cccc)\n")


def test_a_role_that_may_not_have_the_value_keeps_its_own() -> None:
    java = stilo.load_language("java")
    found = java.values({"*.close": "same-line"})
    assert found["items.close"] == "same-line" and found["body.close"] == "own-line"


def test_a_language_without_the_aspect_has_nothing_to_set(place) -> None:
    place({"a.json": "{}", "stilo.toml": '"*".brace = "own-line"\n'})
    assert stilo.Styles().of("a.json").values


@pytest.mark.parametrize(
    "name, value, said",
    [
        (
            "*.close",
            "nope",
            "arguments.close cannot be 'nope'; permitted: own-line, same-line, item-column",
        ),
        ("*.klose", "own-line", "unknown setting '*.klose'"),
        ("*", "own-line", "unknown setting '*'"),
    ]
)
def test_what_is_wrong_is_told(name: str, value: str, said: str) -> None:
    with pytest.raises(stilo.StiloError) as caught:
        PYTHON.values({name: value})
    assert said in str(caught.value)


def test_what_is_wrong_in_a_file_is_told_with_its_place(place) -> None:
    place({"a.py": "", "stilo.toml": 'width = 70\n"*".klose = "x"\n[java]\n"*".close = "y"\n'})
    with pytest.raises(stilo.ConfigError) as caught:
        stilo.Styles().of("a.py")
    assert str(caught.value).splitlines() == [
        'stilo.toml:2:1: unknown setting "*.klose"',
        'stilo.toml:4:1: body.close cannot be "y"; permitted: "own-line", "item-column"',
    ]


def test_it_is_saved_as_it_was_said(place, run) -> None:
    folder: Path = place({"a.py": ""})
    said = ("--set", "*.close=same-line", "--set", "index.close=own-line")
    run("settings", "a.py", *said, "--save-in", "project", "--yes")
    assert (
        (folder / "stilo.toml").read_text()
        == '[python]\n"*".close = "same-line"\nindex.close = "own-line"\n'
    )
    assert closes(stilo.Styles().of("a.py").values) == WANTED
    run("settings", "a.py", "--take-back", "*.close", "--save-in", "project", "--yes")
    assert (folder / "stilo.toml").read_text() == '[python]\nindex.close = "own-line"\n'
