"""Code in strings of a folder: how much of it is laid out, and whether anything but its white space changed.

    python bench/inner_texts.py FOLDER … --names "query *_sql sql" [--sheet sql=examples/queries/sql.stilo]
        [--language python] [--show N]

Lays each file out twice: with no name of a string known, and with these. What the second adds must be no more than
white space: the same characters without it, the same words, and the same texts in single quotes; in Python, too,
the same tree by `ast` without the white space in its strings. A second run must change nothing. Prints counts, why
texts stay, and with --show some of those that were laid out. Fetches nothing.
"""

from __future__ import annotations

import argparse
import ast
import random
import re
import sys
from collections import Counter
from pathlib import Path
from tempfile import TemporaryDirectory

import stilo


def said(text: str) -> tuple[str, list[str], list[str]]:
    """What a text says, by characters, words and texts in quotes."""
    return "".join(text.split()), re.findall(r"\w+", text), re.findall(r"'[^'\n]*'", text)


def program(text: str) -> str:
    """The tree of a Python program, without white space in its strings; nothing for an older Python's."""
    try:
        tree = ast.parse(text)
    except SyntaxError:
        return ""
    return "".join(ast.dump(tree).replace("\\n", "").replace("\\t", "").split())


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path, nargs="+")
    parser.add_argument("--names", required=True)
    parser.add_argument("--sheet", default="", metavar="LANGUAGE=FILE")
    parser.add_argument("--language", default="python")
    parser.add_argument("--show", type=int, default=0)
    options = parser.parse_args()
    counts: Counter[str] = Counter()
    reasons: Counter[str] = Counter()
    texts: list[str] = []
    with TemporaryDirectory() as place:
        language, _, sheet = options.sheet.partition("=")
        lines = [f"sheets = {{ {language} = '{Path(sheet).resolve()}' }}"] if sheet else []
        Path(place, "stilo.toml").write_text("\n".join(lines) + "\n")
        language = stilo.load_language(options.language)
        suffixes = language.facts.suffixes
        plain = stilo.Styles({}, language=options.language)
        named = stilo.Styles({"inner-texts": options.names}, language=options.language)
        paths = [
            p
            for f in options.folder
            for p in sorted(f.rglob("*"))
            if p.suffix in suffixes and p.is_file()
        ]
        for path in paths:
            at = Path(place, path.name)
            try:
                before = stilo.reformat_styled(path.read_bytes(), plain.of(at))
            except stilo.StiloError:
                counts["files that cannot be read"] += 1
                continue
            result = stilo.reformat_styled(before.data, named.of(at))
            if isinstance(result, stilo.Result):
                counts["files without such strings"] += 1
                continue
            counts["files with such strings"] += 1
            counts["texts laid out"] += len(result.segments)
            counts["texts that stay"] += len(result.unread)
            reasons.update(
                re.sub(r"from line \d+ on", "from some line on", u.why) for u in result.unread
            )
            is_same = said(before.text) == said(result.text)
            if is_same and options.language == "python":
                is_same = program(before.text) == program(result.text)
            is_settled = not stilo.reformat_styled(result.data, named.of(at)).changed
            counts["files the same but for white space"] += is_same
            counts["files settled"] += is_settled
            if not (is_same and is_settled):
                print(f"{path}: {'unsettled' if is_same else 'different'}")
            texts += [
                f"--- {path.name}\n{d.segment.text}\n--- becomes\n{d.result.text}"
                for d in result.segments
                if d.result and d.result.changed
            ]
    for name, count in counts.most_common():
        print(f"{count:>7,}  {name}")
    for why, count in reasons.most_common(12):
        print(f"{count:>7,}  stay: {why}")
    for text in random.Random(22).sample(texts, min(options.show, len(texts))):
        print(text)
    wanted = counts["files with such strings"]
    return int(
        not wanted == counts["files settled"] == counts["files the same but for white space"]
    )


if __name__ == "__main__":
    sys.exit(main())
