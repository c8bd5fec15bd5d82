"""How many lines of code that is already decent would change, now and before an earlier commit's work, and why.

    python bench/diff_size.py FOLDER [FOLDER …] --language python --set width=79 [--before COMMIT]

Prints, for each folder, the lines changed of a thousand by a common diff: those of the source that are replaced or
removed, and those that are put between two others. Below, the places of all folders by the setting that decided.
Files that are refused, and those of more than 5,000 lines, are left out and counted. With `--before`, the sources of
that commit, taken from git, lay the same files out. Fetches nothing.
"""

from __future__ import annotations

import argparse
import sys
import tempfile
from collections import Counter
from collections.abc import Sequence
from difflib import SequenceMatcher
from pathlib import Path

import stilo
from corpus import files_of
from since import sources_of, worker

#: How many settings are listed.
MOST = 30
#: A diff of more lines takes too long.
MOST_LINES = 5000
WORKER = """
import sys
import stilo
language = stilo.load_language(sys.argv[1])
style = dict(pair.split("=", 1) for pair in sys.argv[2:])
for line in sys.stdin:
    data = open(line.rstrip("\\n"), "rb").read()
    try:
        found = stilo.reformat(data, language, style).data
    except stilo.StiloError:
        found = b""
    sys.stdout.buffer.write(b"%d\\n" % len(found) + found)
    sys.stdout.buffer.flush()
"""


def lines_changed(old: bytes, new: bytes) -> int:
    """How many lines of a text a common diff changes; those put between two lines count, too."""
    before, after = (text.decode("utf-8", "replace").splitlines() for text in (old, new))
    blocks = SequenceMatcher(None, before, after, autojunk=False).get_opcodes()
    return sum(
        j2 - j1 if tag == "insert" else i2 - i1 for tag, i1, i2, j1, j2 in blocks if tag != "equal"
    )


def results(source: Path, paths: Sequence[Path], language: str, style: list[str]) -> list[bytes]:
    """The files as the version in a folder lays them out; nothing for those that it refuses."""
    found: list[bytes] = []
    with worker(source, WORKER, language, style) as process:
        assert process.stdin is not None and process.stdout is not None
        for path in paths:
            process.stdin.write(f"{path}\n".encode())
            process.stdin.flush()
            found.append(process.stdout.read(int(process.stdout.readline())))
        process.communicate()
    return found


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path, nargs="+")
    parser.add_argument("--language", required=True)
    parser.add_argument("--limit", type=int, default=1_000_000)
    parser.add_argument("--before", metavar="COMMIT")
    parser.add_argument("--set", action="append", default=[], metavar="NAME=VALUE")
    arguments = parser.parse_args()
    style = dict(item.split("=", 1) for item in arguments.set)
    language = stilo.load_language(arguments.language)
    globs = [glob for glob in language.facts.globs if glob != "*.ipynb"]
    settings: Counter[str] = Counter()
    all_lines, all_changed = 0, [0, 0]
    with tempfile.TemporaryDirectory() as temporary:
        earlier = sources_of(arguments.before, Path(temporary)) if arguments.before else None
        for folder in arguments.folder:
            paths = files_of([folder], globs)[:arguments.limit]
            old = results(earlier, paths, arguments.language, arguments.set) if earlier else []
            lines, changed, left = 0, [0, 0], 0
            for number, path in enumerate(paths):
                data = path.read_bytes()
                try:
                    result = stilo.reformat(data, language, style)
                except stilo.StiloError:
                    left += 1
                    continue
                if data.count(b"\n") > MOST_LINES or earlier and not old[number]:
                    left += 1
                    continue
                lines += result.source.line_count
                changed[0] += lines_changed(data, old[number]) if earlier else 0
                changed[1] += lines_changed(data, result.data)
                settings.update(finding.reason.short() for finding in result.findings)
            print(
                f"{shares(changed, lines, bool(earlier))}: {folder.name}, {lines:,} lines; {left} files left out"
            )
            all_lines += lines
            all_changed = [a + b for a, b in zip(all_changed, changed)]
    print(f"{shares(all_changed, all_lines, bool(arguments.before))} in all; places by setting:")
    for name, count in settings.most_common(MOST):
        print(f"{1000 * count / max(1, all_lines):6.2f} of 1,000 lines  {name}")
    return 0


def shares(changed: Sequence[int], lines: int, has_before: bool) -> str:
    """What is printed of lines that change: those of a thousand, before (if that was asked for) and now."""
    before, now = (1000 * count / max(1, lines) for count in changed)
    less = (
        f"{before:.1f} before, {100 * (1 - now / max(1e-9, before)):.0f} % less now: "
        if has_before
        else ""
    )
    return f"{less}{now:.1f} of 1,000 lines change"


if __name__ == "__main__":
    sys.exit(main())
