"""Every error of Stilo, in one place.

Each stores what it knows as fields, builds its own one-line message, and
carries the exit status the command line ends with.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from difflib import get_close_matches


class StiloError(Exception):
    """The root of all errors that Stilo raises on purpose."""

    exit_status = 2


@dataclass(frozen=True)
class Fault:
    """One thing that is wrong at one place of a text (1-based line and column)."""

    origin: str
    line: int
    column: int
    message: str

    def __str__(self) -> str:
        return f"{self.origin}:{self.line}:{self.column}: {self.message}"


class SheetError(StiloError):
    """A layout sheet says something that cannot be; all its faults at once."""

    def __init__(self, faults: Sequence[Fault]) -> None:
        self.faults = tuple(faults)
        super().__init__("\n".join(str(fault) for fault in self.faults))


class ConfigError(StiloError):
    """Files of settings say something that cannot be; all their faults at once."""

    def __init__(self, faults: Sequence[Fault]) -> None:
        self.faults = tuple(faults)
        super().__init__("\n".join(str(fault) for fault in self.faults))


class DirectiveError(StiloError):
    """Directives in a source's comments that cannot be followed; the file is left as it was."""

    def __init__(self, faults: Sequence[Fault]) -> None:
        self.faults = tuple(faults)
        super().__init__("\n".join(str(fault) for fault in self.faults))


class CommandFailed(StiloError):
    """A command of the user's own did not lay out a text, which stays as it is. The message says why, and is
    the end of a sentence."""


class SyntaxFault(StiloError):
    """The source does not parse; nothing of it is changed."""

    def __init__(self, fault: Fault) -> None:
        self.fault = fault
        super().__init__(str(fault))


class UnsafeResult(StiloError):
    """The check of a result failed: the source is left as it was."""

    def __init__(self, fault: Fault) -> None:
        self.fault = fault
        super().__init__(str(fault))


class UnreadableSource(StiloError):
    """The file is missing, no file, binary, or in an encoding other than UTF-8."""

    def __init__(self, origin: str, reason: str) -> None:
        self.origin, self.reason = origin, reason
        super().__init__(f"{origin}: {reason}")


class UnexpectedError(StiloError):
    """A fault of Stilo itself, while it worked on a file; the file is left as it was."""

    def __init__(self, origin: str, error: Exception) -> None:
        self.origin, self.error = origin, error
        said = f"{type(error).__name__}: {error}".splitlines()[0]
        super().__init__(f"{origin}: a fault of Stilo ({said}); left as it was; please report it")


class UnknownLanguage(StiloError):
    """No sheet is known for this language or file name."""

    def __init__(self, asked: str, known: Sequence[str]) -> None:
        self.asked, self.known = asked, tuple(known)
        names = ", ".join(known)
        if "." in asked or "/" in asked:
            message = f"no language is known for this file name; name one with --language: {names}"
        else:
            message = f"unknown language{near(asked, known)}; known: {names}"
        super().__init__(f"{asked}: {message}")


class UnknownSetting(StiloError):
    """A style names a setting that the sheet does not declare."""

    def __init__(self, origin: str, name: str, known: Sequence[str]) -> None:
        self.origin, self.name, self.known = origin, name, tuple(known)
        super().__init__(f"{origin}: unknown setting {name!r}{near(name, known)}")


class BadSetting(StiloError):
    """A style gives a setting a value that it does not permit."""

    def __init__(self, origin: str, name: str, value: str, permitted: str) -> None:
        self.origin, self.name, self.value, self.permitted = origin, name, value, permitted
        super().__init__(f"{origin}: {name} cannot be {value!r}; permitted: {permitted}")


class OutOfRange(StiloError):
    """A line or column that the text does not have."""

    def __init__(self, origin: str, asked: str, has: str) -> None:
        self.origin, self.asked, self.has = origin, asked, has
        super().__init__(f"{origin}: there is no {asked}; {has}")


def near(word: str, known: Sequence[str]) -> str:
    """`; did you mean "x"?` for the nearest of the known words, or nothing."""
    close = get_close_matches(word, known, n=1, cutoff=0.6)
    return f'; did you mean "{close[0]}"?' if close else ""
