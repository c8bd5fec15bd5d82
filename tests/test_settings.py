"""Every setting at its values: its own sample shows each, nothing is lost, the result is settled."""

from __future__ import annotations

import random
from collections.abc import Mapping
from itertools import combinations
from pathlib import Path

import pytest

import stilo
from conftest import DEMO
from stilo.samples import laid_out, samples_of
from stilo.sheet.needs import idle_while
from stilo.sheet.parse import Setting
from stilo.sheet.properties import Parts, Value, Whole, Words

CASES = Path(__file__).parent / "cases"
LONGER = {
    "c": ["constructs", "directives"],
    "cpp": ["constructs"],
    "csharp": ["constructs"],
    "css": ["constructs"],
    "html": ["constructs"],
    "java": ["wrapping", "places"],
    "javascript": ["constructs"],
    "markdown": ["constructs"],
    "json": ["comments", "layout"],
    "python": ["layout"],
    "toml": ["berths"],
    "tsx": ["places"],
    "typescript": ["constructs"],
}

#: How many styles are tried in each language.
STYLES = 16

#: TSX has TypeScript's settings and samples, and nothing of its own.
ALL = [
    (language, name)
    for language in stilo.language_names()
    if language != "tsx"
    for name in stilo.load_language(language).settings
]


#: How a file is encoded is no layout, and what stands for a star depends on the files around.
ELSEWHERE = (
    "charset",
    "import.wildcards",
    "import.prefer",
    "import.libraries",
    "import.packages",
    "import.qualified",
)


@pytest.mark.parametrize("language, name", [pair for pair in ALL if pair[1] not in ELSEWHERE])
def test_each_value_shows_in_the_sample(language: str, name: str) -> None:
    """No two values of a setting give its sample one layout."""
    spoken = stilo.load_language(language)
    samples = samples_of(spoken, name)
    assert samples, "no sample"
    shown: dict[Value, list[bytes]] = {}
    for value in spoken.settings[name].values_shown:
        results = [laid_out(spoken, sample, name, value) for sample in samples]
        for sample, result in zip(samples, results):
            again = laid_out(spoken, sample._replace(text=result.data), name, value)
            assert again.data == result.data
            assert not again.findings
        shown[value] = [result.data for result in results]
    for one, other in combinations(shown, 2):
        assert shown[one] != shown[other], f"{one} and {other} show the same"


def some_values(setting: Setting) -> list[Value]:
    """Values to try: all words, or the least number, a small one and a larger one."""
    if isinstance(setting.type, Words):
        return list(setting.type.permitted)
    if isinstance(setting.type, Parts):
        return list(setting.values_shown)
    assert isinstance(setting.type, Whole)
    chosen = {setting.type.least, min(setting.type.least + 3, setting.type.most), 60}
    return sorted(n for n in chosen if n <= setting.type.most)


def some_styles(settings: Mapping[str, Setting], seed: str) -> list[dict[str, Value]]:
    """Styles in which each value of each setting occurs, in ever other company."""
    chance = random.Random(seed)
    columns = {}
    for name, setting in settings.items():
        values = [v for v in some_values(setting) if not str(v).startswith("utf-16")]
        column = (values * STYLES)[:STYLES]  # the cases are not in UTF-16
        columns[name] = chance.sample(column, STYLES)
    return [{name: column[n] for name, column in columns.items()} for n in range(STYLES)]


@pytest.mark.parametrize("number", range(STYLES))
@pytest.mark.parametrize("language", LONGER)
def test_any_values_keep_the_program_and_are_settled(language: str, number: int) -> None:
    spoken = stilo.load_language(language)
    style = some_styles(spoken.settings, language)[number]
    paths = [
        path
        for path in sorted((CASES / language).glob("*.in.*"))
        if path.name.split(".")[0] in LONGER[language]
    ]
    assert paths
    for path in paths:
        once = stilo.reformat(path.read_bytes(), spoken, style)  # raises if a token is lost
        again = stilo.reformat(once.data, spoken, style)
        assert again.data == once.data, style
        assert not again.findings, style


#: Languages whose sheets build on no other, whose settings would be the same.
OF_THEIR_OWN = [n for n in stilo.language_names() if not stilo.load_language(n).facts.builds_on]


@pytest.mark.parametrize("name", OF_THEIR_OWN)
def test_what_is_said_to_have_no_effect_has_none(name: str) -> None:
    """Over the demo files, at each value of the setting; and there are such settings."""
    language = stilo.load_language(name)
    files = [path for path in DEMO.iterdir() if path.suffix == language.facts.globs[0][1:]]
    texts = [path.read_bytes() for path in files] or [b"berths = [4, 2]\n"]
    count = 0
    for other in language.settings.values():
        for value in other.values_shown:
            style = {other.name: value, "width": 60}
            idle = [
                setting
                for setting in language.settings.values()
                if idle_while(setting.name, {**language.defaults(), other.name: value})
                    == other.name
            ]
            if not idle:
                continue
            count += len(idle)
            wanted = [stilo.reformat(text, language, style).data for text in texts]
            for setting in idle:
                for text, expected in zip(texts, wanted):
                    for v in setting.values_shown:
                        if v != setting.default:
                            found = stilo.reformat(text, language, {**style, setting.name: v})
                            assert found.data == expected, (setting.name, v, style)
    assert count > 1 or not any(name.endswith(".wrap") for name in language.settings)
