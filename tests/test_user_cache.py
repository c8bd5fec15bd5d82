"""What is kept from run to run."""

from __future__ import annotations

from pathlib import Path

from stilo.user_cache import cache_folder, keep


def test_the_folder_is_as_said_or_as_the_platform_has_it(tmp_path, monkeypatch) -> None:
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path))
    monkeypatch.setenv("STILO_CACHE", "here")
    assert cache_folder() == Path("here").absolute()
    monkeypatch.setenv("STILO_CACHE", "off")
    assert cache_folder() is None
    monkeypatch.delenv("STILO_CACHE")
    assert cache_folder() == tmp_path / "stilo"
    monkeypatch.setattr("platformdirs.user_cache_path", lambda *names, **more: Path("here"))
    assert cache_folder() is None


def test_what_cannot_be_kept_leaves_nothing_behind(tmp_path) -> None:
    (tmp_path / "known").mkdir()
    assert keep(tmp_path / "new", b"berth") and not keep(tmp_path / "known", b"berth")
    assert not keep(tmp_path / "new" / "below", b"berth")
    assert sorted(path.name for path in tmp_path.iterdir()) == ["known", "new"]
