"""What imports, and the names in them, are sorted by."""

from __future__ import annotations

import re
from collections.abc import Callable
from functools import lru_cache
from typing import Any

Key = Callable[[str], Any]

_DIGITS = re.compile(r"([0-9]+)")


def _plain(text: str) -> Any:
    return text


def _caseless(text: str) -> Any:
    return text.casefold(), text


@lru_cache(maxsize=4096)  # the same few names are sorted in all files
def _natural(text: str) -> Any:
    """Whatever the case, and digits by the number they make: berth2 before berth10."""
    pieces: list[Any] = _DIGITS.split(text.casefold())
    pieces[1::2] = map(int, pieces[1::2])
    return tuple(pieces), text


def _kinds(text: str) -> Any:
    """Constants, then what begins with a capital, then the rest; as `_natural` among these."""
    rank = 0 if len(text) > 1 and text.isupper() else 1 if text[:1].isupper() else 2
    return rank, _natural(text)


#: By the values of the setting `import.sort`.
KEYS: dict[str, Key] = {
    "natural": _natural,
    "kinds": _kinds,
    "plain": _plain,
    "caseless": _caseless,
}


def path_key(path: str, sort: str) -> Any:
    """The key of a path: word by word, those from further up (`..`) before those from here."""
    key = KEYS[sort]
    words = path.lstrip(".")
    return len(words) - len(path), [key(word) for word in words.replace("/", ".").split(".")]
