"""The reader over grammar packages (tree-sitter): the parser's trees as flat ones, in one walk.

Nothing else in Stilo sees the parser.
"""

from __future__ import annotations

import re
from bisect import bisect_left
from collections.abc import Mapping, Sequence, Set
from dataclasses import replace
from functools import cached_property
from typing import Any, NamedTuple

import tree_sitter

from stilo.edits import Edit
from stilo.errors import Fault, StiloError
from stilo.installed import import_installed
from stilo.readers.faults import locate_fault
from stilo.readers.padding import TAB, FreeLines, Padding, padded
from stilo.readers.prose import PROSE_KINDS, with_words
from stilo.readers.reader import Body, Item, OneView, Wanted
from stilo.records import dataclass
from stilo.source import Source
from stilo.tree.flat import BLANKS, Tree
from stilo.tree.kinds import Kinds

PACKAGE_PREFIX = "tree_sitter_"
#: The functions by which these packages give their grammars, and how what they give shows itself.
_FUNCTION = re.compile(r"language(_[a-z0-9_]+)?")
_CAPSULE = '<capsule object "tree_sitter.Language"'


class GrammarMissing(StiloError):
    """The grammar package that a sheet names is not installed, or is none."""


@dataclass(frozen=True)
class GrammarParsed(OneView):
    """A text as a grammar reads it (see `Parsed`).

    padding: the spaces that the parser saw and the text does not have. is_rewritten: it saw other
    characters in some places.
    """

    reader: GrammarReader
    data: bytes
    wanted: Wanted
    parsed: tree_sitter.Tree
    padding: Padding | None = None
    is_rewritten: bool = False

    @property
    def has_error(self) -> bool:
        """Whether some of the text could not be read, or was misread."""
        return self.parsed.root_node.has_error or self._misread is not None

    @cached_property
    def _misread(self) -> tree_sitter.Node | None:
        """The first word that shows that the text was misread."""
        return self.reader.misread(self.data, self.parsed)

    @property
    def size(self) -> int:
        """The number of the grammar's own nodes."""
        return self.parsed.root_node.descendant_count

    @cached_property
    def tree(self) -> Tree:
        """The flat tree."""
        tree = self._columns()
        joins = self.reader.joins
        if _has_strays(tree, joins):
            tree = _with_strays(tree, joins)
        if self.wanted.fields:
            kinds = self.wanted.whole | self.reader.kinds.signs
            found = read_fields(self.parsed, tree, kinds)
            tree = replace(tree, field=found, known_texts=tree.texts)
        prose = self.reader.prose
        if prose and not prose.isdisjoint(tree.kind):
            tree = with_words(tree, prose, self.reader.prose_kinds, self.reader.whole_prose)
        return tree

    @cached_property
    def top(self) -> Tree:
        """The flat tree of the root's children."""
        return self._columns(self.wanted.top)

    def _columns(self, only: frozenset[int] | None = None) -> Tree:
        data, reader = self.data, self.reader
        tree = flatten(
            self.parsed,
            self.wanted.whole | reader.kinds.signs,
            data,
            reader.joining,
            only,
            self.wanted.shape,
        )
        if tree.token_node == [0] and data.isspace():  # the root itself, with nothing in it
            tree = replace(tree, kind=[], parent=[], token_node=[], token_start=[], token_end=[])
        if self.padding is not None:
            tree = self.padding.taken_out(tree, data)
        if reader.other_kinds:
            _tell_apart(tree, reader.other_kinds)
        return reader.evened(tree)

    def fault(self, source: Source, pairs: Mapping[str, str]) -> Fault:
        """The first error."""
        root = self.parsed.root_node
        return locate_fault(root, source, pairs, None if root.has_error else self._misread)

    def leading_comments(self) -> list[str]:
        """The comments before all code."""
        found = []
        for node in self.parsed.root_node.children:
            if node.kind_id not in self.wanted.comments:
                break
            found.append(self.data[node.start_byte:node.end_byte].decode())
        return found

    def bodies(self, start: int, end: int, kinds: Set[int]) -> Sequence[Body]:
        """The bodies around a stretch, the root first; none of a text that was read with spaces put in."""
        found: list[Body] = []
        node: tree_sitter.Node | None = None if self.padding is not None else self.parsed.root_node
        while node is not None:
            children = node.children
            if not found or node.kind_id in kinds:
                items = [
                    Item(c.kind_id, c.start_byte, self._end(c), self._is_broken(c))
                    for c in children
                ]
                found.append(Body(node.kind_id, items))
            around = [c for c in children if c.start_byte <= start and end <= c.end_byte]
            node = around[0] if around else None
        return found

    def _is_broken(self, node: tree_sitter.Node) -> bool:
        """Whether not all of a node could be read."""
        word = self._misread
        is_around = word is not None and node.start_byte <= word.start_byte < node.end_byte
        return is_around or node.has_error or node.is_missing

    def _end(self, node: tree_sitter.Node) -> int:
        """Where the text of a node ends, without the line ends that some grammars count to it."""
        start, end = node.start_byte, node.end_byte
        return (
            end
            if end == start or self.data[end - 1] > 32
            else start + len(self.data[start:end].rstrip())
        )

    def edited(self, data: bytes, edits: Sequence[Edit]) -> GrammarParsed:
        """The text after some edits, of which only these are parsed again."""
        if self.padding is not None or self.is_rewritten:
            return self.reader.read(data, self.wanted)
        tree = self.reader.parse_again(data, self.data, self.parsed, edits)
        found = GrammarParsed(self.reader, data, self.wanted, tree)
        return self.reader.read_otherwise(found) if found.has_error else found

    def shape(self, inner: Set[int]) -> list[int]:
        """The shape of the grammar's own tree, with the words of prose in it."""
        found = outline(self.parsed, inner)
        return found if self.reader.prose.isdisjoint(found) else self.tree.shape

    def same_as(self, tree: Tree) -> bool:
        """Whether it has the very shape of another text's tree."""
        if tree.has_prose:
            return self.tree.shape == tree.shape
        return self.size == tree.size and outline(self.parsed, tree.inner) == tree.shape


class Rewritten(NamedTuple):
    """A text as a grammar is given it, for what it does not know.

    put_in: where something stands that is white space in the text. longer: where tokens begin and, in the
    text, end that are shorter here, with spaces after them.
    """

    data: bytes
    put_in: Sequence[int] = ()
    longer: Mapping[int, int] = {}


class GrammarReader:
    """Reads texts by a grammar package. Thread-safe: a parser is made for each text.

    package: the name of an installed `tree_sitter_<language>` package. Others are refused, so that a
    sheet cannot make Stilo import code.
    function: the function of the package that gives the grammar.
    read_as: patterns, each with what its matches, or what their groups hold, is read as, over and over to
    their length: for what the language permits and the grammar does not know.
    joins: a pattern of what joins two lines, and is dropped, and the names of the kinds that hold
    nothing else.
    free_lines: what finds the lines within brackets, whose ends and indents mean nothing.
    reads_margins: the indents of lines have meaning, so that tabs after spaces must be read right.
    other_kinds: a kind of token, what its text begins with, and the name of the kind that it then is.
    lacks: kinds that a sheet may name though the grammar has none of them.
    prose: the kinds of tokens that texts consist of, to be read word by word; whole_prose: what is found in one
    that stays whole. reserved: a kind of nodes, and words that begin none.
    Raises GrammarMissing, UnknownKind.
    """

    def __init__(
        self,
        package: str,
        function: str = "language",
        read_as: Sequence[tuple[re.Pattern[bytes], bytes]] = (),
        joins: tuple[re.Pattern[bytes], Sequence[str]] | None = None,
        free_lines: FreeLines | None = None,
        reads_margins: bool = False,
        other_kinds: Sequence[tuple[str, bytes, str]] = (),
        lacks: Sequence[str] = (),
        prose: Sequence[str] = (),
        whole_prose: re.Pattern[str] | None = None,
        reserved: Sequence[str] = (),
    ) -> None:
        self._reads_margins = reads_margins
        self._language = tree_sitter.Language(_grammar(package, function))
        self.name = f"the grammar {package}"
        kinds = _kinds(self._language)
        #: Kind → what texts of another kind begin with, and its number.
        self.other_kinds: dict[int, tuple[bytes, int]] = {
            number: (text, len(kinds.names) + at)
            for at, (kind, text, _) in enumerate(other_kinds)
            for number in kinds.numbers(kind)
        }
        kinds = kinds.with_named([*(name for *_, name in other_kinds), *lacks])
        #: The kinds of tokens that are prose, and those of the words in it.
        self.prose = frozenset[int]().union(*map(kinds.numbers, prose))
        self.kinds = kinds.with_named(PROSE_KINDS) if prose else kinds
        self.prose_kinds = range(len(kinds.names), len(self.kinds.names))
        self.whole_prose = whole_prose
        #: Where such words stand, and the kinds of nodes that none of them begins. Each pattern begins with its
        #: word, which is what is looked for quickly.
        words = [re.escape(word).encode() for word in reserved[1:]]
        self._reserved = [re.compile(w + rb"(?<![\w.$]" + w + rb")(?![\w$])") for w in words]
        self._none_begins = kinds.numbers(reserved[0]) if reserved else frozenset[int]()
        self._read_as = read_as
        self._free_lines = free_lines
        self.joins = joins[0] if joins else None
        #: The kinds of nodes that do no more than join two lines.
        self.joining = (
            frozenset[int]().union(*(self.kinds.numbers(name) for name in joins[1]))
            if joins
            else frozenset()
        )
        firsts = {text.split()[0] for text in self.kinds.worded.values()}
        # What may stand after the first word and is not one space. Each begins with its word, which is
        # what is looked for quickly.
        self._uneven = [
            re.compile(word + rb"(?<!\w" + word + rb")(?:  |[ ]?[\t\n\f\\#])")
            for word in sorted(firsts)
        ]

    def read(self, data: bytes, wanted: Wanted) -> GrammarParsed:
        """Read a text; where it has an error, once more with what no grammar reads put otherwise, and
        with lines within brackets set further in."""
        found = GrammarParsed(self, data, wanted, self.parse(data))
        return self.read_otherwise(found) if found.has_error else found

    def read_otherwise(self, found: GrammarParsed) -> GrammarParsed:
        """A text that has an error, by the other ways in which it may be read; the same if none helps."""
        data, wanted = found.data, found.wanted
        text = self.rewritten(data).data
        if text != data:
            found = GrammarParsed(self, data, wanted, self.parse(text), is_rewritten=True)
        if found.has_error and self._free_lines is not None:
            spread = padded(data, self._free_lines)
            if spread is not None:
                again = GrammarParsed(self, data, wanted, self.parse(spread[0]), spread[1])
                if not again.has_error:
                    return again
        return found

    def misread(self, data: bytes, parsed: tree_sitter.Tree) -> tree_sitter.Node | None:
        """The first word in a text that begins a node of a kind which no such word begins."""
        places = sorted(found.span() for word in self._reserved for found in word.finditer(data))
        for start, end in places:
            word = node = parsed.root_node.descendant_for_byte_range(start, end)
            while node is not None and node.start_byte == start:
                if node.kind_id in self._none_begins:
                    return word
                node = node.parent
        return None

    def rewritten(self, data: bytes) -> Rewritten:
        """A text with other words, as long, in the place of what the grammar does not know."""
        put_in: list[int] = []
        longer: dict[int, int] = {}
        for pattern, stand_in in self._read_as:
            pieces: list[bytes] = []
            at = 0
            for found in pattern.finditer(data):
                start, end = found.span(pattern.groups and 1)
                word = (stand_in * (end - start))[:end - start]
                pieces += [data[at:start], word]
                at = end
                put_in += [
                    start + n
                    for n, (old, new) in enumerate(zip(data[start:end], word))
                    if old in _BLANKS and new not in _BLANKS
                ]
                if word.endswith(b" "):
                    longer[start] = end
            data = b"".join([*pieces, data[at:]])
        return Rewritten(data, put_in, longer)

    def parse(self, data: bytes, old: tree_sitter.Tree | None = None) -> tree_sitter.Tree:
        """The parser's tree of a text. old: one that knows what was edited."""
        if self._reads_margins and b"\t" in data:  # one byte is found much quicker than two
            data = _UNEVEN_MARGIN.sub(_evened_margin, data)
        parser = tree_sitter.Parser(self._language)
        return parser.parse(data) if old is None else parser.parse(data, old)

    def parse_again(
        self, data: bytes, old: bytes, tree: tree_sitter.Tree, edits: Sequence[Edit]
    ) -> tree_sitter.Tree:
        """The parser's tree of a text that some edits, in order and apart, make of another one.

        old, tree: that one, and its tree. What stands elsewhere is not read again.
        """
        tree = tree.copy()  # the one that was given stays as it is
        places: list[tuple[Edit, tuple[int, int], tuple[int, int]]] = []
        point, at = (0, 0), 0
        for edit in edits:
            begin = _point_after(old, point, at, edit.start)
            point, at = _point_after(old, begin, edit.start, edit.end), edit.end
            places.append((edit, begin, point))
        for edit, begin, point in reversed(places):  # so that the places of those before still hold
            size = len(edit.text)
            behind = _point_after(edit.text, begin, 0, size)
            tree.edit(edit.start, edit.end, edit.start + size, begin, point, behind)
        return self.parse(data, tree)

    def evened(self, tree: Tree) -> Tree:
        """The tree with one space in each token of two words, whatever the source has there."""
        data = tree.data
        places = [found.start() for pattern in self._uneven for found in pattern.finditer(data)]
        evened: dict[int, bytes] = {}
        misread: list[int] = []
        for place in places:
            token = bisect_left(tree.token_start, place)
            if token == len(tree.token_start) or tree.token_start[token] != place:
                continue
            name = self.kinds.worded.get(tree.kind[tree.token_node[token]])
            if name is not None and tree.texts[token] != name:
                text = tree.texts[token]
                text = text if self.joins is None else self.joins.sub(b" ", text)
                if b" ".join(text.split()) == name:
                    evened[token] = name
                elif text not in name.split():  # some grammars name each of its words like both
                    misread.append(place)
        if misread:
            tree = replace(tree, misread=tuple(misread))
        if not evened:
            return tree
        texts = [evened.get(token, text) for token, text in enumerate(tree.texts)]
        return replace(tree, is_evened=True, known_texts=texts)


_BLANKS = frozenset(b" \t\n\f\r")
#: A margin with a tab after spaces. Grammars count eight columns for it, though it leads to the next
#: multiple of eight.
_UNEVEN_MARGIN = re.compile(rb"(?m)^[ \t]* \t[ \t]*")


def _evened_margin(found: re.Match[bytes]) -> bytes:
    """A margin of as many columns and as many bytes: tabs, then spaces, after form feeds, which count
    as nothing."""
    margin = found.group()
    tabs, spaces = divmod(len(margin.expandtabs(TAB)), TAB)
    return b"\f" * (len(margin) - tabs - spaces) + b"\t" * tabs + b" " * spaces


def _grammar(package: str, function: str) -> Any:
    """The grammar of a package. Raises GrammarMissing."""
    if not package.startswith(PACKAGE_PREFIX) or not package.isidentifier():
        raise GrammarMissing(f"{package}: a grammar package is named {PACKAGE_PREFIX}…")
    if _FUNCTION.fullmatch(function) is None:
        raise GrammarMissing(f"{function}: a grammar's function is named language or language_…")
    try:
        pointer = getattr(import_installed(package), function)()
    except (ImportError, AttributeError) as error:
        name = package.replace("_", "-")
        message = f"{package}: no such grammar; install the package {name}"
        raise GrammarMissing(message) from error
    if not repr(pointer).startswith(_CAPSULE):  # anything else is taken for an address in memory
        raise GrammarMissing(f"{package}: {function} gives no grammar")
    return pointer


def _kinds(language: tree_sitter.Language) -> Kinds:
    numbers = range(language.node_kind_count)
    fields = range(1, language.field_count + 1)
    return Kinds(
        tuple(language.node_kind_for_id(n) or "" for n in numbers),
        tuple(language.node_kind_is_named(n) for n in numbers),
        tuple(language.node_kind_is_visible(n) for n in numbers),
        {language.field_name_for_id(n) or "": n for n in fields},
    )


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
    empty: set[int] = set()  # kinds of inner nodes without text
    is_full = True
    cursor = parsed.walk()
    down, across, up = cursor.goto_first_child, cursor.goto_next_sibling, cursor.goto_parent
    above = -1
    index = 0
    latest = -1  # the leaf of the latest token
    while True:
        node: Any = cursor.node
        number = node.kind_id
        if wants_shape:
            shape.append(number)
        if number not in whole and (only is None or above or number in only) and down():
            kind.append(number)
            parent.append(above)
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
                    data=data,
                    kind=kind,
                    parent=parent,
                    token_node=token_node,
                    token_start=token_start,
                    token_end=token_end,
                    last_token=last_token,
                    shape=shape,
                    inner=empty.union(map(kind.__getitem__, last_token)),
                    size=size,
                    is_full=is_full,
                )
            if wants_shape:
                shape.append(-1)
            if latest > above:
                last_token[above] = len(token_end) - 1
                above = parent[above]
            else:  # nothing under it has any text
                empty.add(kind.pop())
                above = parent.pop()
                index -= 1
                is_full = False


def _point_after(data: bytes, point: tuple[int, int], start: int, end: int) -> tuple[int, int]:
    """Row and column of a later offset. point: those of `start`."""
    rows = data.count(b"\n", start, end)
    if not rows:
        return point[0], point[1] + end - start
    return point[0] + rows, end - data.rfind(b"\n", start, end) - 1


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


def _tell_apart(tree: Tree, other_kinds: Mapping[int, tuple[bytes, int]]) -> None:
    """Give tokens the kinds that follow from how their texts begin, in place."""
    kinds, starts, data = tree.kind, tree.token_start, tree.data
    for token in tree.tokens_of(other_kinds.keys()):
        node = tree.token_node[token]
        begin, kind = other_kinds[kinds[node]]
        if data.startswith(begin, starts[token]):
            kinds[node] = kind


def _has_strays(tree: Tree, joins: re.Pattern[bytes] | None) -> bool:
    """Whether anything but white space, and what joins lines, stands between the tokens."""
    inside, solid = b"".join(tree.texts), tree.solid
    if joins is not None and joins.search(tree.data):
        inside = joins.sub(b"", inside)
        solid = joins.sub(b"", tree.data).translate(None, BLANKS)
    return len(inside.translate(None, BLANKS)) != len(solid)


def _with_strays(tree: Tree, joins: re.Pattern[bytes] | None) -> Tree:
    """The tree with each token extended over the unknown text after it, but for what joins lines."""
    data, ends = tree.data, list(tree.token_end)
    behind = [*tree.token_start[1:], len(data)]
    for token, (end, start) in enumerate(zip(tree.token_end, behind)):
        text = data[end:start]
        if not text or text.isspace():
            continue
        if joins is not None:
            text = joins.sub(b"  ", text)
        if stray := text.strip():
            ends[token] += text.index(stray) + len(stray)
    return replace(tree, token_end=ends, known_texts=None)
