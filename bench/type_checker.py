"""Lay a typed package out and compare what a type checker says of it before and after.

    python bench/type_checker.py FOLDER [--set NAME=VALUE]

FOLDER is a package with types, and with comments that tell a checker to pass over a line. Copies of it are
checked by mypy, as they are and laid out, with unused suppressions told; every message must stand at the same
statement in both. mypy has to be installed beside Stilo.
"""

from __future__ import annotations

import argparse
import ast
import re
import shutil
import subprocess
import sys
import tempfile
from collections import Counter
from pathlib import Path

import stilo

_SAID = re.compile(r"^(?P<path>[^:]+):(?P<line>\d+): (?P<what>.*)$")
_SUPPRESSED = re.compile(r"#\s*type:\s*ignore")


def messages(root: Path, package: str, cache: Path) -> list[str]:
    """What the checker says of a package in a folder."""
    done = subprocess.run(
        [
            sys.executable,
            "-m",
            "mypy",
            "--strict",
            "--warn-unused-ignores",
            "--no-error-summary",
            "--hide-error-context",
            "--config-file=",
            f"--cache-dir={cache}",
            package,
        ],
        cwd=root,
        capture_output=True,
        text=True,
    )
    if done.returncode > 1:
        sys.exit(done.stderr or done.stdout)
    return done.stdout.splitlines()


def statements(path: Path) -> dict[int, int]:
    """Each line of a file → the number, in order, of the innermost statement on it."""
    found: dict[int, int] = {}
    nodes = [n for n in ast.walk(ast.parse(path.read_bytes())) if isinstance(n, ast.stmt)]
    nodes.sort(key=lambda node: (node.lineno, node.col_offset))
    for number, node in enumerate(nodes):
        decorators = [d.lineno for d in getattr(node, "decorator_list", ())]
        for line in range(min([node.lineno, *decorators]), (node.end_lineno or node.lineno) + 1):
            found[line] = number
    return found


def at_statements(said: list[str], root: Path) -> Counter[tuple[str, int, str]]:
    """The messages, by the statements that they stand at."""
    known: dict[str, dict[int, int]] = {}
    counted: Counter[tuple[str, int, str]] = Counter()
    for line in said:
        found = _SAID.match(line)
        if found is None:
            continue
        path = found["path"]
        numbers = known.setdefault(path, statements(root / path))
        what = re.sub(r"\bline \d+", "line", found["what"])
        counted[path, numbers.get(int(found["line"]), -1), what] += 1
    return counted


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path)
    parser.add_argument("--set", action="append", default=[], metavar="NAME=VALUE")
    arguments = parser.parse_args()
    style = dict(item.split("=", 1) for item in arguments.set)
    package = arguments.folder.resolve()
    with tempfile.TemporaryDirectory() as scratch:
        roots = [Path(scratch) / name for name in ("before", "after")]
        for root in roots:
            shutil.copytree(package, root / package.name)
        changed = suppressed = 0
        for path in sorted((roots[1] / package.name).rglob("*.py*")):
            if path.suffix not in (".py", ".pyi"):
                continue
            result = stilo.reformat(path.read_bytes(), "python", style, name=path.name)
            suppressed += len(_SUPPRESSED.findall(result.text))
            changed += result.changed
            path.write_bytes(result.data)
        cache = Path(scratch) / "cache"
        counts = []
        for root in roots:
            said = messages(root, package.name, cache / root.name)
            counts.append(at_statements(said, root))
    before, after = counts
    for (path, _, what), number in sorted(((before - after) + (after - before)).items()):
        print(f"differs: {path}: {what} ({number})")
    print(
        f"{package.name}: {changed} files changed, {suppressed} suppressions; "
        f"messages before {sum(before.values())}, after {sum(after.values())}, "
        f"the same at the same statements {sum((before & after).values())}"
    )
    return int(before != after)


if __name__ == "__main__":
    sys.exit(main())
