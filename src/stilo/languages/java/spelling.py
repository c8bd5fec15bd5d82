"""What Java reads in a source that its grammar does not see: characters written by their numbers.

The Java Language Specification, section 3.3: `\\u` and four digits, after an even number of backslashes,
stand for a character before anything else is read, so that they may end a string.
"""

from __future__ import annotations

import re

#: Those that end or begin a text, a comment or a line, or take that from what follows. Others change no token
#: within a text or a comment, and outside of these the grammar takes none.
_NUMBERED = re.compile(rb"(\\+)u+00(22|27|2[aAfF]|5[cC]|0[aAdD])")


def spelt_out(data: bytes) -> bytes:
    """The source with such characters in the place of their numbers."""
    if b"\\" not in data or b"\\u" not in data:
        return data
    return _NUMBERED.sub(_character, data)


def _character(found: re.Match[bytes]) -> bytes:
    """The character that a number stands for, unless the backslash before it is one itself."""
    slashes = found[1]
    return slashes[:-1] + bytes([int(found[2], 16)]) if len(slashes) % 2 else found[0]
