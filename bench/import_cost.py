"""What the order of imports costs on top of the layout, and what the removal of unused ones does.

    python bench/import_cost.py FILE_OR_FOLDER … --language python [--rounds 5]

Each file is laid out with the imports kept, put in order, and (with --set import.unused=remove) as
the settings say, in turn, in one run; of all rounds the least time of each counts. Once more for the
results, in which nothing is left to do.

    python bench/import_cost.py … --instructions

counts instructions instead (with valgrind), which does not depend on what else the machine is doing:
of the texts as found, laid out alone, in order, and without what is unused.
"""

from __future__ import annotations

import argparse
import os
import subprocess
import sys
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import stilo
from corpus import files_of


def seconds(text: bytes, language: stilo.Language, style: dict[str, str], name: str) -> float:
    """How long a text takes."""
    begin = time.perf_counter()
    stilo.reformat(text, language, style, name=name)
    return time.perf_counter() - begin


#: What is counted one by one; the first is all that is done but once.
STYLES: dict[str, dict[str, str]] = {
    "once": {},
    "layout": {},
    "order": {"import.order": "groups"},
    "removal": {"import.order": "groups", "import.unused": "remove"},
}


def run(files: list[Path], language: stilo.Language, name: str) -> None:
    """Lay files out in one of the styles that are counted."""
    for style in STYLES.values():
        stilo.reformat(files[0].read_bytes(), language, style)
    for path in files if name != "once" else ():
        try:
            stilo.reformat(path.read_bytes(), language, STYLES[name], name=str(path))
        except stilo.StiloError:
            continue


def instructions(name: str, arguments: argparse.Namespace) -> int:
    """How many instructions one of these runs takes."""
    command = ["valgrind", "--tool=callgrind", "--callgrind-out-file=/dev/null", sys.executable]
    command += [__file__, *map(str, arguments.paths), "--language", arguments.language]
    environment = {**os.environ, "PYTHONHASHSEED": "0"}
    done = subprocess.run(
        [*command, "--run", name], env=environment, capture_output=True, text=True, check=True
    )
    return int(done.stderr.split("Collected :")[1].split()[0])


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("paths", type=Path, nargs="+")
    parser.add_argument("--language", required=True)
    parser.add_argument("--rounds", type=int, default=5)
    parser.add_argument("--set", action="append", default=[], metavar="NAME=VALUE")
    parser.add_argument("--instructions", action="store_true")
    parser.add_argument("--run", choices=STYLES, help="do no more than what is counted for this")
    arguments = parser.parse_args()
    if arguments.instructions:
        with ThreadPoolExecutor(2) as pool:
            counts = list(pool.map(lambda name: instructions(name, arguments), STYLES))
        layout, order, removal = (count - counts[0] for count in counts[1:])
        print(
            f"layout {layout:,} instructions, with order {order / layout - 1:+.1%}, with removal "
            f"{removal / layout - 1:+.1%}"
        )
        return 0 if removal < 1.15 * layout else 1
    language = stilo.load_language(arguments.language)
    on = {"import.order": "groups", **dict(i.split("=", 1) for i in arguments.set)}
    files = [p for p in arguments.paths if p.is_file()]
    files += files_of([p for p in arguments.paths if p.is_dir()], language.facts.globs)
    if arguments.run:
        run(files, language, arguments.run)
        return 0
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
