"""Every setting of every language, at each of its values: nothing lost, settled, and not without effect."""

from __future__ import annotations

from pathlib import Path

import pytest

import stilo
from stilo.sheet.properties import Value, Whole, Words

CASES = Path(__file__).parent / "cases"
SAMPLES = {
    "java": ["wrapping", "short", "opened", "tails", "columns", "places", "prose"],
    "json": ["comments", "layout"],
    "toml": ["layout"],
}


def values_of(setting: stilo.language.Setting) -> list[Value]:
    """Values to try: all words, or the least number, a small one and a larger one."""
    if isinstance(setting.type, Words):
        return list(setting.type.permitted)
    if isinstance(setting.type, Whole):
        chosen = {setting.type.least, min(setting.type.least + 3, setting.type.most), 60}
        return sorted(n for n in chosen if n <= setting.type.most)
    return []


def sources(language: str) -> list[bytes]:
    return [
        path.read_bytes()
        for path in sorted((CASES / language).glob("*.in.*"))
        if path.name.split(".")[0] in SAMPLES[language]
    ]


ALL = [
    (language, name)
    for language in SAMPLES
    for name, setting in stilo.load_language(language).settings.items()
    if "." not in name or name.split(".")[0] in stilo.load_language(language).used_roles
]


@pytest.mark.parametrize("language, name", ALL)
def test_any_value_keeps_the_program_and_is_settled(language: str, name: str) -> None:
    setting = stilo.load_language(language).settings[name]
    for value in values_of(setting):
        style = {"width": 60, name: value}
        for source in sources(language):
            once = stilo.reformat(source, language, style)  # raises if a token would not survive
            again = stilo.reformat(once.data, language, style)
            assert again.data == once.data, (name, value)
            assert not again.findings, (name, value)
