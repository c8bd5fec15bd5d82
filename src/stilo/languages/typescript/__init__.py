"""TypeScript (5)."""

from __future__ import annotations

from stilo.support import Support

SUPPORT = Support()
