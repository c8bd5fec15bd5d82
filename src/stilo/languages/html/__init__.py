"""HTML (the living standard of the WHATWG)."""

from __future__ import annotations

from stilo.languages.html.check import check
from stilo.languages.html.reader import PageReader
from stilo.support import Support

SUPPORT = Support(reader=PageReader, check=check)
