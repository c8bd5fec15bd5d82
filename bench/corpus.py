"""Run Stilo over a folder and count what must not be.

    python bench/corpus.py FOLDER --language java [--width 100] [--limit N]

For every file that parses: tokens and comments kept (Stilo's own check of every
result, and here once more by comparing the texts of all tokens read back), a
second run that changes nothing, and no line past the width that a permitted
break would shorten. Prints the three counts and names each failure. Fetches nothing.
"""

from __future__ import annotations

import argparse
import sys
from collections import Counter
from pathlib import Path

import stilo
from stilo.layout.gaps import CLOSE
from stilo.layout.groups import Group
from stilo.width import display_width


def words(result: stilo.Result) -> list[bytes]:
    """The tokens of a source, comments without the white space at the edges of their lines."""
    plan = result._plan
    texts = [plan.tree.token_text(t) for t in range(len(plan.space))]
    for token in plan.comments:
        texts[token] = b"\n".join(line.strip() for line in texts[token].split(b"\n"))
    return texts


def permitted(group: Group, token: int) -> bool:
    """Whether the style permits a break at a gap of a sequence."""
    is_close = group.parts[group.gaps.index(token)] == CLOSE
    return not is_close or group.style["close"].value == "break"


def avoidable(result: stilo.Result) -> list[int]:
    """Lines of a result past the width on which some permitted break is not taken.

    A break counts if it would make the line shorter: something stands before it on the line
    beyond where the next line would begin, and it belongs to a sequence that may be broken.
    Comments at the end of a line are not counted as part of it.
    """
    plan, fitted, rendered = result._plan, result._fitted, result._rendered
    limit = int(result.values["width"])
    step = int(result.values["continuation"])
    owner = {t: g for g in plan.groups for t in g.gaps}
    found = []
    line, column, indent = 1, 0, 0
    candidates: list[tuple[int, int]] = []

    def finish() -> None:
        # Only a break with text in front of it, further right than its own new line, shortens.
        if column > limit and any(at > indent + step + 1 for at, _ in candidates):
            found.append(line)

    for token, text in enumerate(rendered.tokens):
        gap = rendered.gaps[token]
        if b"\n" in gap:
            finish()
            line += gap.count(b"\n")
            column = indent = len(gap) - gap.rfind(b"\n") - 1
            candidates = []
        else:
            column += len(gap)
            if token in owner and token not in fitted.breaks and permitted(owner[token], token):
                candidates.append((column, token))
        if token in plan.trailing:
            column -= len(gap)
            continue
        if b"\n" in text:
            line += text.count(b"\n")
            column = display_width(text.rsplit(b"\n", 1)[1].decode())
            candidates = []
        else:
            column += len(text) if text.isascii() else display_width(text.decode())
    finish()
    return found


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path, nargs="+")
    parser.add_argument("--language", required=True)
    parser.add_argument("--glob", default=None, help="default: the language's own")
    parser.add_argument("--limit", type=int, default=10**9)
    parser.add_argument("--set", action="append", default=[], metavar="NAME=VALUE")
    arguments = parser.parse_args()
    language = stilo.load_language(arguments.language)
    style = dict(item.split("=", 1) for item in arguments.set)
    globs = [arguments.glob] if arguments.glob else language.files
    paths = sorted(
        p for folder in arguments.folder for glob in globs for p in folder.rglob(glob) if p.is_file()
    )
    count: Counter[str] = Counter()
    for path in paths[: arguments.limit]:
        count["files"] += 1
        try:
            result = stilo.reformat_file(path, language, style)
        except stilo.SyntaxFault as error:
            count["not parsed"] += 1
            print(f"not parsed: {error}")
            continue
        except stilo.StiloError as error:
            count["refused"] += 1
            print(f"refused: {error}")
            continue
        again = stilo.reformat(result.data, language, style, name=str(path))
        if words(result) != words(again):
            print(f"tokens differ: {path}")
            continue
        count["tokens kept"] += 1
        count["lines"] += result.data.count(b"\n")
        if again.changed:
            finding = next(iter(again.findings), "")
            print(f"second run differs: {path}: {finding}")
        else:
            count["settled"] += 1
        over = avoidable(result)
        if over:
            count["lines with avoidable overflow"] += len(over)
            lines = result.text.split("\n")
            for number in over:
                print(f"overflow: {path}:{number}: {lines[number - 1].strip()[:100]}")
        else:
            count["no avoidable overflow"] += 1
        count["lines past the width"] += sum(
            len(t) > int(result.values["width"]) for t in result.text.split("\n")
        )
    print(", ".join(f"{name}: {number}" for name, number in count.items()))
    done = count["files"] - count["not parsed"] - count["refused"]
    return 0 if done == count["tokens kept"] == count["settled"] == count["no avoidable overflow"] else 1


if __name__ == "__main__":
    sys.exit(main())
