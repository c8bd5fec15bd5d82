"""Run Stilo over a folder and count what must not be.

    python bench/corpus.py FOLDER --language java [--set width=100]… [--style NAME] [--limit N]

For every file that parses: tokens and comments kept (Stilo's own check of every
result, and here once more by comparing the texts of all tokens read back), a
second run that changes nothing, and no avoidable overflow: no layout with one
sequence more opened has fewer columns past the width. Prints the three counts and names each failure. Fetches nothing.
"""

from __future__ import annotations

import argparse
import random
import re
import sys
from collections import Counter
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from multiprocessing import get_context
from pathlib import Path
from typing import Any

import stilo
from stilo.layout.fit import fit
from stilo.layout.gaps import CLOSE, OPEN
from stilo.layout.groups import Group
from stilo.layout.measures import Measures
from stilo.layout.nesting import may_open_inside
from stilo.layout.plan import Plan
from stilo.layout.planning import plan
from stilo.layout.render import render
from stilo.width import display_width


def words(result: stilo.Result) -> list[bytes]:
    """The tokens of a source, comments without the white space at the edges of their lines.

    Separators after last items are left out where the style decides on them, as are brackets
    of their own.
    """
    plan = result._plan
    texts = [plan.tree.token_text(t) for t in range(len(plan.space))]
    for token in plan.comments:
        texts[token] = b"\n".join(line.strip() for line in texts[token].split(b"\n"))
    for token in plan.tree.tokens_of({result.language.branch_kind}):  # laid out in another view
        texts[token] = b"".join(texts[token].split())
    if int(result.values["comment-columns"]):  # comments may have other lines: compare what they say
        said = re.sub(rb"\W+", b"", b"".join(texts[token] for token in plan.comments))
        kept = set(range(len(texts))).difference(plan.comments)
        return [said, *(texts[token] for token in sorted(kept))]
    for token in plan.opaque if plan.rows.has_inner_lines else ():  # lines of texts were moved
        texts[token] = b"\n".join(line.strip() for line in texts[token].split(b"\n"))
    for token in [e.token for e in result._rendered.edits if e.kind.name == "SPELLING"]:  # the style spells them otherwise
        texts[token] = result._rendered.tokens[token]
    tails = {tail.found for tail in plan.tails.values()}
    own = result.language.own
    for token in [*plan.tree.soft, *plan.tree.soft.values()]:
        home = plan.tree.kind[plan.tree.parent[plan.tree.token_node[token]]]
        if own is not None and home in own.listed.values():  # once written, they stay
            texts[token] = result._rendered.tokens[token]
        if not texts[token] or home not in own.listed.values():
            tails.add(token)
    tails |= result._rendered.gone
    return [text for token, text in enumerate(texts) if token not in tails]


def permitted(group: Group, part: int) -> bool:
    """Whether the style permits a break at a gap of a sequence, by its part in it."""
    if part == OPEN:
        return group.style["open"].value != "same-line"
    return part != CLOSE or group.style["close"].value == "break"


def is_in_vain(plan: Plan, group: Group, column: int, limit: int) -> bool:
    """Whether brackets that may come hold one text that is too long for a line of its own, at a column: they
    do not come then, though fewer columns would be past the width."""
    if not group.own or group.inner or len(group.gaps) != 2 or plan.measured is None:
        return False
    begin, stop = group.gaps
    return column + plan.measured.ends[stop - 1] - plan.measured.starts[begin] > limit


@dataclass
class Line:
    """A line of a result: its number, columns past the width, and breaks it might yet take."""

    number: int
    over: int
    groups: list[int]


def long_lines(result: stilo.Result) -> list[Line]:
    """The lines past the width, with the closed sequences on them that may be broken.

    A break counts if it would make the line shorter: something stands before it on the line
    beyond where the next line would begin, and it is not in vain. Comments at the end of a line are not part of it.
    """
    plan, fitted, rendered = result._plan, result._fitted, result._rendered
    limit = int(result.values["width"])
    step, inner = int(result.values["continuation"]), int(result.values["indent"])
    owner = {
        token: (number, part)
        for number, group in enumerate(plan.groups)
        for token, part in zip(group.gaps, group.parts)
    }
    found = []
    line, column, indent = 1, 0, 0
    candidates: list[tuple[int, int]] = []

    def finish() -> None:
        if column > limit:
            groups = [
                number
                for at, number in candidates
                if at > indent + step + 1
                    and not is_in_vain(plan, plan.groups[number], indent + inner, limit)
            ]
            found.append(Line(line, column - limit, list(dict.fromkeys(groups))))

    for token, text in enumerate(rendered.tokens):
        gap = rendered.gaps[token]
        if b"\n" in gap:
            finish()
            line += gap.count(b"\n")
            margin = gap[gap.rfind(b"\n") + 1:].decode()
            column = indent = len(margin.expandtabs(int(result.values["tab-width"])))
            candidates = []
        elif token not in plan.trailing:
            column += len(gap)
            owned = owner.get(token)
            if owned is not None and token not in fitted.breaks:
                number, part = owned
                if permitted(plan.groups[number], part):
                    candidates.append((column, number))
        if token in plan.trailing:
            continue
        if b"\n" in text:
            line += text.count(b"\n")
            column = display_width(text.rsplit(b"\n", 1)[1].decode())
            candidates = []
        else:
            column += len(text) if text.isascii() else display_width(text.decode())
    finish()
    return found


def opened(result: stilo.Result, number: int) -> stilo.Result:
    """The same text with one sequence forced open, and with it what must open around it."""
    measures = Measures.of(result.values)
    rows = result.language.rows(result.values)
    again = plan(result._plan.tree, rows, result.language.kinds.punctuation, measures)
    group = again.groups[number]
    group.hard = group.must_open = True
    inner = number
    while around := again.groups[inner].around:
        outer = again.groups[around]
        if not may_open_inside(again, outer, outer.part_of(again.groups[inner].first)):
            outer.must_open = True
        outer.hard = True
        inner = around
    return fitted_anew(result, again)


def misses_breaks(result: stilo.Result) -> bool:
    """Whether a plan in which no line is taken to fit before it is measured has fewer columns past the width."""
    language, before = result.language, result._plan
    measures, bound = Measures.of(result.values), language.bound(result.values)
    tree = before.tree
    if tree.bare is not None:  # without brackets where all seemed to fit; of directives it knows nothing
        if before.regions or before.margins:
            return False
        tree = language.bracketed(tree.bare, 0, language.keeps_brackets(result.values))
    sums = []
    for width in (measures.width, 0):
        planned = plan(
            tree,
            before.rows,
            language.kinds.punctuation,
            measures._replace(width=width),
            before.regions,
            before.margins,
            bound,
        )
        sums.append(sum(line.over for line in long_lines(fitted_anew(result, planned))))
    return sums[1] < sums[0]


def fitted_anew(result: stilo.Result, planned: Plan) -> stilo.Result:
    """The same text by another plan."""
    fitted = fit(planned, Measures.of(result.values))
    rendered = render(planned, fitted, result.values)
    return replace(result, _plan=planned, _fitted=fitted, _rendered=rendered)


def avoidable(result: stilo.Result, tries: int) -> tuple[list[int], int]:
    """Lines past the width that a permitted layout would better, and how many were tried.

    A line is tried if a sequence on it is closed that may be broken: with that one forced open the
    text is fitted again. The line counts if there are then fewer columns past the width in all. All long lines
    count if there are fewer when every line is looked at, not just those that may be too long for what the plan
    knows. tries: how many sequences of a file are forced open, chosen by chance, always the same. Where something
    stays as it is, since a comment acts on its line or since it is read otherwise, the layout counts that it would have.
    """
    if result._rendered.kept.gaps:
        result = fitted_anew(result, result._plan)
    lines = long_lines(result)
    total = sum(line.over for line in lines)
    if lines and misses_breaks(result):
        return [line.number for line in lines], 0
    numbers = sorted({number for line in lines for number in line.groups})
    chosen = set(random.Random(1).sample(numbers, min(tries, len(numbers))))
    better = {
        number
        for number in chosen
        if sum(line.over for line in long_lines(opened(result, number))) < total
    }
    found = [line.number for line in lines if not better.isdisjoint(line.groups)]
    return found, sum(not chosen.isdisjoint(line.groups) for line in lines)


def check(path: Path, styles: stilo.Styles, tries: int) -> tuple[Counter[str], list[str]]:
    """What is to be counted of a file, and its failures."""
    count: Counter[str] = Counter(files=1)
    try:
        style = styles.of(path)
        result = stilo.reformat_styled(path.read_bytes(), style, name=str(path))
    except stilo.SyntaxFault as error:
        count["not parsed"] += 1
        return count, [f"not parsed: {error}"]
    except stilo.StiloError as error:
        count["refused"] += 1
        return count, [f"refused: {error}"]
    failures = []
    again = stilo.reformat_styled(result.data, style, name=str(path))
    if words(result) == words(again):
        count["tokens kept"] += 1
    else:
        failures.append(f"tokens differ: {path}")
    count["lines"] += result.data.count(b"\n")
    for unread in result.unread:
        count["lines left as they are"] += unread.last_line - unread.position.line + 1
    if again.changed:
        failures.append(f"second run differs: {path}: {next(iter(again.findings), '')}")
    else:
        count["settled"] += 1
    over, tried = avoidable(result, tries)
    count["long lines tried with a sequence more opened"] += tried
    if over:
        count["lines with avoidable overflow"] += len(over)
        lines = result.text.split("\n")
        for number in over:
            failures.append(f"overflow: {path}:{number}: {lines[number - 1].strip()[:100]}")
    else:
        count["no avoidable overflow"] += 1
    return count, failures


_given: dict[str, Any] = {}


def _check(path: Path) -> tuple[Counter[str], list[str]]:
    return check(path, **_given)


def files_of(folders: Sequence[Path], globs: Sequence[str]) -> list[Path]:
    """All files below some folders whose names fit, in order."""
    return sorted(
        path
        for folder in folders
        for glob in globs
        for path in folder.rglob(glob)
        if path.is_file()
    )


def is_clean(count: Counter[str]) -> bool:
    """Whether every file that parsed has all that must be."""
    done = count["files"] - count["not parsed"] - count["refused"]
    return done == count["tokens kept"] == count["settled"] == count["no avoidable overflow"]


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path, nargs="+")
    parser.add_argument("--language", required=True)
    parser.add_argument("--glob", default=None, help="default: the language's own")
    parser.add_argument("--limit", type=int, default=10 ** 9)
    parser.add_argument(
        "--tries", type=int, default=10 ** 9, help="sequences forced open in a file"
    )
    parser.add_argument("--set", action="append", default=[], metavar="NAME=VALUE")
    parser.add_argument("--style", default="default", help="a named style; default: the sheet's")
    parser.add_argument("--jobs", type=int, default=1)
    arguments = parser.parse_args()
    language = stilo.load_language(arguments.language)
    settings = dict(item.split("=", 1) for item in arguments.set)
    styles = stilo.Styles(settings, arguments.style, language)
    count: Counter[str] = Counter()
    _given.update(styles=styles, tries=arguments.tries)  # which the processes take over, being forked
    pool = ProcessPoolExecutor(arguments.jobs, get_context("fork"))
    globs = [arguments.glob] if arguments.glob else language.facts.globs
    paths = files_of(arguments.folder, globs)
    if arguments.limit < len(paths):
        paths = random.Random(1).sample(paths, arguments.limit)
    for counted, failures in pool.map(_check, paths, chunksize=4):
        count += counted
        for failure in failures:
            print(failure)
    print(", ".join(f"{name}: {number}" for name, number in count.items()))
    return 0 if is_clean(count) else 1


if __name__ == "__main__":
    sys.exit(main())
