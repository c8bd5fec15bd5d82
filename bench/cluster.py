"""`stilo apply` on a Dask cluster of two workers, one of which is killed while it works.

    python bench/cluster.py FOLDER [--workers 2]

Copies the folder twice, lays one copy out in this process and the other on the cluster, and compares all files.
Needs the extra `stilo[cluster]`.
"""

from __future__ import annotations

import argparse
import os
import shutil
import signal
import subprocess
import sys
import tempfile
import threading
import time
from pathlib import Path

from distributed import LocalCluster

from many import is_same

ROOT = Path(__file__).parent.parent


def apply(folder: Path, *options: str) -> tuple[float, str]:
    """Seconds that a run takes, and the last line that it says."""
    begin = time.perf_counter()
    done = subprocess.run(
        [sys.executable, "-m", "stilo", "apply", ".", *options],
        cwd=folder,
        env={**os.environ, "PYTHONPATH": str(ROOT / "src"), "STILO_CACHE": "off"},
        capture_output=True,
        text=True,
        check=False,
    )
    return time.perf_counter() - begin, done.stderr.splitlines()[-1]


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path)
    parser.add_argument("--workers", type=int, default=2)
    arguments = parser.parse_args()
    with tempfile.TemporaryDirectory() as place:
        one, other = Path(place, "one"), Path(place, "other")
        for copy in (one, other):
            shutil.copytree(
                arguments.folder, copy, symlinks=True, ignore=shutil.ignore_patterns(".*")
            )
        alone, said = apply(one, "--jobs", "1")
        print(f"{alone:6.1f} s  one process: {said}")
        with LocalCluster(
            n_workers=arguments.workers, threads_per_worker=1, dashboard_address=None
        ) as cluster:
            victim = next(iter(cluster.workers.values())).pid

            def kill() -> None:
                time.sleep(alone / arguments.workers / 2)
                os.kill(victim, signal.SIGKILL)

            thread = threading.Thread(target=kill)
            thread.start()
            seconds, said = apply(other, "--cluster", cluster.scheduler_address)
            thread.join()
        print(f"{seconds:6.1f} s  {arguments.workers} workers, one killed: {said}")
        same = is_same(one, other)
    print("all files are the same" if same else "some files differ")
    return 0 if same else 1


if __name__ == "__main__":
    sys.exit(main())
