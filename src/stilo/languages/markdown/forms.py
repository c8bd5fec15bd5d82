"""The forms of Markdown that can be written in several ways: numbers of lists, headings, and emphasis.

Each is changed only where the piece of the document that it stands in, read by itself, says the same afterwards.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping

from stilo.edits import Edit, apply_edits
from stilo.languages.markdown.check import parts_of
from stilo.languages.markdown.reader import KINDS
from stilo.sheet.properties import Value
from stilo.support import Form
from stilo.tree.flat import Tree
from stilo.width import display_width

#: The most digits that the number of an item may have.
_MOST_DIGITS = 9
#: How many emphases of a piece are tried one by one, where not all of them can change.
_MOST_TRIED = 30
_SIGNS = {"star": b"*", "underscore": b"_"}
#: Emphasis that holds no other, by its signs: what stands before it, the signs, and the text between them.
_EMPHASIS = re.compile(
    rb"(?<![\w\\*_])(\*\*?|__?)(?=[^\s*_])([^*_`\\<>\[\]]*[^*_`\\<>\[\]\s])\1(?![\w*_])"
)
_UNDERLINES = {b"=": b"#", b"-": b"##"}
#: What an underlined heading must not look like, and may not hold.
_PLAIN = re.compile(rb"[^\s#>+=~|:<!{$\\-][^\n]*")


def forms_of(tree: Tree, values: Mapping[str, Value]) -> Iterator[Form]:
    """What is to be written otherwise in a document."""
    by_kind: dict[str, list[int]] = {}
    for node, kind in enumerate(tree.kind):
        by_kind.setdefault(KINDS.names[kind], []).append(node)
    if values["numbers"] != "keep":
        for name in ("tight_list", "loose_list"):
            for node in by_kind.get(name, ()):
                yield from _numbers(tree, node, str(values["numbers"]))
    if values["headings"] == "marks":
        for node in by_kind.get("underlined", ()):
            yield from _marked(tree, node)
    elif values["headings"] == "underlined":
        for node in by_kind.get("heading", ()):
            yield from _underlined(tree, node)
    if (values["emphasis"], values["strong-emphasis"]) != ("keep", "keep"):
        for name in ("paragraph", "heading", "underlined", "cell", "right_cell", "centered_cell"):
            for node in by_kind.get(name, ()):
                yield from _emphasis(tree, node, values)


def _numbers(tree: Tree, node: int, way: str) -> Iterator[Form]:
    """The numbers of a list: counted from the first on, or all like the first; `begun`: as its first two are."""
    numbers = [
        tree.first(item)
        for item in tree.children(node)
        if KINDS.names[tree.kind[tree.token_node[tree.first(item)]]] == "number"
    ]
    given = [int(tree.texts[token][:-1]) for token in numbers]
    if way == "begun":
        way = "same" if len(given) > 1 and given[0] == given[1] else "counted"
    for count, token in enumerate(numbers):
        text = tree.texts[token]
        wanted = b"%d" % (given[0] + (count if way == "counted" else 0)) if count else text[:-1]
        if wanted != text[:-1] and len(wanted) <= _MOST_DIGITS:
            start = tree.token_start[token]
            message = f'"{wanted.decode()}{chr(text[-1])}" wanted, not "{text.decode()}"'
            edit = Edit(start, start + len(text) - 1, wanted)
            yield Form(start, (edit,), message, "numbers")


def _marked(tree: Tree, node: int) -> Iterator[Form]:
    """An underlined heading with marks before it, if it is one line."""
    first, last = tree.first(node), tree.last(node)
    start, end = tree.token_start[first], tree.token_end[last]
    at = tree.token_end[last - 1]
    text = tree.data[start:at]
    mark = _UNDERLINES[tree.texts[last][:1]] + b" "
    if b"\n" not in text and _is_same(tree.data[start:end], mark + text):
        message = f'the heading should begin with "{mark.decode().strip()}"'
        yield Form(start, (Edit(start, start, mark), Edit(at, end, b"")), message, "headings")


def _underlined(tree: Tree, node: int) -> Iterator[Form]:
    """A heading of the first or the second order with a line below it, and a blank line before it."""
    first, last = tree.first(node), tree.last(node)
    mark = tree.texts[first]
    if len(mark) > 2 or tree.parent[node] or first == last:
        return
    start, end = tree.token_start[first], tree.token_end[last]
    if KINDS.names[tree.kind[tree.token_node[last]]] == "heading_mark":
        last -= 1
    begin, at = tree.token_start[first + 1], tree.token_end[last]
    text = tree.data[begin:at]
    line = b"\n" + (b"=" if len(mark) == 1 else b"-") * max(3, display_width(text.decode()))
    if _PLAIN.fullmatch(text) and _is_same(tree.data[start:end], text + line):
        has_blank = not first or tree.between(first).count(b"\n") > 1
        edits = (Edit(start, begin, b"" if has_blank else b"\n"), Edit(at, end, line))
        yield Form(start, edits, "the heading should have a line below it", "headings")


def _emphasis(tree: Tree, node: int, values: Mapping[str, Value]) -> Iterator[Form]:
    """The signs of emphasis in a piece of prose."""
    start, end = tree.token_start[tree.first(node)], tree.token_end[tree.last(node)]
    text = tree.data[start:end]
    pairs = [
        pair
        for found in _EMPHASIS.finditer(text)
        if (pair := _other_signs(text, found, values)) is not None
    ]
    if not _is_same(text, apply_edits(text, [edit for pair in pairs for edit in pair])):
        few = pairs[:_MOST_TRIED]
        pairs = [pair for pair in few if _is_same(text, apply_edits(text, pair))]
    for pair in pairs:
        signs = text[pair[0].start:pair[0].end]
        message = f'"{pair[0].text.decode()}" wanted for emphasis, not "{signs.decode()}"'
        edits = tuple(Edit(start + e.start, start + e.end, e.text) for e in pair)
        yield Form(edits[0].start, edits, message, _setting_of(signs))


def _other_signs(
    text: bytes, found: re.Match[bytes], values: Mapping[str, Value]
) -> list[Edit] | None:
    """The edits of the signs of emphasis, before and after it; None where these stay."""
    signs = found[1]
    sign = _SIGNS.get(str(values[_setting_of(signs)]))
    before = text[:found.start()]
    if before.count(b"[") > before.count(b"]"):
        return None  # it may be the name by which a link is found
    word = before[before.rfind(b" ") + 1:]
    if sign is None or signs == sign * len(signs) or b"://" in word or b"www." in word:
        return None  # some programs take a place for a link, though it stands in no brackets
    places = (found.start(), found.end() - len(signs))
    return [Edit(at, at + len(signs), sign * len(signs)) for at in places]


def _setting_of(signs: bytes) -> str:
    return "emphasis" if len(signs) == 1 else "strong-emphasis"


def _is_same(before: bytes, after: bytes) -> bool:
    """Whether two pieces of a document say the same."""
    return [part for part, _ in parts_of(before)] == [part for part, _ in parts_of(after)]
