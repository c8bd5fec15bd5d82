"""Samples: for each setting a text that each of its values lays out differently.

They are files beside the sheets, `<language>/samples/<role>.<extension>`, or, for one setting of a
role, `<role>.<aspect>.<extension>`. What else a sample needs stands in directives within it, or,
where that holds for whole files, in a file of settings of its name that ends in `.style`.
"""

from __future__ import annotations

import tomllib
from functools import lru_cache
from importlib import resources
from typing import NamedTuple

from stilo.calls import reformat_styled
from stilo.embed.segments import AnyResult
from stilo.language import Language
from stilo.registry import language_called, load_language
from stilo.request import Inner
from stilo.sheet.properties import Value
from stilo.style.resolve import FileStyle

#: The width at which samples are laid out, narrow enough to stand beside each other.
WIDTH = 60


class Sample(NamedTuple):
    """A text as inherited, with settings that it needs to show something."""

    text: bytes
    style: dict[str, Value]


def _files(language: Language) -> dict[str, Sample]:
    """Name without its extension → sample, of all of a language, and of those that it builds on."""
    below = language.facts.builds_on
    return {**(_files(load_language(below)) if below else {}), **_files_in(language.name)}


@lru_cache
def _files_in(language: str) -> dict[str, Sample]:
    """The same of the samples in one folder."""
    folder = resources.files("stilo.languages") / language / "samples"
    if not folder.is_dir():
        return {}
    files = [entry for entry in folder.iterdir() if entry.is_file()]  # an installer may add a folder
    texts = {entry.name.rpartition("."): entry.read_bytes() for entry in files}
    styles = {
        name: tomllib.loads(t.decode()) for (name, _, end), t in texts.items() if end == "style"
    }
    return {
        name: Sample(text, styles.get(name, {}))
        for (name, _, end), text in texts.items()
        if end != "style"
    }


def samples_of(language: Language, name: str) -> list[Sample]:
    """The samples of a setting, most often one."""
    files = _files(language)
    role = name.partition(".")[0]
    own = [key for key in files if key == name or key.startswith(f"{name}.")]
    found = own if "." not in name or own else [role]
    return [files[key] for key in sorted(found) if key in files]


def laid_out(language: Language, sample: Sample, name: str, value: Value) -> AnyResult:
    """A sample with a setting at a value; texts of other languages in it, in the style of their sheets."""
    values = language.values({"width": WIDTH, **sample.style, name: value})
    known = language.knowing(values)
    style = FileStyle(known, values, {}, inner=_of_sheet)
    return reformat_styled(sample.text, style, name=f"sample of {name}")


def _of_sheet(called: str) -> Inner | None:
    """The style of a language's own sheet, by what a text calls the language."""
    name = language_called(called)
    if name is None:
        return None
    language = load_language(name)
    return Inner(language, language.defaults(), {})
