"""What all tests share."""

from __future__ import annotations

from pathlib import Path

import pytest
from click.testing import CliRunner

import stilo

CASES = Path(__file__).parent / "cases"
DEMO = Path(stilo.__file__).parent / "languages" / "demo"


@pytest.fixture
def run():
    """Run the command line in this process: run("proof", path) → click's result."""
    from stilo.cli.main import main

    runner = CliRunner()

    def call(*arguments: object, text: bytes | None = None):
        return runner.invoke(main, [str(a) for a in arguments], input=text)

    return call
