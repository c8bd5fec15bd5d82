"""Writing a file so that nothing is ever lost."""

from __future__ import annotations

import errno
import os
import time
from collections.abc import Callable
from contextlib import suppress
from functools import partial
from pathlib import Path
from typing import TypeVar

from stilo.errors import StiloError
from stilo.reading import MOST_SOURCE, read_file
from stilo.verify.check import Checked

Made = TypeVar("Made")
#: Seconds to wait for another process that replaces the same file. Replacing takes far less, so what is there
#: after that was left behind by a process that was killed.
WAIT = 2.0
#: Seconds between two looks at whether it is done.
_LOOK = 0.02
#: The longest part of a file's name in that of the text beside it.
_NAME = 200


class WriteFailed(StiloError):
    """A result could not be written; the file is as it was."""

    def __init__(self, path: str, reason: str) -> None:
        self.path, self.reason = path, reason
        super().__init__(f"{path}: cannot be written: {reason}; left as it was")


def write_result(path: str | Path, data: Checked, before: bytes) -> None:
    """Write the checked bytes of a result to its file, if that still has the bytes they were made of.

    See `write_atomically`. Raises WriteFailed.
    """
    if not isinstance(data, Checked):
        raise TypeError("only checked results are written")
    write_atomically(path, data, before)


def write_new(path: Path, data: bytes) -> None:
    """Write a file that need not be there, nor its folder; see `write_atomically`. Raises WriteFailed."""
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        path.touch()
    except OSError as error:
        raise WriteFailed(str(path), error.strerror or str(error)) from error
    write_atomically(path, data)


def write_atomically(path: str | Path, data: bytes, before: bytes | None = None) -> None:
    """Replace a file's contents in one step, keeping its mode, owner and attributes; a link's target is
    replaced.

    The new text is written without a name where the system can, then stands beside the file for a moment,
    and is moved over it: a reader sees the old or the new text and never a part. Its name beside the file
    is the same for all, so that of several processes one replaces the file at a time. A file of several
    names, or of an owner whom we cannot give it to, is written in place instead. before: what the file
    must hold until then; if it holds the new text already, nothing is done. Raises WriteFailed.
    """
    target = Path(os.path.realpath(path))
    beside = target.with_name(f".{target.name[:_NAME]}.stilo")
    handle, is_named = -1, False
    try:
        found = target.stat()
        if not os.access(target, os.W_OK):
            raise PermissionError(errno.EACCES, "no permission to write")
        handle = _without_name(target.parent)
        if handle < 0:
            handle, is_named = _take(beside, _open_new), True
        _fill(handle, data)
        in_place = found.st_nlink > 1 or not _same_owner(handle, found)
        if not in_place:
            os.fchmod(handle, found.st_mode & 0o1777)
            _copy_attributes(target, handle)
        if not is_named:
            _take(beside, partial(_give_name, handle))
            is_named = True
        if before is not None:
            now = read_file(target, MOST_SOURCE)
            if now == data:
                return
            if now != before:
                raise OSError(errno.EBUSY, "it was changed meanwhile")
        if in_place:
            _write_in_place(target, data)
        else:
            os.replace(beside, target)
            is_named = False
    except (OSError, ValueError) as error:
        reason = error.strerror if isinstance(error, OSError) else None
        raise WriteFailed(str(path), reason or str(error)) from error
    finally:  # be it by a signal
        if handle >= 0:
            os.close(handle)
        if is_named:
            with suppress(OSError):
                os.unlink(beside)


def _without_name(folder: Path) -> int:
    """A new file in a folder that has no name yet, or -1 where that cannot be."""
    flag = getattr(os, "O_TMPFILE", 0)
    if not flag or not os.path.isdir("/proc/self/fd"):
        return -1
    try:
        return os.open(folder, os.O_WRONLY | flag, 0o600)
    except OSError as error:
        if error.errno in (errno.EOPNOTSUPP, errno.EISDIR, errno.EINVAL, errno.ENOENT):
            return -1  # the file system has no such files
        raise


def _give_name(handle: int, path: Path) -> None:
    """Give a file that has no name one, as open(2) describes. Raises FileExistsError."""
    folder = os.open(path.parent, os.O_RDONLY | os.O_DIRECTORY)
    try:  # with a folder, or the link in /proc would not be followed
        os.link(f"/proc/self/fd/{handle}", path.name, dst_dir_fd=folder, follow_symlinks=True)
    finally:
        os.close(folder)


def _open_new(path: Path) -> int:
    return os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)


def _take(beside: Path, make: Callable[[Path], Made]) -> Made:
    """Make the name beside the file, once no other process has it."""
    until = time.monotonic() + WAIT
    while True:
        try:
            return make(beside)
        except FileExistsError:
            if time.monotonic() > until:
                os.unlink(beside)
            else:
                time.sleep(_LOOK)


def _fill(handle: int, data: bytes) -> None:
    view = memoryview(data)
    while view:
        view = view[os.write(handle, view):]
    os.fsync(handle)


def _same_owner(handle: int, wanted: os.stat_result) -> bool:
    """Give the new file the owner of the old one; whether it has it."""
    made = os.fstat(handle)
    if (made.st_uid, made.st_gid) == (wanted.st_uid, wanted.st_gid):
        return True
    try:
        os.fchown(handle, wanted.st_uid, wanted.st_gid)
    except (OSError, AttributeError):
        return False
    return True


def _copy_attributes(source: Path, handle: int) -> None:
    """Copy extended attributes, access lists among them, as far as the system has them and lets us."""
    if not hasattr(os, "listxattr"):
        return
    with suppress(OSError):
        for name in os.listxattr(source):
            with suppress(OSError):
                os.setxattr(handle, name, os.getxattr(source, name))


def _write_in_place(target: Path, data: bytes) -> None:
    """Write over the bytes of a file; the file beside it holds the new text until that is done."""
    with open(target, "r+b") as stream:
        stream.write(data)
        stream.truncate()
        stream.flush()
        os.fsync(stream.fileno())
