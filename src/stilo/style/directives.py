"""Directives: what comments in a source say to Stilo.

    stilo: leave                    the next item stays as it is (after code: the item it stands after)
    stilo: leave begin … leave end  all between the two comments stays as it is
    stilo: leave file               the whole file; before all code
    stilo: set NAME=VALUE …         settings for the rest of the block around the comment
    stilo: set begin NAME=VALUE … stilo: set end   settings for all between the two comments
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import field

from stilo.errors import DirectiveError, Fault, near
from stilo.language import Language
from stilo.layout.measures import Measures
from stilo.layout.plan import MARK
from stilo.layout.regions import Region
from stilo.records import dataclass
from stilo.sheet.every import meant
from stilo.sheet.properties import Value
from stilo.source import Source
from stilo.style.given import DIRECTIVE, Given
from stilo.tree.flat import Tree

_WORDS = re.compile(r"\W*stilo:\s*(.*?)(?:\s+\W*|[^\w-]*)\Z", re.DOTALL)


@dataclass(frozen=True)
class Directives:
    """What the directives of a file come to.

    regions: nodes and tokens with values of their own, and per region these values; given: per
    region what its directive gives. left: runs of gaps (by the token after each) that stay as
    they are, as do the tokens between them.
    """

    regions: Sequence[Region] = ()
    values: Sequence[Mapping[str, Value]] = ()
    given: Sequence[Mapping[str, Given]] = ()
    left: Sequence[range] = ()
    leaves_file: bool = False


NO_DIRECTIVES = Directives()


@dataclass(frozen=True)
class _Found:
    """A directive: its comment's token and node, verb, `begin`, `end`, `file` or "", and the rest."""

    token: int
    node: int
    verb: str
    reach: str
    rest: tuple[str, ...]


def directive_words(comment: str) -> list[str] | None:
    """The words of a directive, or None for any other comment."""
    found = _WORDS.match(comment)
    return found[1].split() if found else None


def read_directives(
    tree: Tree, source: Source, language: Language, values: Mapping[str, Value]
) -> Directives:
    """Find the directives in the comments of a tree. Raises DirectiveError with all faults.

    values: what holds where no directive says otherwise.
    """
    if MARK not in tree.data:
        return NO_DIRECTIVES
    reader = _Reader(tree, source, language, values)
    reader.read()
    if reader.faults:
        raise DirectiveError(sorted(reader.faults, key=lambda f: (f.line, f.column)))
    return Directives(reader.regions, reader.values, reader.given, reader.left, reader.leaves_file)


@dataclass
class _Reader:
    tree: Tree
    source: Source
    language: Language
    base: Mapping[str, Value]
    faults: list[Fault] = field(default_factory=list)
    regions: list[Region] = field(default_factory=list)
    values: list[Mapping[str, Value]] = field(default_factory=list)
    given: list[Mapping[str, Given]] = field(default_factory=list)
    left: list[range] = field(default_factory=list)
    leaves_file: bool = False

    def read(self) -> None:
        """Take all directives in, in order."""
        begun: dict[str, _Found] = {}
        asking: list[tuple[range, _Found]] = []
        for found in self._directives():
            if found.reach == "end":
                begin = begun.pop(found.verb, None)
                if begin is None:
                    self._fault(found.token, f'"{found.verb} end" ends nothing that was begun')
                elif self.tree.parent[begin.node] != self.tree.parent[found.node]:
                    line = self._line(begin.token)
                    self._fault(
                        found.token,
                        f'"{found.verb} end" stands in another block than the begin of line {line}',
                    )
                elif found.verb == "leave":
                    self.left.append(range(begin.token + 1, found.token + 1))
                else:
                    asking.append((range(self.tree.after(begin.node), found.node), begin))
            elif found.reach == "begin":
                if found.verb in begun:
                    line = self._line(begun[found.verb].token)
                    message = f'"{found.verb} begin" within that of line {line}, which has no end'
                    self._fault(found.token, message)
                else:
                    begun[found.verb] = found
            elif found.verb == "set":
                asking.append((self._rest_of_block(found.node), found))
            elif found.reach == "file":
                self._leave_file(found)
            else:
                self._leave_item(found)
        # What begins earlier, or ends later, is around the other.
        for nodes, found in sorted(asking, key=lambda ask: (ask[0].start, -ask[0].stop)):
            self._set(found, nodes)
        for found in begun.values():
            self._fault(found.token, f'"{found.verb} begin" has no "stilo: {found.verb} end"')

    def _fault(self, token: int, message: str) -> None:
        line, column = self.source.position(self.tree.token_start[token])
        text = f"directive: {message}; the file is left as it was"
        self.faults.append(Fault(self.source.name, line, column, text))

    def _line(self, token: int) -> int:
        return self.source.position(self.tree.token_start[token]).line

    def _directives(self) -> Iterator[_Found]:
        tree = self.tree
        for token in tree.tokens_of(self.language.comments):
            if MARK not in tree.token_text(token):
                continue
            words = directive_words(tree.token_text(token).decode())
            if words is None:
                continue
            verb = words[0] if words else ""
            if verb not in ("leave", "set"):
                hint = near(verb, ["leave", "set"])
                self._fault(token, f'"{verb}" is none{hint}; there are "leave" and "set"')
                continue
            reaches = ("begin", "end", "file") if verb == "leave" else ("begin", "end")
            reach = words[1] if len(words) > 1 and words[1] in reaches else ""
            rest = tuple(words[2:] if reach else words[1:])
            if rest and (verb == "leave" or reach == "end"):
                hint = near(rest[0], reaches)
                self._fault(token, f'"{" ".join(rest)}" says nothing here{hint}')
                continue
            yield _Found(token, tree.token_node[token], verb, reach, rest)

    # leave

    def _leave_file(self, found: _Found) -> None:
        comments = self.language.comment_kinds
        before = self.tree.token_node[:found.token]
        if all(self.tree.kind[node] in comments for node in before):
            self.leaves_file = True
        else:
            self._fault(found.token, '"leave file" belongs before all code')

    def _leave_item(self, found: _Found) -> None:
        tree, token = self.tree, found.token
        is_behind = token > 0 and b"\n" not in tree.between(token)
        siblings = list(tree.children(tree.parent[found.node]))
        at = siblings.index(found.node)
        candidates = reversed(siblings[:at]) if is_behind else siblings[at + 1:]
        item = next((node for node in candidates if self._is_item(node)), None)
        if item is None:
            where = "before it" if is_behind else "after it"
            self._fault(token, f'nothing that "leave" could mean stands {where}')
            return
        first, last = tree.first(item), tree.last(item)
        if is_behind:
            self.left.append(range(first + 1, last + 1))
            return
        # All its lines stay, if it begins and ends them; what stands after it, too.
        begin = first if b"\n" in tree.between(first) else first + 1
        end = last + 1
        comments = self.language.comment_kinds
        while (
            end < len(tree.token_node)
            and tree.kind[tree.token_node[end]] in comments
            and b"\n" not in tree.between(end)
        ):
            end += 1
        self.left.append(range(begin, end))

    def _is_item(self, node: int) -> bool:
        kind = self.tree.kind[node]
        return kind not in self.language.comment_kinds and kind not in self.language.kinds.signs

    # set

    def _rest_of_block(self, node: int) -> range:
        """The nodes after a comment in what holds it, but for what closes that."""
        tree = self.tree
        behind = [n for n in tree.children(tree.parent[node]) if n > node]
        if behind and tree.kind[behind[-1]] in self.language.kinds.signs:
            behind.pop()
        return range(behind[0], tree.after(behind[-1])) if behind else range(0)

    def _set(self, found: _Found, nodes: range) -> None:
        given = self._given(found)
        if not nodes or not given:
            if not nodes:
                self._fault(found.token, "nothing stands where these settings would hold")
            return
        tree = self.tree
        tokens = range(tree.first(nodes[0]), tree.first(nodes[-1]) + 1)
        around: Mapping[str, Value] = self.base
        for region, values in zip(self.regions, self.values):
            if nodes[0] in region.nodes:
                around = values
        values = {**around, **{name: value.value for name, value in given.items()}}
        self.regions.append(Region(nodes, tokens, len(self.regions) + 1, Measures.of(values)))
        self.values.append(values)
        self.given.append(given)

    def _given(self, found: _Found) -> dict[str, Given]:
        given: dict[str, Given] = {}
        if not found.rest:
            self._fault(found.token, '"set" takes NAME=VALUE, such as width=80')
        line = self._line(found.token)
        settings = self.language.settings
        asked = [item.partition("=") for item in found.rest]
        for name, sign, text in asked:
            if not sign:
                self._fault(found.token, f'"set" takes NAME=VALUE, not "{name}"')
        for name, said in meant([(name, text) for name, sign, text in asked if sign], settings):
            text = str(said)
            setting = settings.get(name)
            if setting is None:
                self._fault(found.token, f'unknown setting "{name}"{near(name, list(settings))}')
            elif setting.of_file:
                self._fault(found.token, f"{name} holds for a whole file, not for a part of it")
            elif (value := setting.type.read(text)) is None:
                hint = near(text, getattr(setting.type, "permitted", ()))
                message = f'{name} cannot be "{text}"{hint}; permitted: {setting.type}'
                self._fault(found.token, message)
            else:
                given[name] = Given(value, DIRECTIVE, self.source.name, line)
        return given
