"""Where JSON's own reader finds a syntax error."""

from __future__ import annotations

import json


def fault(text: str) -> tuple[int, int, str] | None:
    """Line and column (from 1) of the first error, and what is wrong; None if the reader finds none.

    Comments are unknown to it, so a text in which it stops at one is not told of.
    """
    try:
        json.loads(text)
    except json.JSONDecodeError as error:
        if text.startswith(("//", "/*"), error.pos):
            return None
        said = error.msg[:1].lower() + error.msg[1:].removesuffix(" starting at")
        return error.lineno, error.colno, said.replace("expecting", "expected")
    except (ValueError, RecursionError):
        pass
    return None
