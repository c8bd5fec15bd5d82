"""TOML 1.0 (toml.io)."""

from __future__ import annotations

from stilo.support import Support


def _fault(text: str) -> tuple[int, int, str] | None:
    from stilo.languages.toml.faults import fault

    return fault(text)


SUPPORT = Support(fault=_fault)
