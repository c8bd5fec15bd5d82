"""Several expressions in one, separated by commas, as in minified code."""

from __future__ import annotations

import pytest

import stilo


@pytest.mark.parametrize(
    "text, wanted",
    [
        (
            'berth.number=12,berth.name="the twelfth berth of the quay",save(berth,quay);',
            'berth.number = 12,\n  berth.name = "the twelfth berth of the quay",\n  save(berth, quay);\n',
        ),
        ("a=1,b=2;", "a = 1, b = 2;\n"),
        (
            "open&&(ferry.leaves(quay),harbour.opens(gate),tide.rises(12));",
            "open &&\n  (\n    ferry.leaves(quay),\n    harbour.opens(gate),\n    tide.rises(12)\n  );\n",
        ),
        (
            "()=>(ferry.leaves(quay),harbour.opens(gate),tide.rises(12));",
            "() => (\n  ferry.leaves(quay),\n  harbour.opens(gate),\n  tide.rises(12)\n);\n",
        ),
        (
            "on(function(){a();b()}),off(function(){c()}),d;",
            "on(function () {\n  a();\n  b()\n}),\n  off(function () {\n    c()\n  }),\n  d;\n",
        ),
        (
            "function f(){return ferry.leaves(quay),harbour.opens(gate),tide}",
            "function f() {\n  return ferry.leaves(quay),\n    harbour.opens(gate),\n    tide\n}\n",
        ),
    ],
)
def test_expressions_have_a_line_each_where_they_do_not_fit(text: str, wanted: str) -> None:
    style = {"width": 50, "argument-closure-body.short": "never"}
    assert stilo.reformat(text, "javascript", style).text == wanted
    assert stilo.reformat(wanted, "javascript", style).text == wanted


def test_they_may_fill_their_lines() -> None:
    text = "a.b = 12, a.c = 13, a.d = 14, a.e = 15, a.f = 16;\n"
    style = {"width": 30, "sequence.wrap": "flow", "sequence.indent": "none"}
    wanted = "a.b = 12, a.c = 13, a.d = 14,\na.e = 15, a.f = 16;\n"
    assert stilo.reformat(text, "javascript", style).text == wanted
