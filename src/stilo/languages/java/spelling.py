"""What Java reads in a source that its grammar does not see: characters written by their numbers.

The Java Language Specification, section 3.3: `\\u` and four digits, after an even number of backslashes,
stand for a character before anything else is read, so that they may end a string.
"""

from __future__ import annotations

import re

#: Those of ASCII that are printed or white space; of others no token begins or ends otherwise.
_NUMBERED = re.compile(rb"(?<!\\)((?:\\\\)*)\\u+00([2-6][0-9a-fA-F]|7[0-9a-eA-E]|0[9aAcCdD])")


def spelt_out(data: bytes) -> bytes:
    """The source with such characters in the place of their numbers."""
    if b"\\u" not in data:
        return data
    return _NUMBERED.sub(lambda found: found[1] + bytes([int(found[2], 16)]), data)
