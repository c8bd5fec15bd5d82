"""Put small faults into the code, one at a time, and see whether the tests notice.

    python bench/mutants.py [--count 60] [--seed 1] [--tests tests/layout]... [PACKAGE...]

Needs the package cosmic-ray, whose operators make the faults: a comparison turned round, `and` for
`or`, a number that is one more, a loop that never runs. A sample is drawn from all that can be put
into the packages named (layout, sheet, order, verify and style, if none is). For each, the tests run
on a copy of the code until the first fails: those that are quick or about its package come first. Prints each fault
that no test noticed, and the share that some did.
"""

from __future__ import annotations

import argparse
import difflib
import os
import random
import shutil
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from typing import Any, NamedTuple

from cosmic_ray import plugins
from cosmic_ray.ast import ast_nodes, get_ast
from cosmic_ray.mutating import mutate_code

ROOT = Path(__file__).parent.parent
PACKAGES = ("layout", "sheet", "order", "verify", "style")
#: Operators by the beginnings of their names. Those of `|` are left out: it joins types in annotations,
#: which nothing runs.
OPERATORS = (
    "core/AddNot",
    "core/NumberReplacer",
    "core/ReplaceAndWithOr",
    "core/ReplaceOrWithAnd",
    "core/ReplaceBreakWithContinue",
    "core/ReplaceContinueWithBreak",
    "core/ReplaceFalseWithTrue",
    "core/ReplaceTrueWithFalse",
    "core/ReplaceUnaryOperator_Delete_Not",
    "core/ZeroIterationForLoop",
    "core/ReplaceComparisonOperator",
    "core/ReplaceBinaryOperator_Add_Sub",
    "core/ReplaceBinaryOperator_Sub_Add",
    "core/ReplaceBinaryOperator_Mul_Add",
)
#: Seconds after which a fault counts as noticed: the tests hang.
LONGEST = 1200
#: Tests that take a few seconds, and notice most.
QUICK = ("tests/test_cases.py", "tests/test_guards.py")


class Fault(NamedTuple):
    """A fault: in which file, by which operator, at which of its places."""

    path: Path
    operator: str
    place: int


def faults_in(path: Path) -> list[Fault]:
    """All faults that can be put into a file."""
    nodes = list(ast_nodes(get_ast(path.read_text())))
    found: list[Fault] = []
    for name in plugins.operator_names():
        if name.startswith(OPERATORS):
            operator: Any = plugins.get_operator(name)()
            count = sum(len(list(operator.mutation_positions(node))) for node in nodes)
            found += [Fault(path, name, place) for place in range(count)]
    return found


def drawn(faults: list[Fault], count: int, seed: int) -> list[Fault]:
    """A sample: as many of each operator as of any other, and of each the files at random."""
    chance = random.Random(seed)
    by_operator: dict[str, list[Fault]] = {}
    for fault in faults:
        kind = next(name for name in OPERATORS if fault.operator.startswith(name))
        by_operator.setdefault(kind, []).append(fault)
    for some in by_operator.values():
        chance.shuffle(some)
    chosen: list[Fault] = []
    while len(chosen) < count and any(by_operator.values()):
        for some in by_operator.values():
            if some and len(chosen) < count:
                chosen.append(some.pop())
    return chosen


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("packages", nargs="*", default=PACKAGES, metavar="PACKAGE")
    parser.add_argument("--count", type=int, default=60)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--tests", action="append", default=[], help="Only these tests.")
    parser.add_argument("--processes", default="2")
    arguments = parser.parse_args()
    source = ROOT / "src" / "stilo"
    paths = sorted(p for name in arguments.packages for p in (source / name).rglob("*.py"))
    faults = [fault for path in paths for fault in faults_in(path)]
    chosen = drawn(faults, arguments.count, arguments.seed)
    print(f"{len(faults)} faults can be made in {len(paths)} files; {len(chosen)} are tried")
    missed = tried = 0
    with tempfile.TemporaryDirectory() as folder:
        copy = Path(folder) / "copy"
        shutil.copytree(
            ROOT, copy, ignore=shutil.ignore_patterns(".git", ".venv", "__pycache__", ".hypothesis")
        )
        if is_noticed(copy, arguments.tests, arguments.processes):
            print("the tests fail as it is; nothing is tried")
            return 2
        for fault in chosen:
            target = copy / fault.path.relative_to(ROOT)
            whole = target.read_text()  # as it was at the start, whatever is worked on meanwhile
            operator: Any = plugins.get_operator(fault.operator)()
            changed = mutate_code(whole, operator, fault.place)
            if changed is None or changed == whole:
                continue
            tried += 1
            target.write_text(changed)
            begin = time.monotonic()
            own = f"tests/{fault.path.relative_to(source).parts[0]}"
            first = [*QUICK, *([own] if (copy / own).is_dir() else [])]
            noticed = any(
                is_noticed(copy, tests, arguments.processes) for tests in (first, arguments.tests)
            )
            target.write_text(whole)
            missed += not noticed
            word = "noticed" if noticed else "MISSED"
            where = fault.path.relative_to(source)
            print(f"{word} {time.monotonic() - begin:4.0f} s  {where}  {fault.operator[5:]}")
            if not noticed:
                lines = difflib.unified_diff(
                    whole.splitlines(), changed.splitlines(), lineterm="", n=0
                )
                print("\n".join(f"      {line}" for line in list(lines)[2:]), flush=True)
    print(f"{tried - missed} of {tried} noticed: {(tried - missed) / max(1, tried):.0%}")
    return 0


def is_noticed(copy: Path, tests: list[str], processes: str) -> bool:
    """Whether some test fails on a copy of the code."""
    environment = {**os.environ, "PYTHONPATH": str(copy / "src"), "PYTHONDONTWRITEBYTECODE": "1"}
    command = [
        sys.executable,
        "-m",
        "pytest",
        "-q",
        "-x",
        "-n",
        processes,
        "-p",
        "no:cacheprovider",
    ]
    try:
        done = subprocess.run(
            [*command, *tests], cwd=copy, env=environment, capture_output=True, timeout=LONGEST
        )
    except subprocess.TimeoutExpired:
        return True
    return done.returncode != 0


if __name__ == "__main__":
    sys.exit(main())
