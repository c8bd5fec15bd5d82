"""What must hold for any input: the same result from scrambled input, tokens, settled."""

from __future__ import annotations

import json
import random
import sys
from functools import lru_cache
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

import stilo
from stilo.source import Source
from stilo.tree import Tree

CASES = Path(__file__).parent / "cases"
DEMO = Path(stilo.__file__).parent / "languages" / "demo"
# White space is most of what there is in Markdown and HTML; see tests/readers.
FILES = sorted(
    path
    for path in (*CASES.glob("*/*.out.*"), *filter(Path.is_file, DEMO.iterdir()))
    if path.suffix not in (".md", ".html")
)
#: Where line ends may end statements, they stay as they are.
ENDING = ("toml", "javascript", "tsx", "typescript")
#: Where white space between words says how they belong together.
SPACED = ("css",)
#: Of newer syntax than this Python's own, nothing but white space can be checked.
READABLE = [path for path in FILES if path.name != "newer.out.py" or sys.version_info >= (3, 14)]
slow = settings(
    max_examples=12, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture]
)


def style_without_blank_lines(language: str) -> dict[str, str]:
    """What the author's spacing may decide, such as blank lines, rows of lists, columns, it may not decide here."""
    spaced = {"css": (), "json": (), "toml": (), "python": ("binary-operator", "power-operator")}
    short = {"*.short": "never"} if language in ("cpp", "csharp", "css", *ENDING[1:]) else {}
    return {
        "*.authored": "no",
        "*.align": "no",
        **short,
        "*.column": "no",
        **{f"{role}.tight": "nowhere" for role in spaced.get(language, ("binary-operator",))},
        "*.blank-most": "0",
        **({"field-annotation.after": "line"} if language == "java" else {}),
        **({"accessor-attribute.after": "line"} if language == "csharp" else {}),
    }


@lru_cache
def read(path: Path) -> tuple[str, Tree]:
    language = stilo.load_language(stilo.language_for_file(path.name))
    source = Source.from_bytes(path.read_bytes(), path.name)
    tree = language.bracketed(language.read(source.data).tree)
    return language.name, tree


def is_margin_said(tree: Tree, token: int, is_comment: list[bool]) -> bool:
    """Whether a token is a label of a switch or a comment in a file that has these."""
    labels = {b"case", b"default"}
    return tree.texts[token] in labels or (is_comment[token] and not labels.isdisjoint(tree.texts))


def scramble(path: Path, seed: int) -> bytes:
    """The file with every gap replaced by other white space that means the same.

    A comment keeps its place on its line or on a line of its own, tokens stay apart where they
    were apart, and in a language whose lines mean something the line ends stay. How far comments
    stand in next to a label of a switch stays too, since it says where they belong.
    """
    language, tree = read(path)
    kinds, names = (
        stilo.load_language(language).comment_kinds, stilo.load_language(language).kinds.names
    )
    is_comment = [tree.kind[node] in kinds for node in tree.token_node]
    chance = random.Random(seed)
    if language == "python":
        return scramble_lines(tree, is_comment, chance)
    pieces = []
    for token in range(len(tree.token_node)):
        gap = tree.between(token)
        near_comment = is_comment[token] or (token and is_comment[token - 1])
        beside = tree.token_node[max(0, token - 1) : token + 1]
        is_prose = any(names[tree.kind[node]].startswith("text_") for node in beside)
        if not token or (b"\n" in gap and is_margin_said(tree, token, is_comment)):
            pass
        elif is_prose and b"\n" not in gap:
            pass  # such white space is shown
        elif b"\n" in gap and (near_comment or language in ENDING):
            gap = b"\n" + b" \t"[:chance.randrange(3)] * chance.randrange(4)
            if chance.random() < 0.3:
                gap = b"  " + gap
        elif near_comment or language in ENDING:
            gap = chance.choice([b" ", b"\t", b"   "]) if gap else gap
        elif gap:
            gap = chance.choice([b" ", b"\n", b"\t\t", b"  \n   ", b"\n\n\n", b" \t "])
        elif language not in SPACED:
            gap = chance.choice([b"", b"", b" ", b"\n\t"])
        pieces += [gap, tree.token_text(token)]
    return b"".join([*pieces, chance.choice([b"", b"\n", b"\n\n \n"])])


def scramble_lines(tree: Tree, is_comment: list[bool], chance: random.Random) -> bytes:
    """The same where line ends and margins mean something: other steps, other line ends in brackets."""
    step = chance.choice([b"\t", b" ", b"  ", b"        "])
    depth = 0
    pieces = []
    for token, text in enumerate(tree.texts):
        gap = tree.between(token)
        near_comment = is_comment[token] or (token and is_comment[token - 1])
        far = b"\n" + b" " * chance.randrange(70, 80)
        if depth and b"\n" in gap and near_comment:
            gap = far
        elif depth and not near_comment:
            gap = chance.choice([b" ", far, b"  "] if gap else [b"", b" ", far])
        elif b"\n" in gap:
            lines, margin = gap.rsplit(b"\n", 1)
            gap = lines + b"\n" + step * (margin.count(b"\t") + margin.count(b" ") // 4)
        elif token:
            gap = chance.choice([b" ", b"\t", b"   "] if gap else [b"", b" "])
        depth += text in (b"(", b"[", b"{")
        depth -= text in (b")", b"]", b"}")
        pieces += [gap, text]
    return b"".join([*pieces, chance.choice([b"", b"\n", b"\n\n \n"])])


#: Which lines a word of the preprocessor has may say what it is; and stars stand below where their comment begins.
OF_MACROS = {
    "directives.out.c", "heads.out.c", "names-in-parentheses.out.c", "macro-lines.out.cpp",
    "macros-with-bodies.out.cpp", "two-stars.out.c"
}
LOOSE = [path for path in FILES if path.name not in OF_MACROS]


@pytest.mark.parametrize("path", LOOSE, ids=lambda path: path.name)
@slow
@given(seed=st.integers(0, 2 ** 32))
def test_same_result_from_scrambled_input(path: Path, seed: int) -> None:
    language, _ = read(path)
    style = style_without_blank_lines(language)
    expected = stilo.reformat(path.read_bytes(), language, style).data
    assert stilo.reformat(scramble(path, seed), language, style).data == expected


WRAPS = ["row", "flow", "stack", "stack-always"]


@pytest.mark.parametrize("path", [p for p in FILES if p.suffix == ".java"], ids=lambda p: p.name)
@slow
@given(
    width=st.integers(20, 140),
    indent=st.integers(0, 8),
    unit=st.sampled_from(["spaces", "tabs"]),
    wraps=st.dictionaries(
        st.sampled_from(["arguments", "parameters", "chain", "condition", "operation", "items"]),
        st.sampled_from(WRAPS),
    ),
    closes=st.sampled_from(["own-line", "same-line"]),
    brace=st.sampled_from(["same-line", "own-line"]),
)
def test_settled_and_unchanged_in_any_style(path, width, indent, unit, wraps, closes, brace):
    style = {
        "width": width,
        "indent": indent,
        "indent-with": unit,
        "arguments.close": closes,
        "function-body.brace": brace,
        "control-body.brace": brace,
        **{f"{role}.wrap": value for role, value in wraps.items()},
    }
    # That tokens and comments survive is checked by every call, which raises UnsafeResult.
    once = stilo.reformat(path.read_bytes(), "java", style)
    again = stilo.reformat(once.data, "java", style)
    assert again.data == once.data
    assert not again.findings


json_values = st.recursive(
    st.none()
        | st.booleans()
        | st.integers()
        | st.text()
        | st.floats(allow_nan=False, allow_infinity=False),
    lambda inner: st.lists(inner) | st.dictionaries(st.text(), inner),
    max_leaves=40,
)


@settings(deadline=None)
@given(value=json_values, ascii_only=st.booleans(), width=st.integers(20, 100))
def test_json_values_survive(value: object, ascii_only: bool, width: int) -> None:
    text = json.dumps(value, ensure_ascii=ascii_only)
    result = stilo.reformat(text, "json", {"width": width})
    assert json.loads(result.text) == value
    assert not stilo.reformat(result.text, "json", {"width": width}).changed


@slow
@given(data=st.data())
def test_edits_lead_to_the_result_and_lines_touch_only_their_statements(data) -> None:
    path = data.draw(st.sampled_from([path for path in READABLE if path in LOOSE]))
    language, _ = read(path)
    messy = scramble(path, data.draw(st.integers(0, 999)))
    ending = data.draw(st.sampled_from([b"\n", b"\r\n"]))
    raw = messy.replace(b"\n", ending)
    count = messy.count(b"\n") + (not messy.endswith(b"\n"))
    first = data.draw(st.integers(1, count))
    last = data.draw(st.integers(first, count))
    for lines in (None, (first, last)):
        result = stilo.reformat(raw, language, lines=lines)
        rebuilt, at = [], 0
        for edit in result.edits:
            assert at <= edit.start <= edit.end
            rebuilt += [raw[at:edit.start], edit.text]
            at = edit.end
        assert b"".join([*rebuilt, raw[at:]]) == result.data
