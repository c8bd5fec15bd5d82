"""The page of Stilo's public names, from their docstrings."""

from __future__ import annotations

import inspect
from collections.abc import Iterator
from dataclasses import fields, is_dataclass
from functools import cached_property
from typing import Any

import stilo

HEAD = """# From Python

Written by `docs/generate.py` from the docstrings. All of it is imported from `stilo`; all values are
immutable, and calls may run in several threads. [Scripts that run](../examples) show it in use.
"""


#: Of these, no more than what users of Stilo need.
KEPT = {"Language": ("defaults", "values"), "Styles": ("of",)}
#: Made by calls, never by hand.
GIVEN = ("Language",)


def page() -> str:
    """The page as Markdown."""
    names = {name: getattr(stilo, name) for name in stilo.__all__}
    calls = [name for name, value in names.items() if not inspect.isclass(value)]
    errors = [n for n, v in names.items() if inspect.isclass(v) and issubclass(v, Exception)]
    values = [name for name in names if name not in calls and name not in errors]
    lines = [HEAD]
    for title, chosen in (("Calls", calls), ("What they take and give", values)):
        lines.append(f"## {title}\n")
        for name in chosen:
            lines += _entry(name, names[name])
    lines.append("## Errors\n")
    lines += [f"- `{name}`: {_first(names[name])}" for name in errors]
    return "\n".join(lines).rstrip() + "\n"


def _entry(name: str, value: Any) -> Iterator[str]:
    yield f"### {name}\n"
    is_call = not inspect.isclass(value)
    if is_call or ("__init__" in vars(value) and not is_dataclass(value) and name not in GIVEN):
        yield f"```python\n{_wrapped(name, value if is_call else value.__init__)}\n```\n"
    yield _said(value) + "\n"
    members = () if is_call else _members(value)
    kept = KEPT.get(name)
    lines = [line for n, of in members if kept is None or n in kept for line in _member(n, of)]
    if lines:
        yield "\n".join(lines) + "\n"


def _members(value: type) -> Iterator[tuple[str, Any]]:
    if is_dataclass(value):
        yield from ((f.name, f.type) for f in fields(value) if not f.name.startswith("_"))
    elif hasattr(value, "_fields"):
        kinds = value.__annotations__
        yield from ((n, getattr(kinds[n], "__forward_arg__", kinds[n])) for n in value._fields)
    for name, of in vars(value).items():
        if not name.startswith("_"):
            yield name, of


def _member(name: str, of: Any) -> Iterator[str]:
    if isinstance(of, str):
        yield f"- `{name}: {of}`"
    elif isinstance(of, (property, cached_property)):
        got = of.fget if isinstance(of, property) else of.func
        yield f"- `{name}: {got.__annotations__.get('return', '')}`: {_first(got)}"
    elif inspect.isfunction(of):
        yield f"- `{_signature(name, of)}`: {_first(of)}"


def _signature(name: str, function: Any) -> str:
    signature = inspect.signature(function)
    shown: list[str] = []
    for parameter in signature.parameters.values():
        if parameter.name == "self":
            continue
        if parameter.kind is parameter.KEYWORD_ONLY and "*" not in shown:
            shown.append("*")
        star = "*" if parameter.kind is parameter.VAR_POSITIONAL else ""
        default = "" if parameter.default is parameter.empty else f" = {parameter.default!r}"
        shown.append(f"{star}{parameter.name}: {parameter.annotation}{default}")
    is_made = function.__name__ == "__init__"
    gives = "" if is_made else f" -> {signature.return_annotation}"
    return f"{name}({', '.join(shown)}){gives}"


def _wrapped(name: str, function: Any) -> str:
    """A signature, laid out."""
    whole = stilo.reformat(f"def {_signature(name, function)}: ...\n", "python", {"width": 88}).text
    return whole.removeprefix("def ").rstrip().removesuffix("...").rstrip().removesuffix(":")


def _said(value: Any) -> str:
    return inspect.cleandoc(value.__doc__ or "")


def _first(value: Any) -> str:
    """The first paragraph of a docstring, on one line."""
    return " ".join(_said(value).partition("\n\n")[0].split())
