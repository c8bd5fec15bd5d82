"""The imports of a file, read off its tree: what each says, and the comments that stay with it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import Any

from stilo.order.imports import ALL, NOTHING, Entry, Form, Import
from stilo.order.writing import says_all
from stilo.sheet.marks import Marks
from stilo.tree.flat import Tree

#: Imports that were read, by what the sheet says of the node, its text, and the kinds below it.
Known = dict[tuple[int, bytes, tuple[int, ...]], Import | None]
MOST_KNOWN = 5_000


def read_runs(
    tree: Tree,
    marks: Marks,
    comments: frozenset[int],
    signs: frozenset[int],
    fixed: Sequence[range],
    stop: bytes,
    headers: frozenset[bytes],
    known: Known,
    body: int = 0,
) -> Iterator[list[Import]]:
    """The runs of imports in a body that stand after each other with nothing but comments between them.

    comments: the kinds that are comments. signs: kinds of tokens that may part statements.
    fixed: runs of tokens that stay as they are. stop: a comment that holds this ends a run.
    headers: comments that stand above groups. known: what was read before, be it in another
    file, is taken from here, and what is read goes in. body: the node whose children are looked at: the
    root, or one within it.
    """
    run: list[Import] = []
    pending: list[tuple[int, int]] = []  # the extents of comments since the last import
    is_parted = False
    data = tree.data

    def finish(rest: int = 0) -> list[Import]:
        if run:
            _take_trail(run, pending, data)
            if rest and not pending and b"\n" not in data[run[-1].end:rest]:
                run[-1] = replace(run[-1], rest=rest)
        found = run[:]
        run.clear()
        pending.clear()
        return _with_paragraphs(found)

    for node in marks.children(body) if tree.kind else ():
        kind = tree.kind[node]
        start, end = tree.extent(node)
        if kind in comments:
            if stop and stop in data[start:end]:
                yield finish()
            else:
                pending.append((start, end))
        elif kind in signs:
            is_parted = True
        else:
            statement = _read(tree, marks, comments, node, fixed, known)
            if statement is None or statement.moves == "no":
                if run:
                    yield finish(start if is_parted else 0)
                pending.clear()
                if statement is not None:
                    yield [_placed(statement, node, start, end, source=0)]
            else:
                is_headed = False
                if run and statement.moves == "paragraph":
                    _take_trail(run, pending, data)
                    if data.count(b"\n", run[-1].end, _begin_of(pending, start)) > 1:
                        waiting = pending[:]
                        pending.clear()
                        yield finish()
                        pending += waiting
                if run:
                    _take_trail(run, pending, data)
                    lines = data.count(b"\n", run[-1].end, _begin_of(pending, start))
                else:
                    is_above = bool(pending) and data.count(b"\n", pending[-1][1], start) == 1
                    pending = _attached(tree, pending, start, headers)
                    is_headed = is_above and not pending
                    lines = 1
                run.append(_placed(
                    statement,
                    node,
                    start,
                    end,
                    lead=data[_begin_of(pending, start):start],
                    blank=max(0, lines - 1),
                    is_crowded=not lines,
                    source=len(run),
                    is_headed=is_headed,
                    is_within=body > 0,
                ))
                pending.clear()
            is_parted = False
    yield finish()


def _take_trail(run: list[Import], pending: list[tuple[int, int]], data: bytes) -> None:
    """Give the comments that stand on the last import's line to it."""
    trail = [c for c in pending if b"\n" not in data[run[-1].end:c[0]]]
    if trail:
        run[-1] = replace(run[-1], trail=b" ".join(data[a:b] for a, b in trail))
        del pending[:len(trail)]


def stays_with(item: Import, data: bytes) -> int:
    """Where the comments after an import end, if it has any; else where it does."""
    at = item.end
    for piece in item.trail.split(b" ") if item.trail else ():
        at = data.index(piece, at) + len(piece)
    return at


def _begin_of(extents: Sequence[tuple[int, int]], otherwise: int) -> int:
    return extents[0][0] if extents else otherwise


def _attached(
    tree: Tree, comments: list[tuple[int, int]], start: int, headers: frozenset[bytes]
) -> list[tuple[int, int]]:
    """Of the comments before a first import those that speak of it: none at the file's begin."""
    kept: list[tuple[int, int]] = []
    at = start
    for begin, end in reversed(comments):
        line = tree.data.rfind(b"\n", 0, begin) + 1
        if tree.data.count(b"\n", end, at) != 1 or tree.data[line:begin].strip():
            break
        kept.insert(0, (begin, end))
        at = begin
    opens_file = bool(kept) and tree.token_start[0] == comments[0][0]
    if opens_file:
        heads = [number for number, (a, b) in enumerate(kept) if tree.data[a:b] in headers]
        return kept[heads[0]:] if heads else []
    return kept


def _with_paragraphs(run: list[Import]) -> list[Import]:
    """Imports with the numbers of their paragraphs, and what heads a paragraph apart."""
    found: list[Import] = []
    number = 0
    for at, item in enumerate(run):
        if item.blank:
            number += 1
        opens = at == 0 or item.blank > 0
        behind = run[at + 1] if at + 1 < len(run) else None
        heads = opens and item.lead and behind is not None and not (behind.blank or behind.lead)
        if heads:
            item = replace(item, paragraph=number, heading=item.lead, lead=b"")
        elif number:
            item = replace(item, paragraph=number)
        found.append(item)
    return found


def _read(
    tree: Tree,
    marks: Marks,
    comments: frozenset[int],
    node: int,
    fixed: Sequence[range],
    known: Known,
) -> Import | None:
    """One import, as if it began the text; see `_placed`.

    None of what is none, stays as it is, or says nothing that can be understood.
    """
    if marks.word(node, "import") == NOTHING:
        return None
    first = tree.first(node)
    if any(first in tokens or first + 1 in tokens for tokens in fixed):
        return None
    start, end = tree.extent(node)
    text = tree.data[start:end]
    seen = (marks.state(node), text, tuple(tree.kind[node:tree.after(node)]))
    try:
        return known[seen]
    except KeyError:  # not asked before, since another thread may clear it meanwhile
        pass
    if len(known) >= MOST_KNOWN:
        known.clear()
    found = known[seen] = _read_anew(tree, marks, comments, node, text)
    return found


def _read_anew(
    tree: Tree, marks: Marks, comments: frozenset[int], node: int, text: bytes
) -> Import | None:
    style = marks.style(node)
    said = [
        str(style[name].value)
        for name in ("import", "writes", "writes-alias", "wraps", "binds", "offers", "star")
    ]
    form = Form(*["" if word == NOTHING else word for word in said])
    reader = _Reader(tree, marks, tree.start(node))
    if (signs := str(style["module-between"].value)) != NOTHING:
        reader.take_between(node, signs)
    else:
        reader.walk(node)
    is_plain = _take_comments(tree, comments, node, reader, form)
    if not reader.entries:
        return None
    item = Import(
        node,
        form,
        reader.module,
        tuple(reader.entries),
        0,
        len(text),
        text,
        str(style["moves"].value),
        head=tuple(reader.head),
        is_plain=is_plain and bool(form.writes),
        quoted=reader.quoted,
        tail=reader.tail(node),
    )
    if item.is_plain and form.takes_many and not item.has_inner_comments:
        tokens = tree.texts[tree.first(node) : tree.last(node) + 1]
        if not says_all(item, b"".join(b"".join(tokens).split())):
            return replace(item, is_plain=False)
    return item


def _placed(item: Import, node: int, start: int, end: int, **more: Any) -> Import:
    """An import where it stands, with what is to be said of it there."""
    entries = tuple([
        Entry(e.name, e.alias, e.mark, e.lead, e.trail, e.offset + start) for e in item.entries
    ])
    return Import(
        node,
        item.form,
        item.module,
        entries,
        start,
        end,
        item.text,
        item.moves,
        head=item.head,
        is_plain=item.is_plain,
        quoted=item.quoted,
        tail=item.tail,
        **more,
    )


class _Reader:
    """Collects the parts of one import, which begins at an offset."""

    def __init__(self, tree: Tree, marks: Marks, start: int) -> None:
        self.tree, self.marks, self.start = tree, marks, start
        self.module = self.quoted = ""
        self.mark = ""  # of the name that follows
        self.end = -1  # the last token of the last part
        self.entries: list[Entry] = []
        self.spans: list[tuple[int, int]] = []  # first and last token of each entry
        self.head: list[bytes] = []
        self._is_path = False

    def walk(self, node: int) -> None:
        """Take in all that stands below a node."""
        for child in self.marks.children(node):
            part = self.marks.word(child, "part")
            if part == NOTHING:
                if self.tree.last_token.get(child) is not None:
                    self.walk(child)
                continue
            first, last = self.tree.first(child), self.tree.last(child)
            text = b"".join(self.tree.texts[first : last + 1]).decode()
            self.end = last
            if part == "alias" and self.entries:
                self.entries[-1] = replace(self.entries[-1], alias=text)
                self.spans[-1] = (self.spans[-1][0], last)
            elif part == "module":
                self.module, self.quoted = text.strip("\"'"), text
            elif part == "mark":
                self.mark = text
            elif part == "whole":
                self._add("", first, last)
                self.entries[-1] = replace(self.entries[-1], alias=text)
            elif part == "path":
                name = self.tree.texts[last].decode()
                self.module = b"".join(self.tree.texts[first:max(first, last - 1)]).decode()
                self._add(name, first, last)
                self._is_path = True
            elif part == "wildcard":
                if self._is_path:  # which is then a module as a whole
                    name = self.entries.pop().name
                    self.spans.pop()
                    self.module = f"{self.module}.{name}" if self.module else name
                self._add(ALL, first, last)
            elif part == "name":
                self._add(text.strip("\"'"), first, last)

    def take_between(self, node: int, signs: str) -> None:
        """Take what stands between two signs in the text of a node."""
        _, opened, rest = self.tree.text(node).partition(signs[0])
        name, closed, _ = rest.partition(signs[-1])
        if opened and closed:
            self._add(name, self.tree.first(node), self.tree.last(node))

    def tail(self, node: int) -> str:
        """What stands in the node after its last part."""
        return b" ".join(self.tree.texts[self.end + 1 : self.tree.last(node) + 1]).decode()

    def _add(self, name: str, first: int, last: int) -> None:
        offset = self.tree.token_start[first] - self.start
        self.entries.append(Entry(name, mark=self.mark, offset=offset))
        self.spans.append((first, last))
        self.mark = ""


def _take_comments(
    tree: Tree, comments: frozenset[int], node: int, reader: _Reader, form: Form
) -> bool:
    """Give the comments within an import to its names; False if one speaks of none of them."""
    first, last = tree.first(node), tree.last(node)
    opening = form.wraps[:1].encode()
    opened = next((t for t in range(first, last + 1) if tree.texts[t] == opening), last)
    lead: list[bytes] = []  # comments on lines of their own, until what they stand before
    latest = -1  # the last comment after a name
    for token in range(first, last + 1):
        text = tree.texts[token]
        behind = sum(end < token for _, end in reader.spans)
        if tree.kind[tree.token_node[token]] not in comments:
            if lead and behind < len(reader.entries):
                entry = reader.entries[behind]
                reader.entries[behind] = replace(entry, lead=tuple(lead))
                lead = []
            continue
        if token < opened:
            return False
        is_alone = b"\n" in tree.between(token)
        if is_alone or lead:
            lead.append(text)
        elif behind:
            entry = reader.entries[behind - 1]
            if entry.trail and b"\n" in tree.data[tree.token_end[latest]:tree.token_start[token]]:
                return False  # they cannot share a line
            reader.entries[behind - 1] = replace(entry, trail=(*entry.trail, text))
            latest = token
        else:
            reader.head.append(text)
    return not lead
