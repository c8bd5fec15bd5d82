"""`stilo demo`: the demo file and its result, side by side."""

from __future__ import annotations

from importlib import resources
from pathlib import Path

import click

import stilo

DEMO_FILES = ("Sailing.java", "timetable.json")
EXCERPT = 40


def demo_text(name: str) -> bytes:
    """A demo file as it was inherited."""
    return (resources.files("stilo.languages") / "demo" / name).read_bytes()


def show_demo(style: dict[str, str], folder: str | None) -> int:
    """Print before and after of an excerpt of each demo file. Returns the exit status."""
    from rich.console import Console
    from rich.table import Table
    from rich.text import Text

    console = Console()
    try:
        results = [
            (name, stilo.reformat(demo_text(name), stilo.language_for_file(name), style, name=name))
            for name in DEMO_FILES
        ]
    except stilo.StiloError as error:
        click.echo(str(error), err=True)
        return 2
    for name, result in results:
        before = result.source.data.decode().expandtabs(4).splitlines()
        after = result.text.splitlines()
        table = Table(expand=True, show_lines=False)
        table.add_column(f"{name}, as inherited ({len(before)} lines)", ratio=1)
        table.add_column(f"in style ({len(after)} lines)", ratio=1)
        table.add_row(
            Text("\n".join(before[:EXCERPT]), no_wrap=True, overflow="ellipsis"),
            Text("\n".join(after[:EXCERPT]), no_wrap=True, overflow="ellipsis"),
        )
        console.print(table)
        console.print(
            f"{len(result.findings)} places were not in style; tokens and comments are the same."
        )
    if folder is not None:
        target = Path(folder)
        target.mkdir(parents=True, exist_ok=True)
        for name, _ in results:
            (target / name).write_bytes(demo_text(name))
        console.print(
            f"The files are in {folder}; try: stilo preview {folder}/{DEMO_FILES[0]}",
            highlight=False,
        )
    return 0
