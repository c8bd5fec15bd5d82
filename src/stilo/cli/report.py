"""`stilo report`: a page about a code base, to look at before a style is adopted."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from stilo.cli.files import Files
from stilo.cli.options import FAILED, IN_STYLE, Failures, Wanted
from stilo.cli.telling import tell
from stilo.cli.work import Workers, outcomes
from stilo.errors import StiloError

if TYPE_CHECKING:
    from stilo.cli.beside import Row
    from stilo.report.measure import Measured, Moment

#: How many lines of a sample are shown; a file of more lines is no sample.
SAMPLE, LONGEST = 24, 2000
#: How many files of each commit are looked at.
MOST_FILES = 120


def report(
    files: Files, wanted: Wanted, by: Workers, page: str, pictures: str | None, commits: int
) -> int:
    """Write the page, and the figures as PNG beside it if asked. Returns the exit status.

    Raises Stopped.
    """
    try:
        from stilo.report import draw
        from stilo.report.page import page as page_of
    except ImportError as error:
        tell(f'a report needs packages ({error.name}): pip install "stilo[report]"', err=True)
        return FAILED
    from stilo.report.measure import measured

    failures = Failures()
    each = outcomes(files, wanted, failures, replace(by, is_afresh=True), measured)
    found = [one for _, one in each if one is not None]
    if not found:
        tell(f"there is nothing to report on{files.rest()}", err=True)
        return FAILED
    moments = _history(wanted, files.named, commits)
    figures = {"widths": draw.as_png(draw.widths(found))}
    if any(file.settings for file in found):
        figures["places"] = draw.as_png(draw.places(found))
    if len(moments) > 1:
        figures["history"] = draw.as_png(draw.over_time(moments))
    title = Path(files.named[0]).resolve().name if len(files.named) == 1 else "Several folders"
    text = page_of(title, found, moments, figures, _sample(found, wanted), list(failures.lines))
    Path(page).write_text(text, encoding="utf-8")
    tell(f"{page}: written", err=True)
    if pictures is not None:
        folder = Path(pictures)
        folder.mkdir(parents=True, exist_ok=True)
        for name, png in figures.items():
            (folder / f"{name}.png").write_bytes(png)
        tell(f"{pictures}: {len(figures)} pictures written", err=True)
    return IN_STYLE


def _history(wanted: Wanted, named: Sequence[str], commits: int) -> list[Moment]:
    """What is to be told of the commits of a folder; nothing where there is no repository."""
    from stilo.report.measure import history

    if len(named) != 1 or commits < 2 or not Path(named[0]).is_dir():
        return []
    try:
        return list(history(Path(named[0]), wanted.styles, commits, MOST_FILES))
    except StiloError as error:
        tell(f"no history: {error}", err=True)
        return []


def _sample(files: Sequence[Measured], wanted: Wanted) -> tuple[str, str, str] | None:
    """The stretch of a file where much would change: its name, the lines, and what they would be."""
    import stilo
    from stilo.cli.beside import rows_of
    from stilo.cli.telling import printable

    changing = [file for file in files if file.changed and file.lines <= LONGEST]
    if not changing:
        return None
    file = max(changing, key=lambda file: file.changed / max(file.lines, 40))
    try:
        result = stilo.reformat_file(file.path, styles=wanted.styles)
    except StiloError:
        return None
    rows = [row for row in rows_of(result.source.data.decode(), result.text) if not row.skipped]
    changes = [_weight(row) for row in rows]
    most = max(range(len(rows)), key=lambda at: (sum(changes[at : at + SAMPLE]), -at))
    shown = rows[most : most + SAMPLE]
    before = "\n".join(row.old.text for row in shown if row.old is not None)
    after = "\n".join(row.new.text for row in shown if row.new is not None)
    return printable(file.path), before, after


def _weight(row: Row) -> int:
    """How much is to be seen at a row: most where words come to stand on other lines."""
    if row.old is None or row.new is None or row.old.text.split() != row.new.text.split():
        return 4
    return int(row.old.text != row.new.text)
