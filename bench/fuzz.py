"""Look for results that change a program, are not settled, or are refused: random jobs on real code.

    python bench/fuzz.py FOLDER [FOLDER …] --jobs 1000 [--seed 1] [--first 0] [--state FILE] [--typescript DIR]

A job is a piece of a real file, with tokens dropped, doubled and swapped, comments put between any two,
random white space, random values of random settings, and perhaps some lines only, or a directive that
leaves something. What comes out is compared by `programs.py`, without Stilo. What fails is made as small
as it can be and printed, with the number of its job: `--first N --jobs 1` runs that one again. With a
file of state the count goes on where it was left off. JavaScript and TypeScript are read by the npm package
`typescript`, if it is told where that is. Files that no one here wrote are read, never kept.
"""

from __future__ import annotations

import argparse
import json
import random
import re
import signal
import sys
import textwrap
import time
import traceback
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from functools import lru_cache
from pathlib import Path

import stilo
from programs import compilers, difference, is_valid, start_compiler
from scripts import NAMES
from stilo.language import Language
from stilo.readers.conditional import ConditionalReader
from stilo.readers.grammar import GrammarReader
from stilo.sheet.properties import Whole, Words

LANGUAGES = ("python", "java", "json", "toml", "css", "html", "markdown", *NAMES)
#: Statements of JavaScript that jobs take.
_STATEMENTS = (
    "function_declaration",
    "class_declaration",
    "lexical_declaration",
    "variable_declaration",
    "expression_statement",
    "if_statement",
    "for_statement",
    "for_in_statement",
    "while_statement",
    "try_statement",
    "switch_statement",
    "throw_statement",
    "import_statement",
    "export_statement",
)
_TYPES = ("interface_declaration", "type_alias_declaration", "enum_declaration")
_SCRIPTS = {"": _STATEMENTS, "function a() {\n%s\n}\n": ("return_statement",)}
_ELEMENTS = {"a = (\n%s\n);\n": ("jsx_element", "jsx_self_closing_element")}
#: Per language, the kinds of nodes that jobs take, and what is put around them to make a text.
PIECES = {
    "python": {
        "": (
            "class_definition",
            "function_definition",
            "if_statement",
            "expression_statement",
            "try_statement",
            "with_statement",
            "for_statement",
            "while_statement",
            "return_statement",
            "import_statement",
            "import_from_statement",
            "decorated_definition",
            "assert_statement",
            "match_statement",
            "raise_statement",
        ),
    },
    "java": {
        "": (
            "class_declaration",
            "interface_declaration",
            "enum_declaration",
            "import_declaration",
        ),
        "class A {\n%s\n}\n": (
            "method_declaration",
            "field_declaration",
            "constructor_declaration",
        ),
        "class A {\nvoid a() {\n%s\n}\n}\n": (
            "if_statement",
            "for_statement",
            "expression_statement",
            "local_variable_declaration",
            "try_statement",
            "switch_expression",
            "while_statement",
            "return_statement",
            "enhanced_for_statement",
        ),
    },
    "json": {"": ("object", "array", "string")},
    "toml": {"": ("table", "pair", "table_array_element")},
    "css": {"": ("rule", "at_rule")},
    "html": {},  # of these some lines
    "markdown": {},
    "javascript": {**_SCRIPTS, **_ELEMENTS},
    "typescript": {**_SCRIPTS, "": (*_STATEMENTS, *_TYPES)},
    "tsx": {**_SCRIPTS, **_ELEMENTS, "": (*_STATEMENTS, *_TYPES)},
}

#: Comments of languages that have two kinds of them.
_COMMENTS = [
    "// tide\n",
    "/* tide */",
    "/* low\n * tide */",
    "/* low\n   tide\n*/",
    "/** Berth. */",
    "//\n",
    "// stilo: leave\n",
]
COMMENTS = {
    "python": [
        "# tide\n",
        "#tide\n",
        "#: berth 4 is for lorries and coaches alone, and for no one else\n",
        "# stilo: leave\n",
        "#\n",
        "# type: ignore\n",
        "# noqa\n",
    ],
    "java": [*_COMMENTS, "// NOLINT\n"],
    "json": [],
    "toml": ["# tide\n", "#\n", "#berth\n"],
    "css": [
        "/* tide */",
        "/* low\n * tide */",
        "/* low\n   tide\n*/",
        "/**/",
        "/* stilo: leave */\n",
    ],
    "html": ["<!-- tide -->", "<!-- low\n tide -->\n", "<!-- stilo: leave -->\n"],
    "markdown": ["<!-- tide -->\n", "\n<!-- stilo: leave -->\n"],
    **dict.fromkeys(NAMES, [*_COMMENTS, "// @ts-ignore\n"]),
}
_TOKEN = re.compile(
    r'\n[ \t]*|[ \t]+|"""(?:\\.|[^\\])*?"""|\'\'\'(?:\\.|[^\\])*?\'\'\'|"(?:\\.|[^"\\\n])*"|\'(?:\\.|[^\'\\\n])*\''
    r"|`(?:\\.|[^`\\])*`|//[^\n]*|/\*.*?\*/|#[^\n]*|\w+|[^\w\s]",
    re.DOTALL
)
#: What messages say of what a grammar package itself reads wrong.
GAPS = (
    "takes this line for a part of the one before",
    "takes a comment for a part of",
    "takes the indent of this joined line for another",
    "cannot read what stands here, though it is no syntax error",
)
#: The most seconds that a job may take.
PATIENCE = 10


@dataclass(frozen=True)
class Job:
    """What is laid out, and how."""

    language: str
    text: bytes
    style: dict[str, str] = field(default_factory=dict)
    lines: tuple[tuple[int, int], ...] | None = None
    only_order: bool = False

    def __str__(self) -> str:
        lines = "" if self.lines is None else f", lines={list(self.lines)}"
        order = ", only_order=True" if self.only_order else ""
        return f"stilo.reformat({self.text!r}, {self.language!r}, {self.style!r}{lines}{order})"


class TooLong(Exception):
    """A job went on for longer than it may."""


def outcome(job: Job) -> str:
    """What becomes of a job: a word for the table of counts, and what is wrong after a colon."""
    try:
        return _outcome(job)
    except TooLong:
        return "SLOW"
    except Exception as error:
        last = traceback.extract_tb(error.__traceback__)[-1]
        return (
            f"TRACEBACK: {type(error).__name__} {error} in {Path(last.filename).name}:{last.name}"
        )


def _outcome(job: Job) -> str:
    try:
        language = stilo.load_language(job.language)
        result = stilo.reformat(
            job.text, language, job.style, lines=job.lines, only_order=job.only_order
        )
    except stilo.DirectiveError:
        return "directive refused"
    except stilo.UnsafeResult as error:
        if not is_valid(job.language, job.text):
            return "not valid"
        return "UNSAFE: " + re.sub(r"^\S+ ", "", str(error))[:60]
    except stilo.SyntaxFault as error:
        if any(gap in str(error) for gap in GAPS):
            return "gap of the grammar"
        if not is_valid(job.language, job.text):
            return "not valid"
        if job.language == "html":
            return "refused"  # nothing else here says which pages are whole
        return "gap of the grammar" if job.language in NAMES else f"REFUSED: {error}"
    except stilo.UnreadableSource:
        return "not readable"
    if not is_valid(job.language, job.text):
        return "accepted by the grammar alone"
    if stilo.edits.apply_edits(job.text, result.edits) != result.data:
        return "EDITS: they do not lead to the result"
    wraps = job.style.get("comment-columns", "0") != "0"
    is_order = any(name.startswith("import.") for name in job.style) or job.only_order
    if not is_order:
        what = difference(job.language, job.text, result.data, wraps)
        if what:
            return f"CHANGED: {re.sub('[0-9]+', 'N', what)[:60]}"
    lines = job.lines
    if lines is not None:
        lines = tuple(moved_lines(result, some) for some in lines)
    try:
        again = stilo.reformat(
            result.data, language, job.style, lines=lines, only_order=job.only_order
        )
    except stilo.StiloError as error:
        if any(gap in str(error) for gap in GAPS):
            return "gap of the grammar"
        return f"UNSETTLED: refused the second time: {re.sub('[0-9]+', 'N', str(error))[:50]}"
    if again.data != result.data:
        return "UNSETTLED"
    if result.changed and not result.findings and not is_order:
        return "SILENT: changed, but nothing was found"
    return "laid out" if job.lines is None else "laid out in part"


def moved_lines(result: stilo.Result, lines: tuple[int, int]) -> tuple[int, int]:
    """Where lines of a source are in the result."""
    from stilo.edits import moved
    from stilo.source import Source

    source = result.source
    start, end = source.stretch(lines)
    new = Source.from_bytes(result.data)
    at = moved(source.original(start), result.edits, True)
    behind = moved(source.original(end), result.edits, True)
    first = result.data.count(b"\n", 0, at) + 1
    last = result.data.count(b"\n", 0, max(at, behind - 1)) + 1
    most = max(1, new.line_count)
    return min(first, most), min(max(first, last), most)


class Corpus:
    """Pieces of real files, by language."""

    def __init__(self, folders: list[Path]) -> None:
        self.files: dict[str, list[Path]] = {}
        for name in LANGUAGES:
            globs = stilo.load_language(name).facts.globs
            self.files[name] = sorted(
                path
                for folder in folders
                for glob in globs
                if glob != "*.ipynb"
                for path in folder.rglob(glob)
                if path.is_file() and path.stat().st_size < 300_000
            )

    @lru_cache(maxsize=400)
    def pieces(self, language: str, path: Path) -> list[bytes]:
        """The pieces of a file that are no longer than 60 lines."""
        data = path.read_bytes()
        chosen = stilo.load_language(language)
        reader = chosen.reader
        if isinstance(reader, ConditionalReader):
            reader = reader._inner
        found: list[bytes] = []
        if not PIECES[language]:
            rows = data.decode("utf-8", "replace").splitlines(keepends=True)
            sizes = (3, 8, 20, 40)
            return [
                "".join(rows[at : at + size]).encode()
                for size in sizes
                for at in range(0, len(rows), size)
            ]
        if not isinstance(reader, GrammarReader):
            tree = chosen.read(data).tree
            for node in range(len(tree.kind)):
                text = tree.text(node)
                if chosen.kinds.names[tree.kind[node]] in PIECES[language][""]:
                    if text.count("\n") < 60:
                        found.append(textwrap.dedent(text).encode() + b"\n")
            return found
        for around, kinds in PIECES[language].items():
            stack = [reader.parse(data).root_node]
            while stack:
                node = stack.pop()
                if node.type in kinds and node.end_point[0] - node.start_point[0] < 60:
                    start = data.rfind(b"\n", 0, node.start_byte) + 1
                    if data[start:node.start_byte].strip():
                        start = node.start_byte
                    text = textwrap.dedent(data[start:node.end_byte].decode("utf-8", "replace"))
                    found.append(((around % text) if around else text + "\n").encode())
                stack.extend(node.children)
        return found


def make(corpus: Corpus, random: random.Random) -> Job | None:
    """A job by chance; None where there is nothing to take."""
    language = random.choice([name for name in LANGUAGES if corpus.files[name]])
    pieces = corpus.pieces(language, random.choice(corpus.files[language]))
    if not pieces:
        return None
    count = 1 if language in ("json", "toml") or random.random() < 0.5 else random.randint(1, 4)
    text = b"".join(random.choice(pieces) for _ in range(count))
    if random.random() < 0.85:
        for _ in range(5):  # most of these are no programs any more
            other = mutated(text.decode(), language, random).encode()
            if is_valid(language, other):
                break
        text = other
    chosen = stilo.load_language(language)
    style = random_style(chosen, random) if random.random() < 0.7 else {}
    lines = None
    if "brace-line" in style.values():
        return Job(language, text, style)  # statements come to share lines: no part is the same again
    total = text.count(b"\n") + (not text.endswith(b"\n"))
    if random.random() < 0.3 and total:
        lines = tuple(
            (first, random.randint(first, min(total, first + random.randint(0, 8))))
            for first in sorted(
                random.randint(1, total) for _ in range(random.choice([1, 1, 2, 3]))
            )
        )
    if random.random() < 0.05:
        text = text.replace(b"\n", b"\r\n", random.choice([-1, 3]))
    only_order = language in ("python", "java", *NAMES) and random.random() < 0.03
    return Job(language, text, style, lines, only_order)


def mutated(text: str, language: str, random: random.Random) -> str:
    """The text with tokens dropped, doubled, swapped, and comments and white space between them."""
    tokens = _TOKEN.findall(text)
    for _ in range(random.choice([0, 0, 0, 0, 1, 1, 2, 4])):
        at = random.randrange(len(tokens)) if tokens else 0
        other = random.randrange(len(tokens)) if tokens else 0
        what = random.random()
        if not tokens:
            break
        if what < 0.35:
            del tokens[at]
        elif what < 0.6:
            tokens.insert(at, tokens[other])
        else:
            tokens[at], tokens[other] = tokens[other], tokens[at]
    for _ in range(random.choice([0, 0, 1, 1, 2, 5])):
        if COMMENTS[language]:
            tokens.insert(random.randint(0, len(tokens)), random.choice(COMMENTS[language]))
    for _ in range(random.choice([0, 1, 3, 8, len(tokens) // 4])):
        at = random.randint(0, len(tokens))
        tokens.insert(
            at, random.choice([" ", "  ", "\n", "\n\n", "\t", " \n  ", "\n        ", "\\\n", ""])
        )
    return "".join(tokens)


def random_style(language: Language, random: random.Random) -> dict[str, str]:
    """Random values of random settings."""
    names = [n for n in language.settings if not n.startswith("import.") or random.random() < 0.1]
    style = {}
    for name in random.sample(names, min(len(names), random.choice([1, 2, 4, 8, 20]))):
        kind = language.settings[name].type
        if isinstance(kind, Words):
            style[name] = random.choice(kind.permitted)
        elif isinstance(kind, Whole):
            style[name] = str(
                random.choice([kind.least, min(kind.most, kind.least + random.randint(0, 11))])
            )
    style.pop("charset", None)
    if random.random() < 0.6:
        style["width"] = str(random.randint(20, 120))
    if "comment-columns" in style:
        style["comment-columns"] = str(random.choice([0, 0, 30, 50]))
    return style


def smaller(job: Job) -> Iterator[Job]:
    """Jobs like this one, each with something less."""
    for name in job.style:
        yield replace(job, style={n: v for n, v in job.style.items() if n != name})
    if job.lines is not None:
        yield replace(job, lines=None)
        if len(job.lines) > 1:
            for at in range(len(job.lines)):
                yield replace(job, lines=(*job.lines[:at], *job.lines[at + 1:]))
        for at, (first, last) in enumerate(job.lines):
            if last > first:
                for some in ((first, first), (last, last), (first, last - 1)):
                    yield replace(job, lines=(*job.lines[:at], some, *job.lines[at + 1:]))
    rows = job.text.splitlines(keepends=True)
    size = len(rows) // 2
    while size:
        for at in range(0, len(rows), size):
            fewer = b"".join([*rows[:at], *rows[at + size:]])
            yield replace(job, text=fewer, lines=_fitting(job.lines, at, at + size, len(rows)))
        size //= 2
    tokens = _TOKEN.findall(job.text.decode("utf-8", "replace"))
    if len(tokens) < 400:
        for size in (8, 4, 2, 1):
            for at in range(0, len(tokens), size):
                left = [*tokens[:at], *tokens[at + size:]]
                yield replace(job, text="".join(left).encode())
        for at, token in enumerate(tokens):
            for plain in ("a", " ", "\n"):
                if len(token) > len(plain) and (plain != "a" or token[0].isalnum()):
                    yield replace(
                        job, text="".join([*tokens[:at], plain, *tokens[at + 1:]]).encode()
                    )


def _fitting(
    lines: tuple[tuple[int, int], ...] | None, low: int, high: int, total: int
) -> tuple[tuple[int, int], ...] | None:
    """The lines once those from low to high (from 0) are gone."""
    if lines is None:
        return None

    def place(line: int) -> int:
        return (
            line
            if line <= low
            else max(1, min(line, low + 1) if line <= high else line - (high - low))
        )

    return tuple((place(first), max(place(first), place(last))) for first, last in lines)


def minimised(job: Job, what: str, seconds: float) -> Job:
    """The smallest job found with the same outcome."""
    end = time.monotonic() + seconds
    kind = what.split(":")[0]
    going = True
    while going:
        going = False
        for less in smaller(job):
            if time.monotonic() > end:
                return job
            if (
                len(less.text) + len(str(less.style)) + len(str(less.lines))
                >= len(job.text) + len(str(job.style)) + len(str(job.lines))
            ):
                continue
            if timed(less).split(":")[0] == kind:
                job, going = less, True
                break
    return job


def timed(job: Job) -> str:
    """The outcome, or that it takes too long."""

    def stop(*_: object) -> None:
        raise TooLong

    signal.signal(signal.SIGALRM, stop)
    signal.alarm(PATIENCE)
    try:
        return outcome(job)
    except TooLong:
        return "SLOW"
    finally:
        signal.alarm(0)


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path, nargs="+")
    parser.add_argument("--jobs", type=int, default=1000)
    parser.add_argument("--first", type=int, default=0)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--state", type=Path)
    parser.add_argument(
        "--shrink", type=float, default=20, help="seconds to make a failure smaller"
    )
    parser.add_argument("--typescript", type=Path)
    parser.add_argument("--language", action="append", help="jobs of these languages alone")
    arguments = parser.parse_args()
    start_compiler(arguments.typescript)
    corpus = Corpus(arguments.folder)
    if not compilers:
        corpus.files.update({name: [] for name in NAMES})
    if arguments.language:
        corpus.files = {n: f if n in arguments.language else [] for n, f in corpus.files.items()}
    counts: Counter[str] = Counter()
    first = arguments.first
    if arguments.state and arguments.state.exists():
        kept = json.loads(arguments.state.read_text())
        counts, first = Counter(kept["counts"]), kept["next"]
    for number in range(first, first + arguments.jobs):
        job = make(corpus, random.Random(arguments.seed * 10 ** 9 + number))
        if job is None:
            continue
        what = timed(job)
        kind = what.split(":")[0]
        counts[f"{job.language}: {kind}"] += 1
        if kind.isupper():
            small = minimised(job, what, arguments.shrink)
            print(f"job {number}: {what}\n  now {timed(small)}\n  {small}", flush=True)
        if arguments.state and number % 100 == 99:
            arguments.state.write_text(json.dumps({"counts": counts, "next": number + 1}))
    for name, count in sorted(counts.items()):
        print(f"{count:8} {name}")
    return int(any(name.split(": ")[1].isupper() for name in counts))


if __name__ == "__main__":
    sys.exit(main())
