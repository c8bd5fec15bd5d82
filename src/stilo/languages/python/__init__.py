"""Python 3."""

from __future__ import annotations

from pathlib import Path

from stilo.languages.python.check import charset, fault, first_difference
from stilo.languages.python.project import settings
from stilo.support import Support


def _standard_modules() -> frozenset[str]:
    from stilo.languages.python.modules import STANDARD

    return STANDARD


def _folders(root: Path) -> list[Path]:
    from stilo.languages.python.catalogue import folders

    return folders(root)


SUPPORT = Support(
    check=first_difference,
    charset=charset,
    fault=fault,
    project_settings=settings,
    standard_modules=_standard_modules,
    folders=_folders,
)
