"""The reader over tree-sitter grammar packages: source in, flat tree out.

tree-sitter (https://tree-sitter.github.io) parses with an LR automaton and
repairs what does not parse; a repaired tree is not trusted here, it is
reported as a fault with its place.
"""

from __future__ import annotations

import re
from bisect import bisect_left
from collections.abc import Mapping, Sequence, Set
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import tree_sitter

from stilo.edits import Edit
from stilo.errors import StiloError, SyntaxFault
from stilo.installed import import_installed
from stilo.source import Source
from stilo.tree.brackets import OWN, OwnBrackets, with_brackets
from stilo.tree.faults import locate_fault
from stilo.tree.flat import BLANKS, Tree
from stilo.tree.padding import FreeLines, Padding, padded

PACKAGE_PREFIX = "tree_sitter_"
#: The functions by which these packages give their grammars, and how what they give shows itself.
_FUNCTION = re.compile(r"language(_[a-z0-9_]+)?")
_CAPSULE = '<capsule object "tree_sitter.Language"'


class GrammarMissing(StiloError):
    """The grammar package that a sheet names is not installed or not one."""


@dataclass(frozen=True)
class Parsed:
    """A text as the grammar reads it: its own tree, errors and all.

    padding: the blanks that the parser saw and the text has not.
    """

    tree: tree_sitter.Tree
    padding: Padding | None = None

    @property
    def root(self) -> tree_sitter.Node:
        """The topmost node."""
        return self.tree.root_node

    @property
    def has_error(self) -> bool:
        """Whether something could not be read."""
        return self.tree.root_node.has_error

    @property
    def size(self) -> int:
        """The number of the grammar's own nodes."""
        return self.tree.root_node.descendant_count


class Grammar:
    """A language's grammar: its kinds and fields, and parsing.

    package: name of an installed `tree_sitter_<language>` package; other
    packages are refused, so that a sheet cannot make Stilo import code.
    read_as: a pattern and the character that stands in for its matches while parsing, for what the
    language allows and the grammar does not know; byte for byte, so that places stay.
    tokens: a pattern that finds each token and comment of a text; only for a language in which
    white space does no more than keep tokens apart, so that its tokens are all there is to a text.
    own: where values may get brackets of their own, by name. joins: a pattern of text
    that joins two lines, and is dropped, and the kinds of leaves that hold nothing else. free_lines: what
    finds lines within brackets, whose ends and indents have no meaning.
    Thread-safe: a parser is made for each parse.
    """

    def __init__(
        self,
        package: str,
        function: str = "language",
        read_as: tuple[re.Pattern[bytes], bytes] | None = None,
        tokens: re.Pattern[bytes] | None = None,
        own: Mapping[str, Sequence[str]] | None = None,
        joins: tuple[re.Pattern[bytes], Sequence[str]] | None = None,
        free_lines: FreeLines | None = None,
    ) -> None:
        if not package.startswith(PACKAGE_PREFIX) or not package.isidentifier():
            raise GrammarMissing(f"{package}: a grammar package is named {PACKAGE_PREFIX}…")
        if _FUNCTION.fullmatch(function) is None:
            raise GrammarMissing(
                f"{function}: a grammar's function is named language or language_…"
            )
        try:
            pointer = getattr(import_installed(package), function)()
        except (ImportError, AttributeError) as error:
            name = package.replace("_", "-")
            raise GrammarMissing(
                f"{package}: no such grammar; install the package {name}"
            ) from error
        if not repr(pointer).startswith(_CAPSULE):  # anything else is taken for an address in memory
            raise GrammarMissing(f"{package}: {function} gives no grammar")
        self.package = package
        self.tokens = tokens
        self._read_as = read_as
        #: What finds lines within brackets, where line ends have meaning elsewhere.
        self.free_lines = free_lines
        self._language = tree_sitter.Language(pointer)
        self.own = self._own_brackets(own) if own else None
        #: The kinds that are comments; the sheet knows, once it is read.
        self.comments: frozenset[int] = frozenset()
        #: Whether trees are to know their shape, which some results are compared by.
        self.wants_shape = True
        self.joins = joins[0] if joins else None
        self._joining = (
            frozenset(n for name in joins[1] for n in self._numbers(name)) if joins else frozenset()
        )
        #: Tokens of several words, by kind.
        self.worded = {
            number: name.encode()
            for number in range(self._language.node_kind_count)
            if not self._language.node_kind_is_named(number)
                and (name := self._language.node_kind_for_id(number) or "").count(" ") == 1
                and name.replace(" ", "").isalpha()
        }
        firsts = {name.split()[0] for name in self.worded.values()}
        # What may stand behind the first word and is not one space; each begins with its word, which is
        # what is looked for quickly.
        self._uneven = [
            re.compile(word + rb"(?<!\w" + word + rb")(?:  |[ ]?[\t\n\f\\#])")
            for word in sorted(firsts)
        ]
        #: Kinds that are tokens by their text; they hold nothing.
        self.plain = frozenset(
            number
            for number in range(self._language.node_kind_count)
            if not self._language.node_kind_is_named(number)
        )

    @cached_property
    def kinds(self) -> dict[tuple[str, bool], frozenset[int]]:
        """(name, is a named kind) → the grammar's numbers for it."""
        language = self._language
        found: dict[tuple[str, bool], set[int]] = {}
        for number in range(language.node_kind_count):
            if language.node_kind_is_visible(number):
                name = language.node_kind_for_id(number) or ""
                found.setdefault((name, language.node_kind_is_named(number)), set()).add(number)
        if self.own is not None:
            found[OWN, True] = {self.own.own}
        return {key: frozenset(numbers) for key, numbers in found.items()}

    def _numbers(self, name: str) -> frozenset[int]:
        """The numbers of a named kind, or of a token by its text. Raises GrammarMissing."""
        language = self._language
        found = frozenset(
            n
            for n in range(language.node_kind_count)
            if language.node_kind_is_visible(n) and language.node_kind_for_id(n) == name
        )
        if not found:
            raise GrammarMissing(f'the grammar has no kind of node or token "{name}"')
        return found

    def _own_brackets(self, facts: Mapping[str, Sequence[str]]) -> OwnBrackets:
        opening, closing, around = facts["own-brackets"]

        def turns(name: str) -> frozenset[tuple[int, int]]:
            words = facts.get(name, ())
            return frozenset(
                (kind, token)
                for node, text in zip(words[::2], words[1::2])
                for kind in self._numbers(node)
                for token in self._numbers(text)
            )

        def kinds(name: str) -> frozenset[int]:
            return frozenset(n for word in facts.get(name, ()) for n in self._numbers(word))

        listed = facts.get("own-listed", ())
        return OwnBrackets(
            (opening.encode(), closing.encode()),
            min(self._numbers(opening)),
            min(self._numbers(closing)),
            self._language.node_kind_count,
            min(self._numbers(around)),
            turns("own-behind"),
            kinds("own-never"),
            {
                n: min(self._numbers(b))
                for a, b in zip(listed[::2], listed[1::2])
                for n in self._numbers(a)
            },
            kinds("own-inside"),
            kinds("own-through"),
            turns("own-after"),
            kinds("own-always"),
        )

    @cached_property
    def fields(self) -> dict[str, int]:
        """Field name → its number."""
        language = self._language
        return {language.field_name_for_id(n) or "": n for n in range(1, language.field_count + 1)}

    @cached_property
    def kind_names(self) -> list[str]:
        """The name of each kind by number; a token's name is its text in quotes."""
        language = self._language
        return (
            [
                (language.node_kind_for_id(n) or "")
                    if language.node_kind_is_named(n)
                    else f'"{language.node_kind_for_id(n)}"'
                for n in range(language.node_kind_count)
            ]
            + [OWN]
        )

    @cached_property
    def punctuation(self) -> frozenset[str]:
        """All tokens of the grammar that hold no letter, digit or blank."""
        return frozenset(
            name
            for name, named in self.kinds
            if not named and name and not any(c.isalnum() or c.isspace() or c == "_" for c in name)
        )

    @cached_property
    def stops(self) -> frozenset[int]:
        """Kinds of punctuation that no longer punctuation begins with: nothing joins behind."""
        return frozenset(
            number
            for (name, named), numbers in self.kinds.items()
            if not named and name in self.punctuation
            for number in numbers
            if not any(len(p) > len(name) and p.startswith(name) for p in self.punctuation)
        )

    @cached_property
    def never_run_on(self) -> frozenset[int]:
        """Kinds of punctuation whose first character continues no other: nothing joins before.

        A dot is left out, since it may continue a number.
        """
        inner = {character for p in self.punctuation for character in p[1:]} | {"."}
        return frozenset(
            number
            for (name, named), numbers in self.kinds.items()
            if not named and name in self.punctuation and name[0] not in inner
            for number in numbers
        )

    def parse(self, data: bytes) -> Parsed:
        """The grammar's reading of a text."""
        parsed = Parsed(self._parse(data))
        if self.free_lines is not None and parsed.has_error:
            spread = padded(data, self.free_lines)
            if spread is not None:
                again = Parsed(self._parse(spread[0]), spread[1])
                if not again.has_error:
                    return again
        return parsed

    def _parse(self, data: bytes, old: tree_sitter.Tree | None = None) -> tree_sitter.Tree:
        """The parser's tree of a text. old: one that knows what was edited."""
        if self._read_as is not None:
            pattern, stand_in = self._read_as
            data = pattern.sub(lambda match: stand_in[:1] * len(match.group()), data)
        parser = tree_sitter.Parser(self._language)
        return parser.parse(data) if old is None else parser.parse(data, old)

    def reads(self, data: bytes) -> bool:
        """Whether a text parses without an error."""
        return not self.parse(data).has_error

    def leading(self, data: bytes, comments: frozenset[int]) -> list[str]:
        """The comments before all code of a text, which need not parse."""
        found = []
        for node in self._parse(data).root_node.children:
            if node.kind_id not in comments:
                break
            found.append(data[node.start_byte:node.end_byte].decode())
        return found

    def parse_source(self, source: Source, pairs: dict[str, str]) -> Parsed:
        """The grammar's reading of a source.

        pairs: opening → closing delimiter, to say what a fault left open.
        Raises SyntaxFault with the place of the first error.
        """
        parsed = self.parse(source.data)
        if parsed.has_error:
            raise SyntaxFault(locate_fault(parsed.root, source, pairs))
        return parsed

    def parse_again(
        self, parsed: Parsed, old: bytes, new: bytes, edits: Sequence[Edit]
    ) -> Parsed | None:
        """The reading of a text after edits, of which only these are parsed; None if it has an error."""
        tree = parsed.tree.copy()  # the one that was given stays as it is
        for edit in reversed(edits):  # so that the places of those before still hold
            end = edit.start + len(edit.text)
            tree.edit(
                edit.start,
                edit.end,
                end,
                _point(old, edit.start),
                _point(old, edit.end),
                _point(old[:edit.start] + edit.text, end),
            )
        again = self.parse(new) if parsed.padding else Parsed(self._parse(new, tree))
        return None if again.has_error else again

    def read(self, parsed: Parsed, data: bytes, whole: frozenset[int], wants_fields: bool) -> Tree:
        """The flat tree of a parsed text, without brackets of its own where there are none.

        Text between leaves that is not white space (a grammar's extras that have no node) is
        kept with the token before it.
        whole: kinds taken as one token, without looking inside.
        wants_fields: whether some selector asks for the field that a node stands in.
        """
        tree = self._flat(parsed, data, whole)
        if wants_fields:
            tree.field.update(read_fields(parsed.tree, tree, whole | self.plain))
        return tree

    def read_top(
        self, parsed: Parsed, data: bytes, whole: frozenset[int], kinds: frozenset[int]
    ) -> Tree:
        """The flat tree of the root's children, of which only some kinds are looked into."""
        return self._columns(parsed, data, whole, kinds)

    def _columns(
        self,
        parsed: Parsed,
        data: bytes,
        whole: frozenset[int],
        only: frozenset[int] | None = None,
    ) -> Tree:
        kinds = whole | self.plain
        tree = flatten(parsed.tree, kinds, data, self._joining, only, self.wants_shape)
        if tree.token_node == [0] and data.isspace():  # the root itself, with nothing in it
            tree = replace(tree, kind=[], parent=[], token_node=[], token_start=[], token_end=[])
        if parsed.padding is not None:
            tree = parsed.padding.taken_out(tree, data)
        uneven = [found.start() for pattern in self._uneven for found in pattern.finditer(data)]
        return self._evened(tree, uneven) if uneven else tree

    def _evened(self, tree: Tree, places: Sequence[int]) -> Tree:
        """The tree with one space between the words of each token of several, whatever is there.

        places: where such tokens may begin.
        """
        evened: dict[int, bytes] = {}
        for place in places:
            token = bisect_left(tree.token_start, place)
            if token == len(tree.token_start) or tree.token_start[token] != place:
                continue
            name = self.worded.get(tree.kind[tree.token_node[token]])
            if name is not None and tree.texts[token] != name:
                text = tree.texts[token]
                text = text if self.joins is None else self.joins.sub(b" ", text)
                if b" ".join(text.split()) == name:
                    evened[token] = name
        if not evened:
            return tree
        texts = [evened.get(token, text) for token, text in enumerate(tree.texts)]
        tree = replace(tree, is_evened=True)
        tree.__dict__["texts"] = texts
        return tree

    @property
    def is_edited(self) -> bool:
        """Whether tokens may come and go by the places they stand in."""
        return self.own is not None or self.joins is not None

    def tree(self, parsed: Parsed, data: bytes, whole: frozenset[int]) -> Tree:
        """The flat tree of a parsed text; of one with errors it is what can be had."""
        return self.bracketed(self._flat(parsed, data, whole))

    def bracketed(self, tree: Tree, room: int = 0, keeps: bool = False) -> Tree:
        """The tree with brackets of their own, where the language permits any.

        room: those on lines no longer than this are left out. keeps: no brackets come or go.
        """
        if self.own is None:
            return tree
        return with_brackets(tree, self.own, self.comments, room, keeps)

    def _flat(self, parsed: Parsed, data: bytes, whole: frozenset[int]) -> Tree:
        tree = self._columns(parsed, data, whole)
        if _has_strays(tree, self.joins):
            _keep_strays(tree, self.joins)
        return tree

    def with_lacking(self, tree: Tree, lacking: Sequence[int], room: int, keeps: bool) -> Tree:
        """The same tree, with brackets of their own at those of the spared values, too."""
        if tree.bare is None or self.own is None:
            return tree
        wanted = [tree.spared[token][1] for token in lacking]
        return with_brackets(tree.bare, self.own, self.comments, room, keeps, wanted)


def flatten(
    parsed: tree_sitter.Tree,
    whole: frozenset[int],
    data: bytes = b"",
    dropped: frozenset[int] = frozenset(),
    only: frozenset[int] | None = None,
    wants_shape: bool = True,
) -> Tree:
    """Walk the grammar's tree once, without recursion, into columns.

    only: of the root's children, the kinds that are looked into; else all. wants_shape: whether to
    note the shape.

    Nodes without text, and leaves of kinds to be dropped, are left out. This and `outline` are the
    inner loops of reading and of checking: positions are asked of leaves only. (Measured: families
    of children instead of a cursor, or a walk level by level, take half as long again; the same loop
    compiled, be it by mypyc or by Cython, no more than a fifth less.)
    """
    shape: list[int] = []
    kind: list[int] = []
    parent: list[int] = []
    token_node: list[int] = []
    token_start: list[int] = []
    token_end: list[int] = []
    last_token: dict[int, int] = {}
    inner: set[int] = set()
    is_full = True
    cursor = parsed.walk()
    down, across, up = cursor.goto_first_child, cursor.goto_next_sibling, cursor.goto_parent
    path: list[int] = []
    above = -1
    index = 0
    latest = -1  # the leaf of the latest token
    while True:
        node: Any = cursor.node
        number = node.kind_id
        if wants_shape:
            shape.append(number)
        if number not in whole and (only is None or above or number in only) and down():
            inner.add(number)
            kind.append(number)
            parent.append(above)
            path.append(above)
            above = index
            index += 1
            continue
        begin = node.start_byte
        end = node.end_byte
        if begin != end and number not in dropped:
            kind.append(number)
            parent.append(above)
            token_node.append(index)
            token_start.append(begin)
            token_end.append(end)
            latest = index
            index += 1
        else:
            is_full = False
        while not across():
            if not up():
                size = parsed.root_node.descendant_count
                return Tree(
                    data,
                    kind,
                    parent,
                    token_node,
                    token_start,
                    token_end,
                    last_token,
                    shape,
                    inner,
                    size,
                    is_full,
                )
            if wants_shape:
                shape.append(-1)
            if latest > above:
                last_token[above] = len(token_end) - 1
            else:  # nothing under it has any text
                kind.pop()
                parent.pop()
                index -= 1
                is_full = False
            above = path.pop()


def _point(data: bytes, offset: int) -> tuple[int, int]:
    """Row and column (bytes) of an offset, from 0, as the parser counts."""
    return data.count(b"\n", 0, offset), offset - data.rfind(b"\n", 0, offset) - 1


def outline(parsed: tree_sitter.Tree, inner: Set[int]) -> list[int]:
    """The shape of a tree, as in `Tree.shape`, looking only into nodes of some kinds."""
    shape: list[int] = []
    add_shape = shape.append
    cursor = parsed.walk()
    down, across, up = cursor.goto_first_child, cursor.goto_next_sibling, cursor.goto_parent
    while True:
        node: Any = cursor.node
        number = node.kind_id
        add_shape(number)
        if number in inner and down():
            continue
        while not across():
            if not up():
                return shape
            add_shape(-1)


def read_fields(parsed: tree_sitter.Tree, tree: Tree, whole: frozenset[int]) -> dict[int, int]:
    """Node → number of the field of its parent that it stands in, where it stands in one."""
    found: dict[int, int] = {}
    cursor = parsed.walk()
    index = 0
    while True:
        node: Any = cursor.node
        is_kept = (
            index < len(tree.kind)
            and node.start_byte != node.end_byte
            and node.kind_id == tree.kind[index]
        )
        if is_kept:
            if cursor.field_id:
                found[index] = cursor.field_id
            index += 1
        if node.kind_id not in whole and cursor.goto_first_child():
            continue
        while not cursor.goto_next_sibling():
            if not cursor.goto_parent():
                return found


def _has_strays(tree: Tree, joins: re.Pattern[bytes] | None) -> bool:
    """Whether anything but white space, and what joins lines, stands between the tokens."""
    inside, solid = b"".join(tree.texts), tree.solid
    if joins is not None and joins.search(tree.data):
        inside = joins.sub(b"", inside)
        solid = joins.sub(b"", tree.data).translate(None, BLANKS)
    return len(inside.translate(None, BLANKS)) != len(solid)


def _keep_strays(tree: Tree, joins: re.Pattern[bytes] | None) -> None:
    """Extend each token over the unknown text that follows it, but for what joins lines."""
    data, ends = tree.data, tree.token_end
    behind = [*tree.token_start[1:], len(data)]
    for token, (end, start) in enumerate(zip(list(ends), behind)):
        text = data[end:start]
        if not text or text.isspace():
            continue
        if joins is not None:
            text = joins.sub(b"  ", text)
        if stray := text.strip():
            ends[token] += text.index(stray) + len(stray)
    del tree.__dict__["texts"]
