"""Files of settings that are wrong: one line each, with place, permitted values and a near match."""

from __future__ import annotations

import pytest

import stilo

WORDS = '"row", "flow", "stack", "stack-always"'
STYLES = "allman, gnu, horstmann, java-conventions, k-and-r, one-true-brace, ratliff, stroustrup, whitesmiths"
BY = "others by a path that ends in .toml, or as package:name"

FAULTS = [
    ("indnt = 2", '1:1: unknown setting "indnt"; did you mean "indent"?'),
    ("zzz = 2", '1:1: unknown setting "zzz"'),
    ("width = 8", "1:1: width cannot be 8; permitted: a whole number from 20 to 400"),
    ('width = "80"', '1:1: width cannot be "80"; permitted: a whole number from 20 to 400'),
    ("width = 80.0", "1:1: width cannot be 80.0; permitted: a whole number from 20 to 400"),
    ("width = true", "1:1: width cannot be true; permitted: a whole number from 20 to 400"),
    (
        'density = "dens"',
        '1:1: density cannot be "dens"; did you mean "dense"?; permitted: "dense", "even", "airy"',
    ),
    (
        "final-newline = true",
        '1:1: final-newline cannot be true; did you mean "yes"?; permitted: "yes", "no"',
    ),
    ("indent = [2]", "1:1: indent cannot be a list; permitted: a whole number from 0 to 16"),
    (
        'arguments.wrap = "rows"',
        f'1:1: arguments.wrap cannot be "rows"; did you mean "row"?; permitted: {WORDS}',
    ),
    (
        'arguments.wrapp = "row"',
        '1:1: unknown setting "arguments.wrapp"; did you mean "arguments.wrap"?',
    ),
    ('argments.wrap = "row"', '1:1: unknown table or role "argments"; did you mean "arguments"?'),
    (
        '[arguments]\nclose = 3',
        '2:1: arguments.close cannot be 3; permitted: "own-line", "same-line", "item-column"',
    ),
    ("[jva]\nindent = 2", '1:2: unknown table or role "jva"; did you mean "java"?'),
    (
        '[json]\n"arguments.wrap" = "row"',
        '2:1: unknown setting "arguments.wrap" of json; did you mean "entries.wrap"?',
    ),
    ("java = 3", "1:1: java is a language; its settings stand in [java]"),
    ("style = 3", "1:1: style takes a name or a path in quotes, not 3"),
    ('\n style = "alman"', f'2:1: no style "alman"; did you mean "allman"?; ours: {STYLES}; {BY}'),
    ('style = "team.toml"', '1:1: style "team.toml": no such file'),
    (
        'style = "skerry_none:team"',
        '1:1: style "skerry_none:team": there is no package skerry_none',
    ),
    ('style = "stilo:team"', '1:1: style "stilo:team": there is no team.toml in stilo'),
    ('style = "stilo.toml"', '1:1: style "stilo.toml" starts from itself'),
    ('style = "loop.toml"', '1:1: style "loop.toml" starts from itself'),
    ('style = "skips.toml"', "skips.toml:1:1: skip belongs in a project's file, not in a style"),
    ('skip = "gen"', '1:1: skip takes a list of patterns in quotes, not "gen"'),
    ('[files]\n"*.x" = "jsn"', '2:1: no language is called "jsn"; did you mean "json"?'),
    ("files = 3", "1:1: files is a table of patterns, not 3"),
    ('[sheets]\njava = "none.stilo"', "2:1: none.stilo: no sheet there: No such file or directory"),
    ('[sheets]\ntariff = "tide.stilo"', "2:1: this sheet is of tide, not of tariff"),
    ("[sheets]\njava = 3", "2:1: takes a path in quotes, not 3"),
    ("indent = \n", "1:10: not TOML: invalid value"),
    ("indent = 2\nindent = 3", "2:1: not TOML: cannot overwrite a value"),
]


@pytest.mark.parametrize("text, message", FAULTS, ids=[text for text, _ in FAULTS])
def test_fault_is_one_line_with_its_place(place, run, text: str, message: str) -> None:
    place({
        "stilo.toml": text,
        "loop.toml": '# on\nstyle = "stilo.toml"\n',
        "skips.toml": 'skip = ["a"]\n',
        "tide.stilo": "@language tide { grammar: tree_sitter_json; }\n",
        "Berth.java": "class  Berth {}\n",
    })
    done = run("apply", "Berth.java")
    lines = done.output.splitlines()
    wanted = message if not message[0].isdigit() else f"stilo.toml:{message}"
    assert lines[0] == wanted
    assert lines[1:] == ["laid out: 0; in style before: 0; refused: 1"]
    assert done.exit_code == 2


def test_all_faults_come_at_once_in_order(place) -> None:
    place({"stilo.toml": '[java]\nindnt = 2\n[json]\nwidth = "a"\ncomma.after = "line"\n'})
    with pytest.raises(stilo.ConfigError) as caught:
        stilo.Styles().of("Berth.java")
    assert [(f.line, f.column) for f in caught.value.faults] == [(2, 1), (4, 1), (5, 1)]


def test_a_fault_that_concerns_many_files_is_told_once(place, run) -> None:
    place({"stilo.toml": "indnt = 2\n", "A.java": "class A {}\n", "B.java": "class B {}\n"})
    done = run("proof", "A.java", "B.java")
    assert (
        done.output.splitlines()
        == ['stilo.toml:1:1: unknown setting "indnt"; did you mean "indent"?']
    )
    assert done.exit_code == 2


@pytest.mark.parametrize(
    "text, message",
    [
        (
            "[*]\nindent_size = few",
            '2:1: indent_size cannot be "few"; permitted: a whole number from 0 to 16',
        ),
        ("[*]\nindent_style = stars", '2:1: indent_style cannot be "stars"; permitted: space, tab'),
        ("[*]\nend_of_line = cr", '2:1: end_of_line cannot be "cr"; permitted: lf, crlf'),
        ("[*]\nstilo.indnt = 3", '2:1: unknown setting "indnt"; did you mean "indent"?'),
        (
            "[*]\nstilo.style = alman",
            f'2:1: no style "alman"; did you mean "allman"?; ours: {STYLES}; {BY}',
        ),
        ("[*]\nindent", "2:1: neither a section, a property nor a comment"),
    ],
)
def test_fault_in_editorconfig(place, run, text: str, message: str) -> None:
    place({".editorconfig": text + "\n", "Berth.java": "class  Berth {}\n"})
    done = run("proof", "Berth.java")
    assert done.output.splitlines() == [f".editorconfig:{message}"]
    assert done.exit_code == 2


@pytest.mark.parametrize(
    "options, message",
    [
        (["--set", "indnt=2"], '--set: unknown setting \'indnt\'; did you mean "indent"?'),
        (
            ["--set", "density=thick"],
            "--set: density cannot be 'thick'; permitted: dense, even, airy",
        ),
        (
            ["--style", "alman"],
            f'--style:1:1: no style "alman"; did you mean "allman"?; ours: {STYLES}; {BY}',
        ),
    ],
)
def test_fault_on_the_command_line(place, run, options: list[str], message: str) -> None:
    place({"Berth.java": "class  Berth {}\n"})
    done = run("preview", "Berth.java", *options)
    assert done.output.splitlines() == [message]
    assert done.exit_code == 2
