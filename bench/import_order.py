"""Put the imports of files in order, and compare what they say before and after.

    python bench/import_order.py FOLDER [FOLDER …] --language python [--set NAME=VALUE]
    python bench/import_order.py FOLDER --language java

Only the order is touched (`only_order`). Python: the syntax trees must be equal once each run of
import statements is made a set, with the last thing that each name is bound to (with --set
import.scattered=gather all imports at the top are one such set). Java: what stands
before the first import and after the last must be the same text, and the imports the same set (for
classes see `same_classes.py --set import.order=groups`). A second run must change nothing.
"""

from __future__ import annotations

import argparse
import ast
import re
import sys
import warnings
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from pathlib import Path

import stilo
from corpus import files_of
from stilo.edits import apply_edits


def shape(data: bytes, is_gathered: bool = False) -> list[object]:
    """The statements of a module as text; each run of imports as a set and what it binds.

    is_gathered: all imports at the top, but for stars, count as one run.
    """
    found: list[object] = []
    run: set[tuple[object, ...]] = set()
    bound: dict[str, str] = {}
    for statement in [*ast.parse(data).body, None]:
        is_run = isinstance(statement, (ast.Import, ast.ImportFrom))
        if is_run and statement.names[0].name != "*":
            for name in statement.names:
                level, module = getattr(statement, "level", 0), getattr(statement, "module", "")
                run.add((type(statement).__name__, level, module, name.name, name.asname))
                plain = name.name.partition(".")[0] if level == 0 and not module else name.name
                bound[name.asname or plain] = f"{level} {module} {name.name if module else plain}"
        else:
            if not is_gathered or statement is None:
                found += [sorted(map(repr, run)), sorted(bound.items())]
                run, bound = set(), {}
            found.append(statement and ast.dump(statement))
    return found


def java_shape(data: bytes, is_gathered: bool = False) -> list[object]:
    """What a Java file says: its imports as a set, and all else as words."""
    text = data.decode()
    pattern = re.compile(r"^\s*import\s+[^;]*;", re.MULTILINE)
    imports = {
        re.sub(r"\s+", " ", re.sub(r"\s+;", ";", match.group().strip()))
        for match in pattern.finditer(text)
    }
    return [sorted(imports), sorted(pattern.sub("", text).split())]


def check(path: Path, language: str, settings: dict[str, str]) -> tuple[Counter[str], list[str]]:
    """What is to be counted of a file, and its failures."""
    count: Counter[str] = Counter(files=1)
    warnings.simplefilter("ignore")
    data = path.read_bytes()
    shape_of = shape if language == "python" else java_shape
    styles = stilo.Styles(settings, "default", language)
    is_gathered = settings.get("import.scattered", "keep") != "keep"
    try:
        before = shape_of(data, is_gathered)
        style = styles.of(path)
        result = stilo.reformat_styled(data, style, name=str(path), only_order=True)
    except (SyntaxError, ValueError, stilo.SyntaxFault, stilo.UnreadableSource) as error:
        return Counter({"not parsed": 1}), [f"not parsed: {path}: {error}"]
    except stilo.StiloError as error:
        return Counter(files=1, refused=1), [f"refused: {error}"]
    failures = []
    count["changed"] += result.changed
    count.update({f"imports {what}": n for what, n in result.order_counts.items()})
    if before == shape_of(result.data, is_gathered):
        count["same"] += 1
    else:
        failures.append(f"differs: {path}")
    again = stilo.reformat_styled(result.data, style, name=str(path), only_order=True)
    if again.changed:
        failures.append(f"second run differs: {path}: {next(iter(again.findings), '')}")
    else:
        count["settled"] += 1
    if apply_edits(data, result.edits) != result.data:
        failures.append(f"edits differ: {path}")
    return count, failures


def results(
    paths: list[Path], language: str, settings: dict[str, str]
) -> Iterator[tuple[Counter[str], list[str]]]:
    with ProcessPoolExecutor() as pool:
        yield from pool.map(
            partial(check, language=language, settings=settings), paths, chunksize=20
        )


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path, nargs="+")
    parser.add_argument("--language", required=True, choices=["python", "java"])
    parser.add_argument("--set", action="append", default=[], metavar="NAME=VALUE")
    arguments = parser.parse_args()
    settings = {"import.order": "groups", **dict(i.split("=", 1) for i in arguments.set)}
    globs = stilo.load_language(arguments.language).facts.globs
    count: Counter[str] = Counter()
    paths = files_of(arguments.folder, globs)
    for counted, failures in results(paths, arguments.language, settings):
        count += counted
        for failure in failures:
            print(failure)
    print(", ".join(f"{name}: {number}" for name, number in count.items()))
    return 0 if count["files"] == count["same"] == count["settled"] else 1


if __name__ == "__main__":
    sys.exit(main())
