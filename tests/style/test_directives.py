"""Directives in comments: what they leave, what they set, and what is wrong with them."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import stilo

LEFT = [
    (
        "the next item, with all its lines",
        "class A {\n// stilo: leave\n  int[] a = {1,\n   2};  // tide\nint  b;\n}\n",
        "class A {\n    // stilo: leave\n  int[] a = {1,\n   2};  // tide\n    int b;\n}\n",
    ),
    (
        "the item that it stands behind",
        "class A {\nvoid b() {\nput( 1,0,\n 0,1); // stilo: leave\nput( 2);\n}\n}\n",
        "class A {\n    void b() {\n        put( 1,0,\n 0,1); // stilo: leave\n        put(2);\n    }\n}\n",
    ),
    (
        "from here to there",
        "class A {\n// stilo: leave begin\nint  a;\n\n\n\nint  b;\n// stilo: leave end\nint  c;\n}\n",
        "class A {\n    // stilo: leave begin\nint  a;\n\n\n\nint  b;\n// stilo: leave end\n    int c;\n}\n",
    ),
    (
        "an item of a list",
        "int[][] a = {\n/* stilo: leave */ {1,  0},\n{0,  1}};\n",
        "int[][] a = {\n    /* stilo: leave */ {1,  0},\n    {0, 1}\n};\n",
    ),
    (
        "the whole file",
        "/* stilo: leave file */\nclass  A{ }",
        "/* stilo: leave file */\nclass  A{ }",
    ),
    (
        "a whole file that does not parse",
        "// by hand\r\n// stilo: leave file\r\nclass  A{ ",
        "// by hand\r\n// stilo: leave file\r\nclass  A{ ",
    ),
]


@pytest.mark.parametrize("text, wanted", [case[1:] for case in LEFT], ids=[c[0] for c in LEFT])
def test_leave(text: str, wanted: str) -> None:
    result = stilo.reformat(text.encode(), "java")
    assert result.data.decode() == wanted
    again = stilo.reformat(result.data, "java")
    assert not again.changed and not again.findings


def test_set_holds_for_the_rest_of_the_block_and_says_where_from() -> None:
    text = (
        "class A {\nvoid a() {\nput(1, 2);\n// stilo: set arguments.wrap=stack-always width=40\n"
        "put(1, 2);\nint sum = lorries.length() + trailers.length();\n}\nvoid b() { put(1, 2); }\n}\n"
    )
    result = stilo.reformat(text, "java", name="A.java")
    assert result.text.count("put(1, 2);") == 2
    assert "        put(\n                1,\n                2);\n" in result.text
    assert "        int sum = lorries.length()\n" in result.text
    reason = next(r for r in result.decision(5, 5).reasons if r.setting)
    assert (reason.setting, reason.origin) == ("arguments.wrap", "A.java:4 (directive)")
    assert not stilo.reformat(result.text, "java").changed


def test_regions_nest_and_the_inner_one_wins() -> None:
    text = (
        "class A {\n// stilo: set begin indent=2 comma.after=none\nvoid a() {\n"
        "// stilo: set indent=6\nif (x) { put(1, 2); }\n}\n"
        "// stilo: set end\nvoid b() { put(1, 2); }\n}\n"
    )
    result = stilo.reformat(text, "java").text
    assert (
        "    void a() {\n      // stilo: set indent=6\n      if (x) {\n            put(1,2);\n"
        in result
    )
    assert "    void b() {\n        put(1, 2);\n" in result


WRONG = [
    (
        "// stilo: leve",
        '1:1: directive: "leve" is none; did you mean "leave"?; there are "leave" and "set"',
    ),
    ("// stilo:", '1:1: directive: "" is none; there are "leave" and "set"'),
    ("// stilo: leave ende", '1:1: directive: "ende" says nothing here; did you mean "end"?'),
    ("// stilo: leave end", '1:1: directive: "leave end" ends nothing that was begun'),
    ("// stilo: leave begin", '1:1: directive: "leave begin" has no "stilo: leave end"'),
    ("/* stilo: set end */", '1:1: directive: "set end" ends nothing that was begun'),
    ("// stilo: set", '1:1: directive: "set" takes NAME=VALUE, such as width=80'),
    ("// stilo: set width", '1:1: directive: "set" takes NAME=VALUE, not "width"'),
    ("// stilo: set wdth=8", '1:1: directive: unknown setting "wdth"; did you mean "width"?'),
    (
        "// stilo: set width=8",
        '1:1: directive: width cannot be "8"; permitted: a whole number from 20 to 400',
    ),
    (
        "// stilo: set charset=latin1",
        "1:1: directive: charset holds for a whole file, not for a part of it",
    ),
    ("int a;\n// stilo: leave", '2:1: directive: nothing that "leave" could mean stands after it'),
    ("int a;\n// stilo: leave file", '2:1: directive: "leave file" belongs before all code'),
    (
        "int a;\n// stilo: set width=80",
        "2:1: directive: nothing stands where these settings would hold",
    ),
    (
        "// stilo: leave begin\nvoid a() {\n// stilo: leave end\n}",
        '3:1: directive: "leave end" stands in another block than the begin of line 1',
    ),
    (
        "// stilo: set begin width=80\n// stilo: set begin width=60\nint a;\n// stilo: set end",
        '2:1: directive: "set begin" within that of line 1, which has no end',
    ),
]


@pytest.mark.parametrize("text, message", WRONG, ids=[text for text, _ in WRONG])
def test_wrong_directives_are_reported_and_the_file_is_left(place, run, text, message) -> None:
    tail = "" if "int a;\n//" in text else "\nint  b;"
    folder = place({"A.java": text + tail + "\n"})
    done = run("apply", "A.java")
    assert done.output.splitlines()[0] == f"A.java:{message}; the file is left as it was"
    assert done.exit_code == 2
    assert (folder / "A.java").read_text() == text + tail + "\n"


ITEMS = [
    "int  a;",
    "put( 1,2);",
    "if (x) {y( );}",
    "// word",
    "for (;;)\n a();",
    "int[] b = {1,\n2};",
]
MARKS = [
    "// stilo: leave",
    "// stilo: leave begin",
    "// stilo: leave end",
    "// stilo: set indent=2",
    "// stilo: set begin arguments.wrap=stack-always",
    "// stilo: set end",
]


@settings(deadline=None, max_examples=150)
@given(st.lists(st.sampled_from(ITEMS + MARKS), max_size=8), st.sampled_from([20, 60]))
def test_any_directives_keep_tokens_and_settle_or_are_reported(rows: list[str], width: int) -> None:
    text = "void a() {\n" + "\n".join(rows) + "\n}\n"
    try:
        result = stilo.reformat(text, "java", {"width": width})
    except stilo.DirectiveError:
        assert any("stilo:" in row for row in rows)
        return
    assert "".join(result.text.split()) == "".join(text.split())
    again = stilo.reformat(result.text, "java", {"width": width})
    assert again.text == result.text
    assert not again.findings


def test_what_is_left_may_join_lines() -> None:
    text = "# stilo: leave\nfrom tides \\\n   import   low\nx=[1,\\\n 2]\n"
    result = stilo.reformat(text, "python")
    assert result.text == "# stilo: leave\nfrom tides \\\n   import   low\n\nx = [1, 2]\n"
    assert not stilo.reformat(result.text, "python").changed
