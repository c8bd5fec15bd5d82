"""The figures of a report."""

from __future__ import annotations

import os
from collections import Counter
from collections.abc import Sequence
from io import BytesIO
from pathlib import PurePath
from typing import Any

import matplotlib
import pandas as pd

from stilo.report.measure import WIDEST, Measured, Moment

matplotlib.use("Agg")
from matplotlib import pyplot as plt  # noqa: E402  (after the choice of what draws)
from matplotlib.figure import Figure  # noqa: E402

#: What is and what would be; the line width; what is in style.
OLD, NEW, LIMIT, INK = "#d98032", "#2b7a9b", "#8a1c3b", "#1b2a33"
#: How many settings and folders are drawn.
SETTINGS, FOLDERS = 12, 10
#: Columns that are counted together.
_STEP = 5
plt.rcParams.update({
    "font.size": 10,
    "axes.spines.top": False,
    "axes.spines.right": False,
    "axes.edgecolor": INK,
    "text.color": INK,
    "axes.labelcolor": INK,
    "xtick.color": INK,
    "ytick.color": INK,
    "figure.facecolor": "white",
})


def widths(files: Sequence[Measured]) -> Figure:
    """How wide lines are, before and after, against the line width that most files have."""
    limit = Counter(file.limit for file in files).most_common(1)[0][0]
    figure: Figure
    figure, axes = plt.subplots(figsize=(9, 3.2), layout="constrained")
    edges = list(range(0, WIDEST + _STEP, _STEP))
    for shift, name, colour, side in (
        (0.0, "as it is", OLD, "before"),
        (0.5, "as it would be", NEW, "after"),
    ):
        total: Counter[int] = Counter()
        for file in files:
            total.update(getattr(file, side))
        counts = pd.Series(total).groupby(lambda width: width // _STEP * _STEP).sum()
        heights = [int(counts.get(edge, 0)) for edge in edges]
        wide = sum(n for f in files for width, n in getattr(f, side).items() if width > f.limit)
        label = f"{name}: {wide:,} lines wider than allowed"
        places = [edge + _STEP * (0.05 + shift * 0.9) for edge in edges]
        axes.bar(places, heights, _STEP * 0.43, align="edge", color=colour, label=label)
    axes.axvline(limit + 1, color=LIMIT, linewidth=1.5)
    axes.set_yscale("symlog", linthresh=10)
    axes.yaxis.set_major_formatter(
        matplotlib.ticker.FuncFormatter(lambda value, _: f"{value:,.0f}")
    )
    axes.set(xlabel="width of the line, in columns", ylabel="lines", xlim=(0, WIDEST + _STEP))
    axes.legend(frameon=False, loc="upper right")
    return figure


def places(files: Sequence[Measured]) -> Figure:
    """Places not in style, by setting and by folder."""
    shared = os.path.commonpath([os.path.dirname(os.path.abspath(file.path)) for file in files])
    rows = [
        (_folder(file.path, shared), name, count)
        for file in files
        for name, count in file.settings.items()
    ]
    table = pd.DataFrame(rows, columns=["folder", "setting", "places"])
    by = table.pivot_table(
        index="setting", columns="folder", values="places", aggfunc="sum", fill_value=0
    )
    by = by.loc[by.sum(axis=1).sort_values(ascending=False).index[:SETTINGS]]
    by = by[by.sum().sort_values(ascending=False).index[:FOLDERS]]
    figure: Figure
    figure, axes = plt.subplots(figsize=(9, 1.2 + 0.32 * len(by)), layout="constrained")
    # Each cell by its share of the largest, so that a few large ones leave the others to be seen.
    shade = (by / max(1, by.to_numpy().max())) ** 0.4
    axes.imshow(shade, cmap="Oranges", aspect="auto", vmin=0, vmax=1)
    axes.set_xticks(
        range(len(by.columns)), [_short(name) for name in by.columns], rotation=30, ha="right"
    )
    axes.set_yticks(
        range(len(by)), [f"{name}  ({count:,})" for name, count in by.sum(axis=1).items()]
    )
    for row in range(len(by)):
        for column in range(len(by.columns)):
            count = int(by.iat[row, column])
            colour = "white" if shade.iat[row, column] > 0.75 else INK
            if count:
                axes.text(
                    column, row, f"{count:,}", ha="center", va="center", color=colour, fontsize=9
                )
    axes.spines[:].set_visible(False)
    axes.tick_params(length=0)
    return figure


def _folder(path: str, shared: str) -> str:
    """The folder of a file below the one that all share, by no more than its first two parts."""
    return "/".join(PurePath(os.path.relpath(path, shared)).parent.parts[:2]) or "."


def _short(name: str) -> str:
    return name if len(name) <= 24 else f"…{name[-23:]}"


def over_time(moments: Sequence[Moment]) -> Figure:
    """How much of the code base was in its present style, commit by commit."""
    shares = [100 * moment.in_style / moment.lines for moment in moments if moment.lines]
    dates: list[Any] = [moment.when for moment in moments if moment.lines]
    figure: Figure
    figure, axes = plt.subplots(figsize=(9, 2.6), layout="constrained")
    axes.plot(dates, shares, color=NEW, marker="o", markersize=4)
    axes.set(ylim=(0, 103), ylabel="lines in style, %")
    axes.grid(axis="y", color="#d9dde0")
    if shares:
        axes.annotate(
            f"{shares[-1]:.0f} %", (dates[-1], shares[-1]), (6, -3), textcoords="offset points"
        )
    figure.autofmt_xdate(rotation=0, ha="center")
    return figure


def as_png(figure: Figure) -> bytes:
    """A figure as the bytes of a PNG, after which it is closed."""
    stream = BytesIO()
    figure.savefig(stream, format="png", dpi=130)
    plt.close(figure)
    return stream.getvalue()
