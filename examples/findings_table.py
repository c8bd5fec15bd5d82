"""List what is not in style in a folder, as a table: python examples/findings_table.py FOLDER"""

import sys
from collections import Counter
from pathlib import Path

import stilo


def table(folder: Path) -> list[str]:
    """A line for each setting: how many places it decides, and in how many files."""
    places: Counter[str] = Counter()
    files: Counter[str] = Counter()
    styles = stilo.Styles()
    for path in sorted(folder.rglob("*.py")):
        try:
            findings = stilo.reformat_file(path, styles=styles).findings
        except stilo.StiloError as error:
            print(error, file=sys.stderr)
            continue
        found = Counter(finding.reason.short() for finding in findings)
        places += found
        files.update(found.keys())
    return [f"{n:6} places in {files[name]:4} files: {name}" for name, n in places.most_common()]


if __name__ == "__main__":
    print(*table(Path(sys.argv[1])), sep="\n")
