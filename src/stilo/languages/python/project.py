"""What a Python project says of itself in `pyproject.toml` that its layout must heed."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

#: Where the versions stand that a project supports (PEP 621), as specifiers of PEP 440.
KEY = ("project", "requires-python")
_LEAST = re.compile(r"(?:>=?|~=|===?|\^)\s*(\d{1,3})(?:\.(\d{1,4}))?")


def settings(document: Mapping[str, Any]) -> dict[str, str]:
    """The settings that follow from a `pyproject.toml`, by name.

    With no version that is the least, or one that cannot be read, nothing follows.
    """
    said: Any = document
    for word in KEY:
        said = said.get(word) if isinstance(said, Mapping) else None
    if not isinstance(said, str):
        return {}
    versions = [(int(major), int(minor or 0)) for major, minor in _LEAST.findall(said)]
    return {"oldest-python": "3.9" if min(versions) >= (3, 9) else "3.8"} if versions else {}
