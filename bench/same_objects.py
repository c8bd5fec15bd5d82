"""Compile original and laid out sources of C or C++ and compare the object files.

    python bench/same_objects.py FOLDER [--include DIR …] [--compiler gcc] [--limit N] [--flag=…]
        [--set NAME=VALUE …] [--order-alone]

FOLDER is copied twice, and in the second copy all sources and headers are laid out. Each unit that
compiles in the first copy is compiled in the second, and the object files must be identical to the
byte. Line numbers are left out of both: no debugging information, no assertions, `__LINE__` is 0.
A macro may make a text of its argument (`#argument`), in which one space more or less shows: where this
alone differs, it is said so.
Units that do not compile as they are (generated headers, other systems) are counted and left.
"""

from __future__ import annotations

import argparse
import shutil
import subprocess
import sys
import tempfile
from collections import Counter
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from pathlib import Path

import stilo

FLAGS = ("-c", "-g0", "-O1", "-w", "-DNDEBUG", "-D__LINE__=0", "-Wno-builtin-macro-redefined")
UNITS = {"c": ("*.c",), "cpp": ("*.cpp", "*.cc", "*.cxx")}
HEADERS = ("*.h", "*.hpp", "*.hh", "*.inc")


def lay_out(language: str, values: dict[str, str], only_order: bool, path: str) -> str:
    """Lay a file out in place, or put its includes in order. Returns what became of it."""
    file = Path(path)
    raw = file.read_bytes()
    try:
        result = stilo.reformat(raw, language, values, name=path, only_order=only_order)
    except stilo.StiloError as error:
        return f"refused: {error}"
    if result.changed:
        file.write_bytes(result.data)
    return "changed" if result.changed else "same"


def compare(
    before: str, after: str, command: Sequence[str], scratch: str, unit: str
) -> tuple[str, str]:
    """Compile a unit in both folders. Returns the unit and what was found."""
    objects = []
    for number, root in enumerate((before, after)):
        out = Path(scratch) / f"{unit.replace('/', '_')}.{number}.o"
        try:
            done = subprocess.run(
                [*command, unit, "-o", str(out)], cwd=root, capture_output=True, timeout=300
            )
        except subprocess.TimeoutExpired:
            return unit, "not compiled as it is"
        if done.returncode:
            message = done.stderr.decode("utf-8", "replace").split("\n")
            return (
                unit, f"fails once laid out: {message[:2]}" if number else "not compiled as it is"
            )
        objects.append(out.read_bytes())
        out.unlink()
    if objects[0] == objects[1]:
        return unit, "identical"
    plain = [preprocessed(root, command, unit) for root in (before, after)]
    is_said = plain[0] == plain[1]
    return unit, "differs by spaces in texts that a macro makes" if is_said else "DIFFERS"


def preprocessed(root: str, command: Sequence[str], unit: str) -> bytes:
    """What the preprocessor makes of a unit, without any white space, and with pieces of strings joined."""
    arguments = [argument for argument in command if argument != "-c"]
    done = subprocess.run([*arguments, "-E", "-P", unit], cwd=root, capture_output=True)
    return b"".join(done.stdout.split()).replace(b'""', b"")


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path)
    parser.add_argument("--language", default="c", choices=sorted(UNITS))
    parser.add_argument("--include", action="append", default=[], help="below the folder")
    parser.add_argument("--compiler", default="")
    parser.add_argument("--flag", action="append", default=[])
    parser.add_argument("--set", action="append", default=[], metavar="NAME=VALUE")
    parser.add_argument("--order-alone", action="store_true", help="leave the layout as it is")
    parser.add_argument("--limit", type=int, default=10 ** 9)
    parser.add_argument("--jobs", type=int, default=2)
    arguments = parser.parse_args()
    values = dict(pair.split("=", 1) for pair in arguments.set)
    compiler = arguments.compiler or {"c": "gcc", "cpp": "g++"}[arguments.language]
    includes = [f"-I{name}" for name in (".", *arguments.include)]
    command = [compiler, *FLAGS, *includes, *arguments.flag]
    with tempfile.TemporaryDirectory() as scratch, ProcessPoolExecutor(arguments.jobs) as pool:
        before, after = Path(scratch, "before"), Path(scratch, "after")
        shutil.copytree(arguments.folder, before, symlinks=True)
        shutil.copytree(arguments.folder, after, symlinks=True)
        globs = (*UNITS[arguments.language], *HEADERS)
        files = sorted({str(p) for g in globs for p in after.rglob(g) if p.is_file()})
        laid = Counter[str]()
        work = partial(lay_out, arguments.language, values, arguments.order_alone)
        for path, became in zip(files, pool.map(work, files)):
            laid[became.partition(":")[0]] += 1
            if became.startswith("refused"):
                print(became.replace(str(after), "")[:200])
        units = sorted(
            str(p.relative_to(before))
            for g in UNITS[arguments.language]
            for p in before.rglob(g)
            if p.is_file()
        )[:arguments.limit]
        compiled = partial(compare, str(before), str(after), command, scratch)
        found = Counter[str]()
        for unit, result in pool.map(compiled, units, chunksize=4):
            found[result.partition(":")[0]] += 1
            if result not in ("identical", "not compiled as it is"):
                print(f"{unit}: {result}")
    print("files:", ", ".join(f"{name}: {count}" for name, count in sorted(laid.items())))
    print("units:", ", ".join(f"{name}: {count}" for name, count in sorted(found.items())))
    return 1 if {"DIFFERS", "fails once laid out"} & set(found) else 0


if __name__ == "__main__":
    sys.exit(main())
