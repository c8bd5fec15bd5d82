"""A language: its grammar and its sheets, checked, ready for any style."""

from __future__ import annotations

import re
import threading
from collections import OrderedDict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from fnmatch import fnmatchcase
from functools import cached_property, lru_cache
from importlib import import_module, resources
from importlib.util import find_spec
from os.path import basename
from pathlib import Path, PurePath
from typing import Any

from stilo.errors import (
    BadSetting,
    Fault,
    SheetError,
    UnknownLanguage,
    UnknownSetting,
    UnreadableSource,
    near,
)
from stilo.layout.gaps import Rows
from stilo.order.statements import Known
from stilo.paths import shown_path
from stilo.patterns import compiled
from stilo.reading import MOST_SETTINGS, read_file
from stilo.sheet.cascade import Cascade
from stilo.sheet.marks import Marks, Steps
from stilo.sheet.parse import (
    Declaration,
    Rule,
    Setting,
    Sheet,
    comment_kinds,
    parse_nodes,
    read_facts,
    read_sheet,
    role_names,
    whole_kinds,
)
from stilo.sheet.properties import CLASSES, ORDER, PROPERTIES, Parts, Value
from stilo.sheet.selectors import Compound, Selector, SelectorReader
from stilo.tree.flat import Tree
from stilo.tree.grammar import Grammar, GrammarMissing
from stilo.tree.padding import FreeLines

#: A language's own check of the bytes of two texts: 0 if they mean the same to it, or (if the third is true)
#: would, but for the margins of the texts in them; else the line from which the second reads differently.
#: Raises SyntaxError for the first.
Check = Callable[[bytes, bytes, bool], int]
#: For how many styles a language keeps what is decided of its kinds of neighbours.
MOST_ROWS = 16
BASE = "base"
SUFFIX = ".stilo"


class Language:
    """A language as its sheets define it. Immutable to its users, and thread-safe.

    sheets: (name, text) from the weakest to the strongest, the base sheet first. is_ours: all of them
    come with Stilo; the patterns of others are searched for with a limit of time.
    Raises SheetError with every fault of all of them.
    """

    def __init__(self, sheets: Sequence[tuple[str, str]], is_ours: bool = False) -> None:
        parsed = [(name, parse_nodes(text)) for name, text in sheets]
        facts: dict[str, list[str]] = {}
        self.name = ""
        for name, text in sheets:
            sheet = read_facts(text, name)
            facts.update(sheet.facts)
            self.name = sheet.language or self.name
        if "grammar" not in facts:
            raise SheetError([Fault(sheets[-1][0], 1, 1, "@language with a grammar is missing")])
        own = {name: words for name, words in facts.items() if name.startswith("own-")}
        if own and "own-brackets" not in own:
            message = f"{next(iter(own))} says nothing without own-brackets"
            raise SheetError([Fault(sheets[-1][0], 1, 1, message)])
        #: Whether all its sheets come with Stilo.
        self.is_ours = is_ours
        faults = [fault for name, text in sheets for fault in read_facts(text, name).faults]
        if faults:
            raise SheetError(faults)
        function = facts.get("grammar-function", ["language"])[0]
        try:
            self.grammar = Grammar(
                facts["grammar"][0],
                function,
                _read_as(facts.get("read-as"), is_ours),
                _tokens(facts.get("tokens"), is_ours),
                own,
                _joins(facts.get("joins"), is_ours),
                FreeLines.of("|".join(facts["free-lines"]), facts.get("pairs", ()), is_ours)
                    if "free-lines" in facts
                    else None,
            )
            #: What in the cells of notebooks is none of this language: lines, and whole cells.
            self.foreign_lines = _foreign_lines(facts.get("foreign-lines", ()), is_ours)
            #: Patterns of what in a comment refers to names.
            self.said = tuple(compiled(said.encode(), 0, is_ours) for said in facts.get("said", ()))
            foreign = "|".join(facts.get("foreign-cell", ["(?!)"]))
            self._foreign_cell = compiled(foreign, 0, is_ours)
            self._bound = tuple(facts.get("bound", ()))
            heads = "|".join(facts.get("first-lines", ["(?!)"]))
            #: What finds a comment that acts by standing in the first lines of a file.
            self.first_lines = compiled(heads.encode(), 0, is_ours)
            compiled("|".join(self._bound), 0, is_ours)
        except (GrammarMissing, re.error, ValueError) as error:
            raise SheetError([Fault(sheets[-1][0], 1, 1, str(error))]) from error
        self.notebooks: tuple[str, ...] = tuple(facts.get("notebooks", ()))
        self.files: tuple[str, ...] = (*facts.get("files", ()), *self.notebooks)
        self._standard_words = tuple(facts.get("standard", ()))
        self.implicit = tuple(facts.get("implicit", ()))
        self.folder_files = tuple(facts.get("folder-files", ()))
        #: Words that may refer to any name unseen.
        self.hides = tuple(facts.get("hides", ()))
        self._passes_on = tuple(facts.get("passes-on", ()))
        #: Whether a module is found by its whole path, not by the first word of it.
        self.finds_whole = facts.get("modules") == ["whole"]
        #: Whether the lines of a block must all begin at one column.
        self.margins_matter = facts.get("margins") == ["matter"]
        pairs = facts.get("pairs", [])
        self.pairs: dict[str, str] = dict(zip(pairs[::2], pairs[1::2]))
        #: What stands before and behind the words of a comment that the tool writes, or nothing.
        self.remark: tuple[str, ...] = tuple(facts.get("remark", ()))
        kinds = self.grammar.kinds
        every = [node for _, nodes in parsed for node in nodes]
        self.comment_kinds: dict[int, str] = {
            number: sort
            for name, sort in comment_kinds(every).items()
            for number in kinds.get((name, True), ())
        }
        comments = self.grammar.comments = frozenset(self.comment_kinds)
        self.grammar.wants_shape = self.check is None
        self.whole: frozenset[int] = comments.union(
            *(kinds.get((name, True), frozenset()) for name in whole_kinds(every))
        )
        roles = [role for _, nodes in parsed for role in role_names(nodes)]
        self.settings: dict[str, Setting] = {}
        self.roles: dict[str, str] = {}
        rules: list[tuple[int, Rule]] = []
        self._sheets: list[Sheet] = []
        for layer, (name, nodes) in enumerate(parsed):
            grammar = self.grammar if layer else None
            reader = SelectorReader(grammar, roles, lambda: comments, is_ours)
            sheet = read_sheet(nodes, name, reader, roles, self.settings)
            faults += sheet.faults
            self.settings.update(sheet.settings)
            self.roles.update({r: m or self.roles.get(r, "") for r, m in sheet.roles.items()})
            rules += [(layer + 1, rule) for rule in sheet.rules]
            self._sheets.append(sheet)
        if faults:
            raise SheetError(faults)
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
        self._rules = _role_rules(self.settings, roles) + rules
        used = {role for _, rule in rules for role in rule.roles or ()}
        #: The roles that some rule of the sheets gives; others have no settings here.
        self.used_roles: frozenset[str] = frozenset(used)
        asked = {d.setting for _, rule in rules for d in rule.declarations}
        heard = {
            name: setting
            for name, setting in self.settings.items()
            if "." not in name or name.partition(".")[0] in used or name in asked
        }
        self._defaults = {name: setting.default for name, setting in heard.items()}
        without = facts.get("without", ())
        for name in without:
            if name not in heard:
                message = f'"without" names no setting: "{name}"{near(name, list(heard))}'
                faults.append(Fault(sheets[-1][0], 1, 1, message))
        if faults:
            raise SheetError(faults)
        self.settings = {n: setting for n, setting in heard.items() if n not in without}
        #: The forms of imports, in the sheet's order.
        self.import_forms: tuple[str, ...] = tuple(
            dict.fromkeys(
                str(d.value)
                for _, rule in self._order_rules
                for d in rule.declarations
                if d.name == "import"
            )
        )
        if "import.groups" in self.settings:
            known = Parts((*self.import_forms, *CLASSES))
            groups = replace(self.settings["import.groups"], type=known)
            self.settings["import.groups"] = groups
        #: The kinds that may be imports, and those that may be names with their modules' paths.
        self.import_kinds = self._kinds_with("import")
        self.qualified_kinds = self._kinds_with("qualified")
        #: Imports as they were read in any file, since the same few stand in most.
        self.known_imports: Known = {}
        self._order: dict[str, tuple[Cascade, Steps]] = {}
        for about in sorted({PROPERTIES[name].about for name in ORDER}):
            chosen = [
                (layer, replace(rule, declarations=found))
                for layer, rule in self._order_rules
                if (
                    found := tuple(
                        d
                        for d in rule.declarations
                        if PROPERTIES[d.name].about == about
                    )
                )
            ]
            self._order[about] = (Cascade(chosen, [{}]), {})
        held = facts.get("held", ())
        self._own_roles = tuple(facts.get("own-roles", ()))
        self._held = tuple(zip(held[::4], held[1::4], held[2::4], held[3::4]))
        if (
            len(held) % 4
            or not {n for a, _, b, _ in self._held for n in (a, b)} <= set(self.settings)
        ):
            message = '"held" takes a setting, a value, another setting and its value, in turn'
            raise SheetError([Fault(sheets[-1][0], 1, 1, message)])
        #: The settings that some rule asks for, in order.
        self._asked_settings = tuple(
            dict.fromkeys(
                d.setting
                for _, rule in self._rules
                for d in rule.declarations
                if d.setting in self._defaults
            )
        )
        self._rows: OrderedDict[tuple[tuple[Value, ...], ...], Rows] = OrderedDict()
        self._lock = threading.Lock()

    def is_notebook(self, path: str) -> bool:
        """Whether a file's name says that it is a notebook."""
        return any(fnmatchcase(PurePath(path).name, glob) for glob in self.notebooks)

    def is_foreign_cell(self, text: str) -> bool:
        """Whether a cell of a notebook is left as it is."""
        return self._foreign_cell.match(text.lstrip()) is not None

    @cached_property
    def check(self) -> Check | None:
        """The language's own check of a result, if one stands beside its sheet."""
        found: Check | None = self._own("first_difference")
        return found

    @cached_property
    def spelt_out(self) -> Callable[[bytes], bytes] | None:
        """What puts characters in the place of their numbers, if the language reads these before all else."""
        found: Callable[[bytes], bytes] | None = self._own("spelt_out")
        return found

    @cached_property
    def of_project(self) -> Callable[[Mapping[str, Any]], Mapping[str, str]] | None:
        """What tells the settings that follow from a project's own description of itself."""
        found: Callable[[Mapping[str, Any]], Mapping[str, str]] | None
        found = self._own("settings", "project")
        return found

    @cached_property
    def charset_of(self) -> Callable[[bytes], str] | None:
        """What tells the encoding in which the language itself reads a file, if it may say so."""
        found: Callable[[bytes], str] | None = self._own("charset")
        return found

    def _own(self, function: str, module: str = "check") -> Any:
        """A function of the language's own code beside its sheet, or None."""
        name = f"stilo.languages.{self.name}_{module}"
        if not self.name.isidentifier() or find_spec(name) is None:
            return None
        return getattr(import_module(name), function, None)

    @cached_property
    def wants_fields(self) -> bool:
        """Whether some selector asks for a field."""
        return any(
            compound.needs_field()
            for _, rule in (*self._rules, *self._order_rules)
            for compound in rule.selector.compounds
        )

    @cached_property
    def _standard(self) -> frozenset[str]:
        """The modules of the language's own library: of the sheet, or of data beside it."""
        name = f"stilo.languages.{self.name}_modules"
        if not self.name.isidentifier() or find_spec(name) is None:
            return frozenset(self._standard_words)
        found: frozenset[str] = import_module(name).STANDARD
        return found.union(self._standard_words)

    def is_standard(self, path: str) -> bool:
        """Whether a module belongs to the language's own library."""
        return path.partition(".")[0] in self._standard

    def passes_on(self, path: str) -> bool:
        """Whether the imports of a file are there for others, by the file's name."""
        return any(fnmatchcase(basename(path), glob) for glob in self._passes_on)

    @cached_property
    def suffixes(self) -> tuple[str, ...]:
        """The endings of the names of files in this language."""
        return tuple(glob[1:] for glob in self.files if glob.startswith("*."))

    def opens_what_fits(self, values: Mapping[str, Value]) -> bool:
        """Whether a style opens, though it fits, what could be opened only in brackets of its own."""
        return any(
            values.get(f"{role}.wrap") == "stack-always" or bool(values.get(f"{role}.row-most", 0))
            for role in self._own_roles
        )

    def bound(self, values: Mapping[str, Value]) -> re.Pattern[bytes] | None:
        """What finds a comment that acts on a line, as the sheet and the style have it."""
        words = [word.strip() for word in str(values.get("bound-comments", "")).split("|")]
        patterns = [*self._bound, *(re.escape(word) for word in words if word)]
        return compiled("|".join(patterns).encode(), 0, self.is_ours) if patterns else None

    def defaults(self) -> dict[str, Value]:
        """Every setting's default; of those, too, that mean nothing in this language."""
        return dict(self._defaults)

    def values(self, style: Mapping[str, Value | str], origin: str = "style") -> dict[str, Value]:
        """Every setting's value under a style. Raises UnknownSetting or BadSetting."""
        values = self.defaults()
        for name, given in style.items():
            setting = self.settings.get(name)
            if setting is None and name in self._defaults:
                continue  # it means nothing here
            if setting is None:
                raise UnknownSetting(origin, name, list(self.settings))
            value = setting.type.read(str(given))
            if value is None:
                raise BadSetting(origin, name, str(given), str(setting.type))
            values[name] = value
        return values

    def _kinds_with(self, name: str) -> frozenset[int]:
        """The kinds of nodes for which some rule declares a property of order."""
        return frozenset[int]().union(
            *(
                rule.selector.compounds[-1].possible_kinds or frozenset()
                for _, rule in self._order_rules
                if any(d.name == name for d in rule.declarations)
            )
        )

    def marks(self, tree: Tree, about: str) -> Marks:
        """What the sheet says of a tree's nodes: of `imports`, `names` or `exports`."""
        cascade, steps = self._order[about]
        return Marks(cascade, steps, tree, self.grammar.comments)

    def rows(self, *variants: Mapping[str, Value]) -> Rows:
        """The memo over this language's rules with these values, shared by all who use them.

        variants: the values of the file at large, then those of each region that has its own.
        """
        asked = [
            {n: values[n] for n in self._asked_settings if n is not None}
            for values in variants
        ]
        for found, values in zip(asked, variants):
            for name, value, other, then in self._held:
                if str(values[name]) == value and other in found:
                    found[other] = then
        key = tuple(tuple(values.values()) for values in asked)
        with self._lock:
            rows = self._rows.get(key)
            if rows is None:
                rows = self._rows[key] = Rows(Cascade(self._rules, asked), self.grammar)
                if len(self._rows) > MOST_ROWS:
                    self._rows.popitem(last=False)
            self._rows.move_to_end(key)
            return rows


def _read_as(words: Sequence[str] | None, is_ours: bool) -> tuple[re.Pattern[bytes], bytes] | None:
    if words is None:
        return None
    if len(words) != 2 or len(words[1].encode()) != 1:
        raise ValueError("read-as takes a pattern and one character")
    return compiled(words[0].encode(), 0, is_ours), words[1].encode()


def _foreign_lines(patterns: Sequence[str], is_ours: bool) -> re.Pattern[str]:
    """Lines of these patterns, with those that are joined to them, and their margin apart."""
    either = "|".join(patterns) or "(?!)"
    joined = r"(?:(?<=\\)\n.+)*"
    whole = rf"^(?P<margin>[ \t]*)(?P<said>(?:{either}){joined})$"
    return compiled(whole, re.MULTILINE, is_ours)


def _joins(
    words: Sequence[str] | None, is_ours: bool
) -> tuple[re.Pattern[bytes], Sequence[str]] | None:
    return None if words is None else (compiled(words[0].encode(), 0, is_ours), words[1:])


def _tokens(words: Sequence[str] | None, is_ours: bool) -> re.Pattern[bytes] | None:
    if words is None:
        return None
    pattern = compiled("|".join(words).encode(), re.DOTALL, is_ours)
    if pattern.groups:
        raise ValueError("tokens takes patterns without groups that capture; write (?:…)")
    return pattern


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


def sheet_text(name: str) -> str:
    """The text of a sheet that comes with Stilo."""
    return (resources.files("stilo.languages") / f"{name}{SUFFIX}").read_text("utf-8")


@lru_cache
def language_names() -> tuple[str, ...]:
    """The languages that Stilo has a sheet for."""
    names = [
        entry.name.removesuffix(SUFFIX)
        for entry in resources.files("stilo.languages").iterdir()
        if entry.name.endswith(SUFFIX)
    ]
    return tuple(sorted(name for name in names if name != BASE))


@lru_cache
def load_language(name: str) -> Language:
    """A language by name. Raises UnknownLanguage, SheetError."""
    if name not in language_names():
        raise UnknownLanguage(name, language_names())
    return Language([(f"{n}{SUFFIX}", sheet_text(n)) for n in (BASE, name)], True)


def is_setting(name: str) -> bool:
    """Whether one of our languages has a setting of this name."""
    return any(name in load_language(language).settings for language in language_names())


def define_language(sheet: str | Path, on: str | None = None) -> Language:
    """A language by a sheet of one's own, given as text, or as the path of its file.

    A sheet that names a grammar is a language of its own, on top of the base sheet. One that
    names none adds its rules to the language `on`, or to the one of ours that it names itself.
    Raises UnreadableSource, UnknownLanguage or SheetError.
    """
    name, text = (
        ("sheet", sheet) if isinstance(sheet, str) else (shown_path(sheet), _sheet_file(sheet))
    )
    facts = read_facts(text, name)
    below = [BASE]
    if "grammar" not in facts.facts:
        known = on or facts.language
        if not known:
            raise SheetError([
                Fault(name, 1, 1, "the sheet names no grammar, and no language to add its rules to")
            ])
        if known not in language_names():
            raise UnknownLanguage(known, language_names())
        below.append(known)
    return Language([*((f"{n}{SUFFIX}", sheet_text(n)) for n in below), (name, text)])


def _sheet_file(path: Path) -> str:
    try:
        return read_file(path, MOST_SETTINGS).decode()
    except OSError as error:
        raise UnreadableSource(shown_path(path), f"no sheet there: {error.strerror}") from error
    except UnicodeDecodeError as error:
        raise UnreadableSource(shown_path(path), "a sheet is UTF-8 text; this is not") from error


@lru_cache
def _globs() -> tuple[tuple[str, str], ...]:
    """(glob, language) of all our sheets."""
    found = []
    for name in language_names():
        facts = read_facts(sheet_text(name), name).facts
        for glob in (*facts.get("files", ()), *facts.get("notebooks", ())):
            found.append((glob, name))
    return tuple(found)


def language_for_file(path: str) -> str:
    """The name of the language that a file's name says. Raises UnknownLanguage."""
    base = PurePath(path).name
    for glob, name in _globs():
        if fnmatchcase(base, glob):
            return name
    raise UnknownLanguage(path, language_names())
