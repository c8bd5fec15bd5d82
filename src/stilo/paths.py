"""Paths as messages show them."""

from __future__ import annotations

from pathlib import Path


def shown_path(path: str | Path) -> str:
    """A path as messages show it: from the current folder, if it is below that."""
    try:
        return str(Path(path).absolute().relative_to(Path.cwd()))
    except ValueError:
        return str(path)
