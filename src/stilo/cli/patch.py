"""Patches in the unified format, as POSIX `diff -u` writes it."""

from __future__ import annotations

import difflib
import os
import re

#: A line with its end, as far as it has one.
_LINE = re.compile(rb"[^\n]*\n|[^\n]+")


def patch_of(before: bytes, after: bytes, name: str) -> bytes:
    """What leads from one text of a file to another."""
    lines = difflib.diff_bytes(
        difflib.unified_diff,
        _LINE.findall(before),
        _LINE.findall(after),
        b"a/" + os.fsencode(name),
        b"b/" + os.fsencode(name),
    )
    return b"".join(
        line if line.endswith(b"\n") else line + b"\n\\ No newline at end of file\n"
        for line in lines
    )
