"""Reading files that somebody else wrote: regular files of a bounded size, and nothing that never ends."""

from __future__ import annotations

import errno
import os
import stat
from pathlib import Path

#: The most bytes of a source file, and of a file of settings, a style or a sheet.
MOST_SOURCE = 32 << 20
MOST_SETTINGS = 1 << 20


def head_of(path: str | Path, most: int) -> bytes:
    """The first bytes of a file, at most so many; nothing where it cannot be read."""
    try:
        handle = os.open(path, os.O_RDONLY | getattr(os, "O_NONBLOCK", 0))
        try:
            is_file = stat.S_ISREG(os.fstat(handle).st_mode)
            return os.read(handle, most) if is_file else b""
        finally:
            os.close(handle)
    except (OSError, ValueError):
        return b""


def read_file(path: str | Path, most: int) -> bytes:
    """The bytes of a file. Raises OSError, whose `strerror` says what is wrong in words.

    most: bytes that it may have. A device, a pipe or a folder is refused, and never waited for.
    """
    try:
        handle = os.open(path, os.O_RDONLY | getattr(os, "O_NONBLOCK", 0))
    except ValueError as error:
        raise OSError(errno.EINVAL, "no path holds a NUL character") from error
    try:
        found = os.fstat(handle)
        if stat.S_ISDIR(found.st_mode):
            raise IsADirectoryError(errno.EISDIR, "is a folder")
        if not stat.S_ISREG(found.st_mode):
            raise OSError(errno.EINVAL, "is no regular file")
        data = os.read(handle, min(found.st_size, most) + 1)
        # Most often that is all of it; but a file may grow, and those of the system have no size.
        while len(data) <= most and (more := os.read(handle, most + 1 - len(data))):
            data += more
    finally:
        os.close(handle)
    if len(data) > most:
        raise OSError(errno.EFBIG, f"is larger than {most >> 20} MB")
    return data
