"""Stilo reformats source code into one layout that fits a line width, in the style you choose.

    >>> import stilo
    >>> stilo.reformat('{"berth":4}', "json").text
    '{"berth": 4}\\n'

`reformat` takes a text, `reformat_file` a file; both give a `Result` and
change nothing. All data is immutable; calls may run in several threads.
"""

from importlib import import_module
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from stilo.calls import reformat, reformat_at, reformat_file, reformat_styled
    from stilo.edits import Edit
    from stilo.embed.segments import DocumentResult
    from stilo.errors import (
        BadSetting, ConfigError, DirectiveError, Fault, OutOfRange, SheetError, StiloError,
        SyntaxFault, UnknownLanguage, UnknownSetting, UnreadableSource, UnsafeResult,
    )
    from stilo.explain.decisions import Decision
    from stilo.explain.findings import Finding
    from stilo.explain.reasons import Reason
    from stilo.language import Language
    from stilo.registry import define_language, language_for_file, language_names, load_language
    from stilo.result import Result
    from stilo.source import Position
    from stilo.style.given import Given
    from stilo.style.named import style_names
    from stilo.style.resolve import FileStyle, Styles

__version__ = "0.1.0"

__all__ = [
    "BadSetting",
    "ConfigError",
    "Decision",
    "DirectiveError",
    "DocumentResult",
    "Edit",
    "Fault",
    "FileStyle",
    "Finding",
    "Given",
    "Language",
    "OutOfRange",
    "Position",
    "Reason",
    "Result",
    "SheetError",
    "StiloError",
    "Styles",
    "SyntaxFault",
    "UnknownLanguage",
    "UnknownSetting",
    "UnreadableSource",
    "UnsafeResult",
    "define_language",
    "language_for_file",
    "language_names",
    "load_language",
    "reformat",
    "reformat_at",
    "reformat_file",
    "reformat_styled",
    "style_names",
]

_MODULES = (
    "calls",
    "edits",
    "embed.segments",
    "errors",
    "explain.decisions",
    "explain.findings",
    "explain.reasons",
    "language",
    "registry",
    "result",
    "source",
    "style.given",
    "style.named",
    "style.resolve",
)


def __dir__() -> list[str]:
    return sorted([*__all__, "__version__"])


def __getattr__(name: str) -> Any:
    """Import what is asked for when it is first asked for, so that start-up stays light."""
    if name in __all__:
        for module in _MODULES:
            value = getattr(import_module(f"stilo.{module}"), name, None)
            if value is not None and value.__module__ == f"stilo.{module}":
                globals()[name] = value
                return value
    raise AttributeError(f"module 'stilo' has no attribute {name!r}")
