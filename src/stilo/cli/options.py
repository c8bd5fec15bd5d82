"""The options that all commands which lay out files take, and what they come to."""

from __future__ import annotations

import functools
import shlex
import sys
from collections.abc import Callable, Sequence
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, Any, NoReturn

import click

from stilo.cli import complete
from stilo.cli.telling import tell
from stilo.records import dataclass
from stilo.sheet.properties import is_number

if TYPE_CHECKING:
    from stilo import Styles

IN_STYLE, NOT_IN_STYLE, FAILED = 0, 1, 2
#: How to report: a summary, or one of the forms of `forms`.
FORMS = ("short", "all", "names", "patch", "json", "sarif", "github", "gitlab")


class Failures:
    """Errors are told as they come, and once; the rest of the work goes on."""

    def __init__(self) -> None:
        self.count = 0
        #: The lines that were told, each once.
        self.lines: dict[str, None] = {}

    def tell(self, error: Exception) -> None:
        """Print an error, a line for each fault that was not told of another file already."""
        self.tell_lines(str(error).splitlines())

    def tell_lines(self, lines: Sequence[str]) -> None:
        """Print the lines of an error that were not told of another file already."""
        self.count += 1
        for line in lines:
            if line not in self.lines:
                self.lines[line] = None
                tell(line, err=True)


@dataclass(frozen=True)
class Wanted:
    """What the options ask for."""

    language: str | None
    sheet: str | None
    style: str | None
    given: Sequence[str]
    within: Sequence[str]
    commanded: Sequence[str]

    @cached_property
    def settings(self) -> dict[str, str]:
        """The values of `--set`, by name."""
        found: dict[str, str] = {}
        for item in self.given:
            name, sign, value = item.partition("=")
            if not sign:
                raise click.UsageError(f"--set takes NAME=VALUE, not {item!r}")
            found[name.strip()] = value.strip()
        return found

    @property
    def lines(self) -> list[tuple[int, int]] | None:
        """First and last line of each `--within`."""
        found = []
        for item in self.within:
            first, dash, last = item.partition("-")
            if not (is_number(first) and (is_number(last) if dash else True)):
                raise click.UsageError(f"--within takes N or N-M, not {item!r}")
            found.append((int(first), int(last if dash else first)))
        return found or None

    @cached_property
    def commands(self) -> dict[str, tuple[str, ...]]:
        """The commands of `--command`, by the languages of the texts that they lay out."""
        found = {}
        for item in self.commanded:
            name, sign, command = item.partition("=")
            try:
                words = tuple(shlex.split(command))
            except ValueError:
                words = ()
            if not sign or not words:
                raise click.UsageError(f"--command takes LANGUAGE=PROGRAM, not {item!r}")
            found[name.strip()] = words
        return found

    @cached_property
    def styles(self) -> Styles:
        """Finds the style of each file."""
        import stilo

        sheet = None if self.sheet is None else Path(self.sheet)
        return stilo.Styles(self.settings, self.style, self.language, sheet, self.commands)


#: Options for the settings that everybody reaches for first.
_SHORT = (
    click.option("--width", metavar="N", help="The line width, as --set width=N."),
    click.option("--indent", metavar="N", help="Columns of an indent, as --set indent=N."),
    click.option("--tabs", is_flag=True, help="Indent with tabs, each as wide as the indent."),
)
#: Columns of an indent that is a tab, where nothing says otherwise.
TAB = "4"
_OPTIONS = {
    "language": click.option(
        "--language",
        metavar="NAME",
        help="The language of all files. Default: by their names.",
        shell_complete=complete.languages,
    ),
    "sheet": click.option(
        "--sheet",
        metavar="FILE",
        help="Use a layout sheet of your own, or add its rules to ours.",
    ),
    "style": click.option(
        "--style",
        metavar="NAME|FILE",
        help="Use this style alone, whatever files of settings say: a name, a file, `personal` "
        "(yours), or `default`.",
        shell_complete=complete.styles,
    ),
    "given": click.option(
        "--set",
        "given",
        multiple=True,
        metavar="NAME=VALUE",
        help="Set a setting, such as indent=2, over all else. May be repeated.",
        shell_complete=complete.settings,
    ),
    "within": click.option(
        "--within",
        multiple=True,
        metavar="N-M",
        help="Reformat only the statements in these lines. May be repeated.",
    ),
    "commanded": click.option(
        "--command",
        "commanded",
        multiple=True,
        metavar="LANGUAGE=PROGRAM",
        help="A program of yours for texts in a language that Stilo does not have: it reads a text from its "
        "standard input and writes the result to its standard output. May be repeated.",
    ),
}


def options(*names: str) -> Callable[[Callable[..., Any]], Callable[..., Any]]:
    """Give a command these of the options, or all; it gets them as one argument, `wanted`."""
    chosen = names or tuple(_OPTIONS)

    def decorate(command: Callable[..., Any]) -> Callable[..., Any]:
        @functools.wraps(command)
        def collect(**arguments: Any) -> Any:
            found = {name: arguments.pop(name, None) for name in _OPTIONS}
            several = {name: tuple(found[name] or ()) for name in ("given", "within", "commanded")}
            several["given"] = (*_short_settings(arguments), *several["given"])
            return command(**arguments, wanted=Wanted(**{**found, **several}))

        decorated: Callable[..., Any] = collect
        for name in reversed(chosen):
            decorated = _OPTIONS[name](decorated)
        for option in reversed(_SHORT if "given" in chosen else ()):
            decorated = option(decorated)
        return decorated

    return decorate


def _short_settings(arguments: dict[str, Any]) -> list[str]:
    """What the short options set; they are taken out of the arguments."""
    width, indent, tabs = (arguments.pop(name, None) for name in ("width", "indent", "tabs"))
    found = [f"width={width}"] if width else []
    if tabs:
        indent = indent or TAB
        found += ["indent-with=tabs", f"tab-width={indent}"]
    return found + ([f"indent={indent}"] if indent else [])


def end_on(error: Exception) -> NoReturn:
    """Tell an error and end the command."""
    Failures().tell(error)
    sys.exit(FAILED)
