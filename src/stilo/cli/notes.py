"""What is told of a file beside its result: names that are not clear, and lines that stay as they are."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from stilo.cli.telling import tell

if TYPE_CHECKING:
    from stilo.result import OpenStar, Unread

#: The setting that says which names are meant.
PREFER = "import.prefer"


def tell_open(path: str, unclear: Sequence[OpenStar], unknown: Sequence[str]) -> None:
    """Tell why stars stay."""
    for (line, column), name, candidates, uses in unclear:
        tell(
            f"{path}:{line}:{column}: {name} may be {' or '.join(candidates)} "
            f"({uses} use{'' if uses == 1 else 's'}); their stars stay; say which is meant with "
            f"--set {PREFER}={candidates[0]}, or stilo arrange --ask",
            err=True,
        )
    for module in unknown:
        tell(f"{path}: nothing is known of {module}; its star stays", err=True)


def tell_unseen(path: str, imports: Sequence[str]) -> None:
    """Tell which imports stay since other files would have to be asked."""
    if imports:
        few = ", ".join(imports[:3])
        more = f" and {len(imports) - 3} more" if len(imports) > 3 else ""
        are, stay = ("is", "it stays") if len(imports) == 1 else ("are", "they stay")
        tell(f"{path}: whether {few}{more} {are} needed depends on other files; {stay}", err=True)


def tell_unread(path: str, unread: Sequence[Unread]) -> None:
    """Tell which lines stay as they are, and why."""
    for (line, column), last, why in unread:
        what = "the line stays as it is: it"
        if last > line:
            what = f"lines {line} to {last} stay as they are: they"
        tell(f"{path}:{line}:{column}: {what} {why}", err=True)
