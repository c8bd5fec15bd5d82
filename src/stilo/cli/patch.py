"""Patches in the unified format, as POSIX `diff -u` writes it."""

from __future__ import annotations

import difflib


def patch_of(before: bytes, after: bytes, name: str) -> bytes:
    """What leads from one text of a file to another."""
    lines = difflib.diff_bytes(
        difflib.unified_diff,
        before.splitlines(keepends=True),
        after.splitlines(keepends=True),
        f"a/{name}".encode(),
        f"b/{name}".encode(),
    )
    return b"".join(
        line if line.endswith(b"\n") else line + b"\n\\ No newline at end of file\n"
        for line in lines
    )
