"""Semicolons at the ends of statements: where one is written, and where it may go."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping

import pytest
from hypothesis import given
from hypothesis import strategies as some

import stilo
from stilo.edits import Edit, apply_edits
from stilo.errors import UnsafeResult
from stilo.order import terminators
from stilo.sheet.properties import Value
from stilo.support import Form, Support
from stilo.tree.flat import Tree


def ended(text: str, mode: str, language: str = "javascript", **more: object) -> str:
    """A text with semicolons in a mode; a second run changes nothing, nor tells anything."""
    style = {"statement-ends": mode}
    result = stilo.reformat(text, language, style, **more)  # type: ignore[arg-type]
    if not more:
        again = stilo.reformat(result.data, language, style)
        assert not again.changed
        assert not again.findings
    return result.text


@pytest.mark.parametrize(
    "text",
    [
        "a();\n",
        "const a = 1;\n",
        "let a;\n",
        "import a from \"a\";\n",
        "export const a = 1;\n",
        "export default a;\n",
        "export { a };\n",
        "throw a;\n",
        "do {\n  a();\n} while (b);\n",
        "if (a) b();\nelse {\n  c();\n}\n",
        "class A {\n  b = 1;\n  c;\n}\n",
        "for (;;) {\n  break;\n}\n",
        "const a = () => {\n  return b;\n};\n",
        "a(); // b\nc();\n",
    ],
)
def test_what_may_go_and_come_back(text: str) -> None:
    without = ended(text, "line")
    assert ended(without, "sign") == text
    removed = re.sub(r"(?<!\()(?<!\(;);(?=\n| //)", "", text)
    removed = removed.replace("b()\nelse", "b();\nelse")
    assert without == removed


@pytest.mark.parametrize(
    "following", ["(a)()", "[a].b()", "`a`", "+a", "-a", "++a", "--a", "/a/.b()"]
)
def test_what_goes_on_keeps_the_sign_before_it(following: str) -> None:
    text = f"b();\n{following};\n"
    assert ended(text, "line") == f"b();\n{following}\n"


@pytest.mark.parametrize(
    "text, language",
    [
        ("class A {\n  static;\n\n  b() {}\n}\n", "javascript"),
        ("class A {\n  a = 1;\n\n  *b() {}\n}\n", "javascript"),
        ("class A {\n  a = 1;\n  [b] = 2\n}\n", "javascript"),
        ("let a = async;\n(b)\n", "javascript"),
        ("while (a);\n", "javascript"),
        ("if (a) b();\nelse c()\n", "javascript"),
        ("for (let a = 1; a < 2; a++) b()\n", "javascript"),
        ("type A = B;\n<C>d\n", "typescript"),
        ("class A {\n  get;\n\n  b(): void {}\n}\n", "typescript"),
    ],
)
def test_what_stays(text: str, language: str) -> None:
    assert ended(text, "line", language) == text


def test_a_line_begins_in_place_of_the_sign() -> None:
    assert ended("a(); b(); /* c */ d()\n", "line") == "a()\nb()\n/* c */ d()\n"
    assert ended("if (a) { b(); }\n", "line") == "if (a) {\n  b()\n}\n"


def test_no_sign_comes_after_declarations() -> None:
    text = "export default function () {}\nexport class A {}\nfunction b() {}\n"
    assert ended(text, "sign").count(";") == 0
    typed = "export interface A {}\nexport enum B { C }\nnamespace D {}\ndeclare module \"a\" {}\n"
    assert ended(typed, "sign", "typescript").count(";") == 0


def test_typescript_s_own_statements() -> None:
    text = "type A = B\nabstract class C {\n  abstract d(): void\n  e: F\n}\nimport G = H.I\n"
    assert ended(text, "sign", "typescript") == (
        "type A = B;\n\nabstract class C {\n  abstract d(): void;\n  e: F;\n}\n\nimport G = H.I;\n"
    )


def test_only_the_lines_asked_for() -> None:
    assert ended("a()\nb()\nc()\n", "sign", lines=(2, 2)) == "a()\nb();\nc()\n"


def test_what_is_left_stays() -> None:
    text = "// stilo: leave\na()\nb()\n"
    assert ended(text, "sign") == "// stilo: leave\na()\nb();\n"
    assert ended("// stilo: leave file\na()\n", "sign") == "// stilo: leave file\na()\n"


def test_imports_are_put_in_order_as_well() -> None:
    style = {"statement-ends": "sign", "import.order": "groups"}
    result = stilo.reformat("import b from 'b'\nimport a from 'a'\nc()\n", "javascript", style)
    assert result.text == "import a from 'a';\nimport b from 'b';\nc();\n"
    assert dict(result.order_counts) == {"moved": 1}


@pytest.mark.parametrize("comment", ["// b", "/* b */", "/* b\n   c */"])
def test_a_comment_after_a_body_does_not_open_it(comment: str) -> None:
    text = f"const a = () => {{ d() }} {comment}\ne()\n"
    assert ended(text, "keep").split("\n")[0] == text.split("\n")[0]


def test_it_is_told_and_explained() -> None:
    result = stilo.reformat("a()\n\nb ();\n", "javascript", {"statement-ends": "sign"})
    found = result.findings
    assert [(f.code, f.position) for f in found] == [("terminator", (1, 3)), ("spaces", (3, 2))]
    assert str(found[0]) == '1:3: ";" wanted at the end of the statement (statement-ends = sign)'
    assert result.decision(3).position == (3, 1)
    assert apply_edits(b"a()\n\nb ();\n", result.edits) == result.data


def test_crlf_and_a_mark() -> None:
    data = b"\xef\xbb\xbfa()\r\nb()\r\n"
    result = stilo.reformat(data, "javascript", {"statement-ends": "sign"})
    assert result.data == b"\xef\xbb\xbfa();\r\nb();\r\n"


def test_scripts_in_pages_have_them_too() -> None:
    style = stilo.Styles({}, "default", "html").of("page.html")
    assert style is not None
    text = "<script>\n  a();\n</script>\n"
    assert stilo.reformat_styled(text, style, name="page.html").text == text


def test_what_would_read_differently_is_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(terminators, "_ends_line", lambda text, token: True)
    with pytest.raises(UnsafeResult, match="with other ends of statements"):
        stilo.reformat("a(); b()\n", "javascript", {"statement-ends": "line"})


STATEMENTS = some.sampled_from(
    "a();|b = [c];|(d)();|[e].f();|`g`;|/h/.i();|++j;|let k = 1;|return;|x: y();|if (l) m();|while (n) o();|"
        "class P { q = 1; *r() {} s; }|function t() { u(); }|{ v(); }|const w = () => { y(); };|;|do z(); while (a);"
        .split("|")
)


@given(some.lists(STATEMENTS, max_size=6), some.sampled_from(["\n", " ", " // c\n", " /* d */ "]))
def test_any_statements_stay_apart(parts: list[str], between: str) -> None:
    text = f"function f() {{ {between.join(parts)}\n}}\n"
    plain = stilo.reformat(text, "javascript").text
    without = ended(text, "line")
    assert re.sub(r"[;\s]", "", without) == re.sub(r"[;\s]", "", plain)
    assert ended(without, "sign") == ended(text, "sign")


def test_other_forms_come_after_other_ends(monkeypatch: pytest.MonkeyPatch) -> None:
    """A language may have both; the second is put into what the first leads to, and a range moves along."""

    def forms(tree: Tree, values: Mapping[str, Value]) -> Iterator[Form]:
        for token, text in enumerate(tree.texts):
            if text == b"quay":
                start = tree.token_start[token]
                yield Form(start, (Edit(start, start + 4, b"pier"),), "pier", "statement-ends")

    language = stilo.load_language("javascript")
    support = Support(check=lambda before, after, moved: 0, forms=forms)
    monkeypatch.setattr(language, "support", support)
    text = "quay()\nberth()\nquay()\n"
    style = {"statement-ends": "sign"}
    assert stilo.reformat(text, language, style).text == "pier();\nberth();\npier();\n"
    assert stilo.reformat(text, language, style, lines=(3, 3)).text == "quay()\nberth()\npier();\n"
    result = stilo.reformat(text, language, style)
    assert [(f.code, f.position.line) for f in result.findings] == [
        ("form", 1), ("terminator", 1), ("terminator", 2), ("form", 3), ("terminator", 3)
    ]
    assert stilo.reformat("berth()\n", language, style).text == "berth();\n"
