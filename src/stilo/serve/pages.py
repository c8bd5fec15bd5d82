"""Pages of the reference as files, for an editor to open."""

from __future__ import annotations

from pathlib import Path

import stilo
from stilo.errors import StiloError
from stilo.registry import language_names, load_language
from stilo.user_cache import cache_folder, keep


def page_of(setting: str) -> tuple[Path, int] | None:
    """The page that has a setting, written where it is not there yet, and the line of its heading (from 1).

    setting: its name, perhaps after that of its language. None if there is no such page.
    """
    from stilo.reference import settings_page

    language, _, name = setting.partition(".")
    if language not in language_names():
        language, name = _first_with(setting), setting
    folder = cache_folder()
    if not language or folder is None:
        return None
    path = folder / f"reference-{stilo.__version__}" / f"settings-{language}.md"
    try:
        if not path.is_file() and not keep(path, settings_page(language).encode()):
            return None
        rows = path.read_text(encoding="utf-8").splitlines()
    except (OSError, StiloError):
        return None
    return path, rows.index(f"### {name}") + 1 if f"### {name}" in rows else 1


def _first_with(setting: str) -> str:
    return next((n for n in language_names() if setting in load_language(n).settings), "")
