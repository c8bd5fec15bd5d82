"""Take unused imports out of Python files, and prove by the compiler that none was used.

    python bench/import_unused.py FOLDER [FOLDER …]

Nothing else is touched (`only_order`, imports kept in their order). The source is compiled, and of all
its code objects the names are taken that they load from the module (`dis`); with them the names in
annotations, which need not be compiled, and the texts in `__all__`. None of those that were removed
may be among these. The result must compile, must be settled, and must differ in imports alone. Of
the top-level imports that stay, those whose names the compiler does not see loaded are counted, by
why they stay.
"""

from __future__ import annotations

import argparse
import ast
import dis
import re
import sys
import warnings
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path
from types import CodeType

import stilo
from corpus import files_of

STYLE = {"import.unused": "remove", "import.order": "keep"}


def loaded(code: CodeType) -> Iterator[str]:
    """The names that code loads, deletes or passes by their text, from anywhere but its own locals."""
    for step in dis.get_instructions(code):
        if (
            step.opname
            in ("LOAD_NAME", "LOAD_GLOBAL", "LOAD_CLASSDEREF", "DELETE_NAME", "DELETE_GLOBAL")
        ):
            yield str(step.argval)
    for inner in code.co_consts:
        if isinstance(inner, CodeType):
            yield from loaded(inner)


def said(tree: ast.Module) -> Iterator[str]:
    """The names in annotations, also those in quotes, and in `__all__`."""
    for node in ast.walk(tree):
        parts = [getattr(node, "annotation", None), getattr(node, "returns", None)]
        is_list = isinstance(node, (ast.Assign, ast.AugAssign, ast.AnnAssign))
        targets = getattr(node, "targets", [getattr(node, "target", None)]) if is_list else []
        if any(isinstance(t, ast.Name) and t.id == "__all__" for t in targets):
            parts.append(node.value)
        for part in parts:
            for inner in ast.walk(part) if part is not None else ():
                if isinstance(inner, ast.Name):
                    yield inner.id
                elif isinstance(inner, ast.Constant) and isinstance(inner.value, str):
                    yield from re.findall(r"\w+", inner.value)


def bound(tree: ast.Module) -> dict[str, ast.stmt]:
    """What the imports at the top of a module make known."""
    found: dict[str, ast.stmt] = {}
    for statement in tree.body:
        if isinstance(statement, (ast.Import, ast.ImportFrom)):
            for name in statement.names:
                whole = isinstance(statement, ast.ImportFrom)
                found[
                    name.asname or (name.name if whole else name.name.partition(".")[0])
                ] = statement
    return found


def rest(tree: ast.Module) -> list[str]:
    """All but the imports at the top."""
    return [ast.dump(s) for s in tree.body if not isinstance(s, (ast.Import, ast.ImportFrom))]


def check(path: Path) -> tuple[Counter[str], list[str]]:
    """What is to be counted of a file, and its failures."""
    warnings.simplefilter("ignore")
    count: Counter[str] = Counter(files=1)
    data = path.read_bytes()
    try:
        tree = ast.parse(data)
        code = compile(data, str(path), "exec")
        style = stilo.Styles(STYLE, "default", "python").of(path)
        result = stilo.reformat_styled(data, style, name=str(path), only_order=True)
    except (SyntaxError, ValueError, stilo.SyntaxFault, stilo.UnreadableSource) as error:
        return Counter({"not parsed": 1}), [f"not parsed: {path}: {error}"]
    except stilo.StiloError as error:
        return Counter(files=1, refused=1), [f"refused: {error}"]
    failures = []
    after = ast.parse(result.data)
    used = set(loaded(code)) | set(said(tree))
    before, kept = bound(tree), bound(after)
    gone = before.keys() - kept.keys()
    count["changed"] += result.changed
    count["removed"] += len(gone)
    count["entries removed"] += result.order_counts["removed"]
    for name in sorted(gone & used):
        failures.append(f"wrongly removed: {path}: {name}")
    if rest(tree) != rest(after):
        failures.append(f"more than imports changed: {path}")
    if stilo.reformat_styled(result.data, style, name=str(path), only_order=True).changed:
        failures.append(f"second run differs: {path}")
    lines = data.decode("utf-8-sig", "replace").splitlines()
    for name in kept.keys() - used:
        statement = before[name]
        if isinstance(statement, ast.ImportFrom) and statement.module == "__future__":
            continue
        span = "\n".join(lines[max(0, statement.lineno - 2):statement.end_lineno])
        why = (
            "passed on" if path.name == "__init__.py"
            else "commented" if "#" in span
            else "beside a star, eval, …" if re.search(
                r"import \*|\b(eval|exec|globals|locals|vars|dir)\b", "\n".join(lines)
            )
            else "in a text or bound again"
        )
        count[f"stay, {why}"] += 1
        if why.startswith("in a text"):
            count["_shown"] += 1
    return count, failures


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path, nargs="+")
    arguments = parser.parse_args()
    count: Counter[str] = Counter()
    bad = 0
    with ProcessPoolExecutor() as pool:
        for counted, failures in pool.map(
            check, files_of(arguments.folder, ["*.py"]), chunksize=20
        ):
            count += counted
            for failure in failures:
                bad += not failure.startswith("not parsed")
                print(failure)
    del count["_shown"]
    print(", ".join(f"{name}: {number}" for name, number in count.items()))
    return 1 if bad else 0


if __name__ == "__main__":
    sys.exit(main())
