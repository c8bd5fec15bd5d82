"""Where the sources of Python's modules are: those of the running Python, and of an environment."""

from __future__ import annotations

import os
import sys
import sysconfig
from pathlib import Path


def folders(root: Path) -> list[Path]:
    """Folders that modules are looked for in, besides the project's own: an environment in the project
    or the active one, then the standard library and what is installed for the running Python."""
    homes = [root / ".venv", root / "venv"]
    if active := os.environ.get("VIRTUAL_ENV"):
        homes.append(Path(active))
    found: list[Path] = []
    for home in homes:
        found += sorted(home.glob("lib/python3*/site-packages"))
        found += sorted(home.glob("Lib/site-packages"))
    found.append(Path(sysconfig.get_path("stdlib")))
    found += [Path(entry) for entry in sys.path if entry.endswith("-packages")]
    return found
