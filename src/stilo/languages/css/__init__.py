"""CSS (CSS Syntax Module Level 3; Selectors Level 4; CSS Nesting)."""

from __future__ import annotations

from stilo.languages.css.reader import StyleSheetReader
from stilo.support import Support

SUPPORT = Support(reader=StyleSheetReader)
