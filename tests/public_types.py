"""The types of the public names, as a type checker sees them. Nothing here is run; CI checks it."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from typing import assert_type

import stilo


def calls(style: stilo.FileStyle, language: stilo.Language) -> None:
    """What each call gives."""
    assert_type(stilo.reformat("", "json", {"width": 80}, lines=(1, 2)), stilo.Result)
    assert_type(stilo.reformat(b"", language, lines=[(1, 2)], path="a.json"), stilo.Result)
    assert_type(stilo.reformat_at("", language, 4), str)
    assert_type(stilo.reformat_file("a.py"), stilo.Result | stilo.DocumentResult)
    assert_type(stilo.reformat_styled("", style), stilo.Result | stilo.DocumentResult)
    assert_type(stilo.define_language("", on="java"), stilo.Language)
    assert_type(stilo.load_language("java"), stilo.Language)
    assert_type(stilo.language_for_file("a.py"), str)
    assert_type(stilo.language_names(), tuple[str, ...])
    assert_type(stilo.style_names(), tuple[str, ...])
    assert_type(stilo.Styles({"width": 90}, style="allman").of("a.py"), stilo.FileStyle)


def values(result: stilo.Result, style: stilo.FileStyle) -> None:
    """What each value holds."""
    assert_type(result.text, str)
    assert_type(result.changed, bool)
    assert_type(result.edits, tuple[stilo.Edit, ...])
    assert_type(result.findings, tuple[stilo.Finding, ...])
    assert_type(result.findings[0].position, stilo.Position)
    assert_type(result.findings[0].reason, stilo.Reason)
    assert_type(result.decision(1), stilo.Decision)
    assert_type(result.indented(4), str)
    assert_type(result.settings_consulted, frozenset[str])
    assert_type(result.order_counts, Counter[str])
    assert_type(style.values, Mapping[str, str | int])
    assert_type(style.given("indent"), stilo.Given)


def errors(error: stilo.SheetError | stilo.ConfigError | stilo.DirectiveError) -> None:
    """All errors have one root."""
    root: stilo.StiloError = error
    assert_type(str(root), str)
