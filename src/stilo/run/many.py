"""Many files laid out, by one process or by several; one bad file never stops the rest."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from concurrent.futures import Executor
from contextlib import contextmanager, suppress
from dataclasses import field, replace
from functools import lru_cache
from pathlib import Path
from typing import Generic, NamedTuple, TypeVar

from stilo.calls import read_bytes, reformat_styled
from stilo.edits import lines_touched
from stilo.embed.segments import DocumentResult
from stilo.errors import StiloError, UnexpectedError, UnreadableSource
from stilo.records import dataclass
from stilo.result import OpenStar, Result, Unread
from stilo.run.cache import BATCH, Cache, Entry, Folders, Keys
from stilo.run.files import WriteFailed, write_result
from stilo.run.find import Target
from stilo.source import LineRange
from stilo.style.resolve import FileStyle, Styles
from stilo.verify.check import Checked

#: Files that a process takes at a time, so that handing them over costs little.
CHUNK = 4
Found = TypeVar("Found")


class Options(NamedTuple):
    """What holds for all files of a run, as plain values that can go to another process.

    given: pairs of settings and values, over all else. writes: results are written to their files. folder:
    where relative paths begin, as the process that does the work may stand elsewhere; the current folder of
    the one that asks, if empty. commands: pairs of languages and commands. The rest as for `Styles` and `reformat`.
    """

    given: tuple[tuple[str, str], ...] = ()
    style: str | None = None
    language: str | None = None
    sheet: str | None = None
    lines: tuple[LineRange, ...] | None = None
    only_order: bool = False
    writes: bool = False
    folder: str = ""
    commands: tuple[tuple[str, tuple[str, ...]], ...] = ()

    def styles(self) -> Styles:
        """What finds the style of each file."""
        sheet = None if self.sheet is None else Path(self.sheet)
        return Styles(dict(self.given), self.style, self.language, sheet, dict(self.commands))


@dataclass(frozen=True)
class Outcome(Generic[Found]):
    """What became of a file. found: what was made of its result, or None where nothing was. is_known: it is
    known to be in style from an earlier run. skipped: the place of the pattern by which it was left alone, or
    "". errors: lines that say why nothing was done. entry: what to remember.
    """

    path: str
    found: Found | None = None
    is_known: bool = False
    skipped: str = ""
    errors: Sequence[str] = ()
    entry: Entry | None = None


@dataclass(frozen=True)
class Applied:
    """What was laid out. lines: how many lines were changed. unclear, unknown: why stars of its imports stay.
    counts: what became of its imports. data: the result, where it is not written to its file. unread: the lines
    that stay as they are."""

    is_changed: bool
    lines: int = 0
    unclear: Sequence[OpenStar] = ()
    unknown: Sequence[str] = ()
    counts: Mapping[str, int] = field(default_factory=dict)
    data: Checked | None = None
    unread: Sequence[Unread] = ()


def apply_all(
    targets: Iterable[Target],
    options: Options,
    executor: Executor | None = None,
    cache: Cache | None = None,
) -> Iterator[Outcome[Applied]]:
    """Lay files out and write those that change. Gives what became of each, in their order; see `each`."""
    return each(targets, options._replace(writes=True), applied, executor, cache)


def handed_over(path: str, result: Result | DocumentResult) -> Applied:
    """What became of a file, with its result, which is not written."""
    return replace(applied(path, result), data=result.data)


def applied(path: str, result: Result | DocumentResult) -> Applied:
    """What became of a file."""
    stars = result if isinstance(result, Result) else None
    return Applied(
        result.changed,
        lines_touched(result.source.raw, result.edits) if result.changed else 0,
        stars.open_stars if stars else (),
        stars.unknown_modules if stars else (),
        result.order_counts,
        unread=result.unread,
    )


def each(
    targets: Iterable[Target],
    options: Options,
    made_of: Callable[[str, Result | DocumentResult], Found],
    executor: Executor | None = None,
    cache: Cache | None = None,
) -> Iterator[Outcome[Found]]:
    """Lay files out, and make something of each result. Gives what became of each, in their order.

    targets: as `Finder.find` gives them; their lines go before those of the options. made_of: a function of
    path and result, which other processes must be able to find by its name. executor: runs the work, any of
    `concurrent.futures`; without one this process does. cache: what is known of earlier runs; of what is
    in style by it nothing is made. Raises what the executor raises where it breaks down.
    """
    run = os.urandom(8)  # so that another run reads files of settings anew
    wanted = list(targets)
    known = _known(wanted, options, cache) if cache is not None else frozenset[int]()
    options = options._replace(folder=options.folder or os.getcwd())
    jobs = [(target, options, made_of, run) for n, target in enumerate(wanted) if n not in known]
    if executor is None:
        outcomes: Iterator[Outcome[Found]] = map(_work, jobs)
    else:
        outcomes = executor.map(_work, jobs, chunksize=CHUNK)
    return _in_order(wanted, known, outcomes, cache)


def _in_order(
    targets: Sequence[Target],
    known: frozenset[int],
    outcomes: Iterator[Outcome[Found]],
    cache: Cache | None,
) -> Iterator[Outcome[Found]]:
    """What became of each file; what is learnt is remembered, also if the run is stopped."""
    learnt: list[Entry] = []
    try:
        for number, target in enumerate(targets):
            if number in known:
                yield Outcome(target.path, is_known=True)
                continue
            outcome = next(outcomes)
            if outcome.entry is not None:
                learnt.append(outcome.entry)
            if cache is not None and len(learnt) >= BATCH:
                cache.add(learnt)
                learnt.clear()
            yield outcome
    finally:
        if cache is not None and learnt:
            cache.add(learnt)


def _known(targets: Sequence[Target], options: Options, cache: Cache) -> frozenset[int]:
    """Which of some files are known to be in style."""
    styles, keys, folders = options.styles(), Keys(), Folders()
    found: dict[int, bytes] = {}
    for number, (path, lines, data) in enumerate(targets):
        if lines is None and options.lines is None:
            with suppress(StiloError):  # which is told when it is laid out
                style = styles.of(path)
                if not style.skipped:
                    found[number] = keys.key(style, read_bytes(path) if data is None else data)
    entries = cache.known(found.values())
    return frozenset(
        number
        for number, key in found.items()
        if key in entries and folders.are_as(entries[key], targets[number].path)
    )


def _work(
    job: tuple[Target, Options, Callable[[str, Result | DocumentResult], Found], bytes],
) -> Outcome[Found]:
    target, options, made_of, run = job
    path = target.path
    styles, keys = _of_run(options, run)
    asked = target.lines if target.lines is not None else options.lines
    try:
        with _faults_of_ours(path):
            is_here = os.getcwd() == options.folder
            place = path if is_here else os.path.join(options.folder, path)
            style, result = lay_out(target, styles, asked, options.only_order, place)
            if result is None:
                return Outcome(path, skipped=style.skipped)
            if options.writes and result.changed:
                _write(place, path, result)
            found = made_of(path, result)
            is_whole = asked is None and not options.only_order
            is_in_style = not result.changed or options.writes
            entry = keys.entry(style, result) if is_whole and is_in_style else None
            return Outcome(path, found, entry=entry)
    except StiloError as error:
        return Outcome(path, errors=str(error).splitlines())


#: By which code a process knows, in a handler of signals, that it is at work on a file.
at_work = _work.__code__


def lay_out(
    target: Target,
    styles: Styles,
    lines: Sequence[LineRange] | None,
    only_order: bool = False,
    place: str = "",
) -> tuple[FileStyle, Result | DocumentResult | None]:
    """Lay a file out in its style. Gives the style and the result; None if the style says that the file is to
    be left alone.

    lines: those of whose statements it is, or None for all. place: its path, if it is not that of the target,
    by which it is called.

    Raises what `reformat_styled` raises, and UnexpectedError for a fault of Stilo itself.
    """
    path = target.path
    with _faults_of_ours(path):
        style = styles.of(place or path)
        data = _read(place or path, path) if target.data is None else target.data
        if style.skipped:
            return style, None
        return style, reformat_styled(data, style, lines=lines, name=path, only_order=only_order)


def _write(place: str, path: str, result: Result | DocumentResult) -> None:
    """Write a result to its file. Raises WriteFailed, which calls it as it was named."""
    try:
        write_result(place, result.data, result.source.raw)
    except WriteFailed as error:
        raise WriteFailed(path, error.reason) from error


def _read(place: str, path: str) -> bytes:
    """The bytes of a file. Raises UnreadableSource, which calls it as it was named."""
    try:
        return read_bytes(place)
    except UnreadableSource as error:
        raise UnreadableSource(path, error.reason) from error


@contextmanager
def _faults_of_ours(path: str) -> Iterator[None]:
    """Make an UnexpectedError of whatever Stilo does not raise on purpose while it works on a file."""
    try:
        yield
    except StiloError:
        raise
    except Exception as error:
        if os.environ.get("STILO_DEBUG"):
            raise
        raise UnexpectedError(path, error) from error


@lru_cache(maxsize=1)
def _of_run(options: Options, run: bytes) -> tuple[Styles, Keys]:
    """What finds styles and digests, once for each process and run, since it keeps what it has read."""
    return options.styles(), Keys()
