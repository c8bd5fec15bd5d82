"""What every setting is, for programs: a list of entries, and a JSON Schema of `stilo.toml`."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from stilo.language import Language
from stilo.registry import language_names, load_language
from stilo.sheet.every import EVERY
from stilo.sheet.parse import Setting
from stilo.sheet.properties import Parts, Whole, Words
from stilo.style.config import GENERATED, KEYS
from stilo.style.given import LAYERS
from stilo.style.named import style_names
from stilo.style.resolve import FileStyle

#: The draft of JSON Schema that is written, by its own name for itself.
DRAFT = "http://json-schema.org/draft-07/schema#"


def entry(style: FileStyle, name: str) -> dict[str, Any]:
    """A setting as it holds for a file, as plain data."""
    setting, given = style.language.settings[name], style.given(name)
    role = name.partition(".")[0] if "." in name else ""
    return {
        "name": name,
        "value": given.value,
        "default": setting.default,
        "layer": given.layer,
        "file": given.file,
        "line": given.line,
        "permitted": permitted(setting),
        "meaning": setting.meaning,
        "role": role,
        "role-meaning": style.language.roles.get(role, ""),
    }


def permitted(setting: Setting) -> list[str] | dict[str, int] | str:
    """The words a setting may be, or the least and the most number, or what it says in words."""
    if isinstance(setting.type, Words):
        return list(setting.type.permitted)
    if not isinstance(setting.type, Whole):
        return str(setting.type)
    return {"least": setting.type.least, "most": setting.type.most}


def schema() -> dict[str, Any]:
    """A JSON Schema (draft 7) by which editors complete and check `stilo.toml`."""
    languages = {name: load_language(name) for name in language_names()}
    common: dict[str, Setting] = {}
    for language in languages.values():
        for setting in language.settings.values():
            common.setdefault(setting.name, setting)
    properties = _settings(
        common, {role: m for v in languages.values() for role, m in v.roles.items()}
    )
    properties["style"] = {
        "type": "string",
        "description": KEYS["style"],
        "examples": list(style_names()),
    }
    properties["skip"] = {
        "type": "array",
        "items": {"type": "string"},
        "description": KEYS["skip"],
    }
    properties["generated"] = {
        "type": "array",
        "items": {"type": "string", "minLength": 1},
        "description": KEYS["generated"],
        "default": list(GENERATED),
    }
    properties["files"] = {
        "type": "object",
        "additionalProperties": {"type": "string"},
        "description": KEYS["files"],
    }
    properties["sheets"] = {
        "type": "object",
        "additionalProperties": {"type": "string"},
        "description": KEYS["sheets"],
    }
    properties["commands"] = {
        "type": "object",
        "additionalProperties": {"type": "array", "items": {"type": "string"}, "minItems": 1},
        "description": KEYS["commands"],
    }
    for name, language in languages.items():
        properties[name] = {
            "type": "object",
            "description": f"settings for {name} alone",
            "properties": _settings(language.settings, language.roles),
            "additionalProperties": False,
        }
    return {
        "$schema": DRAFT,
        "title": "Settings of Stilo",
        "description": "Layers, the weakest first: " + ", ".join(LAYERS) + ".",
        "type": "object",
        "properties": properties,
        # A language of one's own has a table, too.
        "additionalProperties": {"type": "object"},
    }


def _settings(settings: Mapping[str, Setting], roles: Mapping[str, str]) -> dict[str, Any]:
    properties: dict[str, Any] = {
        EVERY: {"type": "object", "description": "what holds for every role that has the aspect"},
    }
    for setting in settings.values():
        role, _, aspect = setting.name.partition(".")
        if not aspect:
            properties[role] = _one(setting)
            continue
        table = properties.setdefault(
            role,
            {
                "type": "object",
                "description": roles.get(role, ""),
                "properties": {},
                "additionalProperties": False,
            },
        )
        table["properties"][aspect] = _one(setting)
    return properties


def _one(setting: Setting) -> dict[str, Any]:
    found: dict[str, Any] = {"description": setting.meaning, "default": setting.default}
    if isinstance(setting.type, Whole):
        bounds = {"minimum": setting.type.least, "maximum": setting.type.most}
        return {"type": "integer", **bounds, **found}
    if isinstance(setting.type, Parts):
        texts = {"type": "array", "items": {"type": "string"}}
        return {"anyOf": [texts, {"type": "string"}], **found}
    return {"enum": permitted(setting), **found}


def matching(language: Language, role: str) -> list[str]:
    """The settings of a role; of no role, for `common`."""
    if role == "common":
        return [name for name in language.settings if "." not in name]
    return [name for name in language.settings if name.partition(".")[0] == role and "." in name]
