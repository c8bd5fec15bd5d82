"""The patterns of sheets. Those of a sheet that is not ours are searched for with a limit of time.

A pattern can be written so that looking for it takes forever (`(a+)+b`); whoever lays out a repository
must not have to trust its sheets that far.
"""

from __future__ import annotations

import re
import time
from typing import Any, AnyStr, cast

from stilo.errors import StiloError

#: Seconds that one search may take; those after which it counts as slow, and how many may be slow.
LIMIT, SLOW, MOST_SLOW = 1.0, 0.05, 20


class SlowPattern(StiloError):
    """A pattern of a sheet takes too long on some text."""

    def __init__(self, pattern: str) -> None:
        self.pattern = pattern
        super().__init__(
            f"the sheet's pattern {pattern!r} takes too long on this text; write it otherwise"
        )


def compiled(pattern: AnyStr, flags: int = 0, is_ours: bool = False) -> re.Pattern[AnyStr]:
    """A pattern, ready to be searched for. Raises re.error, and later SlowPattern if it is not ours."""
    found = re.compile(pattern, flags)
    return found if is_ours else cast("re.Pattern[AnyStr]", _Limited(found))


class _Limited:
    """Searches as a pattern of `re` does, by a package that can stop in time."""

    def __init__(self, known: re.Pattern[Any]) -> None:
        import regex

        self.pattern, self.flags = known.pattern, known.flags
        self.groups, self.groupindex = known.groups, known.groupindex
        try:
            self._found = regex.compile(known.pattern, known.flags & (re.DOTALL | re.MULTILINE))
        except regex.error as error:
            raise re.error(str(error)) from error
        self._slow = 0

    def _timed(self, method: str, *arguments: Any) -> Any:
        begin = time.monotonic()
        try:
            found = getattr(self._found, method)(*arguments, timeout=LIMIT)
            found = list(found) if method == "finditer" else found
        except TimeoutError:
            raise self._too_slow() from None
        if time.monotonic() - begin > SLOW:
            self._slow += 1
            if self._slow > MOST_SLOW:
                raise self._too_slow()
        return found

    def _too_slow(self) -> SlowPattern:
        text = self.pattern
        return SlowPattern(text.decode("utf-8", "replace") if isinstance(text, bytes) else text)

    def search(self, *arguments: Any) -> Any:
        """As `re.Pattern.search`; the others likewise."""
        return self._timed("search", *arguments)

    def match(self, *arguments: Any) -> Any:
        return self._timed("match", *arguments)

    def fullmatch(self, *arguments: Any) -> Any:
        return self._timed("fullmatch", *arguments)

    def findall(self, *arguments: Any) -> Any:
        return self._timed("findall", *arguments)

    def finditer(self, *arguments: Any) -> Any:
        return self._timed("finditer", *arguments)

    def sub(self, *arguments: Any) -> Any:
        return self._timed("sub", *arguments)
