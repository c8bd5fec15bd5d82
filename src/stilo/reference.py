"""The reference of sheets, written from the tables and sheets that define them."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from stilo.language import language_names, load_language
from stilo.sheet.parse import FACTS
from stilo.sheet.properties import PROPERTIES, ROLE
from stilo.sheet.selectors import ATTRIBUTES, CONDITIONS, FORMS, FUNCTIONS


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
                (f"`selector {{ {ROLE}: name …; }}`", "gives the nodes roles; the strongest rule "
                 "that gives any is the one that counts"),
                ("`@language name { … }`", "the facts of a language, at the top of its sheet"),
                ("`@role name { … }`", "declares a role; each property in it becomes the setting "
                 "`name.property` with this default; `meaning` says what the role is"),
                ("`@setting name { … }`", "declares a setting: `values` (words) or `range` (two "
                 "whole numbers), `default`, `meaning`; a later sheet may change its default"),
                ("`setting(name)`", "as a value: what the team chose for that setting"),
            ],
        ),
        "Of several rules that speak of the same property the later sheet wins, then the higher "
        "specificity (fields, then roles and conditions, then kinds), then the later rule.",
        "",
        "## Facts of a language",
        "",
        *_table(("fact", "meaning"), [(f"`{name}`", text) for name, text in FACTS.items()]),
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
    for name in language_names():
        lines += _language(name)
    return "\n".join(lines).rstrip() + "\n"


def _language(name: str) -> list[str]:
    language = load_language(name)
    globs = ", ".join(f"`{glob}`" for glob in language.files)
    common = [s for s in language.settings.values() if "." not in s.name]
    lines = [
        f"## Settings of `{name}`",
        "",
        f"For files named {globs}.",
        "",
        *_table(
            ("setting", "values", "default", "meaning"),
            [(f"`{s.name}`", str(s.type), f"`{s.default}`", s.meaning) for s in common],
        ),
    ]
    rows = []
    used = language.used_roles
    for role, meaning in sorted(language.roles.items()):
        aspects = [
            f"`{s.name}` = `{s.default}`"
            for s in language.settings.values()
            if s.name.startswith(f"{role}.")
        ]
        if role in used:
            rows.append((f"`.{role}`", meaning, ", ".join(aspects)))
    lines += ["Roles, with their settings and defaults:", ""]
    lines += _table(("role", "is", "settings"), rows)
    return lines


def _table(head: Sequence[str], rows: Iterable[Sequence[str]]) -> list[str]:
    def cells(row: Sequence[str]) -> str:
        return "| " + " | ".join(cell.replace("|", "\\|") for cell in row) + " |"

    return [cells(head), "|" + " --- |" * len(head), *map(cells, rows), ""]
