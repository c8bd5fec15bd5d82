"""Many files laid out and written, by one process or by several; one bad file never stops the rest."""

from __future__ import annotations

import os
from collections.abc import Iterable, Iterator, Mapping, Sequence
from concurrent.futures import Executor
from dataclasses import dataclass, field
from functools import lru_cache
from pathlib import Path
from typing import NamedTuple

from stilo.calls import read_bytes, reformat_styled
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

    targets: as `Finder.find` gives them; their lines go before those of the options. executor: runs the work, any of `concurrent.futures`; without one this process does. Raises what the
    executor raises where it breaks down.
    """
    run = os.urandom(8)  # so that another run reads files of settings anew
    jobs = ((target, options, run) for target in targets)
    if executor is None:
        yield from map(_apply, jobs)
    else:
        yield from executor.map(_apply, jobs, chunksize=CHUNK)


def _apply(job: tuple[Target, Options, bytes]) -> Outcome:
    (path, lines), options, run = job
    try:
        data = read_bytes(path)
        style = _styles(options, run).of(path)
        if style.skipped:
            return Outcome(path, skipped=style.skipped)
        asked = lines if lines is not None else options.lines
        result = reformat_styled(data, style, lines=asked, name=path)
        if result.changed:
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
    except Exception as error:
        if os.environ.get("STILO_DEBUG"):
            raise
        return Outcome(path, errors=[str(UnexpectedError(path, error))])


@lru_cache(maxsize=1)
def _styles(options: Options, run: bytes) -> Styles:
    """What finds styles, once for each process and run, since it keeps what it has read."""
    return options.styles()
