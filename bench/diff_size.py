"""How many lines of code that is already decent would change, and which settings ask for it.

    python bench/diff_size.py FOLDER [FOLDER …] --language python --set width=79

Prints, for each folder, the lines changed of a thousand, and for all of them the places by setting. Files that are
refused are left out and counted. Fetches nothing.
"""

from __future__ import annotations

import argparse
import sys
from collections import Counter
from pathlib import Path

import stilo
from corpus import files_of
from stilo.edits import lines_touched

#: How many settings are listed.
MOST = 30


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path, nargs="+")
    parser.add_argument("--language", required=True)
    parser.add_argument("--limit", type=int, default=1_000_000)
    parser.add_argument("--set", action="append", default=[], metavar="NAME=VALUE")
    arguments = parser.parse_args()
    style = dict(item.split("=", 1) for item in arguments.set)
    language = stilo.load_language(arguments.language)
    globs = [glob for glob in language.facts.globs if glob != "*.ipynb"]
    settings: Counter[str] = Counter()
    total = total_changed = 0
    for folder in arguments.folder:
        lines = changed = files = refused = 0
        for path in files_of([folder], globs)[:arguments.limit]:
            try:
                result = stilo.reformat(path.read_bytes(), language, style)
            except stilo.StiloError:
                refused += 1
                continue
            files += 1
            lines += result.source.line_count
            if result.changed:
                changed += lines_touched(result.source.raw, result.edits)
                settings.update(finding.reason.short() for finding in result.findings)
        print(
            f"{1000 * changed / max(1, lines):6.1f} of 1,000 lines change: {folder.name}, {files} files, "
            f"{lines:,} lines, {refused} refused"
        )
        total, total_changed = total + lines, total_changed + changed
    print(f"{1000 * total_changed / max(1, total):6.1f} of 1,000 in all; places by setting:")
    for name, count in settings.most_common(MOST):
        print(f"{1000 * count / max(1, total):6.2f} of 1,000 lines  {name}")
    return 0


if __name__ == "__main__":
    sys.exit(main())
