"""Lay modules of the standard library out, and run the library's own tests against the copies.

    python bench/python_modules.py --python /path/to/python3 [module …]
        [--set NAME=VALUE]

The tests are those of the Python given, which must come with its `test` package. Each module (or
package) is copied, laid out, and put before the original on the path of a new process.
"""

from __future__ import annotations

import argparse
import os
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

import stilo

MODULES = [
    "argparse",
    "ast",
    "asyncio",
    "bisect",
    "calendar",
    "configparser",
    "csv",
    "dataclasses",
    "decimal",
    "difflib",
    "email",
    "fractions",
    "heapq",
    "json",
    "pprint",
    "statistics",
    "string",
    "tarfile",
    "textwrap",
    "typing",
    "unittest",
    "uuid",
    "zipfile",
]
#: Modules whose code stands in another, too.
ALSO = {"decimal": ["_pydecimal"]}


def library_of(python: str) -> Path:
    """Where a Python keeps its standard library."""
    command = [python, "-c", "import sysconfig; print(sysconfig.get_path('stdlib'))"]
    return Path(subprocess.run(command, capture_output=True, text=True, check=True).stdout.strip())


def lay_out(source: Path, target: Path, settings: dict[str, str]) -> tuple[int, int]:
    """Copy a module or package and lay it out; files, and how many of them changed."""
    if source.is_dir():
        shutil.copytree(source, target, ignore=shutil.ignore_patterns("__pycache__"))
    else:
        shutil.copy(source, target)
    styles = stilo.Styles(settings, style="default", language="python")
    changed = 0
    paths = sorted(target.rglob("*.py")) if target.is_dir() else [target]
    for path in paths:
        result = stilo.reformat_styled(path.read_bytes(), styles.of(path), name=str(path))
        path.write_bytes(result.data)
        changed += result.changed
    return len(paths), changed


def run_tests(python: str, module: str, library: Path | None) -> str:
    """The outcome of a module's tests, with a folder before the path, or of the original."""
    environment = {**os.environ, "PYTHONDONTWRITEBYTECODE": "1"}
    environment.pop("PYTHONPATH", None)
    if library is not None:
        environment["PYTHONPATH"] = str(library)
    where = f"import {module}; print({module}.__file__)"
    found = subprocess.run([python, "-c", where], env=environment, capture_output=True, text=True)
    if library is not None and not found.stdout.startswith(str(library)):
        return f"not taken from the copy: {found.stdout or found.stderr}"
    command = [python, "-m", "test", f"test_{module}", "--timeout", "300"]
    done = subprocess.run(
        command, env=environment, capture_output=True, text=True, cwd=tempfile.gettempdir()
    )
    lines = [line for line in done.stdout.splitlines() if line.startswith("Result: ")]
    return (lines or [f"exit {done.returncode}"])[-1].removeprefix("Result: ")


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("modules", nargs="*", default=MODULES)
    parser.add_argument("--python", default=sys.executable)
    parser.add_argument("--set", action="append", default=[], metavar="NAME=VALUE")
    arguments = parser.parse_args()
    settings = dict(given.split("=", 1) for given in arguments.set)
    library = library_of(arguments.python)
    passed = 0
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        for module in arguments.modules:
            files = changed = 0
            for part in [module, *ALSO.get(module, ())]:
                source = library / part
                source = source if source.is_dir() else library / f"{part}.py"
                target = folder / source.name
                some, different = lay_out(source, target, settings)
                files, changed = files + some, changed + different
            after = run_tests(arguments.python, module, folder)
            before = "" if after == "SUCCESS" else run_tests(arguments.python, module, None)
            passed += after == "SUCCESS" or after == before
            same = f" (the original: {before})" if before else ""
            print(f"{module}: {files} files, {changed} changed: {after}{same}", flush=True)
    print(f"{passed} of {len(arguments.modules)} as with the original")
    return 0 if passed == len(arguments.modules) else 1


if __name__ == "__main__":
    sys.exit(main())
