"""What the commands print: nothing in it commands the terminal, and a lost reader stops no work."""

from __future__ import annotations

import os
import sys
from typing import IO, Any

import click

#: What went wrong while printing; the work goes on, and the exit status tells.
lost: list[str] = []
#: Colours of a terminal that can be read on light and on dark: of what is, and of what would be.
OLD, NEW = 166, 31
#: For so many files a bar shows how far the work is.
MANY = 100


def printable(text: str) -> str:
    """The text with signs that a terminal would obey, or that hide others, written as escapes."""
    if text.isascii() and text.isprintable():
        return text
    return "".join(
        sign
            if sign.isprintable() or sign in "\n\t"
            else sign.encode("unicode_escape", "surrogatepass").decode()
        for sign in text
    )


def tell(text: str, err: bool = False, is_whole: bool = True) -> None:
    """Print a line of text. is_whole: its end is not in it."""
    try:
        click.echo(printable(text), err=err, nl=is_whole)
    except OSError as error:
        _lose(sys.stderr if err else sys.stdout, error)


def hand_over(data: bytes) -> None:
    """Write the bytes of a result to standard output; to a terminal as text that it does not obey."""
    try:
        if sys.stdout.isatty():
            click.echo(printable(data.decode("utf-8", "backslashreplace")), nl=False)
        else:
            sys.stdout.buffer.write(data)
            sys.stdout.buffer.flush()
    except OSError as error:
        _lose(sys.stdout, error)


def hand_over_patch(data: bytes) -> None:
    """Write a patch to standard output; on a terminal with its lines in colour, unless NO_COLOR is set."""
    if not sys.stdout.isatty() or os.environ.get("NO_COLOR"):
        hand_over(data)
        return
    for line in data.decode("utf-8", "backslashreplace").splitlines():
        is_name = line.startswith(("--- ", "+++ ", "@@"))
        colour = None if is_name else {"-": OLD, "+": NEW}.get(line[:1])
        try:
            click.echo(click.style(printable(line), fg=colour, bold=is_name))
        except OSError as error:
            _lose(sys.stdout, error)


class Progress:
    """A bar on a terminal for a long run; elsewhere nothing. count: the steps there are to do."""

    def __init__(self, count: int) -> None:
        self._count = count
        self._bar: Any = None

    def __enter__(self) -> Progress:
        if self._count >= MANY and sys.stderr.isatty():
            from rich.console import Console
            from rich.progress import Progress as Bar

            self._bar = Bar(console=Console(stderr=True), transient=True)
            self._bar.start()
            self._task = self._bar.add_task("files", total=self._count)
        return self

    def __exit__(self, *why: object) -> None:
        if self._bar is not None:
            self._bar.stop()

    def step(self) -> None:
        """One step is done."""
        if self._bar is not None:
            self._bar.advance(self._task)


def _lose(stream: IO[str], error: OSError) -> None:
    """Let nothing more be written to a stream that takes nothing more."""
    if not isinstance(error, BrokenPipeError):  # whoever read has read enough
        lost.append(error.strerror or str(error))
    try:
        nowhere = os.open(os.devnull, os.O_WRONLY)
        os.dup2(nowhere, stream.fileno())
        os.close(nowhere)
    except (OSError, ValueError):
        pass  # there is nothing to redirect


def finish() -> None:
    """Write out what is still to be written, while a failure can be told."""
    for stream in (sys.stdout, sys.stderr):
        try:
            stream.flush()
        except OSError as error:
            _lose(stream, error)
