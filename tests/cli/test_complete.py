"""What a shell completes: names and values of what is on the command line."""

from __future__ import annotations

import pytest
from click.shell_completion import ShellComplete

from stilo.cli.main import main


def completed(*words: str) -> list[str]:
    *before, begun = words
    found = ShellComplete(main, {}, "stilo", "_STILO_COMPLETE").get_completions(before, begun)
    return [item.value for item in found]


@pytest.mark.parametrize(
    "words, wanted",
    [
        (("apply", "a.py", "--set", "arguments.cl"), ["arguments.close="]),
        (("apply", "a.py", "--set", "arguments.close=s"), ["arguments.close=same-line"]),
        (("apply", "a.json", "--set", "docstr"), []),
        (("apply", "--set", "docstr"), ["docstrings="]),
        (("apply", "a.nothing", "--set", "docstr"), ["docstrings="]),
        (("why", "a.py:3:4", "--set", "docstrings=a"), ["docstrings=align"]),
        (("apply", "--language", "j"), ["java", "javascript", "json"]),
        (("apply", "--style", "all"), ["allman"]),
        (("settings", "a.py", "--role", "comm"), ["comma", "common"]),
        (("settings", "a.py", "--take-back", "operation.br"), ["operation.breaks"]),
        (("settings", "a.py", "--save-in", "p"), ["project", "personal"]),
    ]
)
def test_words_are_completed(words: tuple[str, ...], wanted: list[str]) -> None:
    assert completed(*words) == wanted
