"""The whole job against an earlier commit, file by file in turn: its time, and its results.

    python bench/since.py COMMIT FOLDER... --language java [--limit N] [--rounds N] [--set width=79]...
                          [--now build/installed]

Takes the earlier sources from git into a temporary folder, starts one process
with each version, has both lay out the same files in turn, and prints the CPU
seconds of each, their ratio, and the files that came out otherwise. Fetches nothing.

Each round starts new processes, since two of the same version differ by some hundredths; of each
file the least time counts. (Instructions, as valgrind counts them, mislead: what
takes half the time may take more of them.) With `--now build/installed`, this version runs as it is
installed, with modules compiled; `.ci/compiled` makes that folder.
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
import gc, hashlib, sys, time
import stilo
gc.disable()  # as the command line has it
language = stilo.load_language(sys.argv[1])
style = dict(pair.split("=", 1) for pair in sys.argv[2:])
for line in sys.stdin:
    data = open(line.rstrip("\\n"), "rb").read()
    start = time.process_time()
    try:
        found = stilo.reformat(data, language, style).data
    except stilo.StiloError as error:
        start = time.process_time()
        found = type(error).__name__.encode()
    print(time.process_time() - start, hashlib.sha256(found).hexdigest(), flush=True)
"""


def worker(source: Path, code: str, language: str, style: list[str]) -> subprocess.Popen[bytes]:
    """A process that runs code with the version in a folder, on the paths that it is given a line each."""
    return subprocess.Popen(
        [sys.executable, "-c", code, language, *style],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        env={**os.environ, "PYTHONPATH": str(source)},
    )


def sources_of(commit: str, folder: Path) -> Path:
    """Where the sources of a commit are, once they are taken from git into a folder."""
    packed = subprocess.run(
        ["git", "archive", commit, "src"], cwd=ROOT, capture_output=True, check=True
    )
    with tarfile.open(fileobj=io.BytesIO(packed.stdout)) as archive:
        archive.extractall(folder)
    return folder / "src"


def run(process: subprocess.Popen[bytes], path: Path) -> tuple[float, str]:
    """CPU seconds, and what tells one result from another."""
    assert process.stdin is not None and process.stdout is not None
    process.stdin.write(f"{path}\n".encode())
    process.stdin.flush()
    seconds, result = process.stdout.readline().decode().split()
    return float(seconds), result


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("commit")
    parser.add_argument("folder", type=Path, nargs="+")
    parser.add_argument("--language", required=True)
    parser.add_argument("--limit", type=int, default=10 ** 9)
    parser.add_argument("--rounds", type=int, default=1, help="how many processes of each version")
    parser.add_argument("--now", type=Path, default=ROOT / "src", help="where this version is")
    parser.add_argument("--set", action="append", default=[], metavar="NAME=VALUE")
    arguments = parser.parse_args()
    with tempfile.TemporaryDirectory() as folder:
        sources = [sources_of(arguments.commit, Path(folder)), arguments.now.resolve()]
        globs = stilo.load_language(arguments.language).facts.globs
        paths = files_of(arguments.folder, globs)[:arguments.limit]
        least: dict[Path, tuple[float, float]] = {}
        others: set[Path] = set()
        for _ in range(arguments.rounds):
            before, after = (
                worker(some, WORKER, arguments.language, arguments.set) for some in sources
            )
            for path in paths[:20]:  # the sheets are read, the rules met
                run(before, path), run(after, path)
            for path in paths:
                for _ in range(2):  # the first run may meet new rules
                    (then, old_result), (now, new_result) = run(before, path), run(after, path)
                    known = least.get(path, (then, now))
                    least[path] = (min(then, known[0]), min(now, known[1]))
                if old_result != new_result:
                    others.add(path)
            for process in (before, after):
                process.communicate()
        old = sum(then for then, _ in least.values())
        new = sum(now for _, now in least.values())
    print(
        f"{len(paths)} files: {old:.2f} s before, {new:.2f} s now: {new / old:.3f} times; "
        f"{len(others)} came out otherwise"
    )
    alike = [least[path] for path in paths if path not in others]
    if others and alike:
        then, now = map(sum, zip(*alike))
        print(f"{len(alike)} files that came out the same: {now / then:.3f} times")
    for path in sorted(others)[:20]:
        print(f"  {path}")
    return 0


if __name__ == "__main__":
    sys.exit(main())
