"""Compile original and laid out C# files, each by itself, and compare what they disassemble to.

    python bench/same_assemblies.py FOLDER [--limit N] [--jobs N] [--set NAME=VALUE …]

Needs mcs and monodis (Debian: mono-mcs, mono-utils). Every file that compiles as it is is compiled once
more laid out; both assemblies are disassembled, and must be the same but for the number that each
compilation gets anew. Files that do not compile by themselves are counted and left.
"""

from __future__ import annotations

import argparse
import random
import re
import subprocess
import sys
import tempfile
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from pathlib import Path

import stilo

#: What differs in each compilation: the assembly's own number, and names made of it or of the file's.
NUMBER = re.compile(
    rb"(?m)^.*(?:MVID|Module GUID|\.mvid).*$|\{[0-9A-Fa-f-]{36}\}|PrivateImplementationDetails>?[^'\s]*"
)


def disassembled(folder: str, name: str) -> bytes | None:
    """What a file in a folder compiles to; None if it does not."""
    options = ["mcs", "-nologo", "-warn:0", "-unsafe", "-langversion:latest", "-debug-"]
    for target in ("exe", "library"):
        command = [*options, f"-target:{target}", f"-out:{name}.dll", f"{name}.cs"]
        try:
            done = subprocess.run(command, cwd=folder, capture_output=True, timeout=120)
        except subprocess.TimeoutExpired:
            return None
        if not done.returncode:
            shown = subprocess.run(["monodis", f"{name}.dll"], cwd=folder, capture_output=True)
            return NUMBER.sub(b"", shown.stdout)
    return None


def compare(values: dict[str, str], path: str) -> tuple[str, str]:
    """What became of a file, laid out with some settings."""
    raw = Path(path).read_bytes()
    try:
        result = stilo.reformat(raw, "csharp", values, name=path)
    except stilo.StiloError as error:
        return path, f"refused: {error}"
    found = []
    for number, data in enumerate((raw, result.data)):
        with tempfile.TemporaryDirectory() as folder:
            (Path(folder) / "unit.cs").write_bytes(data)
            found.append(disassembled(folder, "unit"))
        if found[-1] is None:
            return path, "fails once laid out" if number else "not compiled as it is"
    return path, "identical" if found[0] == found[1] else "DIFFERS"


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path)
    parser.add_argument("--limit", type=int, default=10 ** 9)
    parser.add_argument("--set", action="append", default=[], metavar="NAME=VALUE")
    parser.add_argument("--jobs", type=int, default=2)
    arguments = parser.parse_args()
    files = sorted(str(path) for path in arguments.folder.rglob("*.cs"))
    if arguments.limit < len(files):
        files = random.Random(1).sample(files, arguments.limit)
    values = dict(pair.split("=", 1) for pair in arguments.set)
    count = Counter[str]()
    with ProcessPoolExecutor(arguments.jobs) as pool:
        for path, found in pool.map(partial(compare, values), files, chunksize=4):
            count[found.partition(":")[0]] += 1
            if found not in ("identical", "not compiled as it is"):
                print(f"{path}: {found}"[:300])
    print(", ".join(f"{name}: {number}" for name, number in sorted(count.items())))
    return 1 if {"DIFFERS", "fails once laid out"} & set(count) else 0


if __name__ == "__main__":
    sys.exit(main())
