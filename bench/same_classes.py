"""Compile original and reformatted sources of a module and compare the class files.

    python bench/same_classes.py SOURCE_FOLDER --module java.base --under java/util java/io

SOURCE_FOLDER holds the module's sources (for the JDK: the folder java.base of
its src.zip). Both sides are compiled with `javac -g:none --patch-module`, all
files in one call each; every class file must be identical to the byte.
"""

from __future__ import annotations

import argparse
import subprocess
import sys
import tempfile
from pathlib import Path

import stilo


def compile_tree(javac: str, module: str, root: Path, files: list[Path], out: Path) -> None:
    listing = out.with_suffix(".txt")
    listing.write_text("\n".join(str(root / f) for f in files))
    command = [
        javac,
        "-g:none",
        "-nowarn",
        "-proc:none",
        "-XDignore.symbol.file=true",
        "--patch-module",
        f"{module}={root}",
        "-d",
        str(out),
        f"@{listing}",
    ]
    done = subprocess.run(command, capture_output=True, text=True)
    if done.returncode:
        sys.exit(f"javac failed on {root}:\n{done.stderr[-3000:]}")


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path)
    parser.add_argument("--module", required=True)
    parser.add_argument("--under", nargs="+", required=True)
    parser.add_argument("--javac", default="javac")
    parser.add_argument("--set", action="append", default=[], metavar="NAME=VALUE")
    arguments = parser.parse_args()
    root: Path = arguments.folder.resolve()
    style = dict(item.split("=", 1) for item in arguments.set)
    files = sorted(
        path.relative_to(root)
        for under in arguments.under
        for path in (root / under).rglob("*.java")
        if path.name not in ("package-info.java", "module-info.java")
    )
    with tempfile.TemporaryDirectory() as scratch:
        laid_out = Path(scratch) / "laid-out"
        changed = 0
        for file in files:
            result = stilo.reformat_file(root / file, "java", style)
            changed += result.changed
            target = laid_out / file
            target.parent.mkdir(parents=True, exist_ok=True)
            target.write_bytes(result.data)
        sides = []
        for name, side in (("before", root), ("after", laid_out)):
            out = Path(scratch) / name
            out.mkdir()
            if side == root:  # only these files, so that both patches hold the same
                side = Path(scratch) / "original"
                for file in files:
                    target = side / file
                    target.parent.mkdir(parents=True, exist_ok=True)
                    target.write_bytes((root / file).read_bytes())
            compile_tree(arguments.javac, arguments.module, side, files, out)
            sides.append({p.relative_to(out): p.read_bytes() for p in out.rglob("*.class")})
    before, after = sides
    differing = sorted(
        str(p) for p in before.keys() | after.keys() if before.get(p) != after.get(p)
    )
    for path in differing:
        print(f"differs: {path}")
    print(
        f"files: {len(files)}, changed by layout: {changed}, classes: {len(before)}, "
        f"identical: {len(before) - len(differing)}"
    )
    return 1 if differing else 0


if __name__ == "__main__":
    sys.exit(main())
