"""Which layer wins, and where a value is said to come from."""

from __future__ import annotations

from itertools import combinations

import pytest

import stilo
from stilo.style.given import LAYERS

JAVA = "class Berth {\n// {}\nvoid moor() { ramp.lower(); }\n}\n"


def build(place, personal, layer: str, value: int) -> tuple[dict[str, object], str, int]:
    """Have a layer give `indent` a value: what Styles takes for that, and where it stands."""
    if layer == "sheet":
        return {}, "base.stilo", 0
    if layer == "named style":
        place({"team.toml": f"# the team's\nindent = {value}\n"})
        return {}, "team.toml", 2
    if layer == "personal":
        personal.parent.mkdir(exist_ok=True)
        personal.write_text(f"indent = {value}\n")
        return {}, str(personal), 1
    if layer == "EditorConfig":
        place({".editorconfig": f"root = true\n[*.java]\nindent_size = {value}\n"})
        return {}, ".editorconfig", 3
    if layer == "project":
        return {}, "stilo.toml", 4
    return {"settings": {"indent": value}}, "--set", 0


def project(layers: dict[str, int]) -> str:
    named = 'style = "team.toml"\n' if "named style" in layers else "# no style\n"
    own = f"[java]\n\nindent = {layers['project']}\n" if "project" in layers else ""
    return named + own


#: A named style is a project's own, beside which a personal file does not count.
PAIRS = [
    pair
    for pair in combinations(LAYERS, 2)
    if "directive" not in pair and pair != ("named style", "personal")
]


@pytest.mark.parametrize("values", [(3, 6), (6, 3)])
@pytest.mark.parametrize("weaker, stronger", PAIRS)
def test_the_later_layer_wins_and_is_named(
    place, personal, weaker: str, stronger: str, values: tuple[int, int]
) -> None:
    layers = dict(zip((weaker, stronger), values))
    place({"Berth.java": JAVA})
    if "personal" not in layers or "project" in layers:
        place({"stilo.toml": project(layers)})
    built = {layer: build(place, personal, layer, value) for layer, value in layers.items()}
    arguments, file, line = built[stronger]
    style = stilo.Styles(**arguments).of("Berth.java")
    given = style.given("indent")
    assert (style.values["indent"], given.value) == (layers[stronger],) * 2
    assert (given.layer, given.file) == (stronger, file)
    assert given.line == line
    result = stilo.reformat_file("Berth.java", styles=stilo.Styles(**arguments))
    assert f"\n{' ' * layers[stronger]}void moor" in result.text


@pytest.mark.parametrize("weaker", [layer for layer in LAYERS if layer != "directive"])
def test_a_directive_wins_over_every_layer(place, personal, weaker: str) -> None:
    layers = {weaker: 3}
    place({"Berth.java": JAVA.replace("{}", "stilo: set indent=7")})
    if weaker != "personal":
        place({"stilo.toml": project(layers)})
    arguments, _, _ = build(place, personal, weaker, 3)
    result = stilo.reformat_file("Berth.java", styles=stilo.Styles(**arguments))
    assert f"{{\n{' ' * (4 if weaker == 'sheet' else 3)}// stilo" in result.text
    assert "{\n" + " " * (11 if weaker == "sheet" else 10) + "ramp" in result.text


def test_a_language_table_wins_over_the_top_and_unknown_roles_elsewhere_are_no_fault(place) -> None:
    place({"stilo.toml": 'parameters.wrap = "row"\nindent = 2\n[java]\nindent = 3\n'})
    styles = stilo.Styles()
    java, json = styles.of("Berth.java"), styles.of("berth.json")
    assert (java.values["indent"], json.values["indent"]) == (3, 2)
    assert java.given("parameters.wrap").place == "stilo.toml:1"
    assert "parameters.wrap" not in json.values


def test_the_nearest_project_file_counts_and_the_shared_one_only_with_our_table(place) -> None:
    place({
        "stilo.toml": "indent = 2\n",
        "deck/pyproject.toml": '[project]\nname = "deck"\n',
        "harbour/pyproject.toml": '[project]\nname = "h"\n\n[tool.stilo.java]\nindent = 6\n',
    })
    styles = stilo.Styles()
    assert styles.of("deck/Lane.java").given("indent").place == "stilo.toml:1"
    given = styles.of("harbour/Lane.java").given("indent")
    assert (given.value, given.place) == (6, "harbour/pyproject.toml:5")


def test_a_named_style_on_the_command_line_replaces_what_files_say(place, personal) -> None:
    personal.parent.mkdir()
    personal.write_text("indent = 5\n")
    place({"stilo.toml": 'style = "gnu"\nwidth = 70\n', ".editorconfig": "[*]\nindent_size = 6\n"})

    def value(style: str | None, **settings: str) -> tuple[object, object]:
        found = stilo.Styles(settings, style).of("Berth.java")
        return found.values["indent"], found.values["width"]

    assert value(None) == (6, 70)
    assert value("gnu") == (2, 100)
    assert value("personal") == (5, 100)
    assert value("default") == (4, 100)
    assert value("horstmann", width="88") == (3, 88)


def test_styles_start_from_styles_by_name_path_and_package(place, monkeypatch) -> None:
    folder = place({
        "skerry_styles/__init__.py": "raise RuntimeError('never run')\n",
        "skerry_styles/team.toml": 'style = "gnu"\nwidth = 88\n',
        "own/night.toml": 'style = "skerry_styles:team"\nindent = 3\n',
        "stilo.toml": 'style = "own/night.toml"\n',
    })
    monkeypatch.syspath_prepend(str(folder))
    style = stilo.Styles().of("Berth.java")
    assert (
        [style.values[n] for n in ("indent", "width", "call-parentheses.before")]
        == [3, 88, "space"]
    )
    assert style.given("width").layer == "named style"
    assert style.given("call-parentheses.before").file == "gnu.toml"


def test_skipped_files_other_names_and_sheets_of_ones_own(place) -> None:
    place({
        "stilo.toml": (
            'skip = ["gen/", "*.min.json"]\n'
            '[files]\n"*.manifest" = "json"\n"tides/*.txt" = "toml"\n'
            '[sheets]\njava = "rules.stilo"\ntariff = "tariff.stilo"\n'
            "[tariff]\nindent = 7\n"
        ),
        "rules.stilo": '"+" { before: none; after: none }\n',
        "tariff.stilo": (
            '@language tariff { grammar: tree_sitter_json; files: "*.tariff"; }\n'
            'string { token: whole }\ndocument { role: file }\nobject { role: entries }\n'
            '"{" { break: open }\n"}" { break: close }\n"," { role: comma; break: after }\n'
            '":" { role: map-colon }\n'
        ),
    })
    styles = stilo.Styles()
    assert styles.of("gen/Berth.java").skipped == "stilo.toml:1"
    assert styles.of("a.min.json").skipped == "stilo.toml:1"
    assert styles.of("Berth.java").skipped == ""
    assert styles.of("deck.manifest").language.name == "json"
    assert styles.of("tides/spring.txt").language.name == "toml"
    result = stilo.reformat_styled(b"int a = b   +c;", styles.of("A.java"))
    assert result.text == "int a = b+c;\n"
    tariff = styles.of("x.tariff")
    assert (tariff.language.name, tariff.values["indent"]) == ("tariff", 7)
    assert stilo.reformat_styled(b'{"lorry": 4}', tariff).text == '{\n       "lorry": 4\n}\n'
    with pytest.raises(stilo.UnknownLanguage):
        styles.of("notes.txt")


OURS = [
    {"stilo.toml": "width = 70\n"},
    {"stilo.toml": 'style = "gnu"\n'},
    {".editorconfig": "[*.java]\nmax_line_length = 70\n"},
    {"pyproject.toml": "[tool.stilo]\nwidth = 70\n"},
]


@pytest.mark.parametrize("files", OURS, ids=[next(iter(f)) + str(n) for n, f in enumerate(OURS)])
def test_a_personal_file_changes_no_project(place, personal, files: dict[str, str]) -> None:
    place({**files, "Berth.java": JAVA})
    before = stilo.Styles().of("Berth.java")
    personal.parent.mkdir()
    personal.write_text('indent = 7\nstyle = "horstmann"\n[java]\narguments.wrap = "row"\n')
    after = stilo.Styles().of("Berth.java")
    assert (after.values, after.origins) == (before.values, before.origins)
    assert stilo.Styles(style="personal").of("Berth.java").values["indent"] == 7


def test_a_personal_file_stands_in_for_a_project_without_settings(place, personal) -> None:
    place({"Berth.java": JAVA, "pyproject.toml": '[project]\nname = "deck"\n'})
    personal.parent.mkdir()
    personal.write_text("indent = 7\n")
    assert stilo.Styles().of("Berth.java").given("indent").layer == "personal"


def test_a_value_for_all_languages_counts_where_it_is_permitted(place) -> None:
    place({
        "a.py": "",
        "A.java": "",
        "stilo.toml": 'items.trailing = "opened"\nmap-value.column = "yes"\n',
    })
    python, java = (stilo.Styles().of(name) for name in ("a.py", "A.java"))
    assert (
        python.values["items.trailing"] == "opened" and python.values["map-value.column"] == "yes"
    )
    assert java.values["items.trailing"] == "keep"
    place({"stilo.toml": 'items.trailing = "open"\n'})
    with pytest.raises(stilo.ConfigError, match="items.trailing cannot be"):
        stilo.Styles().of("a.py")
