"""Stilo lays source code out by a sheet: one canonical layout that fits a line width.

    >>> import stilo
    >>> stilo.reformat('{"berth":4}', "json").text
    '{\\n  "berth": 4\\n}\\n'

`reformat` takes a text, `reformat_file` a file; both give a `Result` and
change nothing. All data is immutable; calls may run in several threads.
"""

from importlib import import_module
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from stilo.errors import (
        BadSetting,
        Fault,
        OutOfRange,
        SheetError,
        StiloError,
        SyntaxFault,
        UnknownLanguage,
        UnknownSetting,
        UnreadableSource,
        UnsafeResult,
    )
    from stilo.explain import Decision, Finding, Reason
    from stilo.language import (
        Language,
        language_for_file,
        language_names,
        load_language,
        read_sheet_file,
    )
    from stilo.pipeline import Edit, Result, reformat, reformat_file
    from stilo.source import Position

__version__ = "0.1.0"

__all__ = [
    "BadSetting",
    "Decision",
    "Edit",
    "Fault",
    "Finding",
    "Language",
    "OutOfRange",
    "Position",
    "Reason",
    "Result",
    "SheetError",
    "StiloError",
    "SyntaxFault",
    "UnknownLanguage",
    "UnknownSetting",
    "UnreadableSource",
    "UnsafeResult",
    "language_for_file",
    "language_names",
    "load_language",
    "read_sheet_file",
    "reformat",
    "reformat_file",
]

_MODULES = ("errors", "explain", "language", "pipeline", "source")


def __getattr__(name: str) -> Any:
    """Import what is asked for when it is first asked for, so that start-up stays light."""
    if name in __all__:
        for module in _MODULES:
            value = getattr(import_module(f"stilo.{module}"), name, None)
            if value is not None and value.__module__ == f"stilo.{module}":
                globals()[name] = value
                return value
    raise AttributeError(f"module 'stilo' has no attribute {name!r}")
