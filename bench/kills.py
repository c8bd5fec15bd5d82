"""Kill `stilo apply` at random moments, and see that each file is wholly old or wholly new.

    python bench/kills.py FOLDER [--files 200] [--kills 2000] [--seed 1]

Works on copies of files of the folder, none of which is in the demo style. Each time the run is killed by
SIGKILL, alone or with the processes that work for it, at a moment between its start and the time it needs. Then
each file must be old or new, and the cache must open and be sound. In every fourth round the run is begun again
and left alone: all must be new then, and nothing may be left beside the files. Prints the counts.
"""

from __future__ import annotations

import argparse
import os
import random
import shutil
import signal
import sqlite3
import subprocess
import sys
import tempfile
import time
from collections import Counter
from contextlib import closing
from pathlib import Path

import stilo

ROOT = Path(__file__).parent.parent
#: Far enough from what people write that every file changes.
SETTINGS = ("--width", "60", "--indent", "3")


def chosen(folder: Path, count: int, random_: random.Random) -> dict[str, bytes]:
    """Names and old texts of files that change, and are no longer than most."""
    found: dict[str, bytes] = {}
    paths = sorted(p for p in folder.rglob("*.py") if 500 < p.stat().st_size < 6_000)
    random_.shuffle(paths)
    for path in paths:
        data = path.read_bytes()
        try:
            is_changed = stilo.reformat(data, "python", {"width": 60, "indent": 3}).changed
        except stilo.StiloError:
            continue
        if is_changed:
            found[f"{len(found):03}_{path.name}"] = data
        if len(found) == count:
            break
    return found


def start(place: Path, cache: Path, jobs: int) -> subprocess.Popen[bytes]:
    """A run of `stilo apply` in a group of processes of its own."""
    return subprocess.Popen(
        [sys.executable, "-m", "stilo", "apply", ".", "--jobs", str(jobs), *SETTINGS],
        cwd=place,
        env={**os.environ, "PYTHONPATH": str(ROOT / "src"), "STILO_CACHE": str(cache)},
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
        start_new_session=True,
    )


def restore(place: Path, old: dict[str, bytes]) -> None:
    """Put the old texts back where they are not."""
    for name, data in old.items():
        path = place / name
        if not path.exists() or path.read_bytes() != data:
            path.write_bytes(data)


def is_sound(cache: Path) -> bool:
    """Whether the cache opens and holds together."""
    path = cache / "known.sqlite3"
    if not path.exists():
        return True
    with closing(sqlite3.connect(path)) as store:
        return store.execute("PRAGMA integrity_check").fetchone() == ("ok",)


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path)
    parser.add_argument("--files", type=int, default=200)
    parser.add_argument("--kills", type=int, default=2000)
    parser.add_argument("--seed", type=int, default=1)
    arguments = parser.parse_args()
    random_ = random.Random(arguments.seed)
    old = chosen(arguments.folder, arguments.files, random_)
    counts: Counter[str] = Counter()
    with tempfile.TemporaryDirectory() as home:
        place, cache = Path(home, "files"), Path(home, "cache")
        place.mkdir()
        restore(place, old)
        begin = time.perf_counter()
        start(place, cache, 2).wait()
        needed = time.perf_counter() - begin
        new = {name: (place / name).read_bytes() for name in old}
        print(f"{len(old)} files; a whole run takes {needed:.2f} s", flush=True)
        while counts["kills"] < arguments.kills:
            restore(place, old)
            if random_.random() < 0.5:  # else some files are known
                shutil.rmtree(cache, ignore_errors=True)
            run = start(place, cache, random_.choice((1, 2)))
            time.sleep(random_.uniform(0, needed))
            if run.poll() is not None:
                counts["done before it was killed"] += 1
                continue
            counts["kills"] += 1
            if random_.random() < 0.5:
                os.killpg(run.pid, signal.SIGKILL)
            else:
                run.kill()
            run.wait()
            while _lives(run.pid):  # those that worked for it end by themselves
                time.sleep(0.02)
            for name in old:
                data = (place / name).read_bytes()
                counts["files old" if data == old[name] else "files new"] += 1
                if data not in (old[name], new[name]):
                    counts["TORN FILES"] += 1
            counts["names beside files after the kill"] += len(list(place.iterdir())) - len(old)
            if not is_sound(cache):
                counts["CACHES UNSOUND"] += 1
            if counts["kills"] % 4 == 0:
                counts["runs begun again"] += 1
                if (
                    start(place, cache, 2).wait()
                    or any((place / name).read_bytes() != new[name] for name in old)
                ):
                    counts["RUNS THAT DID NOT COMPLETE"] += 1
                counts["NAMES LEFT BESIDE FILES"] += len(list(place.iterdir())) - len(old)
            if counts["kills"] % 200 == 0:
                print(f"{counts['kills']} kills", flush=True)
    for name, count in sorted(counts.items()):
        print(f"{count:8}  {name}")
    return 1 if any(count for name, count in counts.items() if name.isupper()) else 0


def _lives(group: int) -> bool:
    """Whether a group of processes still has one."""
    try:
        os.killpg(group, 0)
    except ProcessLookupError:
        return False
    return True


if __name__ == "__main__":
    sys.exit(main())
