"""Turn the imports of Java files into stars, and have Stilo find the single types again.

    python bench/import_stars.py SOURCE_FOLDER --module java.base --under java/util/concurrent --limit 200
    python bench/import_stars.py … --set import.qualified=shorten

SOURCE_FOLDER holds a module's sources (for the JDK: the folder java.base of its src.zip). Every
`import a.b.C;` becomes `import a.b.*;`, every static one alike. Stilo replaces the stars; the
imports must then be just those of the source that its code uses (its unused ones taken out; those for
comments are counted, since a star makes more of their links lead somewhere), and both sides
are compiled as in `same_classes.py`: every class file must be identical. Files whose stars make a
name ambiguous are listed with it; with --prefer the paths of the source are given as preferred.
"""

from __future__ import annotations

import argparse
import re
import sys
import tempfile
from collections import Counter
from pathlib import Path

import stilo
from same_classes import compile_tree

IMPORT = re.compile(rb"^import\s+(static\s+)?([\w.]+)\.(\w+|\*)\s*;", re.MULTILINE)
BACK = {"import.wildcards": "expand", "import.unused": "remove", "import.order": "groups"}


def starred(data: bytes) -> bytes:
    """A source with a star for each module it imports from."""
    seen: set[bytes] = set()

    def star(match: re.Match[bytes]) -> bytes:
        new = b"import " + (b"static " if match[1] else b"") + match[2] + b".*;"
        if new in seen:
            return b""
        seen.add(new)
        return new

    return IMPORT.sub(star, data)


def imports(data: bytes) -> set[bytes]:
    """The imports of a source."""
    return {re.sub(rb"\s+", b" ", match.group()) for match in IMPORT.finditer(data)}


def in_code(data: bytes) -> set[bytes]:
    """Those whose names stand in the code; not those that nothing but comments refers to, and not
    those from the file's own package, which say nothing."""
    code = re.sub(rb"/\*.*?\*/|//[^\n]*", b"", data, flags=re.DOTALL)
    words = set(re.findall(rb"(?<![\w.])\w+", IMPORT.sub(b"", code)))
    home = re.search(rb"^package\s+([\w.]+)", data, re.MULTILINE)
    return {
        re.sub(rb"\s+", b" ", match.group())
        for match in IMPORT.finditer(data)
        if match[3] in words | {b"*"} and not (home and not match[1] and match[2] == home[1])
    }


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path)
    parser.add_argument("--module", required=True)
    parser.add_argument("--under", nargs="+", required=True)
    parser.add_argument("--limit", type=int, default=200)
    parser.add_argument("--javac", default="javac")
    parser.add_argument("--prefer", action="store_true")
    parser.add_argument(
        "--set",
        action="append",
        default=[],
        metavar="NAME=VALUE",
        help="instead of stars and back: lay imports out so, and compile",
    )
    arguments = parser.parse_args()
    root: Path = arguments.folder.resolve()
    files = [
        path.relative_to(root)
        for under in arguments.under
        for path in sorted((root / under).rglob("*.java"))
        if path.name not in ("package-info.java", "module-info.java")
            and IMPORT.search(path.read_bytes())
            and b".*;" not in b"\n".join(imports(path.read_bytes()))
    ][:arguments.limit]
    counts: Counter[str] = Counter()
    same = stars = names = ambiguous = in_comments = 0
    with tempfile.TemporaryDirectory() as scratch:
        sides = {name: Path(scratch) / name for name in ("original", "back")}
        for file in files:
            data = (root / file).read_bytes()
            style = dict(BACK)
            used = stilo.reformat(
                data, "java", {**BACK, "import.wildcards": "keep"}, only_order=True
            )
            if arguments.prefer:
                paths = [m[2] + b"." + m[3] for m in IMPORT.finditer(data)]
                style["import.prefer"] = b" | ".join(paths).decode()
            asked = data if arguments.set else starred(data)
            if arguments.set:
                style = {"import.order": "groups", **dict(i.split("=", 1) for i in arguments.set)}
            target = sides["back"] / file
            found = stilo.Styles(style, "default", "java").of(target)
            back = stilo.reformat_styled(asked, found, name=str(target), only_order=True)
            stars += len(imports(asked))
            names += len(imports(back.data))
            counts += back.order_counts
            for unclear in back.ambiguities:
                ambiguous += 1
                print(f"ambiguous: {file}: {unclear.name}: {', '.join(unclear.candidates)}")
            if in_code(back.data) == in_code(used.data):
                same += 1
                in_comments += len(imports(back.data) ^ imports(used.data))
            elif not back.ambiguities and not arguments.set:
                more = sorted(in_code(back.data) - in_code(used.data))
                less = sorted(in_code(used.data) - in_code(back.data))
                print(f"differs: {file}: too many {more}, missing {less}")
            for side, text in (("original", data), ("back", back.data)):
                path = sides[side] / file
                path.parent.mkdir(parents=True, exist_ok=True)
                path.write_bytes(text)
        classes = []
        for name, side in sides.items():
            out = Path(scratch) / f"{name}-classes"
            out.mkdir()
            compile_tree(arguments.javac, arguments.module, side, files, out)
            classes.append({p.relative_to(out): p.read_bytes() for p in out.rglob("*.class")})
    differing = sum(
        classes[0].get(p) != classes[1].get(p) for p in classes[0].keys() | classes[1].keys()
    )
    if arguments.set:
        told = ", ".join(f"{what}: {number}" for what, number in sorted(counts.items()))
        print(f"files: {len(files)}, {told}, classes: {len(classes[0])}, differing: {differing}")
        return 1 if differing else 0
    print(
        f"files: {len(files)}, stars: {stars}, imports found again: {names}, same as in the source: "
        f"{same}, other imports for comments or of the own package: {in_comments}, ambiguous names: {ambiguous}, classes: {len(classes[0])}, differing: {differing}"
    )
    return 0 if same == len(files) and not differing else 1


if __name__ == "__main__":
    sys.exit(main())
