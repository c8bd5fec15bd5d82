"""A whole folder by one process and by several: the time of each, and whether all files are the same.

    python bench/many.py FOLDER [--jobs 2] [--rounds 3]

Copies the folder, with no cache begins `stilo apply .` in the copy, runs it once more, when nothing is left to do,
and again after one file was changed. Prints the least seconds of all rounds by the clock. Fetches nothing.
"""

from __future__ import annotations

import argparse
import filecmp
import os
import shutil
import subprocess
import sys
import tempfile
import time
from pathlib import Path

ROOT = Path(__file__).parent.parent


def apply(folder: Path, cache: Path, jobs: int) -> tuple[float, str]:
    """Seconds that a run takes, and the last line that it says."""
    command = [sys.executable, "-m", "stilo", "apply", ".", "--jobs", str(jobs)]
    environment = {
        **os.environ, "PYTHONPATH": str(ROOT / "src"), "STILO_CACHE": str(cache)
    }
    start = time.perf_counter()
    done = subprocess.run(
        command, cwd=folder, env=environment, capture_output=True, text=True, check=False
    )
    return time.perf_counter() - start, done.stderr.splitlines()[-1]


def change(folder: Path) -> None:
    """Put a statement that is not in style at the end of the first Python file."""
    path = min(folder.rglob("*.py"))
    with path.open("ab") as stream:
        stream.write(b"\nberth = [ 1,2 ]\n")


def is_same(one: Path, other: Path) -> bool:
    """Whether two folders hold the same files with the same bytes."""
    compared = filecmp.dircmp(one, other)
    if compared.left_only or compared.right_only or compared.funny_files:
        return False
    _, differing, errors = filecmp.cmpfiles(one, other, compared.common_files, shallow=False)
    return (
        not differing
        and not errors
        and all(is_same(one / name, other / name) for name in compared.common_dirs)
    )


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path)
    parser.add_argument("--jobs", type=int, default=2)
    parser.add_argument("--rounds", type=int, default=3)
    arguments = parser.parse_args()
    with tempfile.TemporaryDirectory() as place:
        least: dict[str, float] = {}
        for _ in range(arguments.rounds):
            for jobs in (1, arguments.jobs):
                folder = Path(place, str(jobs))
                shutil.rmtree(folder, ignore_errors=True)
                shutil.copytree(
                    arguments.folder, folder, symlinks=True, ignore=shutil.ignore_patterns(".*")
                )
                cache = Path(place, f"cache{jobs}")
                shutil.rmtree(cache, ignore_errors=True)
                for name in ("", ", again", ", one file changed"):
                    if name.endswith("changed"):
                        change(folder)
                    seconds, said = apply(folder, cache, jobs)
                    name = f"{jobs} at a time{name}"
                    least[name] = min(seconds, least.get(name, seconds))
                    print(f"{seconds:7.2f} s  {name}: {said}", flush=True)
        same = is_same(Path(place, "1"), Path(place, str(arguments.jobs)))
    for name, seconds in least.items():
        print(f"{seconds:7.2f} s  {name}")
    many = f"{arguments.jobs} at a time"
    print(f"{least['1 at a time'] / least[many]:.2f} times as fast by {arguments.jobs}")
    print(f"{least[many] / least[f'{many}, again']:.0f} times as fast again")
    print("all files are the same" if same else "some files differ")
    return 0 if same else 1


if __name__ == "__main__":
    sys.exit(main())
