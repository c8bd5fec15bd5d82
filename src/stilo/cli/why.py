"""`stilo why`: what decides a place, and what it would look like otherwise."""

from __future__ import annotations

import textwrap
from collections.abc import Iterator
from dataclasses import replace

import stilo
from stilo.calls import read_bytes
from stilo.cli.options import Wanted
from stilo.cli.telling import tell
from stilo.sheet.properties import Value

#: The most lines of a statement that are shown, and the most other values of a number.
LINES, NUMBERS = 16, 3


def explain(
    path: str, line: int, column: int | None, wanted: Wanted, in_result: bool, tries: bool
) -> None:
    """Print what decides the gap before a token. Raises StiloError."""
    data, style = read_bytes(path), wanted.styles.of(path)
    result = stilo.reformat_styled(data, style, name=path)
    if in_result and isinstance(result, stilo.Result):
        line, column = result.source_place(line, column)
    decision = result.decision(line, column)
    at = decision.position
    tell(f"{path}:{at.line}:{at.column}: between {decision.before} and {decision.after}")
    tell(f"  becomes     {decision.outcome}")
    tell(f"  because     {decision.because}")
    for number, reason in enumerate(decision.reasons):
        tell(f"  {'decided by' if not number else '       and'}  {reason}")
    # Those of a text of another language in the file are not tried.
    known = style.language.settings
    names = dict.fromkeys(r.setting for r in decision.reasons if r.setting and r.setting in known)
    for name in names:
        others = [str(value) for value in _others(style, name)]
        if others:
            tell(f"  {name} can also be {', '.join(others)}")
    if tries:
        for name in names:
            for value in _others(style, name):
                tell(f"\n  {name} = {value}")
                other = replace(style, values={**style.values, name: value})
                _show(data, other, path, line, column)
    elif names:
        tell("  --try shows what that would look like")
    if not any(reason.setting for reason in decision.reasons):
        tell("  no setting changes that; a rule in a sheet of your own can (--sheet)")


def _others(style: stilo.FileStyle, name: str) -> Iterator[Value]:
    """The other values of a setting: all words, or numbers around the one that holds."""
    setting, value = style.language.settings[name], style.values[name]
    if isinstance(value, int):
        near = [value + step for step in (-2, -1, 1, 2)] if value < 20 else [value - 20, value + 20]
        found: list[Value] = [n for n in near if setting.type.read(str(n)) is not None]
        yield from found[:NUMBERS]
        return
    yield from (other for other in setting.values_shown if other != value)


def _show(data: bytes, style: stilo.FileStyle, path: str, line: int, column: int | None) -> None:
    """Print the statement at a place in another style."""
    try:
        result = stilo.reformat_styled(data, style, name=path)
        text = result.statement(line, column) if isinstance(result, stilo.Result) else ""
    except stilo.StiloError as error:
        tell(f"    {error}")
        return
    lines = textwrap.dedent(text).splitlines()
    for shown in lines[:LINES]:
        tell(f"    {shown}")
    if len(lines) > LINES:
        tell("    …")
