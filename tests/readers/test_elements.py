"""Elements in JavaScript (JSX): the white space that they show stays, and their text is filled word by word."""

from __future__ import annotations

import re

import pytest
from hypothesis import example, given
from hypothesis import strategies as some

import stilo
from stilo.readers.prose import PROSE_KINDS

PIECES = [
    "Boats",
    "leave",
    "at",
    " ",
    "  ",
    "\n",
    "\n  ",
    "\t",
    "\u00a0",
    "&nbsp;",
    "&#32;",
    "<b>",
    "</b>",
    "<br/>",
    "{quay}",
    '{" "}',
    "{/* c */}",
    "!",
    "船",
]


def shown(text: str) -> str:
    """What a compiler makes of a text in an element: lines without white space at their ends, but at those of
    the whole, joined by spaces."""
    lines = text.split("\n")
    kept = []
    for number, line in enumerate(lines):
        line = line.lstrip(" \t") if number else line
        kept.append(line.rstrip(" \t") if number < len(lines) - 1 else line)
    return " ".join(filter(None, kept))


def meaning(code: str) -> list[str]:
    """The tags, the values and the shown texts of an element."""
    element = code[code.index("<p>"):code.rindex("</p>")]
    parts = re.split(r"(<[^>]*>|\{[^}]*\})", element)
    even = ("".join(p.split()) if n % 2 and '" "' not in p else p for n, p in enumerate(parts))
    return [found for n, p in enumerate(even) if (found := p if n % 2 else shown(p))]


def laid_out(code: str, **style: str | int) -> str:
    """Code in a style; a second run changes nothing."""
    values = {name.replace("_", "-"): value for name, value in style.items()}
    result = stilo.reformat(code, "javascript", values)
    again = stilo.reformat(result.text, "javascript", values)
    assert again.text == result.text
    assert not again.findings
    return result.text


def whole(pieces: list[str]) -> str:
    """Pieces as the content of an element, each tag with its other."""
    depth, found = 0, []
    for piece in pieces:
        depth += (piece == "<b>") - (piece == "</b>")
        if depth < 0:
            depth, piece = 0, ""
        found.append(piece)
    return "".join([*found, "</b>" * depth])


@given(
    some.lists(some.sampled_from(PIECES), max_size=25).map(whole),
    some.sampled_from([20, 40, 80]),
    some.sampled_from(["flow", "stack", "stack-always", "row"]),
    some.sampled_from(["rows", "yes", "no"]),
)
@example("Boats <b>leave\n</b>\n at", 20, "flow", "rows")
@example("Boats\u00a0\n leave", 20, "flow", "no")
@example(" \n &#32;\n", 20, "flow", "no")
def test_what_is_shown_stays(text: str, width: int, wrap: str, authored: str) -> None:
    code = f"a = <p>{text}</p>;\n"
    style = {"element-text.wrap": wrap, "element-text.authored": authored, "width": width}
    if wrap not in ("flow", "row"):
        style["element-parts.wrap"] = wrap
        del style["element-text.wrap"]
    result = laid_out(code, **style)
    assert meaning(result) == meaning(code)


@pytest.mark.parametrize(
    "text, words",
    [
        ("a b", [("text_joined", "a"), ("text_word", "b")]),
        ("\na\nb\n", [("text_line", "a"), ("text_word_last", "b")]),
        (" a ", [("text_space", " "), ("text_joined", "a"), ("text_space", " ")]),
        ("  ", [("text_space", "  ")]),
        ("\n \n", []),
        ("a  b\tc", [("text_joined", "a  b\tc")]),
        (
            "a\n\n b &amp; c\n",
            [
                ("text_joined", "a"),
                ("text_word", "b"),
                ("text_word", "&amp;"),
                ("text_word_last", "c"),
            ],
        ),
        ("a\u00a0 b", [("text_joined", "a\u00a0 b")]),
        ("\u00a0\na\n", [("text_space", "\u00a0\n"), ("text_joined_last", "a")]),
        ("\na\u00a0\n", [("text_line", "a"), ("text_space", "\u00a0\n")]),
        ("a &#10; b", [("text_space", "a &#10; b")]),
        ("\na\n", [("text_line_last", "a")]),
        ("a\n", [("text_joined_last", "a")]),
    ],
)
def test_words(text: str, words: list[tuple[str, str]]) -> None:
    language = stilo.load_language("javascript")
    tree = language.read(f"a = <p>{text}</p>;".encode()).tree
    names = language.kinds.names
    found = [(names[tree.kind[leaf]], t.decode()) for leaf, t in zip(tree.token_node, tree.texts)]
    assert [pair for pair in found if pair[0] in PROSE_KINDS] == words


@pytest.mark.parametrize(
    "before, after",
    [
        ("a=<br/>", "a = <br />"),
        ("a=<Berth  number={4}\n isOpen/>", "a = <Berth number={4} isOpen />"),
        ("a=<></>", "a = <></>"),
        ("a=<p>{ b }{/* c */}</p>", "a = <p>{b}{/* c */}</p>"),
        ("a=<p>\n  b</p>", "a = <p>\n  b\n</p>"),
        ("a=<p> b</p>", "a = <p> b</p>"),
        ("a=<p>\n\n  <b/>\n\n\n  <i/>\n</p>", "a = <p>\n  <b />\n\n  <i />\n</p>"),
        ("a=<p>\n  {b}{' '}\n  {c}\n</p>", "a = <p>\n  {b}{' '}\n  {c}\n</p>"),
        ("a=<p>\n  /{b}\n</p>", "a = <p>\n  /{b}\n</p>"),
        ("a=<p b='c' d=\"e\"/>", "a = <p b='c' d=\"e\" />"),
        ("a=<A.B x:y='1'>{...c}</A.B>", "a = <A.B x:y='1'>{...c}</A.B>"),
        (
            "a=<div>{b&&(<p><Berth number={4} quay='north' isOpen/><Berth number={5} quay='south'/></p>)}</div>",
            "a = <div>\n  {b && (\n    <p>\n      <Berth number={4} quay='north' isOpen />\n"
            "      <Berth number={5} quay='south' />\n    </p>\n  )}\n</div>",
        ),
        (
            "a=<p>{isOpen?(<Berth number={4} quay='north' />):isLate?(<Late />):null}{c}{d}{e}{f}</p>",
            "a = <p>\n  {isOpen ? (\n    <Berth number={4} quay='north' />\n  ) : isLate ? (\n    <Late />\n"
            "  ) : null}\n  {c}\n  {d}\n  {e}\n  {f}\n</p>",
        ),
        (
            "a=<p>{/* b\n c */}</p>",
            "a = <p>\n  {\n    /* b\n       c */\n  }\n</p>",
        ),
    ],
)
def test_layout(before: str, after: str) -> None:
    assert laid_out(before + ";\n", width=64) == after + ";\n"


@pytest.mark.parametrize("trailing", ["keep", "never"])
def test_a_result_that_shows_other_white_space_is_refused(
    trailing: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The check sees a space that comes to a text, though no token and no node does; with edits of tokens, too."""
    from stilo.layout.render import Rendered

    written = Rendered.text

    def worse(self: Rendered) -> bytes:
        return written(self).replace(b"b {c}", b"b  {c}")

    monkeypatch.setattr(Rendered, "text", worse)
    with pytest.raises(stilo.UnsafeResult):
        stilo.reformat("a  = f(<p>b {c}</p>,);\n", "javascript", {"arguments.trailing": trailing})


@pytest.mark.parametrize("name", ["places.tsx", "places.jsx"])
def test_quotes_and_signs_of_code_alone_change(name: str) -> None:
    style = stilo.Styles({"string-quotes": "single", "statement-ends": "sign"}, "default").of(name)
    result = stilo.reformat_styled('const a = <p b="c" d={"e"}>it\'s "f"</p>\n', style)
    assert result.text == "const a = <p b=\"c\" d={'e'}>it's \"f\"</p>;\n"
