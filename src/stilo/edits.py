"""Edits: what leads from one text to another, piece by piece."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True)
class Edit:
    """Replace `start`..`end` (byte offsets in the original) by `text`."""

    start: int
    end: int
    text: bytes


def apply_edits(raw: bytes, edits: Sequence[Edit]) -> bytes:
    """What edits, in order and apart, make of a text."""
    pieces, at = [], 0
    for edit in edits:
        pieces += [raw[at:edit.start], edit.text]
        at = edit.end
    return b"".join([*pieces, raw[at:]])
