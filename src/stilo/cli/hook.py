"""`stilo hook`: git asks Stilo before each commit."""

from __future__ import annotations

import os
from pathlib import Path

from stilo.cli.options import FAILED, IN_STYLE
from stilo.cli.telling import tell
from stilo.installed import own_command
from stilo.run.git import git, root_of

#: What git runs.
_SCRIPT = """#!/bin/sh
# Stops a commit when a staged statement is not in style. Written by `stilo hook`.
exec {command}
"""


def install() -> int:
    """Write the hook of a repository, unless it has one. Returns the exit status. Raises GitFailed, OSError."""
    script = _SCRIPT.format(command=own_command("proof", "--staged"))
    root = root_of(Path.cwd())
    folder = root / os.fsdecode(git(root, "rev-parse", "--git-path", "hooks").rstrip(b"\n"))
    folder.mkdir(parents=True, exist_ok=True)
    path = folder / "pre-commit"
    try:
        with open(path, "x", encoding="utf-8") as stream:
            stream.write(script)
    except FileExistsError:
        if path.read_text(encoding="utf-8", errors="replace") == script:
            tell("the hook is there already", err=True)
            return IN_STYLE
        tell(f"{path}: there is a hook already; add this line to it:", err=True)
        tell(script.splitlines()[-1].removeprefix("exec "))
        return FAILED
    path.chmod(0o755)
    tell(f"{os.path.relpath(path)}: written; it runs before each commit", err=True)
    return IN_STYLE
