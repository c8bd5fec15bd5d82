"""A reader's own style in a clone, while what is committed stays in the team's: a filter of git.

Git hands each text over as it leaves the repository (smudge) and as it goes back (clean); see gitattributes(5).
A text comes in the private style only if it is in the team's, and the way back leads to the very same bytes;
else it is handed out as it is, so that nothing differs that nobody changed.
"""

from __future__ import annotations

import os
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import BinaryIO

from stilo.calls import read_bytes, reformat_styled
from stilo.errors import StiloError
from stilo.run.files import write_result
from stilo.run.git import GitFailed, git
from stilo.style.resolve import Styles
from stilo.verify.check import Checked

#: The most bytes in a packet of git's protocol, its length included, and in the data of one.
PACKET = 65520
_DATA = PACKET - 4


class TwoStyles:
    """The two styles of a clone. root: of the working copy, which paths start from."""

    def __init__(self, root: Path, private: str) -> None:
        self._root = root
        self._team, self._private = Styles(), Styles(style=private)
        self._in_style: dict[tuple[str, bytes], bool] = {}

    def smudged(self, path: str, data: bytes) -> Checked | None:
        """A text of the repository as it is to lie in the working copy; None: as it is."""
        if not self._is_in_style(path, data):
            return None
        private = _laid_out(self._private, self._root / path, data)
        if private is None or _laid_out(self._team, self._root / path, private) != data:
            return None
        return private

    def cleaned(self, path: str, data: bytes) -> Checked | None:
        """A text of the working copy as it is to be in the repository; None: as it is."""
        staged = self.staged(path)
        if staged is not None and (data == staged or not self._is_in_style(path, staged)):
            return None  # what nobody put in style yet is not put in style in passing
        return _laid_out(self._team, self._root / path, data)

    def _is_in_style(self, path: str, data: bytes) -> bool:
        key = (path, data)
        if key not in self._in_style:
            self._in_style.clear()
            self._in_style[key] = _laid_out(self._team, self._root / path, data) == data
        return self._in_style[key]

    def staged(self, path: str) -> bytes | None:
        """What is staged of a file, if anything is."""
        try:
            return git(self._root, "cat-file", "blob", f":{path}")
        except GitFailed:
            return None


def _laid_out(styles: Styles, path: Path, data: bytes) -> Checked | None:
    """A text in the style of its file; None where it is to be left alone, or cannot be laid out."""
    try:
        style = styles.of(path)
        return None if style.skipped else reformat_styled(data, style, name=str(path)).data
    except StiloError:
        return None


def rewrite(root: Path, styles: TwoStyles, to_private: bool) -> int:
    """Write the tracked files of a working copy in the private style, or in the team's. Returns how many
    changed. Raises GitFailed, WriteFailed."""
    count = 0
    same: list[bytes] = []  # files that differ from what is staged in nothing but their style
    for name in git(root, "ls-files", "-z").split(b"\0"):
        path = os.fsdecode(name)
        target = root / path
        if not name or target.is_symlink() or not target.is_file():
            continue
        try:
            data = read_bytes(target)
        except StiloError:
            continue
        found = styles.smudged(path, data) if to_private else styles.cleaned(path, data)
        if found is not None and found != data:
            write_result(target, found, data)
            count += 1
            if styles.staged(path) == (data if to_private else found):
                same.append(name)
    # Git takes a file of another size for another one, until it is told of it.
    git(root, "update-index", "-z", "--stdin", text=b"".join(name + b"\0" for name in same))
    return count


def serve(styles: TwoStyles, source: BinaryIO, target: BinaryIO) -> None:
    """Answer git by its protocol for long-running filters, version 2, until it has no more to ask.

    Raises GitFailed where it speaks otherwise.
    """
    hello = list(_lines(source))
    if hello[:1] != ["git-filter-client"] or "version=2" not in hello:
        raise GitFailed("git speaks no version of its filter protocol that is known here")
    _send(target, ["git-filter-server", "version=2"])
    offered = set(_lines(source))
    known = [name for name in ("capability=clean", "capability=smudge") if name in offered]
    _send(target, known)
    while asked := list(_lines(source)):
        said = dict(line.partition("=")[::2] for line in asked)
        data = b"".join(_packets(source))
        path = said.get("pathname", "")
        try:
            answer = styles.smudged if said.get("command") == "smudge" else styles.cleaned
            found = answer(path, data) or data
        except Exception:  # a filter that fails must not stop a checkout: the text stays as it is
            found = data
        _send(target, ["status=success"])
        for at in range(0, len(found), _DATA):
            part = found[at : at + _DATA]
            target.write(b"%04x" % (len(part) + 4) + part)
        target.write(b"0000")
        _send(target, [])


def _packets(source: BinaryIO) -> Iterator[bytes]:
    """The packets up to the next one that says that it is the last, or the end of all."""
    while size := source.read(4):
        length = int(size, 16)
        if length < 4:
            return
        yield source.read(length - 4)


def _lines(source: BinaryIO) -> Iterator[str]:
    for packet in _packets(source):
        yield os.fsdecode(packet.removesuffix(b"\n"))


def _send(target: BinaryIO, lines: Sequence[str]) -> None:
    """Send lines, and that there are no more."""
    for line in lines:
        text = os.fsencode(f"{line}\n")
        target.write(b"%04x" % (len(text) + 4) + text)
    target.write(b"0000")
    target.flush()
