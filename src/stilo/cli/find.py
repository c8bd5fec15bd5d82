"""Settings by the words that people bring, which are not always those of the settings."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence

from stilo.language import Language

#: Words that people use, and those that settings use for the same.
_SAME = {
    "length": ("width",),
    "long": ("width",),
    "margin": ("indent", "width"),
    "tab": ("tabs", "indent-with"),
    "trailing": ("trailing",),
    "comma": ("separator", "comma", "trailing"),
    "newline": ("line", "own-line", "new-line"),
    "new": ("own-line", "new-line", "line"),
    "two": ("indent",),
    "four": ("indent",),
    "own": ("own-line", "own"),
    "else": ("after-body", "else"),
    "curly": ("brace", "body"),
    "brace": ("brace", "body"),
    "paren": ("parentheses", "parenthesis", "bracket"),
    "parenthesis": ("parentheses", "parenthesis", "bracket", "close"),
    "bracket": ("bracket", "close", "open"),
    "closing": ("close", "closing"),
    "open": ("open", "opening"),
    "empty": ("blank",),
    "parameter": ("parameters",),
    "argument": ("arguments",),
    "operator": ("operation", "operator", "condition"),
    "quote": ("quotes",),
    "string": ("string", "quotes"),
    "align": ("align", "column"),
    "vertical": ("column", "align"),
    "order": ("order", "sort"),
    "member": ("fields", "function", "body"),
    "field": ("fields", "field", "body"),
    "statement": ("body", "suite", "statement"),
    "short": ("short",),
    "one-line": ("short",),
    "call": ("call", "arguments", "chain"),
    "method": ("function", "chain", "call"),
    "chain": ("chain",),
    "comment": ("comment",),
    "wrap": ("wrap",),
    "space": ("before", "after", "space", "indent"),
}
_ENDS = re.compile(r"(?:ies|es|s|ing|ed|e)$")


def found(language: Language, words: Sequence[str]) -> list[str]:
    """The settings that fit some words best, the best first.

    A setting fits by its name, its values, and what it and its role mean. All words count the same.
    """
    stems = [stem for word in words for stem in _stems(word)]
    counts = {name: _fit(language, name, stems) for name in language.settings}
    best = max((whole for whole, _ in counts.values()), default=0)
    names = [name for name, (whole, _) in counts.items() if whole == best and best]
    return sorted(names, key=lambda name: -counts[name][1])


def _stems(text: str) -> Iterator[str]:
    """What words begin with, whatever their endings."""
    for word in re.findall(r"[\w-]+", text.lower()):
        if word not in ("a", "an", "the", "on", "in", "of", "at", "for", "to", "its", "between"):
            yield _stem(word)


def _stem(word: str) -> str:
    return _ENDS.sub("", word) if len(word) > 3 else word


_BY_STEM = {_stem(word): others for word, others in _SAME.items()}


def _fit(language: Language, name: str, stems: Sequence[str]) -> tuple[int, int]:
    """How many of the words a setting fits, and how well: those in its name count more."""
    setting = language.settings[name]
    role, _, aspect = name.partition(".")
    values = " ".join(map(str, getattr(setting.type, "permitted", ())))
    said = f"{setting.meaning} {language.roles.get(role, '')} {values}".lower()
    whole = well = 0
    for stem in stems:
        words = (stem, *_BY_STEM.get(stem, ()))
        in_name = any(word in name for word in words)
        in_text = any(re.search(rf"\b{re.escape(word)}", said) for word in words)
        whole += in_name or in_text
        well += 3 * in_name + in_text + (aspect != "" and any(aspect == word for word in words))
    return whole, well
