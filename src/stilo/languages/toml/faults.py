"""Where TOML's own reader finds a syntax error."""

from __future__ import annotations

import re
import tomllib

_PLACE = re.compile(r"(.*) \(at (?:line (\d+), column (\d+)|end of document)\)", re.DOTALL)


def fault(text: str) -> tuple[int, int, str] | None:
    """Line and column (from 1) of the first error, and what is wrong; None if the reader finds none."""
    try:
        tomllib.loads(text)
    except tomllib.TOMLDecodeError as error:
        found = _PLACE.fullmatch(str(error))
        if found is None:
            return None
        said = found[1][:1].lower() + found[1][1:]
        if found[2]:
            return int(found[2]), int(found[3]), said
        lines = text.rstrip("\n").split("\n")
        return len(lines), len(lines[-1]) + 1, said
    except (ValueError, RecursionError):
        pass
    return None
