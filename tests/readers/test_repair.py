"""Words that only a preprocessor knows: how each is read, and what stays when nothing helps."""

from __future__ import annotations

import pytest

import stilo

LANGUAGE = stilo.load_language("c")


def laid_out(text: str, language: str = "c") -> str:
    """A text laid out, of which every line can be read; and so is the result."""
    result = stilo.reformat(text, language)
    assert result.unread == ()
    again = stilo.reformat(result.data, language)
    assert again.data == result.data
    return result.text


def kinds(text: str) -> dict[str, str]:
    """The tokens of a text that the grammar does not see, with their kinds."""
    tree = LANGUAGE.read(text.encode()).tree
    names = [LANGUAGE.kinds.names[tree.kind[node]] for node in tree.token_node]
    return {t.decode(): n for t, n in zip(tree.texts, names) if n.startswith(("macro", "unread"))}


@pytest.mark.parametrize(
    "text, expected, words",
    [
        ("QUAY_API   int f( int a );\n", "QUAY_API int f(int a);\n", {"QUAY_API": "macro"}),
        (
            "static void NORETURN f( int a );\n",
            "static void NORETURN f(int a);\n",
            {"NORETURN": "macro"},
        ),
        (
            "int f( int a UNUSED , char*b UNUSED );\n",
            "int f(int a UNUSED, char *b UNUSED);\n",
            {"UNUSED": "macro"},
        ),
        (
            "ALIGNED(8) DEEP  int a ;\n",
            "ALIGNED(8) DEEP int a;\n",
            {"ALIGNED(8)": "macro", "DEEP": "macro"},
        ),
        (
            "int ZEXPORT f OF((int  a));\n",
            "int ZEXPORT f OF((int a));\n",
            {"ZEXPORT": "macro", "OF(": "macro_wrapper", ")": "macro_wrapper_end"},
        ),
        (
            "enum e { FARE(ONE, int), TWO };\n",
            "enum e { FARE(ONE, int), TWO };\n",
            {"(ONE, int)": "macro_arguments"},
        ),
        (
            "int a=va_arg(list ,unsigned long);\n",
            "int a = va_arg(list, unsigned long);\n",
            {"unsigned long": "macro_argument"},
        ),
        (
            "int a = outer(node,struct quay,node);\n",
            "int a = outer(node, struct quay, node);\n",
            {"struct quay": "macro_argument"},
        ),
        ("QUAY_BEGIN\nint a ;\nQUAY_END\n", "QUAY_BEGIN\nint a;\nQUAY_END\n", {}),
        (
            "TIDE_TABLE(north, int)\nTIDE_TABLE(south, int)\nint a ;\n",
            "TIDE_TABLE(north, int)\nTIDE_TABLE(south, int)\nint a;\n",
            {},
        ),
    ],
)
def test_reading(text: str, expected: str, words: dict[str, str]) -> None:
    assert laid_out(text) == expected
    assert kinds(text) == words


def test_a_word_with_a_body_is_the_head_of_a_loop() -> None:
    text = "void f(void) { for_each(a,b) { g(a); } for_each(c,d) h(c); }\n"
    expected = "void f(void)\n{\n    for_each(a, b) {\n        g(a);\n    }\n    for_each(c, d)\n        h(c);\n}\n"
    assert laid_out(text) == expected
    assert kinds(text) == {"for_each": "macro_head"}


def test_a_word_without_an_end_in_a_body_is_a_statement() -> None:
    assert laid_out("void f(void)\n{\n  TRACE(\"a\")\n  g();\n}\n").split("\n")[2:4] == [
        '    TRACE("a")', "    g();"
    ]


def test_a_word_before_a_colon_is_a_label_of_a_class() -> None:
    text = "class A {\nQUAY_SLOTS:\n  void f( );\n};\n"
    assert laid_out(text, "cpp") == "class A {\nQUAY_SLOTS:\n    void f();\n};\n"


def test_a_word_between_class_and_its_name_is_left_out() -> None:
    text = "class QUAY_API A:public B { public: A( ); };\n"
    assert laid_out(text, "cpp") == "class QUAY_API A : public B {\npublic:\n    A();\n};\n"


def test_what_nothing_helps_stays_and_is_told() -> None:
    text = "int  a;\n\n  @@ (what  is this) @@\n\nint  b;\n"
    result = stilo.reformat(text, "c")
    assert result.text == "int a;\n\n  @@ (what  is this) @@\n\nint b;\n"
    (unread,) = result.unread
    assert (unread.position.line, unread.last_line, unread.why) == (3, 3, "cannot be read")


def test_brackets_that_are_not_closed_are_refused() -> None:
    with pytest.raises(stilo.SyntaxFault):
        stilo.reformat("int f(void) {\n", "c")


def test_a_hundred_faults_take_few_readings() -> None:
    text = "".join(f"QUAY_API int f{n}(int a UNUSED);\n" for n in range(100))
    assert laid_out(text) == text


def test_a_language_without_such_words_leaves_nothing() -> None:
    with pytest.raises(stilo.SyntaxFault):
        stilo.reformat("int a = @;\n", "java")


def test_a_reading_counts_in_those_views_alone_that_have_its_word() -> None:
    text = (
        "#if A\nQUAY_BEGIN\nint f( int a UNUSED );\n#else\nint g( int b );\n#endif\n"
        "#if B\nint c ;\n#else\nint d ;\n#endif\n"
    )
    expected = (
        "#if A\nQUAY_BEGIN\nint f(int a UNUSED);\n#else\nint g(int b);\n#endif\n"
        "#if B\nint c;\n#else\nint d;\n#endif\n"
    )
    assert laid_out(text) == expected


def test_long_lines_of_fault_are_narrowed_down() -> None:
    """Of a long class no more stays than what cannot be read, be it at two places."""
    good = "".join(f"    void f{n}( );\n" for n in range(40))
    bad = "    @@ ( what is this ) @@;\n"
    text = f"class A {{\n{good}{bad}{good.replace('f', 'g')}{bad}{good.replace('f', 'h')}}};\n"
    result = stilo.reformat(text, "cpp")
    left = sum(u.last_line - u.position.line + 1 for u in result.unread)
    assert 2 <= left <= 6
    assert result.text.count("();") == 120


#: A fault within, and words before braces that might be taken for ends of statements.
IN_NAMESPACES = """\
namespace skerry {
namespace quay {
namespace lane {
inline void load_and_tell(Deck<T>& p,
    F& f, SKERRY_MOVE_ARG(Args)... args)
{
}
inline void load_and_tell(Deck<void>& p,
    F& f, SKERRY_MOVE_ARG(Args)... args)
{
  {
  }
  {
  }
  {
    {
    }
  }
  {
    {
      this->p_->load(
          as_tuple(
            SKERRY_MOVE_CAST(Args)(args)...));
    }
  }
  SKERRY_GENERATE(SKERRY_CALL_OP_DEF)
};
inline void call_handler(Function& f,
    packed<Function1, Allocator, Result>* h)
{
  typename packed<Function1, Allocator, Result>::executor_type
}
{
  {
  }
};
} // namespace lane
} // namespace quay
} // namespace skerry
"""


def test_the_head_of_a_body_is_no_statement_of_its_own() -> None:
    """Else a namespace would be cut off from its body, and all lines in it would stay."""
    assert stilo.reformat(IN_NAMESPACES, "cpp").unread == ()
