"""`stilo private`: set up, in one clone, a style of one's own beside the team's."""

from __future__ import annotations

import os
import sys
from pathlib import Path

from stilo.cli.options import FAILED, IN_STYLE
from stilo.cli.telling import tell
from stilo.explain.findings import count_of
from stilo.installed import own_command
from stilo.registry import language_names, load_language
from stilo.run.files import write_new
from stilo.run.git import GitFailed, git, root_of
from stilo.run.private import TwoStyles, rewrite, serve
from stilo.style.given import COMMAND, Given
from stilo.style.named import read_style
from stilo.style.resolve import NO_STYLE, PERSONAL_STYLE

_BEGIN, _END = "# stilo private: begin", "# stilo private: end"
#: What git knows of it, in the clone's own configuration.
_PROCESS, _STYLE = "filter.stilo.process", "stilo.private"


def begin(style: str) -> int:
    """Set the filter up and write the working copy in a style: a name, or a file. Returns the exit status.

    Raises GitFailed, ConfigError, WriteFailed.
    """
    root = root_of(Path.cwd())
    if _style_of(root):
        tell("there is a private style here already; end it first: stilo private --end", err=True)
        return FAILED
    if style not in (PERSONAL_STYLE, NO_STYLE):
        read_style(Given(style, COMMAND, "private", 0), Path.cwd())
    if os.path.exists(style):
        style = os.path.abspath(style)
    git(root, "config", "--local", _STYLE, style)
    git(root, "config", "--local", _PROCESS, own_command("private", "--serve"))
    _write_attributes(root, True)
    count = rewrite(root, TwoStyles(root, style), True)
    tell(f"{count_of(count, 'file')} in {style} here; commits stay in the team's style", err=True)
    return IN_STYLE


def end() -> int:
    """Write the working copy in the team's style and take the filter away. Returns the exit status.

    Raises GitFailed, WriteFailed.
    """
    root = root_of(Path.cwd())
    style = _style_of(root)
    if not style:
        tell("there is no private style here", err=True)
        return FAILED
    count = rewrite(root, TwoStyles(root, style), False)
    _write_attributes(root, False)
    git(root, "config", "--local", "--unset", _PROCESS)
    git(root, "config", "--local", "--unset", _STYLE)
    tell(f"{count_of(count, 'file')} in the team's style again", err=True)
    return IN_STYLE


def answer() -> int:
    """Answer git, which runs this as its filter. Returns the exit status. Raises GitFailed."""
    root = root_of(Path.cwd())
    serve(TwoStyles(root, _style_of(root)), sys.stdin.buffer, sys.stdout.buffer)
    return IN_STYLE


def _style_of(root: Path) -> str:
    """The private style of a clone, or ""."""
    try:
        return git(root, "config", "--local", "--get", _STYLE).decode().strip()
    except GitFailed:
        return ""


def _write_attributes(root: Path, wants: bool) -> None:
    """Put the filter's lines into the clone's own attributes, or take them out."""
    path = root / os.fsdecode(git(root, "rev-parse", "--git-path", "info/attributes").rstrip(b"\n"))
    lines = path.read_text().splitlines() if path.is_file() else []
    if _BEGIN in lines and _END in lines:
        del lines[lines.index(_BEGIN) : lines.index(_END) + 1]
    if wants:
        globs = [g for name in language_names() for g in load_language(name).facts.globs]
        lines += [_BEGIN, *(f"{glob} filter=stilo" for glob in globs if " " not in glob), _END]
    write_new(path, "".join(f"{line}\n" for line in lines).encode())
