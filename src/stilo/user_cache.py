"""The user's cache folder: what is kept there from run to run may be lost at any time."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

#: In the environment: a folder for the cache, or this word for none.
VARIABLE, OFF = "STILO_CACHE", "off"


def cache_folder() -> Path | None:
    """The folder, as the environment or the platform has it; None if there is to be none. It may not exist yet."""
    said = os.environ.get(VARIABLE, "")
    if said == OFF:
        return None
    return Path(said).absolute() if said else _of_platform()


def _of_platform() -> Path | None:
    from platformdirs import user_cache_path

    try:
        folder = user_cache_path("stilo", appauthor=False)
    except RuntimeError:
        return None  # nobody has a home here
    return folder if folder.is_absolute() else None


def keep(path: Path, data: bytes) -> bool:
    """Write a file of the cache in one step, for its owner alone. Returns whether that was possible."""
    made = ""
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        handle, made = tempfile.mkstemp(dir=path.parent)
        with os.fdopen(handle, "wb") as stream:
            stream.write(data)
        os.replace(made, path)
    except OSError:
        if made and os.path.exists(made):
            os.unlink(made)
        return False
    return True
