"""Many files laid out and written, by one process or by several; one bad file never stops the rest."""

from __future__ import annotations

import os
from collections.abc import Iterable, Iterator, Mapping, Sequence
from concurrent.futures import Executor
from contextlib import contextmanager
from dataclasses import dataclass, field
from functools import lru_cache
from pathlib import Path
from typing import NamedTuple

from stilo.calls import read_bytes, reformat_styled
from stilo.embed.segments import DocumentResult
from stilo.errors import StiloError, UnexpectedError
from stilo.result import OpenStar, Result
from stilo.run.files import write_result
from stilo.run.find import Target
from stilo.source import LineRange
from stilo.style.resolve import Styles

#: Files that a process takes at a time, so that handing them over costs little.
CHUNK = 4


class Options(NamedTuple):
    """What holds for all files of a run, as plain values that can go to another process.

    given: pairs of settings and values, over all else. The rest as for `Styles` and `reformat`.
    """

    given: tuple[tuple[str, str], ...] = ()
    style: str | None = None
    language: str | None = None
    sheet: str | None = None
    lines: tuple[LineRange, ...] | None = None

    def styles(self) -> Styles:
        """What finds the style of each file."""
        sheet = None if self.sheet is None else Path(self.sheet)
        return Styles(dict(self.given), self.style, self.language, sheet)


@dataclass(frozen=True)
class Outcome:
    """What became of a file. skipped: the place of the pattern by which it was left alone, or "". errors:
    lines that say why nothing was done. unclear, unknown: why stars of its imports stay. counts: what became
    of its imports.
    """

    path: str
    is_changed: bool = False
    skipped: str = ""
    errors: Sequence[str] = ()
    unclear: Sequence[OpenStar] = ()
    unknown: Sequence[str] = ()
    counts: Mapping[str, int] = field(default_factory=dict)


def apply_all(
    targets: Iterable[Target], options: Options, executor: Executor | None = None
) -> Iterator[Outcome]:
    """Lay files out and write those that change. Gives what became of each, in their order.

    targets: as `Finder.find` gives them; their lines go before those of the options. executor: runs the
    work, any of `concurrent.futures`; without one this process does. Raises what the executor raises where it
    breaks down.
    """
    run = os.urandom(8)  # so that another run reads files of settings anew
    jobs = ((target, options, run) for target in targets)
    if executor is None:
        return map(_apply, jobs)
    return executor.map(_apply, jobs, chunksize=CHUNK)


def _apply(job: tuple[Target, Options, bytes]) -> Outcome:
    (path, lines), options, run = job
    try:
        asked = lines if lines is not None else options.lines
        skipped, result = lay_out(path, _styles(options, run), asked)
        if result is None:
            return Outcome(path, skipped=skipped)
        if result.changed:
            with _faults_of_ours(path):
                write_result(path, result.data, result.source.raw)
        stars = result if isinstance(result, Result) else None
        return Outcome(
            path,
            result.changed,
            unclear=stars.open_stars if stars else (),
            unknown=stars.unknown_modules if stars else (),
            counts=result.order_counts
        )
    except StiloError as error:
        return Outcome(path, errors=str(error).splitlines())


def lay_out(
    path: str, styles: Styles, lines: Sequence[LineRange] | None, only_order: bool = False
) -> tuple[str, Result | DocumentResult | None]:
    """Read a file and lay it out in its style. Gives "" and the result; of a file that is to be left
    alone the place of the pattern that says so, and None.

    Raises what `reformat_styled` raises, and UnexpectedError for a fault of Stilo itself.
    """
    with _faults_of_ours(path):
        data = read_bytes(path)
        style = styles.of(path)
        if style.skipped:
            return style.skipped, None
        return "", reformat_styled(data, style, lines=lines, name=path, only_order=only_order)


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
def _styles(options: Options, run: bytes) -> Styles:
    """What finds styles, once for each process and run, since it keeps what it has read."""
    return options.styles()
