"""The facts of a language: what `@language { … }` says of it in its sheets."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import field
from fnmatch import fnmatchcase
from os.path import basename
from typing import NamedTuple, TypeVar

from stilo.errors import Fault
from stilo.patterns import compiled
from stilo.readers.conditional import Preprocessed
from stilo.readers.padding import FreeLines
from stilo.readers.reading import READINGS
from stilo.records import dataclass
from stilo.sheet.place import Place

Answer = TypeVar("Answer")
#: A pattern that is found nowhere.
_NEVER = "(?!)"


class FactKind(NamedTuple):
    """A fact that a sheet may state: its meaning, and how many words it takes.

    step: they come in groups of so many. least, most: of all words.
    """

    meaning: str
    step: int = 1
    least: int = 1
    most: int | None = None

    def takes(self, count: int) -> bool:
        """Whether it takes so many words."""
        is_few = self.most is None or count <= self.most
        return count >= self.least and count % self.step == 0 and is_few


FACTS = {
    "grammar": FactKind("the package that parses the language", most=1),
    "builds-on": FactKind(
        "another language that comes with Stilo, whose sheet counts below this one", most=1
    ),
    "grammar-function": FactKind("the function of that package that gives the grammar", most=1),
    "other-kinds": FactKind(
        "a kind of token, what its text begins with, and the name of the kind it then is, in turn",
        3
    ),
    "lacks": FactKind(
        "kinds of which the sheet below speaks, and which this grammar does not have"
    ),
    "read-as": FactKind(
        "a pattern that the grammar cannot read, and what it, or its group, is read as instead, in turn",
        2
    ),
    "tokens": FactKind(
        "patterns of all tokens and comments, where white space only keeps tokens apart"
    ),
    "lexical": FactKind(
        "patterns of comments, and of all tokens that stand in no comment, as a compiler parts the text: a "
        "result must have the very same tokens, whatever the grammar says",
        least=2,
        most=2,
    ),
    "files": FactKind("globs of the file names that are in this language"),
    "claims": FactKind(
        "a glob of files that another language has by their names, a pattern that is found in the text of those that are "
        "in this one, and a pattern that is not, in turn",
        3
    ),
    "called": FactKind(
        "other names of the language, in lower case, such as those that stand behind the fence of code"
    ),
    "interpreters": FactKind(
        "the programs that a first line with `#!` names in files of this language without an ending"
    ),
    "notebooks": FactKind("globs of the names of notebooks that may have cells in this language"),
    "foreign-cell": FactKind("a pattern at the start of cells that are left as they are"),
    "foreign-lines": FactKind(
        "patterns of lines in cells that are said to the notebook, not to the language"
    ),
    "holes": FactKind(
        "patterns of what, in a text of the language within another, stands for something that comes later, such "
        "as `%s`, which is taken for a name; or `known` with what begins and ends it, if the language's own reader "
        "knows such places"
    ),
    "ends": FactKind(
        "`matter`: white space at the ends of a text within another may show, so that none comes there where none "
        "was",
        most=1,
    ),
    "prose": FactKind(
        "kinds of tokens that texts consist of, read word by word. White space with a line end is nothing at the "
        "ends of such a text, and one space within it. The words are tokens of the kinds `text_word`, `text_line` (the "
        "first word, after a line end) and `text_joined` (the first, after what stands before), each with `_last` if a line end follows the text, and `text_space`"
    ),
    "whole-prose": FactKind(
        "patterns of what may be white space in such a text, which is not parted then"
    ),
    "standard": FactKind(
        "first words of the modules that come with the language; data beside the sheet may add more"
    ),
    "hides": FactKind("words that, where they are used, may refer to any name unseen"),
    "implies": FactKind(
        "kinds of nodes, each with a word behind it: where such a node stands, something refers to the word",
        2
    ),
    "said": FactKind(
        "patterns of what in a comment refers to names: all of it, or what their groups hold"
    ),
    "passes-on": FactKind("globs of the names of files whose imports are there for others"),
    "implicit": FactKind("modules whose names are known in every file"),
    "folder-files": FactKind(
        "names, without their endings, of the files that are a folder's own module"
    ),
    "modules": FactKind(
        "`whole`: a module of the project is known by the folders of its whole path, not of its first word",
        most=1,
    ),
    "bound": FactKind("patterns of comments that act on the line they stand on, or on the next"),
    "first-lines": FactKind(
        "patterns of comments that act by standing in the first lines of a file, and stay there"
    ),
    "goes-on": FactKind(
        "where a line end may end a statement: a pattern of what goes on with the statement before it though it "
        "begins a line, and one of the tokens after which a statement is not at its end (see `terminator`)",
        least=2,
        most=2,
    ),
    "reserved": FactKind(
        "a kind of nodes, and words with which none begins: a grammar that reads one so has misread the text",
        least=2,
    ),
    "inner-code": FactKind(
        "a setting and the value at which spaces are set right in code within tokens; the kind of these; a pattern of "
        "what in one is no code, and one of a piece of code, which is its group `code`; what is put before and after a "
        "piece to make it a statement",
        least=7,
        most=7,
    ),
    "ends-at-line": FactKind(
        "words that end a statement if a line ends after them, so that a grammar that takes the next line for a part "
        "of it misreads it"
    ),
    "margins": FactKind("`matter`: the lines of a block must all begin at one column", most=1),
    "pairs": FactKind("opening and closing delimiters, in turn", 2),
    "joins": FactKind(
        "a pattern of what does no more than join two lines, and is dropped, and the kinds of nodes "
        "that are nothing else",
        least=2,
    ),
    "free-lines": FactKind(
        "a pattern of comments and texts; within the delimiters of `pairs` that stand in none of these, "
        "line ends and indents have no meaning"
    ),
    "directives": FactKind(
        "patterns of comments and texts; of directives, which are lines for a preprocessor; of how those begin "
        "that open, part and end a conditional, and those whose branch is never read; and, if you like, of "
        "what one asks, with a group `of` for that and a group `not` for a sign that it asks the opposite, "
        "and of what can be passed over, since no comment, text or directive begins in it",
        least=6,
        most=8,
    ),
    "readings": FactKind(
        "how words that only the preprocessor knows may be read where the grammar cannot go on"
    ),
    "known-words": FactKind("such words, each with its reading, in turn", 2),
    "stand-ins": FactKind(
        "the readings `head` and `label`, each with the word that the grammar is to see, in turn", 2
    ),
    "type-words": FactKind("words that are types, or parts of them, for such readings"),
    "own-brackets": FactKind(
        "the brackets that a value may get to run over lines, and the kind with them",
        least=3,
        most=3
    ),
    "own-follows": FactKind("kind and token, in turn, after which a value may get them", 2),
    "own-after": FactKind("kind and token, in turn, after which all else may get them", 2),
    "own-inside": FactKind("kinds after such a token that have the brackets within themselves"),
    "own-through": FactKind(
        "kinds in those, of which the first child alone gets the brackets of a single value"
    ),
    "own-listed": FactKind(
        "kinds of lists without brackets and, in turn, what they are with them", 2
    ),
    "own-clear": FactKind(
        "kind of a value, and of the node around it, in turn, where brackets that are there stay", 2
    ),
    "own-never": FactKind("kinds of values that get none"),
    "own-always": FactKind(
        "kinds that a sheet may open though they fit: values with these get brackets even so"
    ),
    "own-kept": FactKind(
        "a setting, and its value at which such brackets neither come nor go", least=2, most=2
    ),
    "own-roles": FactKind("roles whose lists are opened only within such brackets"),
    "held": FactKind(
        "a setting, one of its values, another setting, and the value that the other one has meanwhile, in turn",
        4
    ),
    "without": FactKind("settings from below that mean nothing in this language"),
    "comment-signs": FactKind(
        "what begins, and ends if anything does, a comment in which a directive is written"
    ),
}


class Fact(NamedTuple):
    """What a sheet says of one fact, and where."""

    words: tuple[str, ...]
    place: Place


class GoesOn(NamedTuple):
    """begins: what goes on with the statement before it. open_end: tokens after which a statement goes on."""

    begins: re.Pattern[bytes]
    open_end: re.Pattern[bytes]


class InnerCode(NamedTuple):
    """While `setting` is at `value`, spaces are set right in the code that tokens of a kind hold.

    whole: fits a token that can be parted into text and pieces of code. piece: finds the next of either; a piece of
    code is its group `code`. around: what is put before and after a piece to read it.
    """

    setting: str
    value: str
    kind: str
    whole: re.Pattern[bytes]
    piece: re.Pattern[bytes]
    around: tuple[bytes, bytes]

    def spans(self, token: bytes) -> list[tuple[int, int]]:
        """Where the pieces of code in a token begin and end; none where one of them cannot be told."""
        if self.whole.fullmatch(token) is None:
            return []
        return [found.span("code") for found in self.piece.finditer(token) if found["code"]]


class Held(NamedTuple):
    """While `setting` is at `value`, another one, `other`, is at `then`."""

    setting: str
    value: str
    other: str
    then: str


class Claim(NamedTuple):
    """Files that another language has by their names, and that are in this one if `shown` is found in their text and
    `never` is not."""

    glob: str
    shown: re.Pattern[bytes]
    never: re.Pattern[bytes]


def claims_of(said: Sequence[str], is_ours: bool) -> tuple[Claim, ...]:
    """What the words of the fact `claims` come to. Raises re.error."""
    triples = zip(said[::3], said[1::3], said[2::3])
    return tuple(
        Claim(glob, compiled(shown.encode(), 0, is_ours), compiled(never.encode(), 0, is_ours))
        for glob, shown, never in triples
    )


@dataclass(frozen=True)
class Facts:
    """All facts of a language, read. What each means stands in FACTS.

    own: what is said of brackets that come and go, by the name of the fact.
    places: where each fact stands that some sheet states.
    """

    builds_on: str
    grammar: str
    grammar_function: str
    lacks: tuple[str, ...]
    other_kinds: tuple[tuple[str, bytes, str], ...]
    read_as: Sequence[tuple[re.Pattern[bytes], bytes]]
    tokens: re.Pattern[bytes] | None
    lexical: re.Pattern[bytes] | None
    joins: tuple[re.Pattern[bytes], tuple[str, ...]] | None
    free_lines: FreeLines | None
    preprocessed: Preprocessed | None
    files: tuple[str, ...]
    claims: tuple[Claim, ...]
    called: tuple[str, ...]
    interpreters: tuple[str, ...]
    notebooks: tuple[str, ...]
    foreign_cell: re.Pattern[str]
    foreign_lines: re.Pattern[str]
    holes: re.Pattern[str] | None
    hole_form: tuple[str, str] | None
    ends_matter: bool
    prose: tuple[str, ...]
    whole_prose: re.Pattern[str] | None
    standard: tuple[str, ...]
    hides: tuple[str, ...]
    implies: tuple[tuple[str, str], ...]
    said: tuple[re.Pattern[bytes], ...]
    passes_on: tuple[str, ...]
    implicit: tuple[str, ...]
    folder_files: tuple[str, ...]
    finds_whole: bool
    bound: tuple[str, ...]
    first_lines: re.Pattern[bytes]
    goes_on: GoesOn | None
    reserved: tuple[str, ...]
    inner_code: InnerCode | None
    ends_at_line: frozenset[bytes]
    margins_matter: bool
    pairs: Mapping[str, str]
    own: Mapping[str, tuple[str, ...]]
    own_roles: tuple[str, ...]
    held: tuple[Held, ...]
    without: tuple[str, ...]
    comment_signs: tuple[str, ...]
    places: Mapping[str, Place]

    def place_of(self, name: str, otherwise: str) -> Place:
        """Where a fact stands; the first line of the sheet `otherwise` where none says it."""
        return self.places.get(name) or Place(otherwise, 1, 1)

    @property
    def globs(self) -> tuple[str, ...]:
        """The globs of all files in this language, notebooks among them."""
        return (*self.files, *self.notebooks)

    @property
    def suffixes(self) -> tuple[str, ...]:
        """The endings of the names of files in this language."""
        return tuple(glob[1:] for glob in self.globs if glob.startswith("*."))

    def is_notebook(self, path: str) -> bool:
        """Whether a file's name says that it is a notebook."""
        return any(fnmatchcase(basename(path), glob) for glob in self.notebooks)

    def passes_imports_on(self, path: str) -> bool:
        """Whether the imports of a file are there for others, by the file's name."""
        return any(fnmatchcase(basename(path), glob) for glob in self.passes_on)


def read_facts_of(
    said: Mapping[str, Fact], is_ours: bool, name: str, has_reader: bool = False
) -> tuple[Facts | None, list[Fault]]:
    """All facts of a language, and what is wrong in them.

    said: what its sheets say, by name. is_ours: patterns need no limit of time. name: of the strongest
    sheet. has_reader: it needs no grammar. None with at least one fault.
    """
    reader = _FactReader(said, is_ours)
    words = reader.words
    if "grammar" not in said and not has_reader:
        message = "@language with a grammar is missing"
        return None, [Fault(name, 1, 1, message)]
    own = {name: fact.words for name, fact in said.items() if name.startswith("own-")}
    if own and "own-brackets" not in own:
        first = next(iter(own))
        reader.fault(said[first].place, f"{first} says nothing without own-brackets")
    pairs = words("pairs")
    held = words("held")
    other = words("other-kinds")
    holes = words("holes")
    is_known = len(holes) == 3 and holes[0] == "known"
    facts = Facts(
        builds_on=(*words("builds-on"), "")[0],
        grammar=(*words("grammar"), "")[0],
        grammar_function=(*words("grammar-function"), "language")[0],
        lacks=words("lacks"),
        other_kinds=tuple(
            (kind, text.encode(), name)
            for kind, text, name in zip(other[::3], other[1::3], other[2::3])
        ),
        read_as=reader.read("read-as", reader.read_as) or (),
        tokens=reader.read("tokens", reader.tokens),
        lexical=reader.read("lexical", reader.lexical),
        joins=reader.read("joins", lambda said: (reader.pattern(said[0].encode()), said[1:])),
        free_lines=reader.read(
            "free-lines", lambda said: FreeLines.of("|".join(said), pairs, is_ours)
        ),
        preprocessed=reader.read("directives", reader.preprocessed),
        files=words("files"),
        claims=reader.read("claims", reader.claims) or (),
        called=words("called"),
        interpreters=words("interpreters"),
        notebooks=words("notebooks"),
        foreign_cell=reader.read("foreign-cell", lambda said: compiled("|".join(said), 0, is_ours))
            or re.compile(_NEVER),
        foreign_lines=reader.read("foreign-lines", reader.lines) or re.compile(_NEVER),
        holes=None
            if is_known
            else reader.read("holes", lambda said: compiled("|".join(said), 0, is_ours)),
        hole_form=(holes[1], holes[2]) if is_known else None,
        ends_matter=words("ends") == ("matter",),
        prose=words("prose"),
        whole_prose=reader.read("whole-prose", lambda said: compiled("|".join(said), 0, is_ours)),
        standard=words("standard"),
        hides=words("hides"),
        implies=tuple(zip(words("implies")[::2], words("implies")[1::2])),
        said=reader.read("said", lambda said: tuple(reader.pattern(s.encode()) for s in said))
            or (),
        passes_on=words("passes-on"),
        implicit=words("implicit"),
        folder_files=words("folder-files"),
        finds_whole=words("modules") == ("whole",),
        bound=reader.read("bound", reader.checked) or (),
        first_lines=reader.read("first-lines", lambda said: reader.pattern("|".join(said).encode()))
            or re.compile(_NEVER.encode()),
        goes_on=reader.read(
            "goes-on", lambda said: GoesOn(*(reader.pattern(s.encode()) for s in said))
        ),
        reserved=words("reserved"),
        inner_code=reader.read("inner-code", reader.inner_code),
        ends_at_line=frozenset(word.encode() for word in words("ends-at-line")),
        margins_matter=words("margins") == ("matter",),
        pairs=dict(zip(pairs[::2], pairs[1::2])),
        own=own,
        own_roles=words("own-roles"),
        held=tuple(map(Held._make, zip(held[::4], held[1::4], held[2::4], held[3::4]))),
        without=words("without"),
        comment_signs=words("comment-signs"),
        places={name: fact.place for name, fact in said.items()},
    )
    return (None if reader.faults else facts), reader.faults


@dataclass
class _FactReader:
    said: Mapping[str, Fact]
    is_ours: bool
    faults: list[Fault] = field(default_factory=list)

    def fault(self, place: Place, message: str) -> None:
        self.faults.append(place.fault(message))

    def words(self, name: str) -> tuple[str, ...]:
        """The words of a fact, none if no sheet says it."""
        return self.said[name].words if name in self.said else ()

    def read(self, name: str, answer: Callable[[tuple[str, ...]], Answer]) -> Answer | None:
        """What the words of a fact come to; None if no sheet says it, or with a fault."""
        if name not in self.said:
            return None
        try:
            return answer(self.said[name].words)
        except (re.error, ValueError) as error:
            self.fault(self.said[name].place, f"{name}: {error}")
            return None

    def pattern(self, text: bytes, flags: int = 0) -> re.Pattern[bytes]:
        return compiled(text, flags, self.is_ours)

    def claims(self, said: Sequence[str]) -> tuple[Claim, ...]:
        return claims_of(said, self.is_ours)

    def read_as(self, said: Sequence[str]) -> Sequence[tuple[re.Pattern[bytes], bytes]]:
        if not all(said[1::2]):
            raise ValueError("what is read instead is a text of at least one character")
        pairs = zip(said[::2], said[1::2])
        return [(self.pattern(pattern.encode()), text.encode()) for pattern, text in pairs]

    def preprocessed(self, said: Sequence[str]) -> Preprocessed:
        readings, known = self.words("readings"), self.words("known-words")
        unknown = {*readings, *known[1::2]}.difference(READINGS)
        if unknown:
            raise ValueError(
                f"no reading is called {sorted(unknown)[0]}; there are {', '.join(READINGS)}"
            )
        types, stand_ins = self.words("type-words"), self.words("stand-ins")
        for name in ("head", "label"):
            if name in readings and name not in stand_ins[::2]:
                raise ValueError(f"stand-ins names no word for the reading {name}")
        return Preprocessed.of(said, readings, known, types, stand_ins, self.is_ours)

    def inner_code(self, said: Sequence[str]) -> InnerCode:
        setting, value, kind, text, code, before, after = said
        parts = f"(?:{code})|(?:{text})"
        piece = self.pattern(parts.encode(), re.DOTALL)
        if "code" not in piece.groupindex:
            raise ValueError("the pattern of a piece of code has a group `code`")
        whole = self.pattern(f"(?:{parts})*+".encode(), re.DOTALL)
        return InnerCode(setting, value, kind, whole, piece, (before.encode(), after.encode()))

    def tokens(self, said: Sequence[str]) -> re.Pattern[bytes]:
        found = self.pattern("|".join(said).encode(), re.DOTALL)
        if found.groups:
            raise ValueError("its patterns have no groups that capture; write (?:…)")
        return found

    def lexical(self, said: Sequence[str]) -> re.Pattern[bytes]:
        """Finds comments, and in its first group the tokens."""
        comments, tokens = (text.encode() for text in said)
        # White space goes with what is behind it, or each blank would be a place to try all at.
        return self.pattern(rb"\s*+(?:(?:%s)|(%s))" % (comments, tokens), re.DOTALL)

    def lines(self, said: Sequence[str]) -> re.Pattern[str]:
        """Lines of these patterns, with those that are joined to them, and their margin apart."""
        joined = r"(?:(?<=\\)\n.+)*"
        whole = rf"^(?P<margin>[ \t]*)(?P<said>(?:{'|'.join(said)}){joined})$"
        return compiled(whole, re.MULTILINE, self.is_ours)

    def checked(self, said: tuple[str, ...]) -> tuple[str, ...]:
        """The same patterns, each of which is one."""
        for pattern in said:
            re.compile(pattern)
        return said
