"""What all tests share."""

from __future__ import annotations

from pathlib import Path

import pytest
from click.testing import CliRunner
from hypothesis import settings

import stilo

# How long an example takes depends on who else works on the machine.
settings.register_profile("stilo", deadline=None)
settings.load_profile("stilo")

CASES = Path(__file__).parent / "cases"
DEMO = Path(stilo.__file__).parent / "languages" / "demo"


@pytest.fixture(autouse=True)
def personal(tmp_path_factory, monkeypatch) -> Path:
    """Where the personal file of this test would be; the tester's own is not read, nor is the cache."""
    folder = tmp_path_factory.mktemp("personal")
    monkeypatch.setenv("XDG_CONFIG_HOME", str(folder))
    monkeypatch.setenv("STILO_CACHE", str(folder / "cache"))
    return folder / "stilo" / "stilo.toml"


@pytest.fixture
def place(tmp_path, monkeypatch):
    """Write files below an empty folder, which is then the current one: place({"a/b.toml": text})."""
    monkeypatch.chdir(tmp_path)

    def write(files: dict[str, str]) -> Path:
        for name, text in files.items():
            path = tmp_path / name
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_bytes(text.encode())
        return tmp_path

    return write


@pytest.fixture
def run():
    """Run the command line in this process: run("proof", path) → click's result."""
    from stilo.cli.main import main

    runner = CliRunner()

    def call(*arguments: object, text: bytes | None = None):
        return runner.invoke(main, [str(a) for a in arguments], input=text)

    return call
