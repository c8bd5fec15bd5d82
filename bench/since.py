"""The whole job against an earlier commit, file by file in turn.

    python bench/since.py COMMIT FOLDER... --language java [--limit N]

Takes the earlier sources from git into a temporary folder, starts one process
with each version, has both lay out the same files in turn, and prints the CPU
seconds of each and their ratio. Fetches nothing.
"""

from __future__ import annotations

import argparse
import io
import os
import subprocess
import sys
import tarfile
import tempfile
from pathlib import Path

import stilo
from corpus import files_of

ROOT = Path(__file__).parent.parent
WORKER = """
import gc, sys, time
import stilo
gc.disable()  # as it is while a text is laid out
language = stilo.load_language(sys.argv[1])
for line in sys.stdin:
    data = open(line.rstrip("\\n"), "rb").read()
    start = time.process_time()
    try:
        stilo.reformat(data, language)
    except stilo.StiloError:
        start = time.process_time()
    print(time.process_time() - start, flush=True)
"""


def worker(source: Path, language: str) -> subprocess.Popen[str]:
    return subprocess.Popen(
        [sys.executable, "-c", WORKER, language],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        text=True,
        env={**os.environ, "PYTHONPATH": str(source)},
    )


def seconds(process: subprocess.Popen[str], path: Path) -> float:
    assert process.stdin is not None and process.stdout is not None
    process.stdin.write(f"{path}\n")
    process.stdin.flush()
    return float(process.stdout.readline())


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("commit")
    parser.add_argument("folder", type=Path, nargs="+")
    parser.add_argument("--language", required=True)
    parser.add_argument("--limit", type=int, default=10 ** 9)
    arguments = parser.parse_args()
    with tempfile.TemporaryDirectory() as folder:
        packed = subprocess.run(
            ["git", "archive", arguments.commit, "src"], cwd=ROOT, capture_output=True, check=True
        )
        with tarfile.open(fileobj=io.BytesIO(packed.stdout)) as archive:
            archive.extractall(folder)
        before = worker(Path(folder) / "src", arguments.language)
        after = worker(ROOT / "src", arguments.language)
        globs = stilo.load_language(arguments.language).files
        paths = files_of(arguments.folder, globs)[:arguments.limit]
        for path in paths[:20]:  # the sheets are read, the rules met
            seconds(before, path), seconds(after, path)
        old = new = 0.0
        for path in paths:
            old += seconds(before, path)
            new += seconds(after, path)
        for process in (before, after):
            process.communicate()
    print(f"{len(paths)} files: {old:.1f} s before, {new:.1f} s now: {new / old:.2f} times")
    return 0


if __name__ == "__main__":
    sys.exit(main())
