"""Pages of the reference as files, for an editor to open."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

import stilo
from stilo.errors import StiloError
from stilo.registry import language_names, load_language


def page_of(setting: str) -> tuple[Path, int] | None:
    """The page that has a setting, written where it is not there yet, and the line of its heading (from 1).

    setting: its name, perhaps after that of its language. None if there is no such page.
    """
    from platformdirs import user_cache_path

    from stilo.reference import settings_page

    language, _, name = setting.partition(".")
    if language not in language_names():
        language, name = _first_with(setting), setting
    if not language:
        return None
    try:
        folder = user_cache_path("stilo", appauthor=False) / f"reference-{stilo.__version__}"
        path = folder / f"settings-{language}.md"
        if not path.is_file():
            folder.mkdir(parents=True, exist_ok=True)
            handle, made = tempfile.mkstemp(dir=folder)
            with open(handle, "w", encoding="utf-8") as stream:
                stream.write(settings_page(language))
            os.replace(made, path)
        rows = path.read_text(encoding="utf-8").splitlines()
    except (OSError, RuntimeError, StiloError):
        return None
    return path, rows.index(f"### {name}") + 1 if f"### {name}" in rows else 1


def _first_with(setting: str) -> str:
    return next((n for n in language_names() if setting in load_language(n).settings), "")
