"""Standard input, by `apply -` and `proof -`."""

from __future__ import annotations

import pytest


def test_text_in_text_out(place, run) -> None:
    place({"deep/stilo.toml": "[python]\nindent = 2\n"})
    done = run("apply", "-", "--name", "deep/a.py", text=b"if x:\n    y=1\n")
    assert done.stdout == "if x:\n  y = 1\n" and done.exit_code == 0 and done.stderr == ""
    assert run("apply", "-", "--language", "json", text=b'{"a":1}').stdout == '{"a": 1}\n'
    again = run("apply", "-", "--name", "deep/a.py", text=b"if x:\n  y = 1\n")
    assert again.stdout == "if x:\n  y = 1\n"


def test_what_is_refused_prints_nothing(run) -> None:
    done = run("apply", "-", "--name", "a.py", text=b"x = (\n")
    assert done.exit_code == 2 and done.stdout == ""
    assert done.stderr.startswith("a.py:1:6: syntax error") and len(done.stderr.splitlines()) == 1


def test_a_proof_of_standard_input(run) -> None:
    told = run("proof", "-", "--name", "a.py", "--report", "all", text=b"x=1\n")
    assert told.exit_code == 1 and told.stdout.startswith("a.py:1:2: ")
    assert run("proof", "-", "--language", "python", text=b"x = 1\n").exit_code == 0


def test_some_lines_and_a_skipped_name(place, run) -> None:
    place({"stilo.toml": 'skip = ["a.py"]\n'})
    text = b"x=1\ny=2\n"
    assert run("apply", "-", "--name", "b.py", "--within", "2", text=text).stdout == "x=1\ny = 2\n"
    skipped = run("apply", "-", "--name", "a.py", text=text)
    assert skipped.stdout == text.decode() and "a.py: skipped" in skipped.stderr


@pytest.mark.parametrize(
    "arguments", [("apply", "-"), ("proof", "-", "a.py", "--name", "a.py"), ("arrange", "-")]
)
def test_what_is_no_pipe(run, arguments: tuple[str, ...]) -> None:
    done = run(*arguments, text=b"x=1\n")
    assert done.exit_code == 2 and "standard input" in done.output
    assert len(done.output.splitlines()) == 1
