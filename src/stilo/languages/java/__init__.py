"""Java."""

from __future__ import annotations

from stilo.languages.java.spelling import spelt_out
from stilo.support import Support


def _names(module: str, offers: str, libraries: tuple[str, ...]) -> frozenset[str] | None:
    from stilo.languages.java.catalogue import names  # which reads archives

    return names(module, offers, libraries)


SUPPORT = Support(spelt_out=spelt_out, names=_names)
