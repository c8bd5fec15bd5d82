"""The work of a command over its files: by this process, by several, or by those of a cluster."""

from __future__ import annotations

import functools
import os
import signal
import sys
import threading
import time
from collections.abc import Callable, Iterator
from concurrent.futures import BrokenExecutor, Executor
from contextlib import contextmanager
from types import FrameType
from typing import TYPE_CHECKING, Any, TypeVar

import click

from stilo.cli.files import Files
from stilo.cli.options import FAILED, Failures, Wanted
from stilo.cli.telling import Progress
from stilo.errors import StiloError
from stilo.records import dataclass

if TYPE_CHECKING:
    from stilo import DocumentResult, Result

Found = TypeVar("Found")
#: The most processes that may be asked for.
MOST_JOBS = 256
#: Seconds between two looks at whether the first process is still there.
WATCH = 1.0
#: The signals that end a process.
_ENDING = frozenset({signal.SIGINT, signal.SIGTERM, getattr(signal, "SIGHUP", signal.SIGTERM)})
#: Fewer files are laid out sooner by one process.
FEW = 30


class Stopped(StiloError):
    """The work was broken off, or could not begin. left: how many files were not looked at, or not told of."""

    def __init__(self, why: str, left: int = 0) -> None:
        self.why, self.left = why, left
        super().__init__(f"{why}; not looked at, or not told of: {left}" if left else why)


@dataclass(frozen=True)
class Workers:
    """Who does the work, and whether that is told. jobs: how many processes, or None. cluster: the address of a
    Dask scheduler. is_afresh: whatever is known of earlier runs, each file is looked at. is_quiet: nothing but
    errors is told."""

    jobs: int | None = None
    cluster: str | None = None
    is_afresh: bool = False
    is_quiet: bool = False


def workers(command: Callable[..., Any]) -> Callable[..., Any]:
    """Give a command the options that say who does the work; it gets them as one argument, `by`."""

    @functools.wraps(command)
    def collect(
        jobs: int | None, cluster: str | None, afresh: bool, quiet: bool, **others: Any
    ) -> Any:
        if jobs is not None and cluster is not None:
            raise click.UsageError("--jobs and --cluster exclude each other")
        return command(**others, by=Workers(jobs, cluster, afresh, quiet))

    decorated: Callable[..., Any] = collect
    for option in (
        click.option("--quiet", "-q", is_flag=True, help="Tell of nothing but errors."),
        click.option(
            "--afresh",
            is_flag=True,
            help="Look at every file, also at those that are known to be in style from earlier runs.",
        ),
        click.option(
            "--cluster",
            metavar="ADDRESS",
            help="Work on a Dask cluster, by the address of its scheduler; see docs/projects.md.",
        ),
        click.option(
            "--jobs",
            type=click.IntRange(1, MOST_JOBS),
            metavar="N",
            help="Work in N processes. Default: one for each processor, where there are many files.",
        ),
    ):
        decorated = option(decorated)
    return decorated


def outcomes(
    files: Files,
    wanted: Wanted,
    failures: Failures,
    by: Workers,
    made_of: Callable[[str, Result | DocumentResult], Found],
    writes: bool = False,
) -> Iterator[tuple[str, Found | None]]:
    """Lay files out, and make something of each result; see `run.many.each`. writes: results are written to
    their files.

    Tells what fails, and of files that are left alone. Gives the path of each other file, and what was made
    of it; None where it is known to be in style. Raises Stopped.
    """
    from stilo.run.cache import open_cache
    from stilo.run.many import Options, each

    lines = None if wanted.lines is None else tuple(wanted.lines)
    given = tuple(wanted.settings.items())
    style, sheet = (name and _whole(name) for name in (wanted.style, wanted.sheet))
    commands = tuple(wanted.commands.items())
    options = Options(given, style, wanted.language, sheet, lines, writes=writes, commands=commands)
    targets = list(files.targets(wanted, failures))
    cache = None if by.is_afresh else open_cache()
    left = len(targets)
    try:
        with _executor(by, len(targets)) as executor, Progress(len(targets)) as progress:
            with _uninterrupted():  # while processes start, it would be lost, or make them complain
                found = each(targets, options, made_of, executor, cache)
            for outcome in found:
                left -= 1
                progress.step()
                if outcome.errors:
                    failures.tell_lines(outcome.errors)
                elif outcome.skipped:
                    files.tell_skipped(outcome.path, outcome.skipped)
                else:
                    files.laid_out += 1
                    yield outcome.path, outcome.found
    except KeyboardInterrupt:
        raise Stopped("stopped", left) from None
    except BrokenExecutor:
        raise Stopped("a process of ours was ended", left) from None
    finally:
        if cache is not None:
            cache.close()


def _whole(name: str) -> str:
    """The whole path of a file, so that it is found from elsewhere; any other name as it is."""
    return os.path.abspath(name) if os.path.isfile(name) else name


@contextmanager
def _executor(by: Workers, count: int) -> Iterator[Executor | None]:
    """What does the work on so many files; None: this process."""
    if by.cluster is not None:
        with _cluster(by.cluster) as executor:
            yield executor
        return
    jobs = min(by.jobs or (_processors() if count >= FEW else 1), count)
    if jobs < 2:
        yield None
        return

    def processes() -> Executor:
        from concurrent.futures import ProcessPoolExecutor

        return ProcessPoolExecutor(jobs, initializer=_work_for, initargs=(os.getpid(),))

    pool = _Late(processes, 2 if by.jobs else FEW)
    try:
        yield pool
    finally:
        pool.shutdown(cancel_futures=True)


class _Late(Executor):
    """An executor that is made when there is enough to do: most runs find nearly all in style."""

    def __init__(self, make: Callable[[], Executor], least: int) -> None:
        self._make, self._least = make, least
        self._made: Executor | None = None

    def map(self, *arguments: Any, **others: Any) -> Iterator[Any]:
        """As the executor's own."""
        call, jobs = arguments
        waiting = list(jobs)
        if len(waiting) < self._least:
            return map(call, waiting)
        self._made = self._make()
        return self._made.map(call, waiting, **others)

    def shutdown(self, wait: bool = True, *, cancel_futures: bool = False) -> None:
        """Whatever happens, no process goes on to another file afterwards."""
        if self._made is not None:
            self._made.shutdown(wait, cancel_futures=cancel_futures)


@contextmanager
def _cluster(address: str) -> Iterator[Executor]:
    """The workers of a Dask cluster. Raises Stopped."""
    try:
        from distributed import Client
    except ImportError:
        raise Stopped('--cluster needs a package: pip install "stilo[cluster]"') from None
    try:
        client = Client(address)
    except (OSError, ValueError) as error:
        raise Stopped(f"{address}: no scheduler answers: {error}") from error
    with client:
        yield client.get_executor(pure=False)


@contextmanager
def _uninterrupted() -> Iterator[None]:
    """Put off what would end this process until the end of it, where the platform can."""
    if hasattr(signal, "pthread_sigmask"):
        before = signal.pthread_sigmask(signal.SIG_BLOCK, _ENDING)
        try:
            yield
        finally:
            signal.pthread_sigmask(signal.SIG_SETMASK, before)
    else:
        yield


def _work_for(first: int) -> None:
    """An interrupt is the first process's concern; the others end the file that they are at. They end
    with the first."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    for number in _ENDING - {signal.SIGINT}:
        signal.signal(number, _end_quietly)
    if hasattr(signal, "pthread_sigmask"):
        signal.pthread_sigmask(signal.SIG_UNBLOCK, _ENDING)
    threading.Thread(target=_end_with, args=(first,), daemon=True).start()


def _end_quietly(number: int, frame: FrameType | None) -> None:
    """End by way of what has to be cleaned up, if a file is at work; else there is nothing to be said."""
    many = sys.modules.get("stilo.run.many")
    while frame is not None and many is not None:
        if frame.f_code is many.at_work:
            sys.exit(128 + number)
        frame = frame.f_back
    os._exit(128 + number)


def _end_with(first: int) -> None:
    """Wait until the first process is gone, then end: by a signal, so that nothing is left behind."""
    while os.getppid() == first:
        time.sleep(WATCH)
    os.kill(os.getpid(), signal.SIGTERM)
    time.sleep(WATCH)
    os._exit(FAILED)


def _processors() -> int:
    """How many processors this process may use."""
    affinity = getattr(os, "sched_getaffinity", None)
    return len(affinity(0)) if affinity is not None else os.cpu_count() or 1
