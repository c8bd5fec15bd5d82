"""`stilo apply`: files laid out and written."""

from __future__ import annotations

import time
from collections import Counter

from stilo.cli.arrange import tell_open
from stilo.cli.counts import told
from stilo.cli.files import Files
from stilo.cli.options import FAILED, IN_STYLE, Failures, Wanted
from stilo.cli.telling import tell
from stilo.cli.work import Stopped, Workers, outcomes
from stilo.run.many import written


def apply_files(files: Files, wanted: Wanted, by: Workers) -> int:
    """Lay files out, write them, and tell of it. Returns the exit status."""
    failures = Failures()
    changed = lines = 0
    total: Counter[str] = Counter()
    stopped = ""
    begin = time.perf_counter()
    try:
        for path, found in outcomes(files, wanted, failures, by, written):
            if found is None:
                continue
            tell_open(path, found.unclear, found.unknown)
            if found.is_changed:
                changed += 1
                lines += found.lines
                total.update(found.counts)
                what = "1 line" if found.lines == 1 else f"{found.lines} lines"
                tell(f"{path}: laid out, {what}{told(Counter(found.counts))}")
    except Stopped as error:
        stopped = f"; {error}"
    seconds = time.perf_counter() - begin
    kept = files.laid_out - changed
    said = f"laid out: {changed}; in style before: {kept}; refused: {failures.count}"
    said += f"{files.rest()}{told(total)}"
    tell(f"{said}; lines: {lines}; {seconds:.1f} s{stopped}", err=True)
    return FAILED if failures.count or stopped else IN_STYLE
