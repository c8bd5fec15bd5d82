"""Writing: in one step, or not at all."""

from __future__ import annotations

import os
from pathlib import Path

import pytest

from stilo.run.files import WriteFailed, write_atomically


def test_mode_and_link_are_kept(tmp_path: Path) -> None:
    berth = tmp_path / "berth.json"
    berth.write_bytes(b"old")
    berth.chmod(0o640)
    link = tmp_path / "link.json"
    link.symlink_to(berth)
    write_atomically(link, b"new")
    assert link.is_symlink()
    assert berth.read_bytes() == b"new"
    assert berth.stat().st_mode & 0o777 == 0o640
    assert sorted(p.name for p in tmp_path.iterdir()) == ["berth.json", "link.json"]


def test_what_cannot_be_written_is_told(tmp_path: Path) -> None:
    with pytest.raises(WriteFailed, match="cannot be written: No such file"):
        write_atomically(tmp_path / "none" / "berth.json", b"new")


def test_a_failure_leaves_the_file_and_nothing_else(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    berth = tmp_path / "berth.json"
    berth.write_bytes(b"old")

    def fail(*_: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "replace", fail)
    with pytest.raises(WriteFailed, match="No space left on device; left as it was"):
        write_atomically(berth, b"new")
    assert berth.read_bytes() == b"old"
    assert [p.name for p in tmp_path.iterdir()] == ["berth.json"]
