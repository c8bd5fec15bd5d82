"""Count the lines that a file has in each named style: python examples/compare_styles.py FILE"""

import sys
from pathlib import Path

import stilo


def heights(path: Path) -> dict[str, tuple[int, int]]:
    """Named style → lines of the file, and the widest of them."""
    found = {}
    for name in ("default", *stilo.style_names()):
        text = stilo.reformat_file(path, styles=stilo.Styles(style=name)).text
        lines = text.splitlines()
        found[name] = (len(lines), max(map(len, lines), default=0))
    return found


if __name__ == "__main__":
    for name, (lines, widest) in heights(Path(sys.argv[1])).items():
        print(f"{name:20} {lines:5} lines, the widest of {widest:3} columns")
