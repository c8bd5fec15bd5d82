"""The reference of sheets, written from the tables and sheets that define them."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from stilo.language import Language
from stilo.registry import language_names, load_language
from stilo.samples import WIDTH, laid_out, samples_of
from stilo.sheet.facts import FACTS
from stilo.sheet.parse import Setting
from stilo.sheet.properties import PROPERTIES, ROLE, Words
from stilo.sheet.selectors import ATTRIBUTES, CONDITIONS, FORMS, FUNCTIONS

#: Settings whose effect cannot be seen in a text.
UNSEEN = (
    "charset",
    "line-ends",
    "final-newline",
    "trim-comments",
    # They depend on the files around.
    "import.wildcards",
    "import.prefer",
    "import.libraries",
    "import.packages",
    "import.qualified",
)


def reference() -> str:
    """The whole reference as Markdown."""
    lines = [
        "# Reference of layout sheets",
        "",
        "Written by `docs/generate.py` from the code and the sheets; do not edit.",
        "",
        "## Rules",
        "",
        *_table(
            ("rule", "meaning"),
            [
                ("`selector { property: value; … }`", "what is declared for the nodes that fit"),
                (
                    f"`selector {{ {ROLE}: name …; }}`",
                    "gives the nodes roles; the strongest rule "
                    "that gives any is the one that counts",
                ),
                ("`@language name { … }`", "the facts of a language, at the top of its sheet"),
                (
                    "`@role name { … }`",
                    "declares a role; each property in it becomes the setting "
                    "`name.property` with this default; `meaning` says what the role is",
                ),
                (
                    "`@setting name { … }`",
                    "declares a setting: `values` (words) or `range` (two "
                    "whole numbers), `default`, `meaning`; a later sheet may change its default",
                ),
                (
                    "`@words name { … }`",
                    "rules that are there once for each word of that setting, which has `parts`: `word` in "
                    "them is a pattern of the word, `remark` of a comment that is the word alone, `meant` the "
                    "last word of its list",
                ),
                ("`setting(name)`", "as a value: what the team chose for that setting"),
            ],
        ),
        "Of several rules that speak of the same property the later sheet wins, then the higher "
        "specificity (fields, then roles and conditions, then kinds), then the later rule.",
        "",
        "## Facts of a language",
        "",
        *_table(("fact", "meaning"), [(f"`{name}`", kind.meaning) for name, kind in FACTS.items()]),
        "## Selectors",
        "",
        *_table(
            ("selector", "fits"),
            [
                *((f"`{form}`", text) for form, text in FORMS.items()),
                *((f"`:{name}`", text) for name, text in CONDITIONS.items()),
                *((f"`:{name}(…)`", text) for name, text in FUNCTIONS.items()),
                *((f'`[text{sign}"…"]`', text) for sign, text in ATTRIBUTES.items()),
            ],
        ),
        "## Properties",
        "",
        *_table(
            ("property", "values", "where nothing is declared", "meaning"),
            [
                (f"`{p.name}`", str(p.type), f"`{p.initial}`", p.meaning)
                for p in PROPERTIES.values()
            ],
        ),
    ]
    lines += ["## Settings", "", "Each language has a page of its settings:", ""]
    lines += [f"- [{name}](settings-{name}.md)" for name in language_names()]
    return "\n".join(lines).rstrip() + "\n"


def settings_page(name: str) -> str:
    """All settings of a language as Markdown, each with its sample at each value."""
    language = load_language(name)
    globs = ", ".join(f"`{glob}`" for glob in language.facts.globs)
    lines = [
        f"# Settings of `{name}`",
        "",
        "Written by `docs/generate.py` from the sheets and their samples; do not edit.",
        "",
        f"For files named {globs}. Each sample is laid out {WIDTH} columns wide. "
        "Where a directive stands in it, it needs that to show something.",
        "",
        "## Common",
        "",
    ]
    role = ""
    for setting in language.settings.values():
        head, dot, _ = setting.name.partition(".")
        if dot and head != role:
            role = head
            lines += [f"## {role}", "", f"{language.roles[role].capitalize()}.", ""]
        lines += _setting(language, setting)
    return "\n".join(lines).rstrip() + "\n"


def _setting(language: Language, setting: Setting) -> list[str]:
    bounds = "" if isinstance(setting.type, Words) else f"; {setting.type}"
    meaning = f"{setting.meaning} Default: `{setting.default}`{bounds}."
    lines = [f"### {setting.name}", "", meaning, ""]
    samples = samples_of(language, setting.name)
    if setting.name in UNSEEN:
        values = ", ".join(f"`{value}`" for value in setting.values_shown)
        return [*lines, f"Values: {values}.", ""]
    for value in setting.values_shown:
        texts = [laid_out(language, sample, setting.name, value).text for sample in samples]
        shown = "\n".join(text if text.endswith("\n") else f"{text}\n" for text in texts)
        lines += [
            f"`{value}`:",
            "",
            f"```{language.name}",
            *shown.rstrip("\n").split("\n"),
            "```",
            "",
        ]
    return lines


def _table(head: Sequence[str], rows: Iterable[Sequence[str]]) -> list[str]:
    def cells(row: Sequence[str]) -> str:
        return "| " + " | ".join(cell.replace("|", "\\|") for cell in row) + " |"

    return [cells(head), "|" + " --- |" * len(head), *map(cells, rows), ""]
