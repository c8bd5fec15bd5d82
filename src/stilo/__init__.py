"""Stilo lays source code out by a sheet: one canonical layout that fits a line width.

    >>> import stilo
    >>> stilo.reformat('{"berth":4}', "json").text
    '{\\n  "berth": 4\\n}\\n'

`reformat` takes a text, `reformat_file` a file; both give a `Result` and
change nothing. All data is immutable; calls may run in several threads.
"""

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
from stilo.reformat import Edit, Result, reformat, reformat_file
from stilo.language import Language, language_for_file, language_names, load_language
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
    "reformat",
    "reformat_file",
]
