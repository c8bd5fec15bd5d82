"""A language: its reader and its sheets, checked, ready for any style."""

from __future__ import annotations

import re
import threading
from collections import OrderedDict
from collections.abc import Callable, Mapping, Sequence
from copy import copy
from dataclasses import replace
from functools import cached_property
from itertools import chain
from operator import itemgetter
from typing import Any

from stilo.errors import BadSetting, Fault, SheetError, SyntaxFault, UnknownSetting, near
from stilo.layout.gaps import Rows
from stilo.patterns import compiled
from stilo.readers.conditional import BRANCH, DIRECTIVE, ConditionalReader
from stilo.readers.grammar import GrammarMissing, GrammarReader
from stilo.readers.reader import AskingReader, Parsed, Reader, Wanted, WordReader
from stilo.sheet.cascade import Cascade, RuleIndex
from stilo.sheet.compounds import Compound, Selector
from stilo.sheet.every import meant, of_every_role
from stilo.sheet.facts import Fact, Facts, read_facts_of
from stilo.sheet.marks import Marks, Steps
from stilo.sheet.parse import (
    NO_VALUES, Declaration, Rule, Setting, Sheet, comment_kinds, parse_nodes, read_facts,
    read_sheet, role_names, whole_kinds, words_of,
)
from stilo.sheet.properties import CLASSES, ORDER, PROPERTIES, Naming, Parts, Readings, Type, Value
from stilo.sheet.selectors import SelectorReader
from stilo.source import Source
from stilo.support import NO_SUPPORT, Support
from stilo.tree.flat import Tree
from stilo.tree.kinds import UnknownKind
from stilo.tree.optional_brackets import OwnBrackets, with_brackets

#: For how many styles a language keeps what is decided of its kinds of neighbours.
MOST_ROWS = 16

#: The setting that names words which only a preprocessor knows, and for how many of its values the
#: language is remembered.
KNOWN_WORDS = "known-words"
MOST_KNOWING = 16


class Language:
    """A language as its sheets define it. Immutable to its users, and thread-safe.

    sheets: (name, text) from the weakest to the strongest, the base sheet first. support: the
    language's own code. is_ours: all sheets come with Stilo; the patterns of others are searched for
    with a limit of time.
    Raises SheetError with every fault of all sheets.
    """

    def __init__(
        self,
        sheets: Sequence[tuple[str, str]],
        support: Support = NO_SUPPORT,
        is_ours: bool = False,
    ) -> None:
        #: Whether all its sheets come with Stilo.
        self.is_ours = is_ours
        #: The language's own code.
        self.support = support
        self.name, self.facts = _name_and_facts(sheets, is_ours, support.reader is not None)
        #: The texts of the sheets, weakest first.
        self.sheet_texts = tuple(text for _, text in sheets)
        self._lock = threading.Lock()
        self._given = tuple(sheets)
        self._knowing: dict[tuple[tuple[str, Value], ...], Language] = {}
        #: The words of the last style for comments that act on a line, and what finds these.
        self._bound: tuple[str, re.Pattern[bytes] | None] | None = None
        self._rows: OrderedDict[tuple[Any, ...], Rows] = OrderedDict()
        last = sheets[-1][0]
        self.reader: Reader
        self.own: OwnBrackets | None
        self.reader, self.own = _reader_of(self.facts, support, last)
        self.kinds = (
            self.reader.kinds if self.own is None else self.reader.kinds.with_own_brackets()
        )
        parsed = [(name, parse_nodes(text)) for name, text in sheets]
        nodes = [node for _, found in parsed for node in found]
        self.comment_kinds: dict[int, str] = {
            number: sort
            for name, sort in comment_kinds(nodes).items()
            for number in self.kinds.by_name.get((name, True), ())
        }
        #: The kinds that are comments.
        self.comments = frozenset(self.comment_kinds)
        #: Those of them that people read: no lines for another program.
        self.remarks = frozenset(n for n, sort in self.comment_kinds.items() if sort != "directive")
        #: The kinds that are taken as one token.
        self._whole = self.comments.union(
            *(self.kinds.by_name.get((name, True), ()) for name in whole_kinds(nodes))
        )
        self._take_in(parsed, NO_VALUES)

    def _take_in(
        self, parsed: Sequence[tuple[str, Sequence[Any]]], values: Mapping[str, Value]
    ) -> None:
        """Take in all sheets, with values of the settings whose words have rules. Raises SheetError."""
        self._read_sheets(parsed, values)
        #: The kinds that may be imports, and those that may be names with their modules' paths.
        self.import_kinds = self._kinds_with("import")
        self.qualified_kinds = self._kinds_with("qualified")
        #: What its sheets ask of trees.
        self.wanted = Wanted(
            self.comments,
            self._whole,
            self.import_kinds,
            self._wants_fields(),
            self.support.check is None,
        )

    def _read_sheets(
        self, parsed: Sequence[tuple[str, Sequence[Any]]], values: Mapping[str, Value]
    ) -> None:
        """Take in the rules, roles and settings of all sheets. Raises SheetError."""
        roles = [role for _, nodes in parsed for role in role_names(nodes)]
        settings: dict[str, Setting] = {}
        #: The meaning of each role.
        self.roles: dict[str, str] = {}
        rules: list[tuple[int, Rule]] = []
        faults: list[Fault] = []
        self._sheets: list[Sheet] = []
        for layer, (name, nodes) in enumerate(parsed):
            kinds = self.kinds if layer else None
            reader = SelectorReader(kinds, roles, lambda: self.comments, self.is_ours)
            sheet = read_sheet(nodes, name, reader, roles, settings, values)
            faults += sheet.faults
            settings.update(sheet.settings)
            self.roles.update({r: m or self.roles.get(r, "") for r, m in sheet.roles.items()})
            rules += [(layer + 1, rule) for rule in sheet.rules]
            self._sheets.append(sheet)
        if faults:
            raise SheetError(faults)
        heard = self._take_rules(rules, settings, roles)
        self._see_names(heard, parsed[-1][0])
        self._take_settings(heard)

    def _take_rules(
        self,
        rules: Sequence[tuple[int, Rule]],
        settings: Mapping[str, Setting],
        roles: Sequence[str],
    ) -> dict[str, Setting]:
        """Take in rules, those that put things in order apart. Returns the settings that mean something."""
        self._order_rules = [
            (layer, replace(rule, roles=None, declarations=found))
            for layer, rule in rules
            if (found := tuple(d for d in rule.declarations if d.name in ORDER))
        ]
        rules = [
            (layer, replace(rule, declarations=found))
            for layer, rule in rules
            if (found := tuple(d for d in rule.declarations if d.name not in ORDER))
                or rule.roles is not None
        ]
        self._rules = _role_rules(settings, roles) + rules
        self._order: dict[str, tuple[Cascade, Steps]] = {
            about: (Cascade(RuleIndex(self._order_rules_about(about)), [{}]), {})
            for about in sorted({PROPERTIES[name].about for name in ORDER})
        }
        ordering = [d for _, rule in self._order_rules for d in rule.declarations]
        #: The forms of imports, in the sheet's order.
        self.import_forms = tuple(
            dict.fromkeys(str(d.value) for d in ordering if d.name == "import")
        )
        #: Whether imports may stand in bodies within the text, too.
        self.has_inner_imports = any((d.name, d.value) == ("part", "inside") for d in ordering)
        used = {role for _, rule in rules for role in rule.roles or ()}
        #: The roles that some rule of the sheets gives; others have no settings here.
        self.used_roles: frozenset[str] = frozenset(used)
        asked = {d.setting for _, rule in rules for d in rule.declarations}
        return {
            name: setting
            for name, setting in settings.items()
            if "." not in name or name.partition(".")[0] in used or name in asked
        }

    def _take_settings(self, heard: Mapping[str, Setting]) -> None:
        """Take in settings, of some of which the values depend on the language."""
        self._defaults = {name: setting.default for name, setting in heard.items()}
        #: The settings that mean something in this language.
        self.settings = {n: s for n, s in heard.items() if n not in self.facts.without}
        #: The settings whose words have rules.
        self._word_settings = tuple(
            dict.fromkeys(name for sheet in self._sheets for name in sheet.word_settings)
        )
        types: dict[str, Type] = {"import.groups": Parts((*self.import_forms, *CLASSES))}
        if isinstance(self.reader, WordReader):
            types[KNOWN_WORDS] = Readings(None, self.reader.readings)
        types.update(dict.fromkeys(self._word_settings, Naming()))
        for name, type_ in types.items():
            if name in self.settings:
                self.settings[name] = replace(self.settings[name], type=type_)
        declared = (d.setting for _, rule in self._rules for d in rule.declarations)
        held = (held.setting for held in self.facts.held)
        #: The settings by whose values the rules are other rules, in order.
        self._asked_settings = tuple(
            dict.fromkeys(name for name in chain(declared, held) if name in self._defaults)
        )
        #: Their values, of those of all settings.
        self._asked_values: Callable[[Mapping[str, Value]], Any] = (
            itemgetter(*self._asked_settings) if self._asked_settings else lambda values: ()
        )

    def _see_names(self, known: Mapping[str, Setting], last: str) -> None:
        """See that facts name settings and kinds that there are. Raises SheetError."""
        named = [("without", name) for name in self.facts.without]
        named += [("held", n) for held in self.facts.held for n in (held.setting, held.other)]
        inner = self.facts.inner_code
        faults = []
        if inner is not None:
            named.append(("inner-code", inner.setting))
            try:
                self.kinds.numbers(inner.kind)
            except UnknownKind as error:
                faults.append(self.facts.place_of("inner-code", last).fault(str(error)))
        for fact, name in named:
            if name not in known:
                place = self.facts.place_of(fact, last)
                message = f'"{fact}" names no setting: "{name}"{near(name, list(known))}'
                faults.append(place.fault(message))
        if faults:
            raise SheetError(faults)

    def _order_rules_about(self, about: str) -> list[tuple[int, Rule]]:
        """The rules that say something about imports, names or exports."""
        return [
            (layer, replace(rule, declarations=found))
            for layer, rule in self._order_rules
            if (found := tuple(d for d in rule.declarations if PROPERTIES[d.name].about == about))
        ]

    def _wants_fields(self) -> bool:
        """Whether some selector asks for a field."""
        return any(
            compound.needs_field()
            for _, rule in (*self._rules, *self._order_rules)
            for compound in rule.selector.compounds
        )

    def _kinds_with(self, name: str) -> frozenset[int]:
        """The kinds of nodes for which some rule declares a property of order."""
        return frozenset[int]().union(
            *(
                rule.selector.compounds[-1].possible_kinds or frozenset()
                for _, rule in self._order_rules
                if any(d.name == name for d in rule.declarations)
            )
        )

    @cached_property
    def branch_kind(self) -> int:
        """The kind of tokens that are branches which a view leaves out; -1 where there are no views."""
        return next(iter(self.kinds.by_name.get((BRANCH, True), ())), -1)

    @cached_property
    def line_kinds(self) -> frozenset[int]:
        """The kinds of tokens that are lines for a preprocessor, or branches which a view leaves out."""
        found = (self.kinds.by_name.get((name, True), ()) for name in (DIRECTIVE, BRANCH))
        return frozenset[int]().union(*found)

    @cached_property
    def _rule_index(self) -> RuleIndex:
        return RuleIndex(self._rules)

    @cached_property
    def body_kinds(self) -> frozenset[int]:
        """The kinds of nodes whose children may have lines of their own: bodies, tables, files."""
        says_lines = [
            rule
            for _, rule in self._rules
            if any((d.name, d.value) == ("between", "line") for d in rule.declarations)
        ]
        last = [rule.selector.compounds[-1] for rule in says_lines]
        roles = frozenset[str]().union(*(compound.roles for compound in last))
        last += [r.selector.compounds[-1] for _, r in self._rules if roles & {*(r.roles or ())}]
        return frozenset[int]().union(*(compound.possible_kinds or () for compound in last))

    # Texts

    def read(self, data: bytes) -> Parsed:
        """Read a text, errors included."""
        return self.reader.read(data, self.wanted)

    def read_source(self, source: Source) -> Parsed:
        """Read a source. Raises SyntaxFault with the place of its first error."""
        parsed = self.read(source.data)
        if parsed.has_error:
            raise SyntaxFault(self._fault_of(source, parsed))
        return parsed

    def _fault_of(self, source: Source, parsed: Parsed) -> Fault:
        """The first error of a source: as the language's own reader tells it, if it finds one."""
        told = parsed.fault(source, self.facts.pairs)
        known = self.support.fault
        found = known(source.data.decode()) if known is not None else None
        if found is None and self._reads(source.data):
            message = (
                f"{self.reader.name} cannot read what stands here, though it is no syntax error; "
                "the file is left as it was"
            )
            return replace(told, message=message)
        if found is None:
            return told
        line, column, message = found
        is_of_brackets = "to close" in told.message or "closes nothing" in told.message
        if is_of_brackets and "unterminated" not in message:
            return told  # which says what was left open, too
        text = f"syntax error: {message}; the file is left as it was"
        return Fault(source.name, min(line, source.line_count or 1), column, text)

    def _reads(self, data: bytes) -> bool:
        """Whether the language itself, as far as its own check tells, can read a text."""
        if self.support.check is None:
            return False
        try:
            return not self.support.check(data, data, False)
        except SyntaxError:
            return False

    @property
    def edits_tokens(self) -> bool:
        """Whether tokens may come and go, in any style, by where lines break."""
        return self.own is not None or self.facts.joins is not None

    def bracketed(
        self, tree: Tree, room: int = 0, keeps: bool = False, wanted: Sequence[int] = ()
    ) -> Tree:
        """The tree with brackets that come and go, where the language permits any.

        room: none around values on lines of at most so many columns, save those that begin at the
        tokens `wanted`. keeps: brackets of the source stay, and no others come.
        """
        if self.own is None:
            return tree
        return with_brackets(tree, self.own, self.comments, room, keeps, wanted)

    def with_lacking(self, tree: Tree, lacking: Sequence[int], room: int, keeps: bool) -> Tree:
        """The same tree, with such brackets at those of the spared values, too."""
        if tree.bare is None:
            return tree
        wanted = [tree.spared[token][1] for token in lacking]
        return self.bracketed(tree.bare, room, keeps, wanted)

    def marks(self, tree: Tree, about: str) -> Marks:
        """What the sheet says of a tree's nodes: of `imports`, `names` or `exports`."""
        cascade, steps = self._order[about]
        return Marks(cascade, steps, tree, self.comments)

    @cached_property
    def _standard(self) -> frozenset[str]:
        """The modules of the language's own library: of the sheet, and of the code beside it."""
        known = self.support.standard_modules
        return frozenset(self.facts.standard).union(known() if known is not None else ())

    def is_standard(self, path: str) -> bool:
        """Whether a module belongs to the language's own library."""
        return path.partition(".")[0] in self._standard

    @cached_property
    def _settings_of_texts(self) -> tuple[str, ...]:
        """The settings by which texts are read otherwise, or have other rules."""
        words = [KNOWN_WORDS] if isinstance(self.reader, WordReader) else []
        asked = self.reader.asked if isinstance(self.reader, AskingReader) else ()
        return (*words, *asked, *self._word_settings)

    def knowing(self, values: Mapping[str, Value]) -> Language:
        """The language, with what a style says of how texts are read: of words (`known-words`), or what the reader
        asks; and with the rules that the sheets have for words (`@words`)."""
        defaults = self._defaults
        said = {
            n: v for n in self._settings_of_texts if (v := values.get(n)) and v != defaults.get(n)
        }
        if not said:
            return self
        key = tuple(said.items())
        found = self._knowing.get(key)
        if found is None:
            found = copy(self)
            found.reader = self._reader_knowing(said)
            if not said.keys().isdisjoint(self._word_settings):
                found._lock, found._rows = threading.Lock(), OrderedDict()
                for name in _DERIVED:
                    vars(found).pop(name, None)
                found._take_in([(name, parse_nodes(text)) for name, text in self._given], said)
            if len(self._knowing) >= MOST_KNOWING:
                self._knowing.clear()
            self._knowing[key] = found
        return found

    def _reader_knowing(self, said: Mapping[str, Value]) -> Reader:
        """The reader, with what a style says of how texts are read."""
        reader = self.reader
        if isinstance(reader, WordReader) and KNOWN_WORDS in said:
            known = {word.encode(): how for word, how in words_of(str(said[KNOWN_WORDS]))}
            reader = reader.with_words(known)
        if isinstance(reader, AskingReader):
            reader = reader.with_values({n: str(said[n]) for n in reader.asked if n in said})
        return reader

    # Styles

    def defaults(self) -> dict[str, Value]:
        """Every setting's default; of those, too, that mean nothing in this language."""
        return dict(self._defaults)

    def values(self, style: Mapping[str, Value | str], origin: str = "style") -> dict[str, Value]:
        """Every setting's value under a style. Raises UnknownSetting or BadSetting."""
        values = self.defaults()
        for name, given in meant(style, self.settings) if style else ():
            setting = self.settings.get(name)
            if setting is None and (name in self._defaults or of_every_role(name, self._defaults)):
                continue  # it means nothing here
            if setting is None:
                raise UnknownSetting(origin, name, list(self.settings))
            value = setting.type.read(str(given))
            if value is None:
                raise BadSetting(origin, name, str(given), str(setting.type))
            values[name] = value
        return values

    def opens_what_fits(self, values: Mapping[str, Value]) -> bool:
        """Whether a style opens, though it fits, what could be opened only in brackets of its own."""
        return any(
            values.get(f"{role}.wrap") == "stack-always" or bool(values.get(f"{role}.line-most", 0))
            for role in self.facts.own_roles
        )

    def keeps_brackets(self, values: Mapping[str, Value]) -> bool:
        """Whether, by a style, brackets neither come nor go."""
        said = self.facts.own.get("own-kept", ())
        return bool(said) and str(values.get(said[0])) == said[1]

    def bound(self, values: Mapping[str, Value]) -> re.Pattern[bytes] | None:
        """What finds a comment that acts on a line, as the sheet and the style have it."""
        words = str(values.get("bound-comments", ""))
        known = self._bound
        if known is None or known[0] != words:
            found = [re.escape(word.strip()) for word in words.split("|") if word.strip()]
            patterns = "|".join([*self.facts.bound, *found]).encode()
            known = self._bound = (words, compiled(patterns, 0, self.is_ours) if patterns else None)
        return known[1]

    def may_end(self, values: Mapping[str, Value]) -> bool:
        """Whether a style may ask for other signs at the ends of statements than are there."""
        return _is_asked(self._terminated, values)

    def may_split(self, values: Mapping[str, Value]) -> bool:
        """Whether a style may ask for strings in other pieces."""
        return _is_asked(self._split, values)

    @cached_property
    def _terminated(self) -> list[Declaration]:
        """What its rules declare of signs at the ends of statements."""
        return self._declared("terminated")

    @cached_property
    def _split(self) -> list[Declaration]:
        """What its rules declare of strings in pieces."""
        return self._declared("pieces")

    def _declared(self, name: str) -> list[Declaration]:
        return [d for _, rule in self._rules for d in rule.declarations if d.name == name]

    def rows(self, *variants: Mapping[str, Value]) -> Rows:
        """The memo over this language's rules with these values, shared by all who use them.

        variants: the values of the file at large, then those of each region that has its own.
        """
        key = tuple(map(self._asked_values, variants))
        with self._lock:
            rows = self._rows.get(key)
            if rows is None:
                cascade = Cascade(self._rule_index, [self._asked(values) for values in variants])
                rows = self._rows[key] = Rows(cascade, self.kinds, self.comments, self.own)
                if len(self._rows) > MOST_ROWS:
                    self._rows.popitem(last=False)
            self._rows.move_to_end(key)
            return rows

    def _asked(self, values: Mapping[str, Value]) -> dict[str, Value]:
        """What rules are told of the values of settings: of those that they ask for."""
        found = {name: values[name] for name in self._asked_settings}
        for held in self.facts.held:
            if str(values[held.setting]) == held.value and held.other in found:
                found[held.other] = held.then
        return found


#: What is worked out from a language's rules when it is first asked for.
_DERIVED = [name for name, value in vars(Language).items() if isinstance(value, cached_property)]


def _is_asked(declared: Sequence[Declaration], values: Mapping[str, Value]) -> bool:
    """Whether a style may ask for something else than to keep what is there."""
    return any(
        values[d.setting] != "keep" if d.setting is not None else d.value != "keep"
        for d in declared
    )


def _name_and_facts(
    sheets: Sequence[tuple[str, str]], is_ours: bool, has_reader: bool
) -> tuple[str, Facts]:
    """What `@language` says in all sheets, the strongest last. Raises SheetError."""
    name, said = "", dict[str, Fact]()
    faults: list[Fault] = []
    for origin, text in sheets:
        found = read_facts(text, origin)
        said.update(found.facts)
        name = found.language or name
        faults += found.faults
    facts, wrong = read_facts_of(said, is_ours, sheets[-1][0], has_reader)
    if facts is None or faults:
        raise SheetError([*faults, *wrong])
    return name, facts


def _reader_of(facts: Facts, support: Support, origin: str) -> tuple[Reader, OwnBrackets | None]:
    """The language's own reader, or that of the grammar that its sheet names, and the brackets that come
    and go. Raises SheetError."""
    reader: Reader
    try:
        if support.reader is not None:
            reader = support.reader()
        else:
            reader = GrammarReader(
                facts.grammar,
                facts.grammar_function,
                facts.read_as,
                facts.joins,
                facts.free_lines,
                facts.margins_matter,
                facts.other_kinds,
                facts.lacks,
                facts.prose,
                facts.whole_prose,
                facts.reserved,
            )
            if facts.preprocessed is not None:
                reader = ConditionalReader(reader, facts.preprocessed)
    except (GrammarMissing, UnknownKind, ValueError) as error:
        place = facts.place_of("joins" if isinstance(error, UnknownKind) else "grammar", origin)
        raise SheetError([place.fault(str(error))]) from error
    if not facts.own:
        return reader, None
    try:
        return reader, OwnBrackets.of(facts.own, reader.kinds.with_own_brackets())
    except UnknownKind as error:
        place = facts.place_of("own-brackets", origin)
        raise SheetError([place.fault(str(error))]) from error


def _role_rules(settings: Mapping[str, Setting], roles: Sequence[str]) -> list[tuple[int, Rule]]:
    """The rules that `@role` stands for: each aspect of a role is its setting's value."""
    by_role: dict[str, list[Declaration]] = {}
    for name, setting in settings.items():
        role, _, aspect = name.partition(".")
        if role in roles and aspect in PROPERTIES:
            declaration = Declaration(aspect, None, name, setting.place, f".{role}")
            by_role.setdefault(role, []).append(declaration)
    return [
        (
            0,
            Rule(
                Selector((Compound(roles=frozenset([role])),), (), f".{role}"),
                None,
                tuple(declarations),
                declarations[0].place,
            ),
        )
        for role, declarations in by_role.items()
    ]
