"""The stricter check of a result beside its sheet: the language's own syntax tree must be the same.

Brackets around a value, line joins and white space are not in that tree; all else is.
"""

from __future__ import annotations

import ast
import warnings
from typing import Any


def is_same(before: bytes, after: bytes) -> bool:
    """Whether two texts have one syntax tree. Raises SyntaxError for the first."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        one = _parse(before)
        try:
            other = _parse(after)
        except SyntaxError:
            return False
    return _same(one, other)


def _parse(text: bytes) -> ast.AST:
    try:
        return ast.parse(text)
    except (ValueError, RecursionError, MemoryError) as error:
        raise SyntaxError(f"it cannot be read by Python: {error}") from error


def _deleted(statement: ast.Delete) -> list[ast.expr]:
    targets = statement.targets
    if len(targets) == 1 and isinstance(targets[0], ast.Tuple):
        return targets[0].elts
    return targets


def _same(one: ast.AST, other: ast.AST) -> bool:
    """Node for node, field for field, places left out."""
    pairs: list[tuple[Any, Any]] = [(one, other)]
    take, add = pairs.pop, pairs.append
    while pairs:
        a, b = take()
        kind = a.__class__
        if kind is not b.__class__:
            return False
        if kind is ast.Delete:  # in brackets or not, the same names are deleted
            a, b = ast.Delete(_deleted(a)), ast.Delete(_deleted(b))
        for name in kind._fields:
            x: Any = getattr(a, name, None)
            y: Any = getattr(b, name, None)
            if x.__class__ is list:
                if len(x) != len(y):
                    return False
                for p, q in zip(x, y):
                    if isinstance(p, ast.AST):
                        add((p, q))
                    elif p != q:
                        return False
            elif isinstance(x, ast.AST):
                add((x, y))
            elif x != y or x.__class__ is not y.__class__:
                # not a number is no other, and yet the same
                if not (x != x and y != y):
                    return False
    return True
