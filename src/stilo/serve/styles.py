"""The style of an open text: that of its file, with what the editor says where nothing else does."""

from __future__ import annotations

import os
import threading
import time
from collections.abc import Mapping
from dataclasses import replace

from stilo.errors import UnknownLanguage
from stilo.registry import language_names
from stilo.serve.documents import Snapshot
from stilo.sheet.properties import Value
from stilo.style.config import PROJECT_FILE, SHARED_FILE
from stilo.style.given import Given
from stilo.style.resolve import FileStyle, Styles

#: The files whose change may change the style of others, by name or by ending.
SETTINGS_FILES = (PROJECT_FILE, SHARED_FILE, ".editorconfig")
SHEET_ENDING = ".stilo"
#: For how many seconds files of settings are not read again, if nobody says that they changed.
FRESH = 3.0
#: The layer of what the editor says.
EDITOR = "editor"


def is_settings_file(path: str) -> bool:
    """Whether the style of other files may depend on a file."""
    return os.path.basename(path) in SETTINGS_FILES or path.endswith(SHEET_ENDING)


class StyleFinder:
    """Finds the styles of open texts. Safe to share between threads."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._styles = Styles()
        self._read_at = time.monotonic()

    def forget(self) -> None:
        """Read all files of settings again when they are next needed."""
        from stilo.style import editorconfig

        with self._lock:
            editorconfig.forget()
            self._styles = Styles()
            self._read_at = time.monotonic()

    def of(self, text: Snapshot, said: Mapping[str, Value] | None = None) -> FileStyle:
        """The style of a text. said: values of settings that hold where no layer gives any.

        Raises UnknownLanguage, ConfigError, and what a language's loading raises.
        """
        if time.monotonic() - self._read_at > FRESH:
            self.forget()
        with self._lock:
            try:
                style = self._styles.of(text.path)
            except UnknownLanguage:
                if text.language not in language_names():
                    raise
                style = Styles(language=text.language).of(text.path)
        # The text is characters to an editor, which knows itself how they are encoded.
        values = {**style.values, "charset": "keep"}
        origins = dict(style.origins)
        for name, value in (said or {}).items():
            setting = style.language.settings.get(name)
            read = None if setting is None or name in origins else setting.type.read(str(value))
            if read is not None:
                values[name] = read
                origins[name] = Given(read, EDITOR, "the editor", 0)
        return replace(style, values=values, origins=origins)
