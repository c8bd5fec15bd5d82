"""`stilo apply`: files laid out and written; or what is staged; or standard input, in a pipe."""

from __future__ import annotations

import time
from collections import Counter
from dataclasses import replace
from pathlib import Path

from stilo.calls import read_bytes
from stilo.cli.counts import told
from stilo.cli.files import Files
from stilo.cli.notes import tell_open, tell_unread
from stilo.cli.options import FAILED, IN_STYLE, Failures, Wanted
from stilo.cli.telling import hand_over, tell
from stilo.cli.work import Stopped, Workers, outcomes
from stilo.errors import StiloError
from stilo.explain.findings import count_of
from stilo.run.files import write_result
from stilo.run.many import applied, handed_over
from stilo.verify.check import Checked


def apply_files(files: Files, wanted: Wanted, by: Workers) -> int:
    """Lay files out, write them, and tell of it. Returns the exit status."""
    if files.is_input:
        return _apply_input(files, wanted, by)
    failures = Failures()
    changed = lines = 0
    total: Counter[str] = Counter()
    to_stage: dict[str, Checked] = {}
    stopped = ""
    begin = time.perf_counter()
    made_of = handed_over if files.is_staged else applied
    try:
        for path, found in outcomes(files, wanted, failures, by, made_of, not files.is_staged):
            if found is None:
                continue
            tell_open(path, found.unclear, found.unknown)
            tell_unread(path, found.unread)
            if found.is_changed:
                changed += 1
                lines += found.lines
                total.update(found.counts)
                if found.data is not None:
                    to_stage[path] = found.data
                if not by.is_quiet:
                    what = f"laid out, {count_of(found.lines, 'line')}"
                    tell(f"{path}: {what}{told(Counter(found.counts))}")
    except Stopped as error:
        stopped = f"; {error}"
    if to_stage and not stopped:
        _stage(files, to_stage, failures)
    seconds = time.perf_counter() - begin
    kept = files.laid_out - changed
    said = f"laid out: {changed}; in style before: {kept}; refused: {failures.count}"
    said += f"{files.rest()}{told(total)}"
    size = f"; lines: {lines}; {seconds:.1f} s" if changed else ""
    if not by.is_quiet or stopped:
        tell(f"{said}{size}{stopped}", err=True)
    return FAILED if failures.count or stopped else IN_STYLE


def _stage(files: Files, results: dict[str, Checked], failures: Failures) -> None:
    """Stage results, and write those to their files that held just what was staged."""
    from stilo.run.staged import stage

    try:
        stage(Path.cwd(), [(files.staged[path], data) for path, data in results.items()])
    except StiloError as error:
        failures.tell(error)
        return
    for path, data in results.items():
        before = files.staged[path].data
        try:
            if read_bytes(path) == before:
                write_result(path, data, before)
            else:
                said = "staged; the file itself holds something else and stays as it is"
                tell(f"{path}: {said}", err=True)
        except StiloError as error:
            failures.tell(error)


def _apply_input(files: Files, wanted: Wanted, by: Workers) -> int:
    """Lay out standard input and print the result; nothing where it is refused."""
    failures = Failures()
    for path, found in outcomes(files, wanted, failures, replace(by, is_afresh=True), handed_over):
        if found is not None and found.data is not None:
            tell_open(path, found.unclear, found.unknown)
            tell_unread(path, found.unread)
            hand_over(found.data)
    if files.skipped:
        hand_over(files.input)
    return FAILED if failures.count else IN_STYLE
