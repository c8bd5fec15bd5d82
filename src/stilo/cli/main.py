"""The commands of `stilo`.

Exit status: 0 all in style or done, 1 something is not in style, 2 something
could not be done. Errors go to standard error, one line each.
"""

from __future__ import annotations

import gc
import sys
from collections.abc import Callable, Iterator, Sequence
from typing import TYPE_CHECKING, Any

import click

if TYPE_CHECKING:
    from stilo import Language, Result

IN_STYLE, NOT_IN_STYLE, FAILED = 0, 1, 2


class _Failures:
    """Errors are told as they come; the rest of the work goes on."""

    def __init__(self) -> None:
        self.count = 0

    def tell(self, error: Exception) -> None:
        self.count += 1
        for line in str(error).splitlines():
            click.echo(line, err=True)


def _style(values: Sequence[str]) -> dict[str, str]:
    style: dict[str, str] = {}
    for item in values:
        name, sign, value = item.partition("=")
        if not sign:
            raise click.UsageError(f"--set takes NAME=VALUE, not {item!r}")
        style[name.strip()] = value.strip()
    return style


def _lines(text: str | None) -> tuple[int, int] | None:
    if text is None:
        return None
    first, dash, last = text.partition("-")
    try:
        return int(first), int(last if dash else first)
    except ValueError:
        raise click.UsageError(f"--within takes N or N-M, not {text!r}") from None


def _options(command: Callable[..., Any]) -> Callable[..., Any]:
    """What all commands that lay out files take."""
    for option in reversed(
        (
            click.option("--language", metavar="NAME", help="Take this language for every file."),
            click.option("--sheet", metavar="FILE", help="Lay out by this sheet of your own."),
            click.option(
                "--set", "settings", multiple=True, metavar="NAME=VALUE",
                help="Give a setting a value, such as width=80. May be repeated.",
            ),
            click.option(
                "--within", "lines", metavar="N-M",
                help="Only the statements that reach into these lines.",
            ),
        )
    ):
        command = option(command)
    return command


def _language(language: str | None, sheet: str | None) -> str | Language | None:
    """The language that the options ask for. A faulty sheet ends the command."""
    if sheet is None:
        return language
    import stilo

    try:
        return stilo.read_sheet_file(sheet)
    except stilo.StiloError as error:
        _Failures().tell(error)
        sys.exit(FAILED)


def _results(
    paths: Sequence[str],
    language: str | Language | None,
    settings: Sequence[str],
    lines: str | None,
    failures: _Failures,
) -> Iterator[tuple[str, Result]]:
    """Lay each file out; tell what fails and go on."""
    import stilo

    style, chosen = _style(settings), _lines(lines)
    for path in paths:
        try:
            yield path, stilo.reformat_file(path, language, style, lines=chosen)
        except stilo.StiloError as error:
            failures.tell(error)


@click.group(context_settings={"help_option_names": ["--help", "-h"], "max_content_width": 100})
@click.version_option(package_name="stilo", message="stilo %(version)s")
def main() -> None:
    """Lay source code out by a sheet: one canonical layout that fits a line width."""
    # Many small lists live through a run and hold no cycles: collecting early only costs time.
    gc.set_threshold(200_000, 50, 50)
    for stream in (sys.stdout, sys.stderr):
        reconfigure = getattr(stream, "reconfigure", None)
        if reconfigure is not None:  # a file name need not be valid text
            reconfigure(errors="backslashreplace")


@main.command()
@click.argument("files", nargs=-1, required=True, metavar="FILE…")
@_options
def apply(
    files: tuple[str, ...],
    language: str | None,
    sheet: str | None,
    settings: tuple[str, ...],
    lines: str | None,
) -> None:
    """Rewrite files in style. Nothing is written where nothing changes."""
    import stilo
    from stilo.run import write_atomically

    failures = _Failures()
    changed = 0
    for path, result in _results(files, _language(language, sheet), settings, lines, failures):
        if not result.changed:
            continue
        try:
            write_atomically(path, result.data)
        except stilo.StiloError as error:
            failures.tell(error)
            continue
        changed += 1
        click.echo(f"{path}: laid out")
    kept = len(files) - changed - failures.count
    click.echo(
        f"laid out: {changed}; in style before: {kept}; refused: {failures.count}",
        err=True,
    )
    sys.exit(FAILED if failures.count else IN_STYLE)


@main.command()
@click.argument("files", nargs=-1, required=True, metavar="FILE…")
@_options
def proof(
    files: tuple[str, ...],
    language: str | None,
    sheet: str | None,
    settings: tuple[str, ...],
    lines: str | None,
) -> None:
    """Report what is not in style: place, what, and the rule that says so."""
    failures = _Failures()
    found = untidy = 0
    for path, result in _results(files, _language(language, sheet), settings, lines, failures):
        if not result.changed:
            continue
        untidy += 1
        for finding in result.findings:
            found += 1
            click.echo(f"{path}:{finding}")
    if found:
        click.echo(f"{_count(found, 'place')} in {_count(untidy, 'file')} not in style", err=True)
    sys.exit(FAILED if failures.count else NOT_IN_STYLE if untidy else IN_STYLE)


@main.command()
@click.argument("file", metavar="FILE")
@_options
@click.option("--patch", is_flag=True, help="Print a patch instead of the whole result.")
@click.option("--name", metavar="FILE", help="With standard input: the file it stands for.")
def preview(
    file: str,
    language: str | None,
    sheet: str | None,
    settings: tuple[str, ...],
    lines: str | None,
    patch: bool,
    name: str | None,
) -> None:
    """Print the result for a file, or for standard input (`-`), and change nothing."""
    import stilo

    wanted = _language(language, sheet)
    try:
        if file == "-":
            shown = name or "standard input"
            if wanted is None and name is None:
                raise click.UsageError("standard input needs --language, --sheet or --name")
            chosen = wanted or stilo.language_for_file(shown)
            raw = sys.stdin.buffer.read()
            result = stilo.reformat(raw, chosen, _style(settings), lines=_lines(lines), name=shown)
        else:
            shown = file
            result = stilo.reformat_file(file, wanted, _style(settings), lines=_lines(lines))
    except stilo.StiloError as error:
        _Failures().tell(error)
        sys.exit(FAILED)
    sys.stdout.buffer.write(_patch(result, shown) if patch else result.data)


def _patch(result: Result, name: str) -> bytes:
    """A patch in the unified format, as POSIX `diff -u` writes it."""
    import difflib

    before = result.source.raw.splitlines(keepends=True)
    after = result.data.splitlines(keepends=True)
    lines = difflib.diff_bytes(
        difflib.unified_diff, before, after, f"a/{name}".encode(), f"b/{name}".encode()
    )
    return b"".join(
        line if line.endswith(b"\n") else line + b"\n\\ No newline at end of file\n"
        for line in lines
    )


@main.command()
@click.argument("place", metavar="FILE:LINE[:COLUMN]")
@click.option("--language", metavar="NAME", help="Take this language for the file.")
@click.option("--sheet", metavar="FILE", help="Lay out by this sheet of your own.")
@click.option("--set", "settings", multiple=True, metavar="NAME=VALUE", help="As for `apply`.")
def why(
    place: str, language: str | None, sheet: str | None, settings: tuple[str, ...]
) -> None:
    """Say which rule and setting decided the gap before the token at a place."""
    import stilo

    path, line, column = _place(place)
    try:
        result = stilo.reformat_file(path, _language(language, sheet), _style(settings))
        decision = result.decision(line, column)
    except stilo.StiloError as error:
        _Failures().tell(error)
        sys.exit(FAILED)
    at = decision.position
    click.echo(f"{path}:{at.line}:{at.column}: between {decision.before} and {decision.after}")
    click.echo(f"  becomes   {decision.outcome}")
    click.echo(f"  because   {decision.because}")
    for number, reason in enumerate(decision.reasons):
        click.echo(f"  {'decided by' if not number else '       and'} {reason}")
        if reason.rule and reason.setting:
            click.echo(f"            (the setting gives `{reason.property}` to {reason.rule})")


def _place(text: str) -> tuple[str, int, int | None]:
    parts = text.rsplit(":", 2)
    numbers: list[int] = []
    while len(parts) > 1 and parts[-1].isdigit() and len(numbers) < 2:
        numbers.insert(0, int(parts.pop()))
    if not numbers:
        raise click.UsageError(f"a place is FILE:LINE or FILE:LINE:COLUMN, not {text!r}")
    return ":".join(parts), numbers[0], numbers[1] if len(numbers) > 1 else None


@main.command()
@click.option("--set", "settings", multiple=True, metavar="NAME=VALUE", help="As for `apply`.")
@click.option("--folder", type=click.Path(), help="Also write the demo files there, to play with.")
def demo(settings: tuple[str, ...], folder: str | None) -> None:
    """Show what Stilo makes of an inherited file of Skerry Line, an invented ferry company."""
    from stilo.cli.demo import show_demo

    sys.exit(show_demo(_style(settings), folder))


def _count(number: int, noun: str) -> str:
    return f"{number} {noun}" if number == 1 else f"{number} {noun}s"


if __name__ == "__main__":
    main()
