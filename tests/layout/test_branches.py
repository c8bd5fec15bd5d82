"""Text with branches: each token laid out once, by the first view that has it, and explained by that."""

from __future__ import annotations

from pathlib import Path

import pytest

import stilo
from stilo.edits import apply_edits

TEXT = """\
int  a;
#ifdef TIDAL
void f(int tide) {
#else
void  f( int  lane ) {
 g( );
# if DEEP
   h( ) ;
# else
 i( ) ;
# endif
#endif
 j( );
}
"""
RESULT = """\
int a;
#ifdef TIDAL
void f(int tide)
{
#else
void f(int lane)
{
    g();
# if DEEP
    h();
# else
    i();
# endif
#endif
    j();
}
"""


def test_each_branch_is_laid_out_as_if_it_were_alone() -> None:
    result = stilo.reformat(TEXT, "c")
    assert result.text == RESULT
    assert result.unread == ()
    again = stilo.reformat(RESULT, "c")
    assert not again.changed and not again.findings


def test_findings_and_edits_of_all_views_lead_to_the_result() -> None:
    result = stilo.reformat(TEXT, "c")
    assert apply_edits(result.source.raw, result.edits) == result.data
    assert all(not edit.text.strip() for edit in result.edits)
    places = [finding.position for finding in result.findings]
    assert len(set(places)) == len(places)
    assert {line for line, _ in places} == {1, 3, 5, 6, 8, 10, 13}
    assert [f.position for f in result.findings] == sorted(f.position for f in result.findings)


@pytest.mark.parametrize("line, after", [(6, "g"), (8, "h"), (10, "i"), (13, "j")])
def test_a_place_in_a_branch_is_explained_by_its_view(line: int, after: str) -> None:
    decision = stilo.reformat(TEXT, "c").decision(line)
    assert (decision.position.line, decision.after) == (line, f'"{after}"')
    assert decision.outcome == "a line break, indented by 4 columns"


def test_the_statement_of_a_branch() -> None:
    assert stilo.reformat(TEXT, "c").statement(10) == "    i();"


def test_lines_in_a_branch_alone() -> None:
    result = stilo.reformat(TEXT, "c", lines=(10, 10))
    before, after = TEXT.split("\n"), result.text.split("\n")
    assert [n for n, (a, b) in enumerate(zip(before, after), 1) if a != b] == [10]
    assert after[9].strip() == "i();"


def test_a_branch_that_cannot_be_read_stays_and_is_told() -> None:
    text = "#if A\nint  a;\n#else\nint  @ (b;\n#endif\nint  c;\n"
    result = stilo.reformat(text, "c")
    assert result.text == "#if A\nint a;\n#else\nint  @ (b;\n#endif\nint c;\n"
    assert [(u.position.line, u.last_line) for u in result.unread] == [(4, 4)]


def test_directives_in_the_code_or_in_the_first_column() -> None:
    text = "void f(void)\n{\n  #ifdef A\n  g();\n  #else\n  h();\n  #endif\n}\n"
    plain = stilo.reformat(text, "c").text
    assert "\n#ifdef A\n    g();\n#else\n    h();\n#endif\n" in plain
    inside = stilo.reformat(text, "c", {"directive.margin": "block"}).text
    assert "\n    #ifdef A\n    g();\n    #else\n    h();\n    #endif\n" in inside


def test_the_blank_lines_around_a_directive_are_the_authors() -> None:
    text = "int a;\n#endif\nvoid f(void) {}\n#if X\n\n\nvoid g(void) {}\n#endif\n"
    assert stilo.reformat("#if Y\n" + text, "c").text.endswith(
        "int a;\n#endif\nvoid f(void) {}\n#if X\n\nvoid g(void) {}\n#endif\n"
    )


def test_line_ends_and_a_mark_stay() -> None:
    raw = b"\xef\xbb\xbf" + TEXT.replace("\n", "\r\n").encode()
    assert stilo.reformat(raw, "c").data == b"\xef\xbb\xbf" + RESULT.replace("\n", "\r\n").encode()


@pytest.mark.parametrize(
    "text, kept",
    [
        ("void f(void) { void *a = &&end; end: ; }\n", "&&end"),
        ("int a = b - -c + +d - --e;\n", "b - -c + +d - --e"),
        ("int a =- 1;\n", "a = - 1"),
        ("int a = b/ *c;\n", "b / *c"),
    ],
)
def test_signs_that_stand_side_by_side_stay_what_they_are(text: str, kept: str) -> None:
    assert kept in stilo.reformat(text, "c").text


def test_a_comparison_that_is_taken_for_arguments_of_a_type_stays_one_sign() -> None:
    text = (
        "void f() {\n  while (rest < small &&  // first\n         top - rest >= kappa &&  // second\n"
        "         (rest + kappa < small ||  // third\n          small - rest >= rest + kappa - small)) {\n"
        "    g();\n  }\n}\n"
    )
    result = stilo.reformat(text, "cpp")
    assert "small - rest >= rest" in result.text
    assert [unread.why for unread in result.unread] == ["would be read otherwise"]


def test_what_a_compiler_would_part_otherwise_is_not_handed_out(tmp_path: Path) -> None:
    """A sheet of one's own may ask for it; the grammar alone would not see it."""
    sheet = '@language c {}\npointer_expression > "&" + pointer_expression { before: space }\n'
    text = "void f(void)\n{\n    void *a = &&end;\nend: ;\n}\n"
    language = stilo.define_language(sheet)
    result = stilo.reformat(text, language)
    assert "&&end" in result.text
    assert [unread.why for unread in result.unread] == ["would be read otherwise"]


def test_a_line_that_the_grammar_does_not_see_stays_where_it_would_be_read_otherwise() -> None:
    text = (
        "CATALOG(tides,1213,TidesId) SHARED_TABLE\n{\n\tOid\t\t\toid;\t\t\t/* oid */\n\tNameData\tspcname;\n\n"
        "\t/* owner */\n\tOid\t\t\tspcowner TIDE_DEFAULT(QUAY) TIDE_LOOKUP(berths);\n\n#ifdef VARLEN\n"
        "\taclitem\t\tspcacl[1];\n\ttext\t\tspcoptions[1];\n#endif\n} FormData_tides;\n\n"
        "typedef FormData_tides *Form_tides;\n\n"
        "DECLARE_TOAST(tides, 4185, 4186, TidesToast, TidesToastIndex);\n\n"
        "DECLARE_PKEY(tides_index, 2697, TidesIndexId, on tides using btree(oid oid_ops));\n"
        "DECLARE_INDEX(tides_name_index, 2698, TidesNameIndexId, on tides using btree(spcname name_ops));\n"
    )
    result = stilo.reformat(text, "c")
    assert result.text == text
    assert result.unread[0].why == "would be read otherwise"
    assert (result.unread[0].position.line, result.unread[0].last_line) == (1, 1)
