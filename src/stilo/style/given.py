"""A value that some layer gives to a setting, with the place where it is written."""

from __future__ import annotations

from typing import NamedTuple

from stilo.sheet.properties import Value

#: The layers, the weakest first. A value in a later one wins over one in an earlier.
SHEET, NAMED, PERSONAL, EDITORCONFIG, PROJECT, COMMAND, DIRECTIVE = LAYERS = (
    "sheet",
    "named style",
    "personal",
    "EditorConfig",
    "project",
    "command line",
    "directive",
)


class Given(NamedTuple):
    """A setting's value; the layer that gives it; file and line (from 1, or 0 where there is none)."""

    value: Value
    layer: str
    file: str
    line: int

    @property
    def place(self) -> str:
        """`file:line`, or what the layer is called where nothing is written down."""
        return f"{self.file}:{self.line}" if self.line else self.file
