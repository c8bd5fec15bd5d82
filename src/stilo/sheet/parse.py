"""From a sheet's text to its rules, roles and settings.

CSS syntax (CSS Syntax Module Level 3) is read by tinycss2. What is wrong is
collected as faults, never thrown one at a time.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from copy import copy
from dataclasses import field
from types import MappingProxyType
from typing import Any

import tinycss2
from tinycss2.ast import StringToken
from tinycss2.serializer import serialize_string_value

from stilo.errors import Fault, near
from stilo.records import dataclass
from stilo.sheet.compounds import Selector
from stilo.sheet.facts import FACTS, Fact
from stilo.sheet.place import Place
from stilo.sheet.properties import (
    ORDER, PROPERTIES, ROLE, Parts, Property, Type, Value, Whole, Words, is_number
)
from stilo.sheet.selectors import SelectorFault, SelectorReader


@dataclass(frozen=True)
class Setting:
    """What a team may choose: name, permitted values, default, meaning, place.

    of_file: it holds for a whole file, so that no directive can change it for a part. shown:
    values at which its sample is shown.
    """

    name: str
    type: Type
    default: Value
    meaning: str
    place: Place
    of_file: bool = False
    shown: tuple[Value, ...] = ()

    @property
    def values_shown(self) -> tuple[Value, ...]:
        """The values at which its sample is shown, the default among them: all, if words."""
        if isinstance(self.type, Words):
            return self.type.permitted
        if isinstance(self.type, Whole):
            return tuple(sorted({*map(int, self.shown), int(self.default)}))
        return tuple(dict.fromkeys((self.default, *self.shown)))


@dataclass(frozen=True)
class Declaration:
    """`property: value` in the rule of a selector; `setting` names where the value comes from."""

    name: str
    value: Value | None
    setting: str | None
    place: Place
    rule: str


@dataclass(frozen=True)
class Rule:
    """A selector with what it declares; a later layer or rule wins over an earlier."""

    selector: Selector
    roles: tuple[str, ...] | None
    declarations: tuple[Declaration, ...]
    place: Place


@dataclass
class Sheet:
    """A sheet as read. Its faults are not raised yet.

    word_settings: the settings whose words have rules.
    """

    name: str
    language: str = ""
    facts: dict[str, Fact] = field(default_factory=dict)
    roles: dict[str, str] = field(default_factory=dict)
    settings: dict[str, Setting] = field(default_factory=dict)
    rules: list[Rule] = field(default_factory=list)
    word_settings: list[str] = field(default_factory=list)
    faults: list[Fault] = field(default_factory=list)


# The rule alone, since to parse a whole sheet takes long; a string may hold a brace.
_LANGUAGE_RULE = re.compile(
    r"""@language\s[^{]*\{(?:"(?:[^"\\]|\\.)*"|'(?:[^'\\]|\\.)*'|/\*.*?\*/|[^}"'])*\}""", re.DOTALL
)

#: What `@setting` may say.
PARTS = ["values", "range", "parts", "default", "meaning", "scope", "shown"]

#: The rules of a sheet that are no style, as in CSS; names of selectors are those of CSS Extensions.
AT_RULES = ("language", "role", "setting", "custom-selector", "words")
#: No setting has a value yet.
NO_VALUES: Mapping[str, Value] = MappingProxyType({})


def parse_nodes(text: str) -> list[Any]:
    """The sheet's rules as tinycss2 nodes."""
    nodes: list[Any] = tinycss2.parse_stylesheet(text, skip_comments=True, skip_whitespace=True)
    return nodes


def read_facts(text: str, name: str) -> Sheet:
    """Only what `@language` at the top says: enough to find the sheet for a file."""
    head = _LANGUAGE_RULE.search(text)
    sheet = Sheet(name)
    for node in parse_nodes(head.group() if head else ""):
        if node.type == "at-rule" and node.lower_at_keyword == "language":
            _read_language(sheet, node)
    return sheet


def read_sheet(
    nodes: Sequence[Any],
    name: str,
    reader: SelectorReader,
    roles: Sequence[str],
    settings: dict[str, Setting],
    values: Mapping[str, Value] = NO_VALUES,
) -> Sheet:
    """Read a whole sheet. roles, settings: those of the sheets below it and its own. values: of the
    settings whose words have rules (`@words`)."""
    sheet = Sheet(name)
    known = dict(settings)
    seen: dict[tuple[str, str], int] = {}
    for node in nodes:
        if node.type == "error":
            _fault(sheet, node, f"not CSS syntax: {node.message}")
        elif node.type == "at-rule":
            word = node.lower_at_keyword
            if word == "language":
                _read_language(sheet, node)
            elif word == "role":
                _read_role(sheet, node, known)
            elif word == "setting":
                _read_setting(sheet, node, known)
            elif word == "custom-selector":
                try:
                    reader.read_name(node.prelude)
                except SelectorFault as fault:
                    _fault(sheet, fault.token or node, fault.message)
            elif word == "words":
                _read_words(sheet, node, reader, roles, known, values)
            else:
                message = f'unknown rule "@{word}"{near(word, AT_RULES)}'
                _fault(sheet, node, message)
        elif node.type == "qualified-rule":
            _read_rule(sheet, node, reader, roles, known, seen)
    return sheet


def _read_words(
    sheet: Sheet,
    node: Any,
    reader: SelectorReader,
    roles: Sequence[str],
    known: dict[str, Setting],
    values: Mapping[str, Value],
) -> None:
    """Read the rules in `@words SETTING { … }`: once for each word of the setting's value, or, where it has
    none, once to find their faults."""
    names = _words(node.prelude)
    if len(names) != 1 or not isinstance(getattr(known.get(names[0]), "type", None), Parts):
        _fault(sheet, node, "@words takes the name of a setting that was declared with `parts`")
        return
    if node.content is None:
        _fault(sheet, node, "a block in braces is missing")
        return
    sheet.word_settings += names
    value = str(values.get(names[0], ""))
    for word, meant in words_of(value) or [("word", "none")]:
        tokens = _with_word(node.content, word, meant)
        seen: dict[tuple[str, str], int] = {}
        into = sheet if value else Sheet(sheet.name, faults=sheet.faults)
        for inner in tinycss2.parse_rule_list(tokens, skip_comments=True, skip_whitespace=True):
            if inner.type == "qualified-rule":
                _read_rule(into, inner, reader, roles, known, seen)
            else:
                _fault(sheet, inner, "only rules of selectors belong in @words")


def words_of(value: str) -> list[tuple[str, str]]:
    """The words of such a setting's value, each with what it means: `a b tide | c berth` has three."""
    parts = [part.split() for part in value.split("|")]
    return [(word, part[-1]) for part in parts for word in part[:-1]]


def _pattern_of(word: str) -> str:
    """A pattern of a name in which a star stands for any letters. It never tries a part at more than one
    place, since whoever writes the names must not be able to make it search for ever."""
    first, *parts = map(re.escape, word.split("*"))
    within = "".join(f"(?>.*?{part})" for part in parts[:-1])
    last = f".*{parts[-1]}" if parts else ""
    return f"{first}{within}{last}"


def _with_word(tokens: Iterable[Any], word: str, meant: str) -> list[Any]:
    """CSS tokens with a pattern in place of some idents: of the word, perhaps in quotes, of `word`; of a comment
    that is this word alone, of `remark`; and the word's meaning in place of `meant`."""
    found = []
    patterns = {
        "word": f"^[\"'`]?{_pattern_of(word)}[\"'`]?$",
        "remark": rf"^(?>\W*){_pattern_of(word)}\W*$",
    }
    for token in tokens:
        token = copy(token)
        if token.type == "ident" and token.value in patterns:
            pattern = patterns[token.value]
            at = token.source_line, token.source_column
            token = StringToken(*at, pattern, f'"{serialize_string_value(pattern)}"')
        elif token.type == "ident" and token.value == "meant":
            token.value = meant
        for name in ("content", "arguments"):
            if getattr(token, name, None) is not None:
                setattr(token, name, _with_word(getattr(token, name), word, meant))
        found.append(token)
    return found


def role_names(nodes: Iterable[Any]) -> list[str]:
    """The roles that the sheet declares with `@role`."""
    return [
        token.value
        for node in nodes
        if node.type == "at-rule" and node.lower_at_keyword == "role"
        for token in node.prelude[:2]
        if token.type == "ident"
    ]


def whole_kinds(nodes: Iterable[Any]) -> set[str]:
    """The kinds that the sheet takes as one token."""
    return {name for name, value in _plain_declarations(nodes, "token") if value != "parts"}


def comment_kinds(nodes: Iterable[Any]) -> dict[str, str]:
    """The kinds that the sheet says are comments, and which sort."""
    return {name: value for name, value in _plain_declarations(nodes, "comment")}


def _plain_declarations(nodes: Iterable[Any], wanted: str) -> Iterable[tuple[str, str]]:
    for node in nodes:
        if node.type != "qualified-rule":
            continue
        if not any(token.type == "ident" and token.value == wanted for token in node.content):
            continue  # most rules, which need not be taken apart for it
        kinds = [t.value for t in node.prelude if t.type == "ident"]
        for item in tinycss2.parse_blocks_contents(node.content, True, True):
            if item.type == "declaration" and item.name == wanted:
                value = "".join(t.serialize() for t in item.value).strip()
                yield from ((kind, value) for kind in kinds)


def _fault(sheet: Sheet, token: Any, message: str) -> None:
    line = getattr(token, "source_line", 1)
    column = getattr(token, "source_column", 1)
    sheet.faults.append(Fault(sheet.name, line, column, message))


def _place(sheet: Sheet, token: Any) -> Place:
    return Place(sheet.name, token.source_line, token.source_column)


def _words(tokens: Iterable[Any]) -> list[str]:
    """Idents, numbers and strings of a value; idents joined by dots are one word."""
    words: list[str] = []
    glue = False
    for token in tokens:
        if token.type in ("whitespace", "comment"):
            glue = False
        elif token.type == "literal" and token.value == "." and words:
            words[-1] += "."
            glue = True
        else:
            text = str(token.value) if token.type in ("ident", "string") else token.serialize()
            if glue:
                words[-1] += text
            else:
                words.append(text)
            glue = False
    return words


def _contents(sheet: Sheet, node: Any) -> list[Any]:
    """The declarations in a block; what is none is a fault."""
    if node.content is None:
        _fault(sheet, node, "a block in braces is missing")
        return []
    found = []
    seen: set[str] = set()
    for item in tinycss2.parse_blocks_contents(node.content, True, True):
        if item.type != "declaration":
            message = getattr(item, "message", "only declarations belong in this block")
            _fault(sheet, item, message)
        elif item.name in seen:
            _fault(sheet, item, f'"{item.name}" is declared twice in this block')
        else:
            seen.add(item.name)
            found.append(item)
    return found


def _read_language(sheet: Sheet, node: Any) -> None:
    names = _words(node.prelude)
    if len(names) != 1:
        _fault(sheet, node, "@language takes one name")
        return
    sheet.language = names[0]
    for item in _contents(sheet, node):
        if item.name not in FACTS:
            _fault(sheet, item, f'unknown fact "{item.name}"{near(item.name, list(FACTS))}')
            continue
        words = tuple(_words(item.value))
        kind = FACTS[item.name]
        if not kind.takes(len(words)):
            _fault(sheet, item, f"{item.name} takes {kind.meaning}; not {len(words)} words")
            continue
        sheet.facts[item.name] = Fact(words, _place(sheet, item))


def _read_role(sheet: Sheet, node: Any, known: dict[str, Setting]) -> None:
    names = [t.value for t in node.prelude if t.type == "ident"]
    if len(names) != 1:
        _fault(sheet, node, "@role takes one name")
        return
    role = names[0]
    for item in _contents(sheet, node):
        words = _words(item.value)
        if item.name == "meaning":
            sheet.roles[role] = " ".join(words)
            continue
        prop = PROPERTIES.get(item.name)
        if prop is None:
            names_known = [*PROPERTIES, "meaning"]
            _fault(sheet, item, f'unknown property "{item.name}"{near(item.name, names_known)}')
            continue
        name = f"{role}.{item.name}"
        values = [prop.type.read(word) for word in words]
        if not words or None in values or (len(words) > 1 and not isinstance(prop.type, Words)):
            _fault(sheet, item, f"{item.name} cannot be {' '.join(words)!r}: {prop.type}")
            continue
        kind = _offered(prop, words, known.get(name))
        default = values[0]
        assert default is not None
        added = [text for value, text in prop.of_value.items() if value in values]
        meaning, at = " ".join([prop.plain or prop.meaning, *added]), _place(sheet, item)
        setting = Setting(name, kind, default, meaning, at, shown=prop.shown)
        sheet.settings[name] = known[name] = setting
    sheet.roles.setdefault(role, "")


def _offered(prop: Property, words: list[str], below: Setting | None) -> Type:
    """What a role's setting offers: as it says, as the sheet below says, or as the property does."""
    if len(words) > 1:
        return Words(tuple(words))
    kind = below.type if below is not None else Words(prop.offered) if prop.offered else prop.type
    return kind if kind.read(words[0]) is not None else prop.type


def _read_setting(sheet: Sheet, node: Any, known: dict[str, Setting]) -> None:
    names = _words(node.prelude)
    if len(names) != 1:
        _fault(sheet, node, "@setting takes one name")
        return
    name = names[0]
    parts = {item.name: (item, _words(item.value)) for item in _contents(sheet, node)}
    for part, (item, _) in parts.items():
        if part not in PARTS:
            message = near(part, PARTS)
            _fault(sheet, item, f'unknown part "{part}" of a setting{message}')
    below = known.get(name)
    kind: Type | None = below.type if below else None
    if "values" in parts:
        kind = Words(tuple(parts["values"][1]))
    elif "range" in parts:
        item, words = parts["range"]
        if len(words) == 2 and all(is_number(w) for w in words):
            kind = Whole(int(words[0]), int(words[1]))
        else:
            _fault(sheet, item, "range takes two whole numbers")
    elif "parts" in parts:
        kind = Parts()
    if kind is None or "default" not in parts:
        _fault(sheet, node, f"{name} needs `values`, `range` or `parts`, and `default`")
        return
    wrong = _against(kind, below)
    if wrong:
        _fault(sheet, node, f"{name} {wrong}")
        return
    item, words = parts["default"]
    default = kind.read(" ".join(words))
    if default is None:
        _fault(sheet, item, f"{name} cannot be {' '.join(words)!r}: {kind}")
        return
    meaning = " ".join(parts["meaning"][1]) if "meaning" in parts else ""
    meaning = meaning or (below.meaning if below else "")
    if name in sheet.settings:
        _fault(sheet, node, f'the setting "{name}" is declared twice')
    of_file = below.of_file if below else False
    if "scope" in parts:
        item, words = parts["scope"]
        if words not in (["file"], ["region"]):
            _fault(sheet, item, "scope is file or region")
        of_file = words == ["file"]
    shown = below.shown if below else ()
    if "shown" in parts:
        item, words = parts["shown"]
        read = [kind.read(word) for word in words]
        if isinstance(kind, Words) or None in read:
            _fault(sheet, item, f"shown takes values that {name} can be: {kind}")
        shown = tuple(value for value in read if value is not None)
    setting = Setting(name, kind, default, meaning, _place(sheet, node), of_file, shown)
    sheet.settings[name] = known[name] = setting


def _against(kind: Type, below: Setting | None) -> str:
    """Why a type cannot stand in the place of that of a weaker sheet, or nothing."""
    if below is None:
        return ""
    if type(kind) is not type(below.type):
        return f"is another sort of setting in the sheet below: {below.type}"
    if isinstance(kind, Whole) and isinstance(below.type, Whole):
        if kind.least < below.type.least or kind.most > below.type.most:
            return f"goes beyond what it is in the sheet below: {below.type}"
    if isinstance(kind, Words) and isinstance(below.type, Words):
        if "." not in below.name and not set(kind.permitted) <= set(below.type.permitted):
            return f"has values that the sheet below does not know: {below.type}"
    return ""


def _read_rule(
    sheet: Sheet,
    node: Any,
    reader: SelectorReader,
    roles: Sequence[str],
    known: dict[str, Setting],
    seen: dict[tuple[str, str], int],
) -> None:
    selectors: list[Selector] = []
    try:
        selectors = reader.read_list(node.prelude)
    except SelectorFault as fault:
        _fault(sheet, fault.token or node, fault.message)
    rule = " ".join("".join(t.serialize() for t in node.prelude).split())
    given: tuple[str, ...] | None = None
    declarations: list[Declaration] = []
    for item in _contents(sheet, node):
        words = _words(item.value)
        if item.name == ROLE:
            given = tuple(word for word in words if word != "none")
            for word in given:
                if word not in roles:
                    _fault(sheet, item, f'unknown role "{word}"{near(word, roles)}')
            continue
        declaration = _read_declaration(sheet, item, words, known, rule)
        if declaration is not None:
            declarations.append(declaration)
    for selector in selectors:
        for name in [d.name for d in declarations] + ([ROLE] if given is not None else []):
            before = seen.setdefault((selector.text, name), node.source_line)
            if before != node.source_line:
                message = f'"{name}" of "{selector.text}" is declared already in line {before}'
                _fault(sheet, node, message)
        place = _place(sheet, node)
        if given is not None and any(c.needs_roles() for c in selector.compounds):
            _fault(sheet, node, "a rule that gives a role cannot ask for one")
        says_order = any(d.name in ORDER for d in declarations)
        if says_order and any(c.needs_roles() for c in selector.compounds):
            _fault(sheet, node, "a rule that says what is an import cannot ask for a role")
        sheet.rules.append(Rule(selector, given, tuple(declarations), place))


def _read_declaration(
    sheet: Sheet, item: Any, words: list[str], known: dict[str, Setting], rule: str
) -> Declaration | None:
    prop = PROPERTIES.get(item.name)
    if prop is None:
        names = [*PROPERTIES, ROLE]
        _fault(sheet, item, f'unknown property "{item.name}"{near(item.name, names)}')
        return None
    place = _place(sheet, item)
    functions = [t for t in item.value if t.type == "function"]
    if functions:
        name = ".".join(_words(functions[0].arguments)[:1])
        if functions[0].name != "setting" or len(functions) > 1:
            _fault(sheet, item, "a value is a word, a number or setting(name)")
            return None
        if name not in known:
            _fault(sheet, item, f'unknown setting "{name}"{near(name, list(known))}')
            return None
        if item.name in ORDER:
            _fault(sheet, item, f"{item.name} is what the node is, and no setting changes that")
            return None
        return Declaration(item.name, None, name, place, rule)
    value = prop.type.read(words[0]) if len(words) == 1 else None
    if value is None:
        hint = near(words[0], prop.type.permitted) if words and isinstance(prop.type, Words) else ""
        _fault(sheet, item, f"{item.name} cannot be {' '.join(words)!r}{hint}: {prop.type}")
        return None
    return Declaration(item.name, value, None, place, rule)
