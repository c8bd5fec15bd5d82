"""Git, asked by its public commands.

Nothing that a repository configures is run: no external programs for differences, no text conversion, no
filters.
"""

from __future__ import annotations

import os
import subprocess
from pathlib import Path

from stilo.errors import StiloError

#: The most seconds that git may take for an answer.
PATIENCE = 120
_SAFE = ("-c", "core.fsmonitor=false", "-c", "core.quotepath=off", "-c", "diff.external=")


class GitFailed(StiloError):
    """Git cannot answer: there is no git, no repository, or no such revision."""


def git(folder: Path, *arguments: str, text: bytes = b"") -> bytes:
    """What a command of git prints. text: its standard input. Raises GitFailed."""
    environment = {**os.environ, "GIT_OPTIONAL_LOCKS": "0", "LC_ALL": "C"}
    command = ["git", *_SAFE, *arguments]
    try:
        done = subprocess.run(
            command,
            cwd=folder,
            env=environment,
            input=text,
            capture_output=True,
            timeout=PATIENCE,
            check=False,
        )
    except FileNotFoundError as error:
        raise GitFailed("git is not installed") from error
    except subprocess.TimeoutExpired as error:
        raise GitFailed(f"git took more than {PATIENCE} seconds") from error
    if done.returncode:
        said = done.stderr.decode("utf-8", "replace").strip().removeprefix("fatal: ").splitlines()
        raise GitFailed(f"git: {said[0] if said else 'it failed and did not say why'}")
    return done.stdout


def root_of(folder: Path) -> Path:
    """The root of the working copy that a folder is in. Raises GitFailed."""
    return Path(os.fsdecode(git(folder, "rev-parse", "--show-toplevel").rstrip(b"\n")))


def commit_of(folder: Path, revision: str) -> str:
    """The commit that a revision names. Raises GitFailed."""
    name = f"{revision}^{{commit}}"
    try:
        said = git(folder, "rev-parse", "--verify", "--quiet", "--end-of-options", name)
    except GitFailed as error:
        raise GitFailed(f"git knows no revision {revision!r}") from error
    return said.decode().strip()


def without_filters(root: Path) -> list[str]:
    """Options by which git runs none of the filters that the repository itself configures."""
    pattern = r"^filter\..*\.(clean|process)$"
    try:
        names = git(root, "config", "--local", "--name-only", "-z", "--get-regexp", pattern)
    except GitFailed:
        return []  # there are none
    return [word for name in names.split(b"\0") if name for word in ("-c", f"{os.fsdecode(name)}=")]
