"""What is saved is what was asked for, no more and no less, and can be taken back."""

from __future__ import annotations

import tempfile
import tomllib
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import stilo
from stilo.sheet.properties import Value
from stilo.style import save
from stilo.style.config import read_config
from stilo.style.editorconfig import forget
from stilo.style.given import PROJECT

LANGUAGES = {name: stilo.load_language(name) for name in ("python", "java", "json", "toml")}
#: What stands in a file of settings before: nothing, comments, tables of roles, line ends of all sorts.
TOML_BEFORE = [
    "",
    "# the fleet's style\n",
    "width = 90 # wide\n\n# ours\n[java]\nindent = 2\n\n[java.arguments]\nwrap = 'row' # flat\n",
    'skip = ["vendored/"]\r\n\r\n[python]\r\narguments.close = "same-line"\r\n# the end\r\n',
    'style = "allman"\n[json]\n  indent=3 # deep\n[toml]',
    "python.indent = 3\njava.comma.after = 'none'\n",
]
EDITORCONFIG_BEFORE = [
    "",
    "root = true\n",
    "; ours\n[*.md]\nindent_size = 8\n",
    "[*.java]\r\n# on\r\nstilo.comma.after = none\r\n\r\n[*]\r\nmax_line_length = 90\r\n",
    "[{*.py,*.pyi,*.pyw,*.ipynb}]\nindent_size = 3\n[*.json]\nstilo.comma.after=none",
]


@st.composite
def asked(draw) -> tuple[str, str, Value]:
    """A language, one of its settings, a value of it: words, numbers, and texts with any character."""
    language = LANGUAGES[draw(st.sampled_from(sorted(LANGUAGES)))]
    name = draw(st.sampled_from(sorted(language.settings)))
    kind = language.settings[name].type
    shown = language.settings[name].values_shown
    if not hasattr(kind, "permitted") and isinstance(kind.read("a | b"), str):
        text = draw(
            st.text(st.characters(codec="utf-8", exclude_categories=["C", "Z"]), max_size=8)
        )
        read = kind.read(text)
        if read is not None:
            return language.name, name, read
    return language.name, name, draw(st.sampled_from([kind.read(str(v)) for v in shown]))


def flat(document: dict, way: tuple[str, ...] = ()) -> dict[tuple[str, ...], object]:
    """Each key as the words on the way to it, split at dots, with its value."""
    found: dict[tuple[str, ...], object] = {}
    for key, value in document.items():
        here = (*way, *key.split("."))
        found.update(flat(value, here) if isinstance(value, dict) else {here: value})
    return found


def given_by(path: Path, text: str, language: str) -> dict[str, Value]:
    path.write_bytes(text.encode())
    config = read_config(path, PROJECT)
    assert config is not None
    return {name: found.value for name, found in config.given(LANGUAGES[language])}


@settings(max_examples=150, deadline=None)
@given(
    asked(), st.sampled_from(TOML_BEFORE), st.booleans(), st.sampled_from(["stilo", "pyproject"])
)
def test_a_value_in_a_file_of_settings(one, before: str, is_common: bool, file: str) -> None:
    language, name, value = one
    if file == "pyproject":
        before = "[project]\nname = 'quay'\n"
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / f"{file}.toml"
        table = None if is_common else language
        after = save.into_toml(before, path, {name: value}, table)
        known, now = flat(tomllib.loads(before)), flat(tomllib.loads(after))
        above = ("tool", "stilo") if file == "pyproject" else ()
        key = (*above, *([language] if table else []), *name.split("."))
        assert now == {**known, key: value}
        assert given_by(path, after, language)[name] == value or is_common
        # Comments and all else stand as they stood, line by line.
        rest = after.splitlines()
        for line in before.splitlines():
            assert line in rest or (name.rpartition(".")[2] in line and key in known), line
        assert save.into_toml(after, path, {name: value}, table) == after
        back = save.without(after, path, name, [table])
        assert back is not None
        assert flat(tomllib.loads(back)) == {k: v for k, v in known.items() if k != key}
        assert save.without(back, path, name, [table]) is None


@settings(max_examples=100, deadline=None)
@given(asked(), st.sampled_from(EDITORCONFIG_BEFORE))
def test_a_value_in_an_editorconfig_file(one, before: str) -> None:
    language, name, value = one
    known = LANGUAGES[language]
    with tempfile.TemporaryDirectory() as folder:
        path, source = (
            Path(folder) / ".editorconfig",
            Path(folder) / f"berth{known.facts.globs[0][1:]}",
        )
        path.write_bytes(before.encode())

        def values() -> dict[str, Value]:
            forget()
            return dict(stilo.Styles().of(source).values)

        old = values()
        wanted = {**old, name: value}
        globs = list(known.facts.globs)
        after = save.into_editorconfig(before, globs, {name: value}, wanted)
        path.write_bytes(after.encode())
        assert values() == wanted
        rest = after.splitlines()
        replaced = set(before.splitlines()) - set(rest)
        assert len(replaced) <= 1 or name in ("indent", "tab-width", "indent-with"), replaced
        assert save.into_editorconfig(after, globs, {name: value}, wanted) == after


@settings(max_examples=60, deadline=None)
@given(asked(), st.booleans())
def test_a_value_in_a_directive(one, has_crlf: bool) -> None:
    language, name, value = one
    known = LANGUAGES[language]
    source = {
        "python": "a = 1\nberth = [4]\nc = 3\n",
        "java": "class A {\n    int berth = 4;\n    int c = 3;\n}\n",
        "toml": "a = 1\nberth = [4]\nc = 3\n",
    }.get(language)
    is_word = isinstance(value, int) or (str(value) and not set(str(value)) & set(' "\\|#='))
    if (
        source is None
        or not known.facts.comment_signs
        or not is_word
        or len(name) + len(str(value)) > 70
    ):
        return
    if has_crlf:
        source = source.replace("\n", "\r\n")
    after = save.into_source(source, (2, 2), {name: value}, known.facts.comment_signs)
    lines = after.splitlines()
    assert [line for line in lines if "stilo: set" not in line] == source.splitlines()
    assert len(lines) == len(source.splitlines()) + 2
    try:
        result = stilo.reformat(after, known)
    except stilo.DirectiveError as error:  # some settings hold for whole files only
        assert name in str(error)
        return
    assert [values[name] for values in result.directives.values] == [value]


def test_a_whole_style_in_a_file_gives_the_same_result_elsewhere(place, run) -> None:
    sailing = "class Sailing { void moor(int lane) { if (lane > 0) { board(lane); } else { leave(); } } }\n"
    folder = place({
        "Sailing.java": sailing,
        "stilo.toml": 'style = "allman"\nindent = 3\n',
        ".editorconfig": "[*.java]\nmax_line_length = 72\n",
    })
    arguments = (
        "settings",
        "Sailing.java",
        "--save-in",
        "house.toml",
        "--yes",
        "--set",
        "call-parentheses.before=space",
    )
    done = run(*arguments)
    assert done.exit_code == 0 and "--style house.toml" in done.output
    here = run("preview", "Sailing.java", "--set", "call-parentheses.before=space").output
    (folder / "stilo.toml").unlink()
    (folder / ".editorconfig").unlink()
    forget()
    assert run("preview", "Sailing.java", "--style", "house.toml").output == here
    assert "board (lane)" in here and run("preview", "Sailing.java").output != here


def test_taking_back_on_the_command_line(place, run) -> None:
    folder = place({
        "a.py": "x = 1\n",
        "stilo.toml": "# ours\nwidth = 70\n\n[python]\nwidth = 60\narguments.close = 'same-line'\n",
        ".editorconfig": "[*.py]\nindent_size = 3\nstilo.comma.after = none\n",
    })

    def back(place_: str, *names: str):
        options = [x for name in names for x in ("--take-back", name)]
        return run("settings", "a.py", "--save-in", place_, "--yes", *options)

    done = back("project", "width")
    assert "width is 70 now, from stilo.toml:2 (project)" in done.output
    done = back("project", "width", "arguments.close")
    assert "width is 88 now" not in done.output and "from the default" in done.output
    assert (folder / "stilo.toml").read_text() == "# ours\n"
    done = back("project", "width")
    assert done.exit_code == 2 and "gives width no value; it is at its default" in done.output
    done = back("project", "indent")
    assert done.exit_code == 2 and "it comes from .editorconfig:2" in done.output
    assert back("editorconfig", "indent", "comma.after").exit_code == 0
    assert (folder / ".editorconfig").read_text() == "[*.py]\n"
    done = back("project", "widht")
    assert done.exit_code == 2 and 'did you mean "width"?' in done.output
    done = run("settings", "a.py", "--take-back", "width")
    assert done.exit_code == 2 and len(done.output.splitlines()) == 1


def test_a_saved_value_that_is_hidden_is_told_of(place, run) -> None:
    place({
        "a.py": "x = 1\n",
        "b.json": "{}\n",
        "stilo.toml": "[python]\nwidth = 60\n[json]\nwidth = 50\n",
    })
    done = run("settings", "a.py", "--save-in", "project", "--common", "--yes", "--set", "width=70")
    assert "note: stilo.toml:4 (project) still gives width the value 60" in done.output
    assert "note: [json] in stilo.toml gives width another value" in done.output
    done = run("settings", "a.py", "--save-in", "project", "--yes", "--set", "width=75")
    assert "note" not in done.output


@pytest.mark.parametrize(
    "words", [("apply",), ("nosuch",), ("proof", "--nope", "a.py"), ("settings",)]
)
def test_a_mistake_on_the_command_line_is_told_in_one_line(run, words: tuple[str, ...]) -> None:
    done = run(*words)
    assert done.exit_code == 2 and len(done.output.splitlines()) == 1
    assert "--help" in done.output


def test_a_named_style_stands_first(place, run) -> None:
    folder = place({"a.py": "", "stilo.toml": "# ours\n\nindent = 2\n[json]\nwidth = 60\n"})
    arguments = ("settings", "a.py", "--style", "gnu", "--save-in", "project", "--yes")
    assert run(*arguments).exit_code == 0
    assert (
        (folder / "stilo.toml").read_text()
        == '# ours\n\nstyle = "gnu"\nindent = 2\n[json]\nwidth = 60\n'
    )
    assert "says so already" in run(*arguments).output


def test_a_value_counts_though_a_later_section_has_another(place) -> None:
    before = "[*.java]\nindent_size = 4\n\n[*]\nmax_line_length = 90\n"
    values = {**stilo.load_language("java").defaults(), "width": 40}
    after = save.into_editorconfig(before, ["*.java"], {"width": 40}, values)
    folder = place({".editorconfig": after})
    assert after.startswith(before) and after.endswith("[*.java]\nmax_line_length = 40\n")
    assert stilo.Styles().of(folder / "a.java").values["width"] == 40
