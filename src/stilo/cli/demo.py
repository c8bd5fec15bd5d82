"""`stilo demo`: the demo file and its result, side by side."""

from __future__ import annotations

from importlib import resources
from pathlib import Path

import stilo
from stilo.cli.telling import tell

#: The files, and the words at which the excerpts of both sides begin. A screen has room for some.
DEMO_FILES = {
    "gauge.c": "static gauge_t",
    "Tickets.cs": "public Sailing Sailing",
    "Sailing.java": "enum Status",
    "tickets.py": "def fare",
    "fares.ipynb": "\"fares",
    "timetable.json": "\"sailings\"",
    "board.js": "for (const sailing",
    "Departures.tsx": "<ul",
    "berths.cpp": "bool BerthPlan",
    "board.css": ".board,",
    "timetable.html": "<nav>",
    "notice.md": "## Fares",
}
SHOWN = 4


def demo_text(name: str) -> bytes:
    """A demo file as it was inherited."""
    return (resources.files("stilo.languages") / "demo" / name).read_bytes()


def show_demo(styles: stilo.Styles, folder: str | None) -> int:
    """Print before and after of an excerpt of each demo file. Returns the exit status."""
    from rich.console import Console
    from rich.table import Table
    from rich.text import Text

    console = Console()
    try:
        results = [
            (name, stilo.reformat_styled(demo_text(name), styles.of(name), name=name))
            for name in DEMO_FILES
        ]
    except stilo.StiloError as error:
        tell(str(error), err=True)
        return 2
    height = max(6, (console.height - 2) // SHOWN - 6)
    for name, result in results[:SHOWN]:
        before = result.source.data.decode().expandtabs(4).splitlines()
        after = result.text.splitlines()
        table = Table(expand=True, header_style="bold")
        table.add_column(f"{name}, as inherited ({len(before)} lines)", ratio=1)
        table.add_column(f"in style ({len(after)} lines)", ratio=1)
        table.add_row(
            *(
                Text(_excerpt(lines, DEMO_FILES[name], height), no_wrap=True, overflow="ellipsis")
                for lines in (before, after)
            )
        )
        console.print(table)
        console.print(
            f"{len(result.findings)} places were not in style; the program and its comments are the same.",
            highlight=False,
        )
    if folder is not None:
        target = Path(folder)
        target.mkdir(parents=True, exist_ok=True)
        for name, _ in results:
            path = target / name
            if path.exists() and path.read_bytes() != demo_text(name):
                tell(f"{path}: is there already, and not written", err=True)
                return 2
        for name, _ in results:
            (target / name).write_bytes(demo_text(name))
        console.print(
            f"The files are in {folder}; try: stilo preview {folder}/{results[0][0]}",
            highlight=False,
        )
    return 0


def _excerpt(lines: list[str], begin: str, height: int) -> str:
    """Some lines from the one on that holds these words."""
    first = next(i for i, line in enumerate(lines) if begin in line)
    return "\n".join(lines[first : first + height])
