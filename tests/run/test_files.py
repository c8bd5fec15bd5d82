"""Writing: in one step, or not at all."""

from __future__ import annotations

import os
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest

from stilo.reading import read_file
from stilo.run import files
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


def test_what_a_killed_process_left_is_taken_away(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(files, "WAIT", 0.05)
    berth = tmp_path / "berth.py"
    berth.write_bytes(b"old")
    (tmp_path / ".berth.py.stilo").write_bytes(b"left behind")
    write_atomically(berth, b"new", before=b"old")
    assert berth.read_bytes() == b"new" and [p.name for p in tmp_path.iterdir()] == ["berth.py"]


@pytest.mark.parametrize("nameless", [True, False])
def test_several_at_once_write_one_after_the_other(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, nameless: bool
) -> None:
    if not nameless:  # as on systems without files that have no name
        monkeypatch.setattr(files, "_without_name", lambda folder: -1)
    berth = tmp_path / "berth.py"
    berth.write_bytes(b"old" * 1000)

    def write(number: int) -> str:
        try:
            write_atomically(berth, b"%d" % (number % 2) * 500, before=b"old" * 1000)
        except WriteFailed as error:
            return error.reason
        return ""

    with ThreadPoolExecutor(8) as executor:
        said = set(executor.map(write, range(40)))
    assert said == {"", "it was changed meanwhile"}  # nothing more is done to a file that is right
    assert berth.read_bytes() in (b"0" * 500, b"1" * 500)
    assert [p.name for p in tmp_path.iterdir()] == ["berth.py"]


def test_while_a_text_is_written_it_has_no_name(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    berth = tmp_path / "berth.py"
    berth.write_bytes(b"old")
    seen: list[list[str]] = []
    plain = os.fsync

    def look(handle: int) -> None:
        seen.append([p.name for p in tmp_path.iterdir()])
        plain(handle)

    monkeypatch.setattr(os, "fsync", look)
    write_atomically(berth, b"new")
    assert seen == [["berth.py"]] or not hasattr(os, "O_TMPFILE")


def test_a_long_name(tmp_path: Path) -> None:
    berth = tmp_path / f"{'quay' * 63}.x"
    berth.write_bytes(b"old")
    write_atomically(berth, b"new", before=b"old")
    assert berth.read_bytes() == b"new"


def test_a_file_that_holds_the_new_text_already_is_done(tmp_path: Path) -> None:
    """Another run was quicker; it is no fault that the old text is gone."""
    berth = tmp_path / "berth.py"
    berth.write_bytes(b"new")
    inode = berth.stat().st_ino
    write_atomically(berth, b"new", before=b"old")
    assert berth.stat().st_ino == inode and [p.name for p in tmp_path.iterdir()] == ["berth.py"]


def test_a_file_without_a_size_is_read_to_its_end() -> None:
    status = Path("/proc/self/status")
    if not status.exists():
        pytest.skip("no files of the system here")
    assert status.stat().st_size == 0 and b"Name:" in read_file(status, 1 << 20)
    with pytest.raises(OSError, match="is larger than"):
        read_file(status, 10)
