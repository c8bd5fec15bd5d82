"""EditorConfig, as editorconfig.org says: properties, root, globs, unset; out and in again."""

from __future__ import annotations

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

import stilo
from stilo.sheet.properties import Parts, Value, Whole
from stilo.style.save import into_editorconfig

PROPERTIES = [
    ("indent_style = tab", {"indent-with": "tabs"}),
    ("indent_style = space", {"indent-with": "spaces"}),
    ("indent_size = 3", {"indent": 3, "tab-width": 3}),
    ("indent_size = 3\ntab_width = 8", {"indent": 3, "tab-width": 8}),
    ("indent_size = tab\ntab_width = 6", {"indent": 6, "tab-width": 6}),
    ("indent_style = tab\ntab_width = 6", {"indent": 6, "tab-width": 6, "indent-with": "tabs"}),
    ("indent_size = tab", {}),
    ("end_of_line = lf", {"line-ends": "lf"}),
    ("end_of_line = CRLF", {"line-ends": "crlf"}),
    ("charset = utf-8-bom", {"charset": "utf-8-bom"}),
    ("charset = latin1", {"charset": "latin1"}),
    ("charset = utf-16le", {"charset": "utf-16le"}),
    ("trim_trailing_whitespace = false", {"trim-comments": "no"}),
    ("insert_final_newline = false", {"final-newline": "no"}),
    ("max_line_length = 77", {"width": 77}),
    ("max_line_length = off", {}),
    ("indent_size = 3\nindent_size = unset", {}),
    ("STILO.arguments.wrap = row", {"arguments.wrap": "row"}),
    (
        "stilo.style = gnu\nindent_size = 3",
        {"indent": 3, "tab-width": 3, "call-parentheses.before": "space"},
    ),
    ("spelling_language = en\nanything = else", {}),
]


@pytest.mark.parametrize("text, wanted", PROPERTIES, ids=[text for text, _ in PROPERTIES])
def test_property(place, text: str, wanted: dict[str, Value]) -> None:
    place({".editorconfig": f"root = true\n\n[*.java]\n{text}\n"})
    style = stilo.Styles().of("Berth.java")
    found = {n: g.value for n, g in style.origins.items() if g.layer == "EditorConfig"}
    assert {**found, **{n: style.values[n] for n in wanted}} == wanted


GLOBS = [
    ("*", True),
    ("*.java", True),
    ("*.{java,json}", True),
    ("*.{kt,json}", False),
    ("Deck[0-9].java", True),
    ("Deck[!4].java", False),
    ("Deck{1..5}.java", True),
    ("Deck{5..9}.java", False),
    ("ship/**.java", True),
    ("**/lower/*.java", True),
    ("/ship/*.java", False),
    ("{ship,shore}/**", True),
    ("Deck?.java", True),
    ("deck4.java", False),
]


@pytest.mark.parametrize("glob, fits", GLOBS)
def test_globs(place, glob: str, fits: bool) -> None:
    place({".editorconfig": f"root = true\n[{glob}]\nindent_size = 3\n"})
    assert (stilo.Styles().of("ship/lower/Deck4.java").values["indent"] == 3) is fits


def test_nearer_files_win_up_to_the_root(place) -> None:
    place({
        ".editorconfig": "[*]\nindent_size = 2\nmax_line_length = 60\n",
        "ship/.editorconfig": "root = true\n[*]\nindent_size = 3\nend_of_line = lf\n",
        "ship/deck/.editorconfig": "[*]\n; a comment\nindent_size = 5\n[*.java]\nend_of_line = unset\n",
    })
    style = stilo.Styles().of("ship/deck/Lane.java")
    assert (style.values["indent"], style.values["width"]) == (5, 100)
    assert style.values["line-ends"] == "keep"
    assert style.given("indent").place == "ship/deck/.editorconfig:3"
    assert (
        stilo.Styles().of("ship/deck/lane.json").given("line-ends").place == "ship/.editorconfig:4"
    )


def any_style(language: str) -> st.SearchStrategy[dict[str, Value]]:
    declared = stilo.load_language(language).settings

    def values(name: str) -> st.SearchStrategy[Value]:
        kind = declared[name].type
        if isinstance(kind, Whole):
            return st.integers(kind.least, kind.most)
        if isinstance(kind, Parts):
            return st.sampled_from(declared[name].values_shown)
        return st.sampled_from(kind.permitted)

    names = st.lists(st.sampled_from(sorted(declared)), unique=True)
    return names.flatmap(lambda chosen: st.fixed_dictionaries({n: values(n) for n in chosen}))


@settings(deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(any_style("java"))
def test_a_style_written_to_editorconfig_reads_back_the_same(place, style) -> None:
    from stilo.style import editorconfig

    java = stilo.load_language("java")
    values = java.values(style)
    text = into_editorconfig("root = true\n", ["*.java"], style, values)
    place({".editorconfig": text})
    editorconfig.forget()
    assert stilo.Styles().of("Berth.java").values == values
    assert into_editorconfig(text, ["*.java"], style, values) == text
