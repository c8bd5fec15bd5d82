"""Regions: parts of a file that have values of their own, or are left as they are."""

from __future__ import annotations

from collections.abc import Sequence

from stilo.layout.measures import Measures
from stilo.records import dataclass


@dataclass(frozen=True)
class Region:
    """Nodes that follow each other, with their tokens, and which of the variants holds there."""

    nodes: range
    tokens: range
    variant: int
    measures: Measures


def measures_at(regions: Sequence[Region], token: int, measures: Measures) -> Measures:
    """What holds at a token: of regions within each other the inner, which is the later."""
    for region in regions:
        if token in region.tokens:
            measures = region.measures
    return measures


def most_careful(regions: Sequence[Region], measures: Measures) -> Measures:
    """Measures by which a line fits only if it does so in each region."""
    every = [measures, *(region.measures for region in regions)]
    return measures._replace(
        width=min(m.width for m in every),
        indent=max(m.indent for m in every),
        continuation=max(m.continuation for m in every),
    )
