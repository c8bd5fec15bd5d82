"""Reading selectors: which nodes a rule speaks of.

Syntax and meaning follow Selectors Level 4 (W3C), over a syntax tree: a type
selector is a kind of node, a string is a token by its text, `#name` the field
of the parent that the node stands in, `.name` a role, an attribute the node's
text. Comments are transparent: they are no one's sibling.
"""

from __future__ import annotations

import re
from bisect import bisect_left
from collections.abc import Callable, Sequence
from dataclasses import replace
from itertools import takewhile
from typing import Any

from stilo.errors import near
from stilo.patterns import compiled
from stilo.sheet.compounds import Compound, Numbers, Selector, Test
from stilo.sheet.conditions import (
    NO_KIND, Chain, Path, Step, begins, comment_before, fits, has, has_run, is_empty, is_last,
    kinds_after
)
from stilo.tree.flat import Tree
from stilo.tree.kinds import Kinds

#: Conditions without an argument and with selectors in parentheses, with their meaning.
CONDITIONS = {
    "first-child": "no sibling stands before the node",
    "last-child": "no sibling stands after it",
    "only-child": "both",
    "empty": "the node holds at most two tokens (its delimiters), comments not counted",
}
FUNCTIONS = {
    "not": "none of these compound selectors fits the node",
    "is": "one of these compound selectors fits it",
    "has": "one of these is found from the node on: below it, or with `>`, `+`, `~` in front a "
    "child, the next, a later sibling; without roles and fields",
    "behind": "one of these fits the comment right before it, on the same line or on one of its own",
}
ATTRIBUTES = {
    "=": "the node's text is this",
    "^=": "begins with this",
    "$=": "ends with this",
    "~=": "holds a match of this regular expression",
}
#: Other forms of selector, with their meaning.
FORMS = {
    "kind": "a kind of node, by the grammar's name for it",
    '"text"': "a token by its text",
    "*": "any node",
    ".role": "a node with this role",
    "#field": "a node in this field of its parent",
    "A B": "B anywhere below A",
    "A > B": "B, a child of A",
    "A + B": "B, the next sibling of A",
    "A ~ B": "B, a later sibling of A",
    "A, B": "either",
    ":--name": "what `@custom-selector :--name A, B;` above it fits: simple selectors, either",
}


#: The name of the condition that a node is the last child.
LAST = ":last-child"


class SelectorFault(Exception):
    """What is wrong in a selector, with the token where it shows."""

    def __init__(self, message: str, token: Any) -> None:
        super().__init__(message)
        self.message, self.token = message, token


class SelectorReader:
    """Reads selectors from tinycss2's component values, checked against the kinds of a reader.

    roles: the names known as roles, or None while they are being collected. is_ours: the sheet comes
    with Stilo, so that its patterns need no limit.
    """

    def __init__(
        self,
        kinds: Kinds | None,
        roles: Sequence[str] | None,
        comments: Callable[[], Numbers],
        is_ours: bool = False,
    ) -> None:
        self._kinds = kinds
        self._roles = roles
        self._comments = comments
        self._is_ours = is_ours
        self._in_has = False
        self._named: dict[str, tuple[Compound, ...]] = {}

    def read_name(self, tokens: Sequence[Any]) -> None:
        """Take in what `@custom-selector :--name A, B` says. Raises SelectorFault."""
        words = _strip(tokens)
        is_named = len(words) > 2 and words[0] == ":" and words[1].type == "ident"
        if not (is_named and words[1].value.startswith("--")):
            where = words[0] if words else None
            raise SelectorFault("a name is written :--name, followed by selectors", where)
        self._named[words[1].value] = tuple(self.compound(part) for part in _split(words[2:]))

    def read_list(self, tokens: Sequence[Any]) -> list[Selector]:
        """Selectors separated by commas. Raises SelectorFault."""
        return [self._complex(part) for part in _split(tokens)]

    def _complex(self, tokens: Sequence[Any]) -> Selector:
        compounds: list[Compound] = []
        joins: list[str] = []
        pending: list[Any] = []
        join: str | None = None
        for token in [*tokens, None]:
            is_space = token is not None and token.type == "whitespace"
            is_join = token is not None and token.type == "literal" and token.value in ">+~"
            if token is not None and not is_space and not is_join:
                pending.append(token)
                continue
            if pending:
                if compounds:
                    joins.append(join or " ")
                compounds.append(self.compound(pending))
                pending, join = [], None
            if is_join:
                if join not in (None, " ") or not compounds:
                    raise SelectorFault(f'"{token.value}" joins nothing', token)
                join = token.value
            elif is_space and join is None and compounds:
                join = " "
        if not compounds or join not in (None, " "):
            where = tokens[-1] if tokens else None
            raise SelectorFault("a selector is missing", where)
        text = "".join(t.serialize() for t in tokens).strip()
        return Selector(tuple(compounds), tuple(joins), text)

    def compound(self, tokens: Sequence[Any]) -> Compound:
        """One compound selector. Raises SelectorFault."""
        kinds: Numbers | None = None
        fields: Numbers | None = None
        roles: set[str] = set()
        first = False
        tests: list[Test] = []
        within: list[tuple[bool, tuple[Compound, ...]]] = []
        rest = iter(tokens)
        for position, token in enumerate(rest):
            if token.type in ("ident", "string") and position == 0:
                kinds = self._kind(token)
            elif token == "*" and position == 0:
                pass
            elif token.type == "hash":
                fields = self._field(token)
            elif token == ".":
                roles.add(self._role(next(rest, token)))
            elif token.type == "[] block":
                tests.append(_text_test(token, self._is_ours))
            elif token == ":":
                named = next(rest, token)
                if named.type == "ident" and named.value == "first-child":
                    first = True
                elif named.type == "ident" and named.value == "only-child":
                    first = True
                    tests.append(self._simple_test("last-child", named))
                elif named.type == "ident" and named.value.startswith("--"):
                    within.append((True, self._by_name(named)))
                elif named.type == "ident":
                    tests.append(self._simple_test(named.value, named))
                elif named.type == "function" and named.name in ("is", "not"):
                    options = tuple(self.compound(_strip(p)) for p in _split(named.arguments))
                    within.append((named.name == "is", options))
                elif named.type == "function" and named.name == "has":
                    tests.append(self._has(named))
                elif named.type == "function" and named.name == "behind":
                    tests.append(self._behind(named))
                else:
                    raise SelectorFault(f"{_shown(named)} is no known condition", named)
            else:
                raise SelectorFault(f"{_shown(token)} does not belong here", token)
        return Compound(kinds, fields, frozenset(roles), first, tuple(tests), tuple(within))

    def _by_name(self, token: Any) -> tuple[Compound, ...]:
        if token.value not in self._named:
            message = f'unknown name ":{token.value}"{near(token.value, list(self._named))}'
            raise SelectorFault(message, token)
        return self._named[token.value]

    def _kind(self, token: Any) -> Numbers:
        if self._kinds is None:
            raise SelectorFault("the base sheet knows no kinds of node; match a role", token)
        is_named = token.type == "ident"
        found = self._kinds.by_name.get((token.value, is_named))
        if found is None:
            known = [name for name, named in self._kinds.by_name if named == is_named]
            what = "kind of node" if is_named else "token"
            raise SelectorFault(
                f'the grammar has no {what} "{token.value}"{near(token.value, known)}', token
            )
        return found

    def _field(self, token: Any) -> Numbers:
        known = self._kinds.fields if self._kinds else {}
        if token.value not in known:
            message = f'the grammar has no field "{token.value}"{near(token.value, list(known))}'
            raise SelectorFault(message, token)
        return frozenset([known[token.value]])

    def _role(self, token: Any) -> str:
        if token.type != "ident":
            raise SelectorFault("a role's name is missing", token)
        name = str(token.value)
        if self._roles is not None and name not in self._roles:
            raise SelectorFault(f'unknown role "{name}"{near(name, self._roles)}', token)
        return name

    def _simple_test(self, name: str, token: Any) -> Test:
        if name == "last-child":
            return Test(LAST, lambda tree, node: is_last(tree, node, self._comments()))
        if name == "empty":
            return Test(":empty", lambda tree, node: is_empty(tree, node, self._comments()))
        known = [*CONDITIONS, *FUNCTIONS]
        raise SelectorFault(f'unknown condition ":{name}"{near(name, known)}', token)

    def _behind(self, function: Any) -> Test:
        options = [self.compound(_strip(part)) for part in _split(function.arguments)]
        if any(option.needs_roles() or option.needs_field() for option in options):
            raise SelectorFault("comments have no roles and fields inside :behind()", function)

        def holds(tree: Tree, node: int) -> bool:
            comments = self._comments()
            comment = comment_before(tree, node, comments)
            return comment >= 0 and any(fits(tree, comment, o, comments) for o in options)

        return Test(function.serialize(), holds)

    def _has(self, function: Any) -> Test:
        if self._in_has:
            raise SelectorFault(":has() cannot stand within :has()", function)
        options: list[tuple[str, Selector]] = []
        self._in_has = True
        try:
            options = self._has_options(function)
        finally:
            self._in_has = False

        return self._has_test(function.serialize(), options)

    def _has_options(self, function: Any) -> list[tuple[str, Selector]]:
        options: list[tuple[str, Selector]] = []
        for part in _split(function.arguments):
            part = _strip(part)
            lead = " "
            if part and part[0].type == "literal" and part[0].value in ">+~":
                lead = part[0].value
                part = _strip(part[1:])
            selector = self._complex(part)
            if any(c.needs_roles() or c.needs_field() for c in selector.compounds):
                raise SelectorFault("roles and fields are not known yet inside :has()", function)
            options.append((lead, selector))
        return options

    def _has_test(self, name: str, options: list[tuple[str, Selector]]) -> Test:
        """The condition, by the quickest way there is to answer it."""
        paths = [_path(lead, selector) for lead, selector in options]

        def holds(tree: Tree, node: int) -> bool:
            return has(tree, node, paths, self._comments())

        leads = {lead for lead, _ in options}
        chains = [_chain(s, of_children=leads == {">"}) for _, s in options]
        if leads not in ({">"}, {"+"}) or leads == {"+"} and None in chains:
            return Test(name, holds)
        if None in chains:  # then the kinds of the children do not say all
            begins_of = [_begin_of(path) for path in paths]
            if not all(chain[0] for chain in begins_of):
                return Test(name, holds)
            return Test(name, holds, by_children=self._run_of(begins_of, may_be_more=True))
        known = [chain for chain in chains if chain is not None]
        first = frozenset[int]().union(*(chain[0] or () for chain in known))
        most = max(map(len, known))
        if leads == {"+"}:
            def is_next(tree: Tree, node: int) -> bool:
                kinds = kinds_after(tree, node, self._comments(), first, most)
                return bool(kinds) and (most == 1 or begins(kinds, known))

            return Test(name, is_next)
        if most == 1:
            return Test(name, holds, first)
        return Test(name, holds, by_children=self._run_of(known), is_by_children=True)

    def _run_of(
        self, chains: Sequence[Chain], may_be_more: bool = False
    ) -> Callable[[Sequence[int]], bool]:
        """Whether children next to each other are of the kinds that one of the chains says.

        may_be_more: the chains are no more than the begin of what is asked. Where they begin with a comment, which is
        left out here, the answer is yes.
        """
        first = frozenset[int]().union(*(chain[0] or () for chain in chains))

        def is_run(kinds: Sequence[int]) -> bool:
            comments = self._comments()
            is_of_comments = may_be_more and not comments.isdisjoint(first)
            return is_of_comments or has_run(kinds, chains, first, comments)

        return is_run


def _path(lead: str, selector: Selector) -> Path:
    """The way that a selector goes."""
    return [
        _step(join, compound) for join, compound in zip((lead, *selector.joins), selector.compounds)
    ]


def _step(join: str, compound: Compound) -> Step:
    others, is_last = _without_last(compound)
    others = replace(others, first=False)
    is_mere = others == Compound() or _mere_kinds(others) is not None
    kinds = compound.possible_kinds
    return Step(join, kinds, compound.first, is_last, None if is_mere else others)


def _without_last(compound: Compound) -> tuple[Compound, bool]:
    """A compound selector without `:last-child`, and whether it had that."""
    tests = tuple(test for test in compound.tests if test.name != LAST)
    return replace(compound, tests=tests), len(tests) < len(compound.tests)


def _begin_of(path: Path) -> Chain:
    """The kinds of children with which a way may begin, as far as it goes from one to the next."""
    first, *others = path
    more = takewhile(lambda step: step.join == "+", others)
    start = [frozenset([NO_KIND])] if first.first else []
    return [*start, first.kinds, *(step.kinds for step in more)]


def _chain(selector: Selector, of_children: bool = False) -> Chain | None:
    """The kinds of neighbours that a selector fits, if it asks for nothing else.

    of_children: or for no more than that they begin with the first child, or end with the last; then `NO_KIND`
    stands before them, or after.
    """
    compounds = list(selector.compounds)
    is_begin = is_end = False
    if of_children:
        compounds[-1], is_end = _without_last(compounds[-1])
        is_begin = compounds[0].first
        compounds[0] = replace(compounds[0], first=False)
    parts = [_mere_kinds(compound) for compound in compounds]
    is_any = [compound == Compound() for compound in compounds]
    is_known = all(any_fits or part is not None for any_fits, part in zip(is_any, parts))
    is_chain = is_known and not is_any[0] and all(join == "+" for join in selector.joins)
    if not is_chain:
        return None
    edge: list[Numbers | None] = [frozenset([NO_KIND])]
    return [*(edge if is_begin else []), *parts, *(edge if is_end else [])]


def _mere_kinds(compound: Compound) -> Numbers | None:
    """The kinds that a compound selector fits, if it asks for nothing else."""
    if compound == Compound(compound.kinds):
        return compound.kinds
    if len(compound.within) == 1 and compound == Compound(within=compound.within):
        is_wanted, options = compound.within[0]
        kinds = [_mere_kinds(option) for option in options]
        if is_wanted and None not in kinds:
            return frozenset[int]().union(*(k for k in kinds if k is not None))
    return None


def _text_test(block: Any, is_ours: bool) -> Test:
    tokens = [t for t in block.content if t.type != "whitespace"]
    shape = [t.type for t in tokens]
    operator = "".join(t.value for t in tokens[1:-1] if t.type == "literal")
    if not tokens or shape[0] != "ident" or tokens[0].value != "text":
        raise SelectorFault('an attribute is written [text="…"]', block)
    if operator not in ATTRIBUTES or shape[-1] != "string":
        raise SelectorFault('[text…] takes =, ^=, $= or ~= (a pattern) and a string', block)
    wanted = str(tokens[-1].value)
    name = block.serialize()
    sign = wanted.encode()
    if operator == "=":
        def is_all(tree: Tree, node: int) -> bool:  # most begin otherwise, and where is found first
            start = tree.start(node)
            return tree.data.startswith(sign, start) and tree.end(node) - start == len(sign)

        return Test(name, is_all)
    if operator == "^=":
        def is_begin(tree: Tree, node: int) -> bool:
            start = tree.token_start[bisect_left(tree.token_node, node)]
            return tree.data.startswith(sign, start) and tree.end(node) - start >= len(sign)

        return Test(name, is_begin)
    if operator == "$=":
        def is_end(tree: Tree, node: int) -> bool:
            end = tree.end(node)
            return tree.data.endswith(sign, 0, end) and end - tree.start(node) >= len(sign)

        return Test(name, is_end)
    try:
        pattern = compiled(wanted, 0, is_ours)
    except re.error as error:
        raise SelectorFault(f"not a pattern: {error}", tokens[-1]) from error
    return Test(name, lambda tree, node: pattern.search(tree.text(node)) is not None)


def _split(tokens: Sequence[Any]) -> list[list[Any]]:
    parts: list[list[Any]] = [[]]
    for token in tokens:
        if token.type == "literal" and token.value == ",":
            parts.append([])
        else:
            parts[-1].append(token)
    return [_strip(part) for part in parts]


def _strip(tokens: Sequence[Any]) -> list[Any]:
    kept = list(tokens)
    while kept and kept[0].type == "whitespace":
        kept.pop(0)
    while kept and kept[-1].type == "whitespace":
        kept.pop()
    return kept


def _shown(token: Any) -> str:
    return f'"{token.serialize()}"'
