"""The report as one page of HTML that needs nothing else."""

from __future__ import annotations

from base64 import b64encode
from collections.abc import Iterator, Mapping, Sequence
from html import escape

import pandas as pd

import stilo
from stilo.explain.findings import count_of
from stilo.report.measure import Measured, Moment

#: How many files are listed.
WORST = 15
_STYLE = """
body { font: 16px/1.5 system-ui, sans-serif; color: #1b2a33; background: #fcfcfa; margin: 0 auto;
  max-width: 62rem; padding: 1.5rem }
h1 { margin: 0 } h2 { margin: 2.2rem 0 .3rem } p { margin: .3rem 0 }
.totals { display: flex; gap: 2.5rem; margin: 1.2rem 0 }
.totals b { display: block; font-size: 1.9rem; line-height: 1.2 }
img { max-width: 100%; border: 1px solid #e2e4e0; background: white }
table { border-collapse: collapse; font-size: .92rem } th { text-align: left }
th, td { padding: .2rem .9rem .2rem 0; border-bottom: 1px solid #e2e4e0 } td.count { text-align: right }
.sample { display: grid; grid-template-columns: 1fr 1fr; gap: 1rem }
pre { font: 12.5px/1.35 ui-monospace, monospace; background: white; border: 1px solid #e2e4e0; margin: 0;
  padding: .6rem; overflow-x: auto; tab-size: 4 }
"""


def page(
    title: str,
    files: Sequence[Measured],
    moments: Sequence[Moment],
    figures: Mapping[str, bytes],
    sample: tuple[str, str, str] | None,
    refused: Sequence[str],
) -> str:
    """The page. figures: PNGs by name: `widths`, `places`, `history`. sample: a file's name, some of its text,
    and the same as it would be. refused: why files are not in it."""
    return "\n".join(_parts(title, files, moments, figures, sample, refused)) + "\n"


def _parts(
    title: str,
    files: Sequence[Measured],
    moments: Sequence[Moment],
    figures: Mapping[str, bytes],
    sample: tuple[str, str, str] | None,
    refused: Sequence[str],
) -> Iterator[str]:
    lines, changed = sum(f.lines for f in files), sum(f.changed for f in files)
    in_style = sum(not file.changed for file in files)
    yield (
        f'<!doctype html>\n<html lang="en">\n<meta charset="utf-8">\n<title>{escape(title)}</title>'
    )
    yield f'<meta name="viewport" content="width=device-width">\n<style>{_STYLE}</style>'
    yield f"<h1>{escape(title)}</h1>\n<p>How much of it is in style, and what is not.</p>"
    yield '<div class="totals">'
    for number, what in (
        (f"{_percent(lines - changed, lines)} %", f"of {lines:,} lines are in style"),
        (f"{in_style:,} of {len(files):,}", "files are in style"),
        (f"{changed:,}", "lines would change"),
    ):
        yield f"<div><b>{number}</b>{what}</div>"
    yield "</div>"
    if "widths" in figures:
        yield "<h2>Line widths</h2>\n<p>The line is the width that the style allows. The scale of lines "
        yield "is logarithmic, so that a few long lines can be seen.</p>"
        yield _picture(figures["widths"], "Lines by width, as they are and as they would be")
    if "places" in figures:
        yield "<h2>What is not in style, by setting and folder</h2>"
        yield "<p>A setting that asks for much may be one to choose otherwise.</p>"
        yield _picture(figures["places"], "Places not in style by setting and folder")
    if in_style < len(files):
        yield "<h2>Files that would change most</h2>"
        yield _table(files)
    if sample is not None:
        name, before, after = sample
        yield f"<h2>A sample</h2>\n<p>From {escape(name)}: as it is, and as it would be.</p>"
        yield f'<div class="sample"><pre>{escape(before)}</pre><pre>{escape(after)}</pre></div>'
    if "history" in figures:
        yield "<h2>Over its history</h2>"
        first, last = moments[0], moments[-1]
        yield (
            f"<p>{count_of(len(moments), 'commit')} from {_day(first)} to {_day(last)}, each "
            "measured by the style of today, on the same files where there are many.</p>"
        )
        yield _picture(figures["history"], "Share of lines in style over time")
    if refused:
        yield f"<h2>Not looked at</h2>\n<p>{count_of(len(refused), 'file')} could not be read:</p><ul>"
        yield from (f"<li>{escape(line)}</li>" for line in refused[:WORST])
        yield f"</ul>{f'<p>and {len(refused) - WORST} more</p>' if len(refused) > WORST else ''}"
    yield f"<p><small>Made by Stilo {stilo.__version__}.</small></p>\n</html>"


def _day(moment: Moment) -> str:
    return f"{moment.when.day} {moment.when:%B %Y}"


def _percent(part: int, whole: int) -> str:
    """A share, never rounded up to all nor down to none."""
    share = 100 * part / whole if whole else 100.0
    if 99 < share < 100 or 0 < share < 1:
        return f"{min(share, 99.9):.1f}"
    return f"{share:.0f}"


def _table(files: Sequence[Measured]) -> str:
    """The files with the most lines to change."""
    table = pd.DataFrame(
        [
            (f.path, f.lines, f.changed, max(f.settings, key=lambda n: f.settings[n], default=""))
            for f in files
        ],
        columns=["path", "lines", "changed", "setting"],
    )
    worst = table[table.changed > 0].sort_values(["changed", "path"], ascending=[False, True])
    rows = [
        f'<tr><td>{escape(row.path)}<td class="count">{row.changed:,}<td class="count">{row.lines:,}'
        f"<td>{escape(row.setting)}"
        for row in worst.head(WORST).itertuples()
    ]
    return (
        "<table><tr><th>file<th>lines to change<th>lines<th>most by the setting\n"
        + "\n".join(rows)
        + "\n</table>"
    )


def _picture(png: bytes, what: str) -> str:
    return f'<img alt="{escape(what)}" src="data:image/png;base64,{b64encode(png).decode()}">'
