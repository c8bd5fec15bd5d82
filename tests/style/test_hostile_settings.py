"""Files of settings from somebody else: whatever they say, the answer is a line, and soon."""

from __future__ import annotations

import os
from pathlib import Path

import pytest

import stilo

FAULTS = [
    ("width = " + "[" * 2000 + "]" * 2000, "nested too deep"),
    ("a." * 200 + "b = 1", "nested too deep"),
    ("width = " + "9" * 5000, "a number is too long"),
    ("width = " + "9" * 4000, "permitted"),
    ('style = "~nobody-of-this-name/x.toml"', "home directory"),
    ('style = "__main__:deck"', "no package __main__"),
    ('style = "a\\u0000b.toml"', "no such file"),
    ('skip = ["!"]', "1:1: skip: \"!\" is no pattern"),
    ('skip = ["[z-a]"]', "1:1: skip: \"[z-a]\" is no pattern"),
    ('files = {"a.py" = []}', "no language is called a list"),
    ('sheets = {python = "/dev/zero"}', "no regular file"),
    ('sheets = {python = "a\\u0000b"}', "NUL"),
    ("width = inf", "permitted"),
    ("width = 1979-05-27", "permitted"),
]


@pytest.mark.parametrize("text, said", FAULTS, ids=[str(n) for n in range(len(FAULTS))])
def test_what_cannot_be_is_told(place, text: str, said: str) -> None:
    place({"stilo.toml": text})
    with pytest.raises(stilo.StiloError) as told:
        stilo.Styles().of("a.py")
    assert said in str(told.value)


@pytest.mark.parametrize("text", ["[tool]\nstilo = 3\n", "[[tool.stilo]]\na = 1\n", "tool = 3\n"])
def test_the_table_of_a_shared_file_is_a_table(place, text: str) -> None:
    place({"pyproject.toml": text})
    with pytest.raises(
        stilo.ConfigError, match=r"pyproject.toml:\d:\d+: tool(.stilo)? is a table, not"
    ):
        stilo.Styles().of("a.py")


def test_many_faults_are_told_soon(place) -> None:
    place({"stilo.toml": "\n".join(f"wodth{n} = 1" for n in range(20_000))})
    with pytest.raises(stilo.ConfigError) as told:
        stilo.Styles().of("a.py")
    assert 100 <= len(told.value.faults) < 200


GLOBS = [
    ("[[z-a].py]", "2:1: this pattern of files cannot be read"),
    ("[[]", "2:1: this pattern of files cannot be read"),
    ("[" + "{a," * 300 + "}" * 300 + "]", "2:1: this pattern of files cannot be read"),
    ("[" + "a" * 5000 + "]", "2:1: this pattern of files cannot be read"),
]


@pytest.mark.parametrize("glob, said", GLOBS, ids=[str(n) for n in range(len(GLOBS))])
def test_a_pattern_of_editorconfig_that_cannot_be_is_told(place, glob: str, said: str) -> None:
    place({".editorconfig": f"root = true\n{glob}\nindent_size = 2\n"})
    with pytest.raises(stilo.ConfigError, match=said):
        stilo.Styles().of("a" * 120 + "bxy.py")


@pytest.mark.parametrize("glob", ["*[ab]" * 25 + "[cx]?.py", "*a" * 25 + "b*b*b*", "{*a,*b}" * 20])
def test_a_pattern_of_editorconfig_that_would_be_tried_in_all_ways(place, glob: str) -> None:
    place({".editorconfig": f"root = true\n[{glob}]\nindent_size = 2\n"})
    assert stilo.Styles().of("c" + "a" * 120 + "dd.py").values["indent"] == 4


def test_a_pattern_of_editorconfig_that_is_slow_is_told(place, monkeypatch) -> None:
    monkeypatch.setattr("stilo.patterns.SLOW", -1.0)
    monkeypatch.setattr("stilo.patterns.MOST_SLOW", 0)
    place({".editorconfig": "root = true\n[*.slow]\nindent_size = 2\n"})
    with pytest.raises(stilo.ConfigError, match="2:1: this pattern of files takes too long"):
        stilo.Styles().of("a.py")


MATCHES = [
    ("*", True),
    ("*.py", True),
    ("a.py", False),
    ("sub/a.py", True),
    ("/sub/*.py", True),
    ("sub/**.py", True),
    ("**/a.py", True),
    ("/a.py", False),
    ("**/sub/*.py", True),
    ("{a,b}.py", True),
    ("*.{js,py}", True),
    ("{1..3}.py", False),
    ("[a-c].py", True),
    ("[!a].py", False),
    ("?.py", True),
]


@pytest.mark.parametrize("glob, is_meant", [*MATCHES[:2], *MATCHES[3:]])
def test_patterns_of_editorconfig_mean_what_the_package_says(
    place, glob: str, is_meant: bool
) -> None:
    from editorconfig import get_properties

    folder = place({".editorconfig": f"root = true\n[{glob}]\nindent_size = 7\n", "sub/a.py": ""})
    found = stilo.Styles().of("sub/a.py").values["indent"] == 7
    assert found == is_meant
    assert found == ("indent_size" in get_properties(str(folder / "sub" / "a.py")))


def test_a_name_alone_is_looked_for_everywhere_below(place) -> None:
    place({".editorconfig": "root = true\n[a.py]\nindent_size = 7\n", "sub/a.py": ""})
    assert stilo.Styles().of("sub/a.py").values["indent"] == 7


def test_signs_in_the_folder_are_no_pattern(place) -> None:
    place({"[z-a]{/.editorconfig": "root = true\n[*.py]\nindent_size = 7\n", "[z-a]{/a.py": ""})
    assert stilo.Styles().of("[z-a]{/a.py").values["indent"] == 7


def test_pipes_and_devices_are_no_files_of_settings(place) -> None:
    folder = place({})
    os.mkfifo(folder / "stilo.toml")
    os.mkfifo(folder / ".editorconfig")
    assert stilo.Styles().of("a.py").values["width"] == 79
    os.unlink(folder / "stilo.toml")
    (folder / "stilo.toml").symlink_to("/dev/zero")
    assert stilo.Styles().of("a.py").values["width"] == 79


def test_without_a_home_nobody_has_a_personal_file(place, monkeypatch: pytest.MonkeyPatch) -> None:
    """The package leaves `~` as it is where there is none, which is a folder of the repository then."""
    place({"~/.config/stilo/stilo.toml": "width = 40\n"})
    monkeypatch.delenv("XDG_CONFIG_HOME")
    monkeypatch.setattr("platformdirs.user_config_path", lambda *_, **__: Path("~/.config/stilo"))
    assert stilo.Styles().of("a.py").values["width"] == 79

    def fail(*_: object, **__: object) -> Path:
        raise RuntimeError("no home")

    monkeypatch.setattr("platformdirs.user_config_path", fail)
    assert stilo.Styles().of("a.py").values["width"] == 79


STATED = [
    (">=3.8", "3.8"),
    (">=3.9", "3.9"),
    (">=3.10,<4", "3.9"),
    ("~=3.7", "3.8"),
    (">=2.7, !=3.0.*, >=3.8", "3.8"),
    ("<4", "3.9"),
    ("nonsense", "3.9"),
    (">=4", "3.9"),
]


@pytest.mark.parametrize("said, oldest", STATED)
def test_the_oldest_python_of_a_project_counts(place, said: str, oldest: str) -> None:
    place({"pyproject.toml": f'[project]\nrequires-python = "{said}"\n', "a/b/c.py": ""})
    style = stilo.Styles().of("a/b/c.py")
    assert style.values["oldest-python"] == oldest
    text = "with deck(upper) as one, deck(lower, height) as other, deck(2), deck(3), deck(44):\n    x\n"
    result = stilo.reformat_styled(text, style, name="a/b/c.py")
    assert ("with (" in result.text) == (oldest == "3.9")
    assert stilo.Styles({"oldest-python": "3.9"}).of("a/b/c.py").values["oldest-python"] == "3.9"


def test_another_program_s_file_may_be_broken(place) -> None:
    place({"stilo.toml": "width = 80\n", "pyproject.toml": "[project\n"})
    assert stilo.Styles().of("a.py").values["width"] == 80


def test_a_value_with_quotes_can_be_saved_and_read_again(place) -> None:
    from stilo.style.save import into_toml

    value = 'say "hi" | \\ back'
    folder = place({})
    (
        folder / "stilo.toml"
    ).write_text(into_toml("", Path("stilo.toml"), {"import.headers": value}, None))
    assert stilo.Styles().of("a.py").values["import.headers"] == value


def test_a_directive_is_written_between_lines_and_not_within_texts() -> None:
    from stilo.style.save import into_source

    text = 'x = "a\fb\u2028c"\ny  = 1\nz = 2'
    new = into_source(text, (2, 3), {"width": 60}, ("#",))
    assert (
        new == ('x = "a\fb\u2028c"\n# stilo: set begin width=60\ny  = 1\nz = 2\n# stilo: set end\n')
    )


@pytest.mark.parametrize("number", ["9" * 5000, "9" * 12, "²", "٣", "-1", "1e3"])
def test_numbers_are_a_few_plain_digits(number: str) -> None:
    with pytest.raises(stilo.BadSetting):
        stilo.reformat("x = 1\n", "python", {"width": number})
    with pytest.raises(stilo.DirectiveError):
        stilo.reformat(f"# stilo: set width={number}\nx = 1\n", "python")
