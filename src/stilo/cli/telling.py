"""What the commands print: nothing in it commands the terminal, and a lost reader stops no work."""

from __future__ import annotations

import os
import sys
from typing import IO

import click

#: What went wrong while printing; the work goes on, and the exit status tells.
lost: list[str] = []


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


def tell(text: str, err: bool = False) -> None:
    """Print a line of text."""
    try:
        click.echo(printable(text), err=err)
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
