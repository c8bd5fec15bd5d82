"""Places that random jobs found, each of which changed on a second run, or was refused: see bench/fuzz.py."""

from __future__ import annotations

import ast
import re

import pytest

import stilo

Lines = list[tuple[int, int]] | None
FOUND: list[tuple[str, str, dict[str, object], Lines]] = [
    # Code after a comment of several lines, or after one that begins its line
    ("java", "{a/* low\n * tide */serialVersionUID=/** Berth. */a;}", {"width": 41}, None),
    ("java", "{{a[a(/* low\n * tide *//* tide */)&1];}}", {}, None),
    ("java", "class A{{a/* low\n*/.stream(spliteratortrue);}}", {"width": 35}, None),
    ("java", "{a;\n/**\n     */// stilo: leave\n}", {}, None),
    ("java", "{final int VIRGIN=0;/* tide */}", {"width": 35}, None),
    ("java", "class A{{}/* tide */}", {"comment-distance": 6}, None),
    ("java", "{{;\n/** Berth. */}}", {"comment-distance": 7}, None),
    ("json", '{"a": /* low\n tide */ 1, /* b */ "b": [1, /* c\n */ 2]}', {"width": 20}, None),
    (
        "java",
        'class A{{try{a.objectFieldOffset(RandomclassgetDeclaredField("seed"));/* low\n*/}catch(a a){}}}',
        {"arguments.authored": "yes", "width": 59},
        None,
    ),
    # Settings that work on each other
    (
        "c",
        "enum a { B, C };",
        {"declaration-body.brace": "own-line", "enum-items.open": "brace-line"},
        None,
    ),
    (
        "c",
        "void f(void) { a=-b; lane = 1; }",
        {"assignment-sign.column": "yes", "binary-operator.tight": "everywhere"},
        None,
    ),
    (
        "java",
        "class A{void f(){switch(a){case 1:b();\n//tide\n}}}",
        {
            "indent-with": "tabs",
            "tab-width": 1,
            "body.open": "brace-line",
            "control-body.brace": "own-line",
        },
        None,
    ),
    (  # a body and, behind it in the same item, an object that it opens
        "javascript",
        "if(function(a){b();c()}(d,e.berth,{lane:!e.vallay||e.harbour,deckOfSailing:e.deckOfSailing}),!f)return;",
        {},
        None,
    ),
    (
        "javascript",
        "try { sail() } catch ({ code, message }) { tell(code) }",
        {"width": 20, "control-body.brace": "own-line-in"},
        None,
    ),
    (
        "javascript",
        "async () => {\n  await book(event.target.dataset.sailing, passengers, { vehicle, cabin: true, insurance: false })\n}",
        {
            "width": 60,
            "arguments.wrap": "flow",
            "arguments.authored": "yes",
            "entries.wrap": "stack-always",
            "entries.open": "same-line",
        },
        None,
    ),
    (
        "python",
        "def f():\n  if a:\n    lanes[first:last], lanes[first+1:last - 1] = -price, not price\n",
        {"width": 20, "indent": 1, "tuple.wrap": "flow", "tuple.close": "same-line"},
        None,
    ),
    (
        "toml",
        "title = 1\na.b   = 2\n",
        {"binary-operator.before": "none", "member-sign.before": "space"},
        None,
    ),
    ("toml", "\n\n\n", {}, None),
    ("toml", "\n # tide\n\n\n", {}, None),
    ("toml", 'a = """\n1 \\  \n  2"""\n', {}, None),
    # Brackets of their own
    ("python", 'class A:\n    with(""):()', {"managers.wrap": "stack-always"}, None),
    ("python", "with()as a:file", {"managers.wrap": "stack-always"}, None),
    ("python", "with (a,): c", {"managers.wrap": "stack-always"}, None),
    ("python", f"with {'a' * 40}.{'b' * 40}.long(): pass", {}, None),
    ("python", f"with {'a' * 40} + {'b' * 40}: pass", {}, None),
    ("python", f"with {'a' * 40} if {'b' * 40} else c: pass", {}, None),
    ("python", "return((())<\n#tide\n())", {}, None),
    ("python", 'a="indent not greater e.g. "+()#', {"operation.wrap": "stack-always"}, None),
    (
        "python",
        "if a is a:(())",
        {"value-brackets": "keep", "operation.wrap": "stack-always"},
        None,
    ),
    (
        "python",
        "if a:\n    if a:\n        if a:\n            return'8bit',normal_body(lines).decode('ascii','surrogate')",
        {"closing-parenthesis.before": "space", "tuple.close": "same-line"},
        None,
    ),
    ("python", "from quays import berth#", {"import-names.wrap": "stack-always"}, None),
    ("python", "sail({\nberth}, tide)\n", {"density": "dense"}, None),
    (
        "javascript",
        "props = { harbour: string, sailings: Sailing, onBook: ferry => berth(ferry, sailing) }\n",
        {"density": "dense"},
        None,
    ),
    (
        "java",
        "class A { Ferry a = book(\n    passengerOfTheSailing, vehicleOfThePassenger, deckOfTheVehicle, laneOfTheDeck, sail); }\n",
        {"density": "dense", "arguments.authored": "yes", "width": 60},
        None,
    ),
    (
        "cpp",
        "void f() {\n    bool x = find_if(pair.first.begin(), pair.second.end(), [label](char p) { return p.second == label && p.first; }) == pair.end();\n}\n",
        {},
        None,
    ),
    ("python", "from.import(a,# noqa\n)", {"import-names.wrap": "row"}, None),
    ("python", "from.import(a,# tide\n)", {"import-names.wrap": "row"}, None),
    ("python", "return a,a,#", {}, None),
    ("python", "return a,", {}, None),
    ("python", "return a,a#", {"tuple.wrap": "stack-always"}, None),
    ("python", "from.import(\n# stilo: leave\na,a# stilo: leave\n)", {}, None),
    ("python", "lane = yield (a) + (deck), (a) + (deck)", {"width": 20}, None),
    ("python", "x = f(f([lorries_on_the_deck]))", {"width": 20}, None),
    ("python", "[[\na],a]", {}, [(1, 1)]),
    (
        "java",
        "class A{{if(csnull|(length -(v)))(a);}}",
        {"width": 30, "binary-operator.after": "none"},
        None,
    ),
    (
        "python",
        "class a():\n    def __init__():r_expected='undefined'if expected is None else(expected)",
        {"parentheses.wrap": "row", "indent": 11},
        None,
    ),
    ("python", 's="-nan"if _sign else"nan"', {"width": 27, "parentheses.wrap": "row"}, None),
    (
        "java",
        "class A{CompletionStage<Void>thenAcceptBoth(CompletionStage<U>other,BiConsumer<?super U>action);}",
        {
            "parameters.authored": "rows",
            "declaration-body.brace": "own-line-in",
            "declaration-body.short": "fits",
        },
        None,
    ),
    ("java", '{{(", standard offset ")./* low\n*//* tide */a().a();}}', {}, None),
    ("python", "x_y=X.variance,variance", {"tuple.wrap": "row", "width": 20}, None),
    (
        "python",
        "with aaaa.bbbb.cccc.long(), ddddddddd: pass",
        {"managers.wrap": "row", "width": 30},
        None,
    ),
    (
        "python",
        "with aaaa + bbbb + cccc, ddddddddd: pass",
        {"oldest-python": "3.8", "width": 20},
        None,
    ),
    (
        "java",
        "{\n/**\n     * For example, month 15 is treated as being 3 months after month 12.\n     */}",
        {"indent-with": "tabs", "comment-columns": 30, "tab-width": 1},
        None,
    ),
    # Separators, quotes, bodies on one line
    (
        "python",
        "f(name)",
        {
            "arguments.trailing": "stacked",
            "comma.before": "space",
            "width": 20,
            "arguments.wrap": "stack-always",
        },
        None,
    ),
    (
        "python",
        "f('a', 'b')",
        {
            "string-quotes": "double",
            "arguments.trailing": "stacked",
            "arguments.wrap": "stack-always",
        },
        None,
    ),
    ("python", "a(a#: berth 4\n,)", {"arguments.open": "same-line"}, None),
    ("python", "def a():a(a#tide\n,)", {"arguments.close": "same-line"}, None),
    ("python", "def f() -> int: ...;\n", {}, None),
    ("python", "if a:\n    if s:a", {"indent-with": "tabs", "tab-width": 6}, None),
    ("python", "if x:\n    if y:\n        z()\n", {"indent-with": "tabs", "tab-width": 8}, None),
    ("python", "H = DH @(A @DH)\n@deck\ndef f(): pass\n", {}, None),
    (
        "java",
        "class A { String @NonNull [] a; void f(String @Nullable ... xs) {} int @A [] @B [] z; }",
        {},
        None,
    ),
    (
        "java",
        "class A{{class a{Splitr(a firstIndex,int lastIndexfirstSpineElementIndexlastElement){(last);}}}}",
        {
            "parameters.inner-line": "no",
            "parameters.authored": "yes",
            "function-body.short": "fits",
            "width": 60,
        },
        None,
    ),
    (
        "java",
        "class A{{for(;;){\n}}}",
        {"control-body.brace": "own-line-in", "control-body.short": "authored"},
        None,
    ),
    ("python", "dump_args['separators']=',',", {"tuple.wrap": "stack-always", "width": 26}, None),
    (
        "java",
        "class A{a<?>schedule(Runnable command,long/* tide */unit);}",
        {"parameters.authored": "yes", "type-arguments.wrap": "stack-always", "width": 61},
        None,
    ),
    (
        "python",
        "def a():codecs(input,self.errors,encoding_table)",
        {"arguments.trailing": "stacked", "comma.before": "space", "width": 45},
        None,
    ),
    (
        "toml",
        'a=["C4",# flake\n"PL",# Pylint\n]',
        {"items.trailing": "never", "trailing-comment.column": "yes"},
        None,
    ),
    ("python", "def a():\n    \tfor f in a:\n         a", {}, None),
    ("python", "if a:\n  \tif b:\n \t  \tc\n  \td", {}, None),
    # Parts
    (
        "json",
        '{\n          "r":{\n"is":[\n{"name":"A"},\n{"target":"N"}]}}',
        {"indent-with": "tabs", "indent": 11},
        [(3, 4)],
    ),
    ("python", "def a():\n    \t(\n)\n     # stilo: leave\na", {}, [(3, 3)]),
    ("toml", ' c = "1"\n#berth\n#berth', {}, [(1, 1), (2, 2)]),
    ("json", '[\n{\n"fn":"a"\n,"argv":[\n{"ref":"P"\n}]\n}\n]', {"indent-with": "tabs"}, [(5, 8)]),
    ("java", "{\n// NOLINT\n    ;}", {}, [(3, 3)]),
    ("java", "class A{@a\nfinal// stilo: leave\n// NOLINT\na a;}", {}, None),
    ("java", "class A{{\n // NOLINT\na(s,// NOLINT\na);}}", {}, None),
    ("java", "class A/* low\n*/// NOLINT\n{\n{}}", {"body.open": "brace-line"}, None),
    ("python", "class a():\n# type: ignore\n    def a(\n):\n        a", {}, None),
    # Imports
    ("java", "import/* low\n*/a;", {"import.unused": "remove"}, None),
    (
        "python",
        "import os\n# Ours\n# is a longer line of prose that has to be wrapped since it is too long\nimport a\n",
        {"import.order": "groups", "import.headers": "Theirs | | Ours", "comment-columns": 40},
        None,
    ),
]


@pytest.mark.parametrize(
    "language, text, style, lines", FOUND, ids=[str(n) for n in range(len(FOUND))]
)
def test_found(language: str, text: str, style: dict[str, object], lines: Lines) -> None:
    result = stilo.reformat(text, language, style, lines=lines)  # type: ignore[arg-type]
    if language == "python" and "import" not in text:
        assert ast.dump(ast.parse(result.text)) == ast.dump(ast.parse(text))
    elif language != "python":
        # Separators may come and go, and lines of comments their stars.
        said = [re.sub(r"[\s,*]+", "", each) for each in (result.text, text)]
        assert said[0] == said[1]
    assert stilo.edits.apply_edits(text.encode(), result.edits) == result.data
    if lines is None:
        again = stilo.reformat(result.data, language, style)  # type: ignore[arg-type]
        assert again.text == result.text
        assert not again.findings


def test_an_added_separator_is_spaced_like_the_others() -> None:
    style = {
        "arguments.trailing": "stacked",
        "arguments.wrap": "stack-always",
        "comma.before": "space",
    }
    assert stilo.reformat("f(a)", "python", style).text == "f(\n    a ,\n)\n"
    assert stilo.reformat("f(a, b)", "python", style).text == "f(\n    a ,\n    b ,\n)\n"
    wide = {**style, "arguments.wrap": "stack", "width": 20}
    line = "f(aaaaa, bbbbbbbbb)\n"
    assert (
        len(line) == 20
        and stilo.reformat(line, "python", {**wide, "comma.before": "none"}).text == line
    )


def test_tabs_within_the_lines_of_a_block_comment_stay() -> None:
    text = "class A {\n\t/* lane\tdeck\n\t  1\t2\n\t*/\n}\n"
    assert (
        stilo.reformat(text, "java").text
        == "class A {\n    /* lane\tdeck\n       1\t2\n     */\n}\n"
    )


def test_a_member_of_a_number_in_csharp_is_two_tokens() -> None:
    text = "class A\n{\n    string s = a + 1.ToString() + 0xE + 1;\n}\n"
    result = stilo.reformat(text, "csharp", {"width": 30})
    assert not result.unread and "ToString()\n" in result.text


def test_a_comment_at_the_begin_of_a_line_of_code_stands_within_it() -> None:
    text = "class A {\n    int a = f(1,\n        /* width */ 2);\n}\n"
    assert "int a = f(1, /* width */ 2);" in stilo.reformat(text, "java").text
    kept = text.replace("/* width */", "/* stilo: leave */")
    assert "\n            /* stilo: leave */ 2" in stilo.reformat(kept, "java").text


SEALED = [
    ("return a(a.#tide\na)", {"arguments.wrap": "row"}),
    ("if a is a:(())", {"operation.wrap": "stack-always"}),
    ("x = (a +\n  b)", {}),
]


@pytest.mark.parametrize("text, style", SEALED)
def test_brackets_that_are_to_be_kept_neither_come_nor_go(text: str, style: dict[str, str]) -> None:
    result = stilo.reformat(text, "python", {**style, "value-brackets": "keep"})
    assert result.text.count("(") == text.count("(")
    assert ast.dump(ast.parse(result.text)) == ast.dump(ast.parse(text))


def test_a_comment_that_ends_in_a_backslash_is_no_joined_line() -> None:
    text = 'import b\nimport a\nx = ("a" # \\\n  "b")\ny = c + \\\n    d\n'
    result = stilo.reformat(text, "python", only_order=True)
    assert result.text == text.replace("import b\nimport a", "import a\nimport b")


def test_items_of_many_lines_do_not_flow_in_a_list_that_its_author_opened() -> None:
    style = {"items.authored": "yes", "items.wrap": "flow", "entries.wrap": "flow"}
    text = '{"a": [\n1, 2, {"b": 3, // c\n "c": 4}, 5]}'
    assert stilo.reformat(text, "json", style).text.split("\n")[2:] == [
        "    1,",
        "    2,",
        "    {",
        '      "b": 3, // c',
        '      "c": 4',
        "    },",
        "    5",
        "  ]",
        "}",
        "",
    ]


@pytest.mark.parametrize(
    "language, text",
    [
        ("toml", 'a=["tests"#berth\n,"HISTORY.rst"]'),
        ("toml", 'a=["t", ["x", # c\n"y"], "z"]'),
        ("json", '[1, // x\n 2, [3, // c\n4], 5, 6]'),
        ("python", "x = f(1, 2, [3, # c\n 4], 5, 6)\n"),
        ("java", "class A { int[][] x = { 1, 2, {3, // c\n 4}, 5, 6 }; }"),
    ]
)
@pytest.mark.parametrize("style", [{}, {"*.wrap": "flow"}, {"*.wrap": "flow", "*.line-most": 2}])
def test_a_list_flows_or_not_whoever_opened_it(language: str, text: str, style: dict) -> None:
    style = {"*.authored": "yes", **style}
    first = stilo.reformat(text, language, style).text
    assert stilo.reformat(first, language, style).text == first


def test_a_list_with_a_line_that_a_comment_begins_is_laid_out_as_its_author_would_find_it() -> None:
    style = {"type-arguments.authored": "yes", "width": "20"}
    first = stilo.reformat("interface a<T>extends/* low\n*/a<T>{}", "java", style).text
    assert stilo.reformat(first, "java", style).text == first


@pytest.mark.parametrize("authored", ["yes", "no"])
def test_a_list_on_a_line_that_a_comment_sets_further_in_goes_by_that_line(authored: str) -> None:
    style = {"arguments.inner-line": "no", "arguments.authored": authored, "width": "40"}
    text = 'class A{{throw//\nTooLate("the ramp of the ferry", "is up", 4);}}'
    first = stilo.reformat(text, "java", style).text
    assert '//\n                TooLate(\n                        "the ramp' in first
    assert stilo.reformat(first, "java", style).text == first


@pytest.mark.parametrize(
    "language, text, style",
    [
        ("python", "def a(a,a,a):a", {"parameters.line-most": "2"}),
        ("java", "class A{a(E e// stilo: leave\n,a a){;}}", {}),
        ("java", "class A{a(a//\na){;}}", {}),
        ("python", "[\n# stilo: leave\n'deck','lane''berth']", {}),
        ("json", "[\n1, // stilo: leave\n2, [3,\n4], 5]", {}),
        ("toml", "a = [\n1,2, # c\n# d\n3,4]\n", {}),
        ("toml", "a=[[],]", {}),
        ("toml", "a=[[1],[2],]", {"items.trailing": "opened"}),
    ],
)
def test_rows_are_kept_alike_once_they_are_laid_out(language: str, text: str, style: dict) -> None:
    style = {"*.authored": "rows", **style}
    first = stilo.reformat(text, language, style).text
    assert stilo.reformat(first, language, style).text == first


def test_a_comment_before_the_bases_of_a_class_moves_its_body_no_further_in() -> None:
    text = "class A\n        // quay\n        : public B {\n    int a;\n};\nint b;\n"
    assert stilo.reformat(text, "cpp").text == text
