"""Writing a file so that nothing is ever lost."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

from stilo.errors import StiloError
from stilo.verify.check import Checked


class WriteFailed(StiloError):
    """A result could not be written; the file is as it was."""

    def __init__(self, path: str, reason: str) -> None:
        self.path, self.reason = path, reason
        super().__init__(f"{path}: cannot be written: {reason}; left as it was")


def write_result(path: str | Path, data: Checked) -> None:
    """Write the checked bytes of a result to its file; see `write_atomically`. Raises WriteFailed."""
    if not isinstance(data, Checked):
        raise TypeError("only checked results are written")
    write_atomically(path, data)


def write_atomically(path: str | Path, data: bytes) -> None:
    """Replace a file's contents in one step, keeping its mode; a link's target is replaced.

    The new text is written beside the file and moved over it, so that a reader sees the old or
    the new text and never a part. Raises WriteFailed.
    """
    target = Path(os.path.realpath(path))
    handle = -1
    temporary = ""
    try:
        mode = target.stat().st_mode
        if not os.access(target, os.W_OK):
            raise PermissionError(13, "no permission to write")
        handle, temporary = tempfile.mkstemp(prefix=f".{target.name}.", dir=target.parent)
        with os.fdopen(handle, "wb") as stream:
            stream.write(data)
            stream.flush()
            os.fsync(stream.fileno())
        os.chmod(temporary, mode & 0o7777)
        os.replace(temporary, target)
    except OSError as error:
        if temporary:
            Path(temporary).unlink(missing_ok=True)
        raise WriteFailed(str(path), error.strerror or str(error)) from error
