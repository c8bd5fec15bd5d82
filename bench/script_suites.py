"""The tests of JavaScript packages against laid-out copies of their sources and tests.

    python bench/script_suites.py FOLDER … --run "npx --no-install tape 'test/**/*.js'" [--set width=40]

Each folder is a package with all that it needs installed. The command runs in it, and in a copy in which every
script outside `node_modules` is laid out; both must end with the same status and say the same count of tests. Prints
both, and how many lines changed. Fetches nothing.
"""

from __future__ import annotations

import argparse
import re
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

import stilo

COUNTS = re.compile(r"^# (?:tests|pass|fail)\s+\d+", re.MULTILINE)


def outcome(command: str, folder: Path) -> tuple[int, tuple[str, ...]]:
    """The status with which a command ends in a folder, and the counts that it prints last."""
    done = subprocess.run(command, shell=True, cwd=folder, capture_output=True, text=True)
    return done.returncode, tuple(COUNTS.findall(done.stdout)[-3:])


def lay_out(folder: Path, values: dict[str, str]) -> tuple[int, int, int]:
    """Lay out the scripts of a package in place. Returns files, files refused, and lines that changed."""
    styles = stilo.Styles(values, "default", "javascript")
    files = refused = lines = 0
    for path in sorted(folder.rglob("*.js")):
        if "node_modules" in path.parts or path.is_symlink():
            continue
        files += 1
        try:
            result = stilo.reformat_file(path, styles=styles)
        except stilo.StiloError:
            refused += 1
            continue
        before = set(path.read_bytes().splitlines())
        lines += sum(line not in before for line in result.data.splitlines())
        path.write_bytes(result.data)
    return files, refused, lines


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path, nargs="+")
    parser.add_argument("--run", required=True)
    parser.add_argument("--set", action="append", default=[], metavar="NAME=VALUE")
    options = parser.parse_args()
    values = dict(item.split("=", 1) for item in options.set)
    is_same = True
    for folder in options.folder:
        before = outcome(options.run, folder)
        with tempfile.TemporaryDirectory() as place:
            copy = Path(place, "package")
            shutil.copytree(folder, copy, symlinks=True)
            files, refused, lines = lay_out(copy, values)
            after = outcome(options.run, copy)
        is_same = is_same and before == after
        print(f"{folder}: {files} files, {refused} refused, {lines:,} lines changed")
        print(f"  before: status {before[0]}, {', '.join(before[1])}")
        print(f"  after:  status {after[0]}, {', '.join(after[1])}")
    return int(not is_same)


if __name__ == "__main__":
    sys.exit(main())
