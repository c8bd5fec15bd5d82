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


def test_a_file_that_was_changed_meanwhile_is_left(tmp_path: Path) -> None:
    berth = tmp_path / "berth.py"
    berth.write_bytes(b"saved by an editor\n")
    with pytest.raises(WriteFailed, match="it was changed meanwhile; left as it was"):
        write_atomically(berth, b"new", before=b"old")
    assert berth.read_bytes() == b"saved by an editor\n"
    assert [p.name for p in tmp_path.iterdir()] == ["berth.py"]


def test_a_path_that_became_a_link_is_not_followed_to_another_text(tmp_path: Path) -> None:
    other, berth = tmp_path / "other.py", tmp_path / "berth.py"
    other.write_bytes(b"other\n")
    berth.symlink_to(other)
    with pytest.raises(WriteFailed):
        write_atomically(berth, b"new", before=b"old")
    assert other.read_bytes() == b"other\n"


def test_files_of_several_names_stay_one(tmp_path: Path) -> None:
    berth, quay = tmp_path / "berth.py", tmp_path / "quay.py"
    berth.write_bytes(b"old and long")
    os.link(berth, quay)
    write_atomically(berth, b"new", before=b"old and long")
    assert quay.read_bytes() == b"new"
    assert berth.stat().st_ino == quay.stat().st_ino
    assert len(list(tmp_path.iterdir())) == 2


def test_extended_attributes_stay(tmp_path: Path) -> None:
    berth = tmp_path / "berth.py"
    berth.write_bytes(b"old")
    try:
        os.setxattr(berth, "user.quay", b"north")
    except (OSError, AttributeError):
        pytest.skip("no extended attributes here")
    write_atomically(berth, b"new")
    assert os.getxattr(berth, "user.quay") == b"north"


@pytest.mark.skipif(os.getuid() != 0, reason="only root can give files away")
def test_the_owner_stays_and_privileges_go(tmp_path: Path) -> None:
    berth = tmp_path / "berth.py"
    berth.write_bytes(b"old")
    os.chown(berth, 12345, 54321)
    berth.chmod(0o4755)
    write_atomically(berth, b"new")
    found = berth.stat()
    assert (found.st_uid, found.st_gid) == (12345, 54321)
    assert found.st_mode & 0o7777 == 0o755
