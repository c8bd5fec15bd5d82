"""Code in strings, found by the names of a setting, and laid out by its language or by a command."""

from __future__ import annotations

import json
import os
import sys
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as some

import stilo
from stilo.edits import apply_edits
from stilo.embed import command
from stilo.embed.command import found_program, run_command, words_of
from stilo.embed.foreign import Holes
from stilo.errors import CommandFailed, ConfigError, SheetError
from stilo.part.changed import edits_since
from stilo.patterns import compiled
from stilo.source import Source

RULES = "a{b:c}\n"
DONE = "a { b: c }\n"


def laid_out(
    text: str, name: str = "berths.py", commands: dict[str, list[str]] | None = None, **given: str
) -> stilo.DocumentResult | stilo.Result:
    """A text in a style; a second run changes nothing."""
    values = {
        "inner-texts": "rules *_CSS css",
        **{n.replace("_", "-"): v for n, v in given.items()},
    }
    style = stilo.Styles(values, "default", commands=commands).of(name)
    result = stilo.reformat_styled(text, style)
    assert apply_edits(result.source.raw, result.edits) == result.data
    assert result.changed == bool(result.findings)
    again = stilo.reformat_styled(result.data, style)
    assert not again.changed
    return result


@pytest.mark.parametrize(
    "before, after",
    [
        ('rules = """', '"""\n'),
        ('rules: str = """', '"""\n'),
        ('self.rules = """', '"""\n'),
        ('DARK_CSS = """', '"""\n'),
        ('rules("""', '""")\n'),
        ('base.rules("""', '""", 1)\n'),
        ('f(rules="""', '""")\n'),
        ('{"rules": """', '"""}\n'),
        ("rules = r'''", "'''\n"),
    ],
)
def test_where_strings_hold_code_in_python(before: str, after: str) -> None:
    wanted = f"{before}\n    {DONE}{after}"
    assert laid_out(f"{before}\n{RULES}{after}").text == wanted
    assert laid_out(f"{before}\n\n  \n    {RULES}\n  {after}").text == wanted
    assert laid_out(f"{before}a\n{{b:c}}{after.lstrip()}").text == wanted
    assert (
        laid_out(f"{before}\n{RULES}{after}".replace("\n", "\r\n")).text
        == wanted.replace("\n", "\r\n")
    )


@pytest.mark.parametrize(
    "text",
    [
        'rules = "a{b:c}"\n',
        'rules = """a{b:c}"""\n',
        'other = """\na{b:c}\n"""\n',
        'rules(1, """\na{b:c}\n""")\n',
        'my_rules = """\na{b:c}\n"""\n',
        'rules = """\n\n"""\n',
        "# stilo: leave\nrules = '''\na{b:c}\n'''\n",
    ],
)
def test_what_is_no_such_string(text: str) -> None:
    result = laid_out(text)
    assert result.text == text
    assert not result.unread


@pytest.mark.parametrize(
    "text, why",
    [
        ('rules = """\na{b:c}\\t\n"""\n', "cannot be laid out as css: not all signs in it stand"),
        ('rules = f"""\na{{b:{c}}}\n"""\n', "cannot be laid out as css: not all signs in it stand"),
        ('rules = b"""\na{b:c}\n"""\n', "cannot be laid out as css: not all signs in it stand"),
        ('rules = """\na{b:"c}\n"""\n', "cannot be read as css"),
    ],
)
def test_what_stays_is_told(text: str, why: str) -> None:
    result = laid_out(text)
    assert result.text == text
    ((position, last, told),) = result.unread
    assert (position.line, told[:len(why)]) == (2 if "read as" in why else 1, why)
    assert last in (2, 3)


def test_a_language_that_nobody_knows_is_told() -> None:
    text = 'rules = """\nselect 1\n"""\n'
    result = laid_out(text, inner_texts="rules sqll")
    assert result.text == text
    assert [unread.why for unread in result.unread] == [
        'cannot be laid out: no language, and no command of yours, is called "sqll"',
    ]


@pytest.mark.parametrize(
    "name, text, is_code",
    [
        ("a.py", '# rules\na = """\n§"""\n', True),
        ("a.py", 'b(\n    # rules\n    """\n§"""\n)\n', True),
        ("a.py", 'b(\n    # rules\n    c="""\n§"""\n)\n', True),
        ("a.py", '# rules of it\na = """\n§"""\n', False),
        ("a.py", '# my_rules\na = """\n§"""\n', False),
        ("a.py", 'b()  # rules\na = """\n§"""\n', False),
        ("a.js", "const a = /* rules */ `\n§`\n", True),
        ("a.js", "// rules\nconst a = `\n§`\n", True),
        ("a.js", "// rules\na = `\n§`\n", True),
        ("a.js", "b = {\n  // rules\n  a: `\n§`,\n}\n", True),
        ("a.js", "b(1, /*rules*/ `\n§`, `\na{b:c}\n`)\n", True),
        ("a.ts", "// rules\nconst a: string = `\n§`\n", True),
        ("A.java", 'class A {\n    // rules\n    String a = """\n§""";\n}\n', True),
        ("A.java", 'class A {\n    B b = c(/* rules */ """\n§""");\n}\n', True),
        ("A.cs", 'class A\n{\n    // rules\n    string a = @"\n§";\n}\n', True),
        ("A.cs", 'class A\n{\n    B b = C(/* rules */ @"\n§");\n}\n', True),
    ],
)
def test_a_comment_names_the_language(name: str, text: str, is_code: bool) -> None:
    found = laid_out(text.replace("§", RULES), name, inner_texts="rules css").text
    assert (DONE in found) == is_code


@pytest.mark.parametrize(
    "name, word, fits",
    [
        ("rules", "rules", True),
        ("rules_of", "rules", False),
        ("my_rules", "*rules", True),
        ("my_rules", "my*s", True),
        ("abcabd", "*ab*d", True),
        ("abcabd", "*ab*c", False),
        ("abab", "ab*ab*", True),
        ("ab", "ab*ab", False),
        ("x", "*", True),
    ],
)
def test_stars_stand_for_any_letters(name: str, word: str, fits: bool) -> None:
    result = laid_out(f'{name} = """\n{RULES}"""\n', inner_texts=f"{word} css")
    assert result.changed == fits


def test_no_word_makes_the_search_long() -> None:
    text = f'{"a" * 20_000} = """\n{RULES}"""\n'
    assert RULES in laid_out(text, inner_texts="*a*a*a*a*a*a*a*a*a*b css").text


@pytest.mark.parametrize(
    "value", ["rules", "a b-c! css", "| rules css", "rules *", "rules " * 200 + "css"]
)
def test_values_that_are_no_names_with_a_language(value: str) -> None:
    with pytest.raises(stilo.StiloError, match="lists of names, each with a language"):
        stilo.Styles({"inner-texts": value}, "default", "python").of("berths.py")


def test_holes_of_both_languages_stay() -> None:
    text = 'page = f"""\n<p   class="{name}">{ a  +  b }   {c}</p>\n"""\n'
    wanted = 'page = f"""\n    <p class="{name}">{ a  +  b } {c}</p>\n"""\n'
    assert laid_out(text, inner_texts="page html").text == wanted


def test_a_hole_in_the_name_of_a_tag_keeps_the_page() -> None:
    text = 'page = f"""\n<{tag}>  a\n b</{tag}>\n"""\n'
    assert laid_out(text, inner_texts="page html").text == text


def test_white_space_comes_to_no_end_of_a_page() -> None:
    text = 'page = """<p>a</p>\n<p>  b</p>"""\n'
    result = laid_out(text, inner_texts="page html")
    assert result.text == text
    assert "white space where the text begins or ends may show" in result.unread[0].why


@given(some.text(some.sampled_from("ab{}$ \n1h0x"), max_size=30))
def test_what_is_put_aside_comes_back(text: str) -> None:
    holes = Holes(compiled(r"\{[^{}\n]*\}", 0, True), ("$", "."))
    plain, aside = holes.aside(text)
    assert aside.restored(plain) == text
    assert all(len(name) >= len(hole) for name, hole in aside.said.items())
    assert text.count("\n") == plain.count("\n")


def test_equal_holes_get_one_name_of_their_length() -> None:
    plain, aside = Holes(compiled(r"\{[^{}\n]*\}", 0, True)).aside("{berth} {quay} {berth}")
    assert plain == "h0xxxxx h1xxxx h0xxxxx"
    assert aside.restored("h1xxxx,h0xxxxx") == "{quay},{berth}"


def test_a_name_for_a_hole_is_no_word_of_the_text() -> None:
    plain, aside = Holes(compiled(r"\{[^{}\n]*\}", 0, True)).aside("{a} h0xx h0x")
    assert plain.split()[1:] == ["h0xx", "h0x"] and plain.split()[0] not in ("h0x", "h0xx")
    assert aside.restored(plain) == "{a} h0xx h0x"


def test_what_is_around_an_opened_string_is_laid_out_once_more() -> None:
    long = 'color: navy;' * 5
    text = f'show(base, rules("""a{{{long}}}\n"""))\n'
    result = laid_out(text)  # which sees that a second run changes nothing
    assert result.text.startswith('show(base, rules("""\n    a {\n      color: navy;\n')
    # Nor do lines count for its author's that it stood on in between.
    text = f'show(base, rules(\n"""a{{{long}}}\n"""), 1)\n'
    apart = laid_out(text.replace("rules(\n", "rules("))
    assert laid_out(text).text == apart.text


def test_margins() -> None:
    text = 'def f():\n    rules = """\n  a{b:c}\n        """\n'
    margins = {"step": (8, 4), "line": (4, 4), "stood": (2, 2)}
    for margin, (inside, at_end) in margins.items():
        result = laid_out(text, inner_text_margin=margin)
        wanted = f"{' ' * inside}a {{ b: c }}\n{' ' * at_end}"
        assert result.text == f'def f():\n    rules = """\n{wanted}"""\n'


def test_where_it_stands_is_a_finding() -> None:
    text = 'rules = """\na { b: c }\n"""\n'
    (finding,) = laid_out(text).findings
    assert (finding.code, finding.position.line, finding.within) == ("inner-text", 2, "text 1")
    assert finding.reason.setting == "inner-text-margin"


def test_strings_are_laid_out_beside_other_ends_of_statements() -> None:
    text = "a()\nconst rules = `\na{b:c}\n`\nb()\n"
    result = laid_out(text, "board.js", statement_ends="sign")
    assert result.text == "a();\nconst rules = `\n  a { b: c }\n`;\nb();\n"


def test_a_range_leaves_the_strings_outside() -> None:
    text = f'rules = """\n{RULES}"""\n\nrules = """\n{RULES}"""\n'
    style = stilo.Styles({"inner-texts": "rules css"}, "default").of("berths.py")
    result = stilo.reformat_styled(text, style, lines=(6, 6))
    assert result.text == text[:text.index("\n\n") + 2] + f'rules = """\n    {DONE}"""\n'


@pytest.mark.parametrize(
    "name, text, wanted",
    [
        (
            "Board.java",
            'class A {\n  B b = base.rules("""\n  a{b:c}""");\n}\n',
            'class A {\n    B b = base.rules("""\n        a { b: c }\n    """);\n}\n',
        ),
        (
            "Board.cs",
            'class A\n{\n    string rules = @"a{b:c}\n";\n}\n',
            'class A\n{\n    string rules = @"\n        a { b: c }\n    ";\n}\n',
        ),
        (
            "Board.cs",
            'class A\n{\n    B b = base.Query<B>("""\n    a{b:c}\n    """);\n}\n',
            'class A\n{\n    B b = base.Query<B>("""\n        a { b: c }\n    """);\n}\n',
        ),
        (
            "board.js",
            "const a = {\n  rules: `a{b:${c}}\n`,\n};\n",
            "const a = {\n  rules: `\n    a { b: ${c} }\n  `,\n};\n",
        ),
        ("board.ts", "f(rules(`\na{b:c}`));\n", "f(rules(`\n  a { b: c }\n`));\n"),
    ],
)
def test_other_languages(name: str, text: str, wanted: str) -> None:
    assert laid_out(text, name, inner_texts="rules Query css").text == wanted


def test_a_line_within_a_token_keeps_a_string_that_loses_its_margin() -> None:
    text = f'class A {{\n    String page = """\n    <pre>\n  a</pre>\n   <p>  b</p>\n    """;\n}}\n'
    result = laid_out(text, "Board.java", inner_texts="page html")
    assert result.text == text
    assert "a line begins within a token" in result.unread[0].why
    script = 'class A\n{\n    string page = @"\n    <pre>\n  a</pre>\n   <p>  b</p>\n    ";\n}\n'
    wanted = script.replace("    <pre>", "        <pre>").replace("   <p>  b", "        <p>b")
    assert laid_out(script, "Board.cs", inner_texts="page html").text == wanted


SHEET = """
@language timetable { grammar: tree_sitter_json; pairs: "[" "]"; }
@setting texts { parts: "|"; default: ""; scope: file; meaning: "Texts." }
string { token: whole }
document { role: file }
"""


@pytest.mark.parametrize(
    "words, told",
    [
        ("@words texts { stringg[text~=word] { holds: meant } }", 'no kind of node "stringg"'),
        ("@words text { string { holds: meant } }", "@words takes the name of a setting"),
        ("@words texts { @role a { } }", "only rules of selectors belong in @words"),
        ("@words texts;", "a block in braces is missing"),
        ("@words texts { string { holdz: meant } }", 'unknown property "holdz"'),
    ],
)
def test_faults_in_the_rules_of_words_are_told_with_the_sheet(words: str, told: str) -> None:
    with pytest.raises(SheetError, match=told):
        stilo.define_language(SHEET + words)


# Commands

FOLD = (
    "import sys; width = int(sys.argv[1]); words = sys.stdin.read().split(); "
    "print('\\n'.join(words) if len(' '.join(words)) > width else ' '.join(words))"
)


def by(code: str, *arguments: str) -> list[str]:
    return [sys.executable, "-c", code, *arguments]


def test_a_command_lays_out_what_is_no_language_of_ours() -> None:
    text = 'rules = """\n  select   *\n  from a\n"""\n'
    result = laid_out(text, commands={"sql": by(FOLD, "{width}")}, inner_texts="rules sql")
    assert result.text == 'rules = """\n    select * from a\n"""\n'
    (finding,) = result.findings
    assert finding.message == "the command for sql lays the text out otherwise"
    long = text.replace("from a", "from " + "a" * 70)
    result = laid_out(long, commands={"sql": by(FOLD, "{width}")}, inner_texts="rules sql")
    assert result.text == f'rules = """\n    select\n    *\n    from\n    {"a" * 70}\n"""\n'


def test_a_language_of_ours_needs_no_command() -> None:
    text = f'rules = """\n{RULES}"""\n'
    commands = {"css": by("raise SystemExit(1)")}
    assert laid_out(text, commands=commands).text == f'rules = """\n    {DONE}"""\n'


@pytest.mark.parametrize(
    "words, text, why",
    [
        (by("raise SystemExit(3)"), "a  b", "ended with status 3"),
        (by("print('a b c')"), "a  b", "the command changes more than white space"),
        (by("print('ab')"), "a  b", "the command changes more than white space"),
        (
            by("import sys; print(sys.stdin.read().rstrip() + '\\n\\n\\n  ;'[:0], end='  x')"),
            "a  b",
            "more than",
        ),
        (
            by("import sys; t = sys.stdin.read(); print(' ' + t)"),
            "a  b",
            "once more on a second run",
        ),
        (by("import sys; sys.stdout.buffer.write(b'\\xff')"), "a  b", "is not UTF-8"),
        (by("print('a' * 1000000)"), "a  b", "is too long"),
        (["no-such-program-here"], "a  b", "no program no-such-program-here is found"),
        (["bin/program"], "a  b", "no program bin/program is found"),
        (["/no/such/program"], "a  b", "cannot be started: No such file"),
        (by("print('a')"), "it's", "is not known without its language"),
    ],
)
def test_what_a_command_does_wrong_keeps_the_text(words: list[str], text: str, why: str) -> None:
    with pytest.raises(CommandFailed, match=why):
        run_command(words, text, 80)
    source = f'rules = """\n{text}\n"""\n'
    result = laid_out(source, commands={"sql": words}, inner_texts="rules sql")
    assert result.text == source
    assert why in result.unread[0].why


def test_a_command_that_does_not_end_is_stopped(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(command, "LIMIT", 0.2)
    with pytest.raises(CommandFailed, match="took more than 0.2 s"):
        run_command(by("import time; time.sleep(60)"), "a", 80)


@pytest.mark.parametrize(
    "text, other",
    [
        ("a b", "ab"),
        ("a <= b", "a < = b"),
        ("a - -b", "a --b"),
        ("'a  b'", "'a b'"),
        ("'a''b'", "'a' 'b'"),
        ("a -- b\nc", "a -- b c"),
        ("@a", "@ a"),
        ("a.b", "a .b"),
        ("E'a'", "E 'a'"),
    ],
)
def test_white_space_that_may_mean_something(text: str, other: str) -> None:
    assert words_of(text) != words_of(other)


@pytest.mark.parametrize(
    "text, other", [("a=b", "a = b"), ("f( a,b );", "f(a, b) ;"), ("a\nb", "a b")]
)
def test_white_space_that_means_nothing(text: str, other: str) -> None:
    assert words_of(text) == words_of(other)


def test_no_program_is_taken_from_where_one_stands(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    program = tmp_path / "tide"
    program.write_text("#!/bin/sh\ncat\n")
    program.chmod(0o755)
    monkeypatch.chdir(tmp_path)
    monkeypatch.setenv("PATH", os.pathsep.join([".", "", "bin"]))
    with pytest.raises(CommandFailed):
        found_program("tide")
    monkeypatch.setenv("PATH", str(tmp_path))
    assert found_program("tide") == str(program)
    assert found_program(str(program)) == str(program)


def test_commands_stand_in_the_personal_file_alone(place, run, personal) -> None:
    said = {"sql": by(FOLD, "{width}")}
    told = f"commands = {{ sql = {json.dumps(said['sql'])} }}\n"
    source = 'rules = """\nselect   1\n"""\n'
    folder = place({"stilo.toml": 'inner-texts = ["rules sql"]\n', "berths.py": source})
    result = run("preview", folder / "berths.py")
    assert result.stdout == source
    assert 'no language, and no command of yours, is called "sql"' in result.stderr
    personal.parent.mkdir()
    personal.write_text(told)
    assert run("preview", folder / "berths.py").stdout == 'rules = """\n    select 1\n"""\n'
    (folder / "stilo.toml").write_text(told)
    with pytest.raises(ConfigError, match="nothing that a project's files name is run"):
        stilo.reformat_file(folder / "berths.py")


def test_a_command_on_the_command_line(place, run) -> None:
    source = 'rules = """\nselect   1\n"""\n'
    folder = place({"stilo.toml": 'inner-texts = "rules sql"\n', "berths.py": source})
    given = ("--command", f"sql={sys.executable} -c '{FOLD.replace(chr(39), chr(34))}' {{width}}")
    assert run("proof", folder, *given).exit_code == 1
    assert run("apply", folder, *given).exit_code == 0
    assert (folder / "berths.py").read_text() == 'rules = """\n    select 1\n"""\n'
    assert run("proof", folder, *given).exit_code == 0
    assert run("proof", folder, "--command", "sql").exit_code == 2


def test_what_changed_in_a_long_file_is_laid_out_with_its_strings() -> None:
    style = stilo.Styles({"inner-texts": "rules css"}, "default").of("berths.py")
    many = "".join(f"def berth_{n}():\n    a = {n}\n    return a\n\n\n" for n in range(200))
    text = f'{many}def board():\n    rules = """\n        {DONE}    """\n\n\n{many}'
    settled = Source.from_bytes(stilo.reformat_styled(text, style).data, "berths.py")
    source = Source.from_bytes(settled.raw.replace(DONE.encode(), RULES.encode()), "berths.py")
    edits = edits_since(source, settled, style)
    assert edits is not None and apply_edits(source.raw, edits) == settled.raw
