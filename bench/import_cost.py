"""What the order of imports costs on top of the layout, and what the removal of unused ones does.

    python bench/import_cost.py FILE_OR_FOLDER … --language python [--rounds 5]

Each file is laid out with the imports kept, put in order, and (with --set import.unused=remove) as
the settings say, in turn, in one run; of all rounds the least time of each counts. Once more for the
results, in which nothing is left to do.
"""

from __future__ import annotations

import argparse
import gc
import sys
import time
from pathlib import Path

import stilo
from corpus import files_of


def seconds(text: bytes, language: stilo.Language, style: dict[str, str], name: str) -> float:
    """How long a text takes."""
    begin = time.perf_counter()
    stilo.reformat(text, language, style, name=name)
    return time.perf_counter() - begin


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("paths", type=Path, nargs="+")
    parser.add_argument("--language", required=True)
    parser.add_argument("--rounds", type=int, default=5)
    parser.add_argument("--set", action="append", default=[], metavar="NAME=VALUE")
    arguments = parser.parse_args()
    gc.set_threshold(200_000, 50, 50)
    language = stilo.load_language(arguments.language)
    on = {"import.order": "groups", **dict(i.split("=", 1) for i in arguments.set)}
    files = [p for p in arguments.paths if p.is_file()]
    files += files_of([p for p in arguments.paths if p.is_dir()], language.files)
    texts = []
    for path in files:
        try:
            texts.append((path, path.read_bytes(), stilo.reformat(path.read_bytes(), language, on)))
        except stilo.StiloError as error:
            print(f"left out: {error}")
    worst = 0.0
    for title, chosen in (
        ("as found", [(path, data) for path, data, _ in texts]),
        ("in order", [(path, result.data) for path, _, result in texts]),
    ):
        without = with_order = 0.0
        for path, data in chosen:
            times = [
                (seconds(data, language, {}, str(path)), seconds(data, language, on, str(path)))
                for _ in range(arguments.rounds)
            ]
            without += min(pair[0] for pair in times)
            with_order += min(pair[1] for pair in times)
        share = with_order / without - 1
        worst = max(worst, share)
        changed = sum(bool(r.order_counts) for _, _, r in texts) if title == "as found" else 0
        print(
            f"{title}: {len(chosen)} files ({changed} with imports to change), layout "
            f"{without:.2f} s, with imports {with_order:.2f} s: {share:+.1%}"
        )
    return 0 if worst < 0.15 else 1


if __name__ == "__main__":
    sys.exit(main())
