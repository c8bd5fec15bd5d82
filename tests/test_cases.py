"""Every file in cases/<language>: `name.in.x` laid out is `name.out.x`, and stays so.

Settings that are not the sheets' own stand in `name.style`, one `name=value` a line. To add a case, add the input, run `python tests/test_cases.py`, and read what it wrote.
"""

from __future__ import annotations

import sys
from pathlib import Path

import pytest

import stilo

CASES = Path(__file__).parent / "cases"
DEMO = Path(stilo.__file__).parent / "languages" / "demo"
EXPECTED = Path(__file__).parent.parent / "examples" / "skerry"
PAIRS = [
    *(
        (path, path.with_name(path.name.replace(".in.", ".out.")))
        for path in CASES.glob("*/*.in.*")
    ),
    *((path, EXPECTED / path.name) for path in sorted(filter(Path.is_file, DEMO.iterdir()))),
]


def style_of(given: Path) -> dict[str, str]:
    """The settings of a case."""
    path = given.with_name(given.name.split(".")[0] + ".style")
    return dict(line.split("=") for line in path.read_text().split()) if path.exists() else {}


def laid_out(path: Path, given: Path) -> stilo.Result | stilo.DocumentResult:
    """A file in the style of a case; the demo's in that of the sheets, not in our own."""
    named = "default" if given.parent == DEMO else None
    return stilo.reformat_file(path, styles=stilo.Styles(style_of(given), named))


@pytest.mark.parametrize("given, expected", PAIRS, ids=lambda path: path.name)
def test_case(given: Path, expected: Path) -> None:
    result = laid_out(given, given)
    assert result.data == expected.read_bytes()
    again = laid_out(expected, given)
    assert not again.changed
    assert not again.findings


def test_the_team_of_the_example_gets_its_own_style() -> None:
    expected = EXPECTED.parent / "team" / "Sailing.java"
    style = stilo.Styles().of(expected)
    result = stilo.reformat_styled((DEMO / "Sailing.java").read_bytes(), style)
    assert result.data == expected.read_bytes()
    assert not stilo.reformat_file(expected).changed


if __name__ == "__main__":
    for source, target in PAIRS:
        target.parent.mkdir(parents=True, exist_ok=True)
        data = laid_out(source, source).data
        if not target.exists() or target.read_bytes() != data:
            print(f"{target}: written", file=sys.stderr)
            target.write_bytes(data)
