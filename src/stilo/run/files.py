"""Writing a file so that nothing is ever lost."""

from __future__ import annotations

import errno
import os
import tempfile
from contextlib import suppress
from pathlib import Path

from stilo.errors import StiloError
from stilo.reading import MOST_SOURCE, read_file
from stilo.verify.check import Checked


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


def write_atomically(path: str | Path, data: bytes, before: bytes | None = None) -> None:
    """Replace a file's contents in one step, keeping its mode, owner and attributes; a link's target is
    replaced.

    The new text is written beside the file and moved over it, so that a reader sees the old or
    the new text and never a part. A file of several names, or of an owner whom we cannot give it to, is
    written in place instead. before: what the file must hold until then. Raises WriteFailed.
    """
    target = Path(os.path.realpath(path))
    temporary = ""
    try:
        found = target.stat()
        if not os.access(target, os.W_OK):
            raise PermissionError(errno.EACCES, "no permission to write")
        handle, temporary = tempfile.mkstemp(prefix=f".{target.name[:100]}.", dir=target.parent)
        with os.fdopen(handle, "wb") as stream:
            stream.write(data)
            stream.flush()
            os.fsync(stream.fileno())
        in_place = found.st_nlink > 1 or not _same_owner(temporary, found)
        if before is not None and read_file(target, MOST_SOURCE) != before:
            raise OSError(errno.EBUSY, "it was changed meanwhile")
        if in_place:
            _write_in_place(target, data)
        else:
            os.chmod(temporary, found.st_mode & 0o1777)
            _copy_attributes(target, temporary)
            os.replace(temporary, target)
            temporary = ""
    except (OSError, ValueError) as error:
        reason = error.strerror if isinstance(error, OSError) else None
        raise WriteFailed(str(path), reason or str(error)) from error
    finally:  # be it by a signal
        if temporary:
            with suppress(OSError):
                os.unlink(temporary)


def _same_owner(temporary: str, wanted: os.stat_result) -> bool:
    """Give the new file the owner of the old one; whether it has it."""
    made = os.stat(temporary)
    if (made.st_uid, made.st_gid) == (wanted.st_uid, wanted.st_gid):
        return True
    try:
        os.chown(temporary, wanted.st_uid, wanted.st_gid)
    except (OSError, AttributeError):
        return False
    return True


def _copy_attributes(source: Path, target: str) -> None:
    """Copy extended attributes, access lists among them, as far as the system has them and lets us."""
    if not hasattr(os, "listxattr"):
        return
    with suppress(OSError):
        for name in os.listxattr(source):
            with suppress(OSError):
                os.setxattr(target, name, os.getxattr(source, name))


def _write_in_place(target: Path, data: bytes) -> None:
    """Write over the bytes of a file; the file beside it holds the new text until that is done."""
    with open(target, "r+b") as stream:
        stream.write(data)
        stream.truncate()
        stream.flush()
        os.fsync(stream.fileno())
