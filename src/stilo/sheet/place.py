"""Where something stands in a sheet."""

from __future__ import annotations

from stilo.errors import Fault
from stilo.records import dataclass


@dataclass(frozen=True)
class Place:
    """A sheet's name, with line and column from 1."""

    origin: str
    line: int
    column: int

    def fault(self, message: str) -> Fault:
        """What is wrong there."""
        return Fault(self.origin, self.line, self.column, message)

    def __str__(self) -> str:
        return f"{self.origin}:{self.line}:{self.column}"
