"""Reads style sheets: rules, declarations and values, by the component values that tinycss2 finds.

The grammar is that of the CSS Syntax Module Level 3, which knows no property, selector or at-rule by name, so
that nothing new or old in the language stops it. White space that means something is told by the tree: what
stands together without any is one `run`.
"""

from __future__ import annotations

import re
from bisect import bisect_left, bisect_right
from collections.abc import Iterator, Sequence
from typing import Any, NamedTuple

import tinycss2

from stilo.readers.built import BuiltParsed
from stilo.readers.reader import Wanted
from stilo.tree.build import TreeBuilder
from stilo.tree.kinds import Kinds

_NODES = (
    "stylesheet", "rule", "at_rule", "selectors", "selector", "prelude", "block", "declaration",
    "value", "run", "call", "group", "brackets", "feature",
)
_LEAVES = (
    "word", "number", "hash", "string", "url", "at_keyword", "name", "function", "comment",
    "important", "raw", "unknown",
)
_SIGNS = ("{", "}", "(", ")", "[", "]", ",", ";", ":", ">", "+", "~", "||")
_NAMES = (*_NODES, *_LEAVES, *_SIGNS)
KINDS = Kinds(_NAMES, tuple(name not in _SIGNS for name in _NAMES), (True,) * len(_NAMES), {})
_KIND = {name: number for number, name in enumerate(_NAMES)}

#: The brackets of component values, by their types.
_BRACKETS = {"() block": "()", "[] block": "[]", "{} block": "{}", "function": "()"}
#: The kinds of leaves, by the types of component values; all others are words.
_LEAF_OF = {
    "number": "number",
    "percentage": "number",
    "dimension": "number",
    "hash": "hash",
    "string": "string",
    "url": "url",
    "at-keyword": "at_keyword",
    "comment": "comment",
}
#: What may stand between items, and the kinds of leaves for it.
_BETWEEN = {"whitespace": "", "comment": "comment", ";": ";", "<!--": "unknown", "-->": "unknown"}
_COMBINATORS = frozenset((">", "+", "~", "||"))
_ERRORS = {
    "bad-string": "the string is not closed on its line",
    "bad-url": "the url() is not closed, or holds a quote or a bracket",
}


class _Token(NamedTuple):
    """A token: its type, where it is, in bytes, and the number of the token that closes what it opens."""

    type: str
    start: int
    end: int
    closes: int = -1


class StyleSheetReader:
    """Reads style sheets. Thread-safe."""

    name = "the reader of style sheets"
    kinds = KINDS

    def read(self, data: bytes, wanted: Wanted) -> BuiltParsed:
        """Read a text."""
        found = _tokens_of(data)
        tree = TreeBuilder(data)
        error = found if isinstance(found, tuple) else None
        if not isinstance(found, tuple):
            _Structure(found, data, tree).items(0, len(found))
        return BuiltParsed(
            data, tree.tree(), lambda other: self.read(other, wanted), wanted.comments, error
        )


def _tokens_of(data: bytes) -> list[_Token] | tuple[int, str]:
    """All tokens in order, or the first error: where, and what is wrong.

    tinycss2 tells where a value begins, but not where it ends, nor whether it ends at all. So they are taken
    from the last to the first, each of which ends where the one behind it begins; and a comment is put behind
    the text, which is the last value only where nothing is left open.
    """
    text = f"{data.decode()}\n/**/"
    values: list[Any] = tinycss2.parse_component_value_list(text)
    place = _Places(text)
    found: list[_Token] = []
    end = len(data)
    is_closed = values[-1].type == "comment" and place.of(values[-1]) == len(data) + 1
    error = next(_errors(values, place), None)
    if error is not None:
        return error
    if not is_closed:
        return _left_open(values, place, len(data))
    stack: list[Any] = [iter(reversed(values[:-1]))]
    closing: list[int] = []  # numbers of closing tokens, counted from the end
    while stack:
        value = next(stack[-1], None)
        if value is None:
            stack.pop()
            if not stack:
                break
            owner, start = closing.pop(), closing.pop()
            found.append(_Token(_opening_of(found[owner].type), end - 1, end, owner))
            end -= 1
            if start < end:
                found.append(_Token("function", start, end))
                end = start
            continue
        start = place.of(value)
        brackets = _BRACKETS.get(value.type)
        if brackets is None:
            kind = value.value if value.type == "literal" else value.type
            if start < len(data):
                found.append(_Token(kind, start, min(end, len(data))))
            end = start
            continue
        closing += [start, len(found)]
        found.append(_Token(brackets[1], end - 1, end))
        end -= 1
        stack.append(iter(reversed(value.arguments if value.type == "function" else value.content)))
    found.reverse()
    last = len(found) - 1
    return [t if t.closes < 0 else t._replace(closes=last - t.closes) for t in found]


def _opening_of(closing: str) -> str:
    return {")": "(", "]": "[", "}": "{"}[closing]


class _Places:
    """Where component values stand, in bytes."""

    def __init__(self, text: str) -> None:
        self._lines = [0]  # the number of the first character of each line, as tinycss2 counts them
        self._lines += [found.end() for found in _LINE_END.finditer(text)]
        self._wide: list[int] = []  # characters of several bytes
        self._more: list[int] = [0]  # how many more bytes there are before and in each
        if not text.isascii():
            for found in _WIDE.finditer(text):
                self._wide.append(found.start())
                self._more.append(self._more[-1] + len(found.group().encode()) - 1)

    def of(self, value: Any) -> int:
        """The offset of a value."""
        at = self._lines[value.source_line - 1] + value.source_column - 1
        if self._wide:
            at += self._more[bisect_right(self._wide, at - 1)]
        return int(at)


_LINE_END = re.compile(r"\r\n|[\n\r\f]")
_WIDE = re.compile(r"[^\x00-\x7f]")


def _errors(values: Sequence[Any], place: _Places) -> Iterator[tuple[int, str]]:
    """What could not be read, in order."""
    stack = [iter(values)]
    while stack:
        value = next(stack[-1], None)
        if value is None:
            stack.pop()
        elif value.type == "error":
            sign = value.kind if value.kind in ")]}" else ""
            message = f'"{sign}" closes nothing that is open' if sign else _ERRORS.get(value.kind)
            yield place.of(value), message or value.message
        elif value.type == "literal" and value.value == "\\":
            yield place.of(value), "the backslash before a line end escapes nothing"
        elif value.type in _BRACKETS:
            stack.append(iter(value.arguments if value.type == "function" else value.content))


def _left_open(values: Sequence[Any], place: _Places, size: int) -> tuple[int, str]:
    """Where the innermost begins of what is open at the end of a text."""
    inner: Any = None
    content = values
    while content and content[-1].type in _BRACKETS:
        inner = content[-1]
        content = inner.arguments if inner.type == "function" else inner.content
    if content and content[-1].type == "comment" and place.of(content[-1]) < size:
        return place.of(content[-1]), "the comment is not closed"
    return place.of(inner), f'"{_BRACKETS[inner.type][0]}" is not closed'


class _Structure:
    """Builds the tree of tokens, without recursion: what is to be done next stands on a list."""

    def __init__(self, tokens: list[_Token], data: bytes, tree: TreeBuilder) -> None:
        self._tokens = tokens
        self._data = data
        self._tree = tree
        self._braces = [at for at, token in enumerate(tokens) if token.type == "{"]
        self._todo: list[tuple[Any, ...]] = []

    def items(self, low: int, high: int) -> None:
        """Build the whole tree, of these tokens."""
        self._tree.open(_KIND["stylesheet"])
        self._todo = [(self._tree.close,), (self._items, low, high)]
        while self._todo:
            step, *arguments = self._todo.pop()
            step(*arguments)

    def _then(self, *steps: tuple[Any, ...]) -> None:
        """Do some steps, in this order, before all that is still to be done."""
        self._todo += reversed(steps)

    def _leaf(self, kind: str, first: int, last: int = -1) -> None:
        """Add a token, or several as one."""
        self._tree.leaf(_KIND[kind], self._tokens[first].start, self._tokens[max(first, last)].end)

    def _open(self, kind: str) -> None:
        self._tree.open(_KIND[kind])

    # Items: rules and declarations

    def _items(self, low: int, high: int) -> None:
        """The next item of a body, then the others."""
        tokens = self._tokens
        while low < high and tokens[low].type in _BETWEEN:
            if kind := _BETWEEN[tokens[low].type]:
                self._leaf(kind, low)
            low += 1
        if low == high:
            return
        end, brace = self._end_of_item(low, high)
        step: tuple[Any, ...]
        if tokens[low].type == "at-keyword":
            step = (self._at_rule, low, end, brace)
        elif brace >= 0:
            step = (self._rule, low, end, brace)
        else:
            if tokens[end - 1].type == ";":
                end -= 1
            else:  # comments at the end of a block stand behind the declaration
                while tokens[end - 1].type in ("whitespace", "comment"):
                    end -= 1
            step = (self._declaration, low, end)
        self._then(step, (self._items, end, high))

    def _end_of_item(self, low: int, high: int) -> tuple[int, int]:
        """The token behind an item, and the brace that opens its block, or -1."""
        tokens = self._tokens
        at = low
        may_be_rule = not self._is_custom(low, high)
        while at < high:
            token = tokens[at]
            if token.type == ";":
                return at + 1, -1
            if token.type == "{" and may_be_rule:
                return token.closes + 1, at
            at = token.closes + 1 if token.closes >= 0 else at + 1
        return high, -1

    def _is_custom(self, low: int, high: int) -> bool:
        """Whether a declaration of a property of the author's own begins here."""
        token = self._tokens[low]
        is_own = token.end - token.start > 2 and self._data.startswith(b"--", token.start)
        if not is_own or token.type != "ident":
            return False
        at = self._skipped(low + 1, high)
        return at < high and self._tokens[at].type == ":"

    def _skipped(self, at: int, high: int) -> int:
        """The next token that is no white space."""
        while at < high and self._tokens[at].type == "whitespace":
            at += 1
        return at

    def _trimmed(self, low: int, high: int) -> tuple[int, int]:
        """Tokens without the white space around them."""
        low = self._skipped(low, high)
        while high > low and self._tokens[high - 1].type == "whitespace":
            high -= 1
        return low, high

    def _at_rule(self, low: int, end: int, brace: int) -> None:
        self._open("at_rule")
        self._leaf("at_keyword", low)
        stop = brace if brace >= 0 else end - (self._tokens[end - 1].type == ";")
        low, high = self._trimmed(low + 1, stop)
        steps: list[tuple[Any, ...]] = []
        if low < high:
            self._open("prelude")
            steps = [(self._list, low, high, ""), (self._tree.close,)]
        if brace >= 0:
            steps.append((self._block, brace))
        elif stop < end:
            steps.append((self._leaf, ";", stop))
        self._then(*steps, (self._tree.close,))

    def _rule(self, low: int, end: int, brace: int) -> None:
        self._open("rule")
        steps: list[tuple[Any, ...]] = []
        low, high = self._trimmed(low, brace)
        types = [token.type for token in self._tokens[low:high]]
        if ("/", "/") in zip(types, types[1:]):  # perhaps meant as a comment, to the end of its line
            self._leaf("raw", low, high - 1)
        elif low < high:
            self._open("selectors")
            steps = [(self._list, low, high, "selector"), (self._tree.close,)]
        self._then(*steps, (self._block, brace), (self._tree.close,))

    def _block(self, brace: int) -> None:
        self._open("block")
        self._leaf("{", brace)
        closing = self._tokens[brace].closes
        self._then(
            (self._items, brace + 1, closing), (self._leaf, "}", closing), (self._tree.close,)
        )

    def _declaration(self, low: int, end: int) -> None:
        """A property with its value, or what looks like none, as one token."""
        tokens = self._tokens
        low, end = self._trimmed(low, end)
        colon = low
        while colon < end and tokens[colon].type not in (":", "whitespace", "comment"):
            colon += 1
        name_end, colon = colon, self._skipped(colon, end)
        is_plain = low < colon < end and tokens[colon].type == ":"
        first = self._skipped(colon + 1, end)
        if not is_plain or any(t.closes >= 0 for t in tokens[low:name_end]):
            self._leaf("unknown", low, end - 1)
            return
        self._open("declaration")
        self._leaf("name", low, name_end - 1)
        self._leaf(":", colon)
        if self._is_custom(low, end):
            if first < end:
                self._leaf("raw", first, end - 1)
            self._tree.close()
        else:
            self._then((self._list, first, end, ""), (self._tree.close,))

    # Values and selectors

    def _list(self, low: int, high: int, context: str) -> None:
        """What stands between commas; one that is alone is no node of its own."""
        tokens, commas = self._tokens, []
        at = low
        while at < high:
            if tokens[at].type == ",":
                commas.append(at)
            at = max(at, tokens[at].closes) + 1
        steps: list[tuple[Any, ...]] = []
        begin = low
        for comma in (*commas, high):
            first, last = self._trimmed(begin, comma)
            if first < last:
                parts = list(self._parts(first, last, context))
                is_node = bool(commas) and len(parts) > 1
                if is_node:
                    steps.append((self._open, context or "value"))
                steps += [(self._part, *part, context) for part in parts]
                if is_node:
                    steps.append((self._tree.close,))
            if comma < high:
                steps.append((self._leaf, ",", comma))
            begin = comma + 1
        self._then(*steps)

    def _parts(self, low: int, high: int, context: str) -> Iterator[tuple[int, int]]:
        """What white space or a combinator parts: the first token of each, and the one behind it."""
        tokens = self._tokens
        begin = at = low
        while at < high:
            token = tokens[at]
            is_combinator = context == "selector" and token.type in _COMBINATORS
            is_important = context != "selector" and token.type == "!"
            if token.type == "whitespace" or is_important or is_combinator:
                yield from self._together(begin, at)
                begin = at + 1
                if is_important:
                    begin = min(high, self._skipped(at + 1, high) + 1)
                if token.type != "whitespace":
                    yield at, begin
                at = begin
                continue
            at = max(at, token.closes) + 1
        yield from self._together(begin, high)

    def _together(self, low: int, high: int) -> Iterator[tuple[int, int]]:
        """What stands together without white space; comments before and behind it are parts of their own."""
        tokens = self._tokens
        while low < high and tokens[low].type == "comment":
            yield low, low + 1
            low += 1
        stop = high
        while low < stop and tokens[stop - 1].type == "comment":
            stop -= 1
        if low < stop:
            yield low, stop
        for at in range(stop, high):
            yield at, at + 1

    def _part(self, low: int, high: int, context: str) -> None:
        """One word, or what stands together without white space."""
        tokens = self._tokens
        first = tokens[low]
        if first.type == "!" and context != "selector":
            self._leaf("important", low, high - 1)
        elif first.type in _COMBINATORS and high == low + 1:
            self._leaf(first.type if context else "word", low)
        elif high > low + 1 and (self._has_brace(low, high) or self._has_comment(low, high)):
            self._leaf("raw", low, high - 1)
        else:
            steps = list(self._members(low, high, context))
            if len(steps) > 1:
                self._open("run")
                steps.append((self._tree.close,))
            self._then(*steps)

    def _has_brace(self, low: int, high: int) -> bool:
        """Whether some of these tokens opens a block."""
        at = bisect_left(self._braces, low)
        return at < len(self._braces) and self._braces[at] < high

    def _has_comment(self, low: int, high: int) -> bool:
        """Whether a comment is among these tokens, but for what stands in brackets."""
        tokens = self._tokens
        while low < high and tokens[low].type != "comment":
            low = max(low, tokens[low].closes) + 1
        return low < high

    def _members(self, low: int, high: int, context: str) -> Iterator[tuple[Any, ...]]:
        """What a word is made of: plain tokens together, texts, and brackets with what is in them."""
        tokens = self._tokens
        at = low
        while at < high:
            token = tokens[at]
            if token.type == "function":
                yield self._call, at, context
                at = tokens[at + 1].closes + 1
            elif token.closes >= 0:
                yield self._group, at, context
                at = token.closes + 1
            elif token.type in ("string", "url"):
                yield self._leaf, token.type, at
                at += 1
            else:
                begin = at
                while (
                    at < high
                    and tokens[at].closes < 0
                    and tokens[at].type not in ("string", "url", "function")
                ):
                    at += 1
                kind = _LEAF_OF.get(token.type, "word") if at == begin + 1 else "word"
                yield self._leaf, kind, begin, at - 1

    def _call(self, at: int, context: str) -> None:
        self._open("call")
        self._leaf("function", at)
        opening = at + 1
        self._leaf("(", opening)
        self._inside(opening, context)

    def _group(self, opening: int, context: str) -> None:
        sign = self._tokens[opening].type
        self._open("brackets" if sign == "[" else "group")
        self._leaf(sign, opening)
        low, high = self._trimmed(opening + 1, self._tokens[opening].closes)
        colon = self._skipped(low + 1, high)
        is_feature = (
            sign == "("
            and low < high
            and self._tokens[low].type == "ident"
            and colon < high
            and self._tokens[colon].type == ":"
        )
        if is_feature and not context:
            self._open("feature")
            self._leaf("name", low)
            self._leaf(":", colon)
            first = self._skipped(colon + 1, high)
            closing = self._tokens[opening].closes
            self._then(
                (self._list, first, high, ""),
                (self._tree.close,),
                (self._leaf, self._tokens[closing].type, closing),
                (self._tree.close,),
            )
            return
        self._inside(opening, context)

    def _inside(self, opening: int, context: str) -> None:
        """What stands in brackets, and what closes them."""
        closing = self._tokens[opening].closes
        low, high = self._trimmed(opening + 1, closing)
        self._then(
            (self._list, low, high, context),
            (self._leaf, self._tokens[closing].type, closing),
            (self._tree.close,),
        )
