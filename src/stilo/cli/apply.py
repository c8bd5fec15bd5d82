"""`stilo apply`: files laid out and written, by one process or several."""

from __future__ import annotations

import os
import signal
import threading
import time
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from contextlib import contextmanager

from stilo.cli.arrange import tell_open
from stilo.cli.counts import told
from stilo.cli.files import Files
from stilo.cli.options import FAILED, IN_STYLE, Failures, Wanted
from stilo.cli.telling import tell
from stilo.run.many import Options, apply_all

#: Seconds between two looks at whether the first process is still there.
WATCH = 1.0
#: Fewer files are laid out sooner by one process.
FEW = 30


def apply_files(files: Files, wanted: Wanted, jobs: int | None) -> int:
    """Lay files out, write them, and tell of it. Returns the exit status."""
    failures = Failures()
    lines = None if wanted.lines is None else tuple(wanted.lines)
    given = tuple(wanted.settings.items())
    options = Options(given, wanted.style, wanted.language, wanted.sheet, lines)
    targets = list(files.targets(wanted, failures))
    count = jobs or (_processors() if len(targets) >= FEW else 1)
    changed = kept = 0
    total: Counter[str] = Counter()
    try:
        with _processes(min(count, len(targets))) as executor:
            with _uninterrupted():  # while processes start, an interrupt would be lost
                outcomes = apply_all(targets, options, executor)
            for outcome in outcomes:
                if outcome.errors:
                    failures.tell_lines(outcome.errors)
                elif outcome.skipped:
                    files.tell_skipped(outcome.path, outcome.skipped)
                else:
                    tell_open(outcome.path, outcome.unclear, outcome.unknown)
                    kept += not outcome.is_changed
                if outcome.is_changed:
                    changed += 1
                    total.update(outcome.counts)
                    tell(f"{outcome.path}: laid out{told(Counter(outcome.counts))}")
    except (KeyboardInterrupt, BrokenProcessPool) as error:
        left = len(targets) - changed - kept - failures.count - files.skipped
        why = "stopped" if isinstance(error, KeyboardInterrupt) else "a process of ours was ended"
        tell(f"{why}; laid out: {changed}; not looked at, or not told of: {left}", err=True)
        return FAILED
    said = f"laid out: {changed}; in style before: {kept}; refused: {failures.count}"
    tell(f"{said}{files.rest()}{told(total)}", err=True)
    return FAILED if failures.count else IN_STYLE


@contextmanager
def _processes(count: int) -> Iterator[ProcessPoolExecutor | None]:
    """So many processes, if more than one. Whatever happens, none goes on to another file afterwards."""
    if count < 2:
        yield None
        return
    executor = ProcessPoolExecutor(count, initializer=_work_for, initargs=(os.getpid(),))
    try:
        yield executor
    finally:
        executor.shutdown(cancel_futures=True)


@contextmanager
def _uninterrupted() -> Iterator[None]:
    """Put an interrupt off until the end, where the platform can."""
    mask = getattr(signal, "pthread_sigmask", None)
    if mask is None:
        yield
        return
    mask(signal.SIG_BLOCK, {signal.SIGINT})
    try:
        yield
    finally:
        mask(signal.SIG_UNBLOCK, {signal.SIGINT})


def _work_for(first: int) -> None:
    """An interrupt is the first process's concern; the others end the file that they are at. They end
    with the first."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    threading.Thread(target=_end_with, args=(first,), daemon=True).start()


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
