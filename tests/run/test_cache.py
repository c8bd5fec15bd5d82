"""What is known from earlier runs: it saves work, and never changes what a run says of a file."""

from __future__ import annotations

import sqlite3
from pathlib import Path

import pytest

from stilo import Styles, load_language, reformat_file
from stilo.run import cache as module
from stilo.run.cache import Cache, Entry, Keys, open_cache
from stilo.run.find import Target
from stilo.run.many import Options, apply_all


@pytest.fixture
def looked_at(monkeypatch: pytest.MonkeyPatch) -> list[str]:
    """The files that were laid out, one after the other."""
    from stilo.run import many

    found: list[str] = []
    plain = many.reformat_styled

    def seen(data, style, **others):
        found.append(style.path)
        return plain(data, style, **others)

    monkeypatch.setattr(many, "reformat_styled", seen)
    return found


def test_a_second_run_looks_at_nothing(place, run, looked_at: list[str]) -> None:
    place({
        "a.py": "x=1\n",
        "b.json": "{}\n",
        "c.ipynb": '{"cells": [], "metadata": {}, "nbformat": 4}',
    })
    first = run("apply", ".")
    assert "laid out: 1; in style before: 2" in first.output and len(looked_at) == 3
    second = run("apply", ".")
    assert "laid out: 0; in style before: 3" in second.output and len(looked_at) == 3
    assert run("proof", ".").exit_code == 0 and len(looked_at) == 3
    assert run("proof", ".", "--afresh").exit_code == 0 and len(looked_at) == 6


@pytest.mark.parametrize(
    "options",
    [("--set", "comma.after=none"), ("--indent", "2"), ("--style", "default"), ("--within", "1")],
)
def test_another_style_or_a_part_is_looked_at(
    place, run, looked_at: list[str], options: tuple[str, ...]
) -> None:
    place({"a.py": "x = f(1, 2)\n", "stilo.toml": "width = 90\n"})
    run("proof", "a.py")
    run("proof", "a.py", *options)
    assert len(looked_at) == 2


def test_a_changed_file_or_file_of_settings_is_looked_at(place, run, looked_at: list[str]) -> None:
    folder: Path = place({"a.py": "x = f(1, 2)\n", "stilo.toml": ""})
    run("proof", "a.py")
    (folder / "stilo.toml").write_text('comma.after = "none"\n')
    assert run("proof", "a.py").exit_code == 1
    (folder / "stilo.toml").write_text("")
    assert run("proof", "a.py").exit_code == 0 and len(looked_at) == 2
    (folder / "a.py").write_text("x=1\n")
    assert run("proof", "a.py").exit_code == 1 and len(looked_at) == 3


def test_what_is_not_in_style_or_refused_is_told_each_time(place, run) -> None:
    place({"a.py": "x=1\n", "bad.py": "x = (\n"})
    for _ in range(2):
        told = run("proof", ".")
        assert "2 places in 1 of 1 file not in style" in told.output and told.exit_code == 2
        assert "bad.py:1:6: syntax error" in told.output


GROUPED = "import os\n\nimport berths\nimport tickets\n"


def test_folders_whose_names_tell_the_groups_are_compared(place, run, looked_at: list[str]) -> None:
    settings = 'stilo.toml', 'import.order = "groups"\n'
    folder: Path = place({"lib/a.py": GROUPED, "lib/b.py": "y = 1\n", settings[0]: settings[1]})
    for _ in range(2):
        assert run("proof", ".").exit_code == 0
    assert looked_at.count("lib/a.py") == 1
    (folder / "lib" / "tickets.py").write_text("")  # it is the project's own now
    assert run("proof", ".").exit_code == 1
    assert looked_at.count("lib/a.py") == 2 and looked_at.count("lib/b.py") == 1
    (folder / "lib" / "tickets.py").unlink()
    (folder / "lib" / "tickets").mkdir()  # nothing in it, so no module
    assert run("proof", ".").exit_code == 0
    (folder / "lib" / "tickets" / "deep.py").write_text("")
    assert run("proof", ".").exit_code == 1


def test_a_file_elsewhere_is_another_where_imports_count(place, run, looked_at: list[str]) -> None:
    place({
        "lib/a.py": GROUPED,
        "app/a.py": GROUPED,
        "app/tickets.py": "",
        "stilo.toml": 'import.order = "groups"\n',
    })
    assert run("proof", "lib").exit_code == 0
    assert run("proof", "app").exit_code == 1


def test_what_other_files_say_is_never_remembered(place, run, looked_at: list[str]) -> None:
    folder: Path = place({
        "a.py": "from tides import *\n\nhigh()\n",
        "tides.py": "def high(): ...\n",
        "stilo.toml": 'import.wildcards = "expand"\n',
    })
    assert run("proof", "a.py").exit_code == 1
    (folder / "tides.py").write_text("def low(): ...\n")
    for _ in range(2):
        assert run("proof", "a.py").exit_code == 0
    assert looked_at == ["a.py"] * 3


def test_without_a_cache_or_with_a_broken_one_all_goes_on(
    place, run, tmp_path_factory: pytest.TempPathFactory, monkeypatch: pytest.MonkeyPatch
) -> None:
    place({"a.py": "x = 1\n"})
    folder = tmp_path_factory.mktemp("cache")
    monkeypatch.setenv("STILO_CACHE", "off")
    assert open_cache() is None and run("proof", "a.py").exit_code == 0
    monkeypatch.setenv("STILO_CACHE", str(folder / "file" / "below"))
    (folder / "file").write_text("")
    assert open_cache() is None and run("proof", "a.py").exit_code == 0
    monkeypatch.setenv("STILO_CACHE", str(folder))
    store = folder / "known.sqlite3"
    store.write_bytes(b"no database" * 1000)
    assert run("proof", "a.py").exit_code == 0
    with sqlite3.connect(store) as found:
        assert found.execute("SELECT count(*) FROM known").fetchone() == (1,)
    found.close()


def entry(number: int) -> Entry:
    return Entry(bytes([number]) * 16, (), b"")


def test_it_holds_so_many_and_the_latest(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    cache = Cache(tmp_path / "known", most=8)
    for day in range(8):
        monkeypatch.setattr(module, "_today", lambda day=day: day)
        cache.add([entry(day)])
    assert len(cache.known(entry(n).key for n in range(8))) == 8
    monkeypatch.setattr(module, "_today", lambda: 9)
    assert set(cache.known([entry(0).key, b"none"])) == {entry(0).key}  # used today
    monkeypatch.setattr(module, "_today", lambda: 8)
    cache.add([entry(8)])
    left = cache.known(entry(n).key for n in range(9))
    assert len(left) == 6 and {entry(0).key, entry(8).key} <= set(left)
    cache.close()


def test_two_runs_may_use_it_at_once_and_a_locked_one_waits_for_nobody(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(module, "WAIT", 0.05)
    one, other = Cache(tmp_path / "known"), Cache(tmp_path / "known")
    one.add([entry(1)])
    other.add([entry(2)])
    assert len(one.known([entry(1).key, entry(2).key])) == 2
    one._store.execute("BEGIN EXCLUSIVE")
    other.add([entry(3)])
    assert other.known([entry(1).key]) == {}
    one._store.execute("COMMIT")
    assert set(other.known([entry(1).key, entry(3).key])) == {entry(1).key}
    one.close()
    other.close()


def test_another_form_is_begun_anew(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    first = Cache(tmp_path / "known")
    first.add([entry(1)])
    first.close()
    monkeypatch.setattr(module, "FORM", module.FORM + 1)
    second = Cache(tmp_path / "known")
    assert second.known([entry(1).key]) == {}
    second.close()


def test_keys_tell_apart_what_has_a_say(place, monkeypatch: pytest.MonkeyPatch) -> None:
    place({"a.py": "", "b.py": "", "a.ipynb": "", "a.toml": ""})

    def key(path: str, data: bytes = b"x", **settings: str) -> bytes:
        return Keys().key(Styles(settings).of(path), data)

    assert (
        key("a.py")
        == key("b.py")
        == key("a.py", width=str(load_language("python").defaults()["width"]))
    )
    others = [
        key("a.py", b"y"),
        key("a.py", width="80"),
        key("a.ipynb"),
        key("a.toml"),
        key("a.py", **{"import.order": "groups"}),
        key("b.py", **{"import.order": "groups"}),
    ]
    monkeypatch.setattr(module, "_program", lambda: b"another version")
    others.append(key("a.py"))
    monkeypatch.undo()
    assert len({key("a.py"), *others}) == len(others) + 1


def test_what_is_learnt_before_a_stop_is_kept(place, tmp_path_factory) -> None:
    place({f"a{n}.py": "x = 1\n" for n in range(4)})
    cache = Cache(tmp_path_factory.mktemp("cache") / "known")
    targets = [Target(f"a{n}.py") for n in range(4)]
    outcomes = apply_all(targets, Options(), cache=cache)
    next(outcomes)
    outcomes.close()
    again = list(apply_all(targets, Options(), cache=cache))
    assert [outcome.is_known for outcome in again] == [True] * 4  # they hold the same
    cache.close()


def test_folders_that_had_a_say(place) -> None:
    folder: Path = place({"a.py": GROUPED, "stilo.toml": ""})
    assert reformat_file("a.py").folders_read == {}
    grouped = reformat_file("a.py", style={"import.order": "groups"})
    assert (
        grouped.folders_read == {folder: {"a.py": False, "stilo.toml": False}, folder / "src": {}}
    )


def test_what_cannot_be_written_locks_nobody_out(tmp_path: Path) -> None:
    one, other = Cache(tmp_path / "known"), Cache(tmp_path / "known")
    one.add([entry(1), Entry(object(), (), b"")])  # type: ignore[arg-type]
    assert one.known([entry(1).key]) == {}
    other.add([entry(2)])
    one.add([entry(3)])
    assert len(one.known([entry(2).key, entry(3).key])) == 2
    one.close()
    other.close()
