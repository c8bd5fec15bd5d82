"""The properties a sheet may declare, with their values and meaning.

This table is the only place where a property is defined; the checks of a
sheet, the settings of a role and the reference in `docs/` all come from it.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import field, replace
from typing import Union

from stilo.records import dataclass

Value = Union[str, int]


def is_number(text: str) -> bool:
    """Whether a text is a whole number as people write one: of a few plain digits."""
    return text.isascii() and text.isdigit() and len(text) < 10


@dataclass(frozen=True)
class Words:
    """Values that are one of some words."""

    permitted: tuple[str, ...]

    def __str__(self) -> str:
        return ", ".join(self.permitted)

    def read(self, text: str) -> Value | None:
        """The value written as text, or None if it is not permitted."""
        return text if text in self.permitted else None


@dataclass(frozen=True)
class Whole:
    """Values that are whole numbers within bounds, both included."""

    least: int
    most: int

    def __str__(self) -> str:
        return f"a whole number from {self.least} to {self.most}"

    def read(self, text: str) -> Value | None:
        """The value written as text, or None if it is not permitted."""
        if not is_number(text):
            return None
        return int(text) if self.least <= int(text) <= self.most else None


@dataclass(frozen=True)
class Name:
    """Values that are a name the author makes up."""

    def __str__(self) -> str:
        return "a name of your own"

    def read(self, text: str) -> Value | None:
        """The value written as text, or None if it is not permitted."""
        return text if text.replace("-", "").isalnum() else None


@dataclass(frozen=True)
class Sign:
    """Values that are a token of the language, in quotes."""

    def __str__(self) -> str:
        return "a token in quotes"

    def read(self, text: str) -> Value | None:
        """The value written as text, or None if it is not permitted."""
        return text if text and not text.isspace() else None


@dataclass(frozen=True)
class Pattern:
    """Values that are patterns, in quotes."""

    def __str__(self) -> str:
        return "a pattern in quotes"

    def read(self, text: str) -> Value | None:
        """The value written as text, or None if it is no pattern."""
        try:
            re.compile(text)
        except (re.error, OverflowError, RecursionError):
            return None
        return text


@dataclass(frozen=True)
class Holding(Pattern):
    """Values that are patterns, in quotes, with a group `text`."""

    def __str__(self) -> str:
        return "a pattern in quotes with a group (?P<text>…)"

    def read(self, text: str) -> Value | None:
        """The value written as text, or None if it is no such pattern."""
        found = super().read(text)
        return found if found is not None and "text" in re.compile(text).groupindex else None


@dataclass(frozen=True)
class Parts:
    """Values that are texts separated by `|`, of which those that begin with a colon are known."""

    known: tuple[str, ...] | None = None

    def __str__(self) -> str:
        words = "".join(f", :{word}" for word in self.known or ())
        return (
            f"a list of texts, or one text with | between them{words and ', also with'}{words[1:]}"
        )

    def read(self, text: str) -> Value | None:
        """The value written as text, its spaces made even; None if it holds an unknown word."""
        words = [word[1:] for word in text.split() if word.startswith(":")]
        if self.known is not None and not set(words) <= set(self.known):
            return None
        return " | ".join(" ".join(part.split()) for part in text.split("|")).strip()


@dataclass(frozen=True)
class Readings(Parts):
    """Values that are words, each list of them with how these are read, separated by `|`."""

    permitted: tuple[str, ...] = ()

    def __str__(self) -> str:
        return f"words and how they are read, such as \"QUAY {self.permitted[0]}\": {', '.join(self.permitted)}"

    def read(self, text: str) -> Value | None:
        """The value written as text, its spaces made even; None if it names no such reading."""
        found = super().read(text)
        parts = [part.split() for part in str(found).split("|")] if found else []
        is_known = all(len(part) > 1 and part[-1] in self.permitted for part in parts)
        return found if is_known else None


@dataclass(frozen=True)
class Naming(Parts):
    """Values that are names, each list of them with the language that is meant, separated by `|`."""

    #: Each name has rules of its own.
    most: int = 200

    def __str__(self) -> str:
        return (
            'lists of names, each with a language behind them, such as "berths_query sql"; '
            f"{self.most} names at most"
        )

    def read(self, text: str) -> Value | None:
        """The value written as text, its spaces made even; None if a list has no name or odd signs."""
        found = super().read(text)
        parts = [part.split() for part in str(found).split("|")] if found else []
        is_list = all(len(p) > 1 and all(map(_is_name, p)) and "*" not in p[-1] for p in parts)
        return found if is_list and sum(map(len, parts)) <= self.most else None


def _is_name(text: str) -> bool:
    """Whether a text is a name, of which stars may stand for parts."""
    return re.fullmatch(r"[\w$*+#-]+", text) is not None


Type = Union[Words, Whole, Name, Sign, Pattern, Holding, Parts]


@dataclass(frozen=True)
class Property:
    """A property: what it may be, what it is when nothing is declared, what it does.

    offered: the words that a setting of a role offers, where they are not all of the type's.
    plain: what such a setting says, in one line. of_value: what it adds where it offers a value. shown: numbers at which its sample is shown.
    about: of one that is no part of the layout, what it says something of to the passes that put
    things in order. reaches: whose gaps it decides beside those of its node: those between its
    children, or that before its next sibling.
    """

    name: str
    type: Type
    initial: Value
    meaning: str
    offered: tuple[str, ...] = ()
    plain: str = ""
    of_value: Mapping[str, str] = field(default_factory=dict)
    shown: tuple[int, ...] = ()
    about: str = ""
    reaches: str = ""


#: The properties that decide about gaps between a node's children, or before its next sibling.
_REACHES = {
    **dict.fromkeys(
        ("between", "wrap", "spine", "authored", "line-most", "trailing", "separator"), "children"
    ),
    **dict.fromkeys(("after", "break", "blank-after", "line-sharing"), "next"),
}
_GAP = Words(("auto", "none", "space", "glued", "line", "authored"))
_SPACES = ("none", "space")
_YES = Words(("yes", "no"))


def _table(*rows: Property) -> dict[str, Property]:
    return {
        row.name: replace(
            row,
            plain=_PLAIN.get(row.name, ""),
            of_value=_OF_VALUE.get(row.name, {}),
            shown=_SHOWN.get(row.name, ()),
            reaches=_REACHES.get(row.name, ""),
        )
        for row in rows
    }


_SHOWN = {
    "line-most": (0, 2),
    "blank-before": (0, 1, 2),
    "blank-after": (0, 1, 2),
    "blank-most": (0, 1, 2),
    "blank-kept": (0, 1, 2),
}


#: What a role's setting of each property says to a team.
_PLAIN = {
    "before": "What stands before it: nothing, a space, or a line break.",
    "after": "What stands after it: nothing, a space, or a line break.",
    "between": "What stands between its parts.",
    "wrap": "How it is wrapped: `row` never, `flow` as many items on a line as fit, `stack` one item a line where they do not fit on one, `stack-always` always one item a line.",
    "indent": "How far its further lines are indented: as a block, as a continuation, or not at all.",
    "align": "Whether its further lines are aligned with the first item: never, always, or where their author aligned them.",
    "open": "Where the first item stands when it is wrapped: on a new line, on the line of the opening bracket, or wherever costs less.",
    "close": "Where the closing bracket stands when it is wrapped: on its own line, after the last item, or on its own line indented like the items.",
    "inner-line": "Whether all its items may share one line below the opening bracket, where they fit there; `two`: or two lines.",
    "atoms": "How a list of nothing but names and numbers is wrapped, where lists are stacked: `flow`, as many on a line as fit; `same`, like other lists.",
    "trailing": "Whether a trailing comma (or other separator) stands after the last item.",
    "authored": "How much of the author's wrapping stays, if the first item is on a new line. `no`: nothing. `stack`: it stays wrapped if each of two or more items has a line; if it has to be wrapped anyway, its lines of several items stay where that saves three lines. `yes`: it stays wrapped. `rows`: its lines stay, too; where they do not fit, simple items fill their lines anew. With `rows`, lines of a table stay wherever its first item is, and those of terms in no brackets where they need several. `lines`: parts that stand on two lines stay so.",
    "line-most": "The most items on one line; with more it is wrapped. 0: any number.",
    "short": "When a simple one stands on the line of its header: never, where its author wrote it so, or wherever it fits.",
    "keep": "Whether the first call of a chain stays on the first line: after a plain name, always, or never.",
    "tight": "Where it stays without spaces around it if its author wrote none: `inside` an operation of lower precedence, a comparison, an index or a list; `everywhere`; or `nowhere`.",
    "column": "Whether it is aligned with those in the lines around: always, never, or where its author aligned them.",
    "value-column": "Whether the values in lines that follow each other are aligned: always, never, or as their author wrote them.",
    "join-column": "Whether the backslashes at the ends of its lines are aligned: always, never, or as their author wrote them.",
    "brace": "Where the opening brace stands.",
    "margin": "Where its line begins: where its block says, a step further out, or at the first column.",
    "hang": "Whether it stands on a line of its own, indented: always, or where it does not fit.",
    "blank-before": "The least number of blank lines before it.",
    "blank-after": "The least number of blank lines after it.",
    "blank-most": "The most blank lines kept between its items.",
    "blank-kept": "The most blank lines kept before it.",
    "blank-edges": "Whether blank lines stay after the opening brace and before the closing one.",
}


#: What such a setting adds where it offers a value.
_OF_VALUE = dict.fromkeys(
    ("before", "after"), {"authored": "`authored`: a space or a line break, as its author has it."}
)


PROPERTIES = _table(
    Property(
        "before",
        _GAP,
        "auto",
        "The gap before the node: none, one space, or a new line; `authored`: a new line where its author "
        "wrote one, else a space. `glued` is `none` even where the two tokens would run together elsewhere. "
        "`auto` leaves it to the neighbour and to `between`.",
        _SPACES,
    ),
    Property("after", _GAP, "auto", "The gap after the node, as `before`.", _SPACES),
    Property(
        "between",
        Words(("space", "none", "line")),
        "space",
        "The gap between the node's children where neither neighbour speaks. `line` makes each "
        "child an item that the sequence may set on its own line.",
    ),
    Property(
        "wrap",
        Words(("none", "row", "flow", "stack", "stack-always")),
        "none",
        "Makes the node a sequence, whose breaks are taken together. `row`: never broken. "
        "`flow`: as many items in a line as fit. `stack`: one line, or one item a line. "
        "`stack-always`: one item a line.",
        ("row", "flow", "stack", "stack-always"),
    ),
    Property(
        "break",
        Words(("auto", "open", "close", "before", "after", "never")),
        "auto",
        "The part a child plays in the sequence around it. `open`: items begin after it. "
        "`close`: items end before it. `before`, `after`: a break is permitted there. `never`: "
        "none next to it.",
    ),
    Property(
        "spine",
        Name(),
        "none",
        "Nodes of one spine that are nested in each other's first child are one sequence: "
        "operators of one precedence, the calls of a chain.",
    ),
    Property(
        "joins",
        _YES,
        "no",
        "Whether the node is one sequence with the one around it, of the same spine, though it is not its "
        "first child.",
    ),
    Property(
        "indent",
        Words(("block", "continuation", "none")),
        "continuation",
        "How far the lines of an opened sequence stand in from the line that opens it; a wrapped "
        "one never goes in past the width.",
    ),
    Property(
        "first-lines",
        Words(("level", "inner")),
        "level",
        "Where the further lines of the first item stand, in a sequence that begins with it: with the line that it "
        "begins on (`level`), or as far in as those of the other items (`inner`).",
    ),
    Property(
        "align",
        Words(("no", "yes", "authored")),
        "no",
        "Set the lines of an opened sequence under its first item; `authored`: only where its author did so. Those lines "
        "stay as they are if they fit; where one was too long, items fill them anew. What its author "
        "kept closed around such a sequence, such as brackets around a value, stays closed.",
    ),
    Property(
        "open",
        Words(("new-line", "same-line", "either", "brace-line", "beside")),
        "new-line",
        "Where the first item of an opened sequence stands: on a new line (`new-line`), on the line of the "
        "opening delimiter (`same-line`), or wherever costs less (`either`). `brace-line`: on the line of a "
        "brace that begins a line, at the column of the other items. `beside`: right after what "
        "opens the sequence, and the other items under it.",
        ("new-line", "same-line", "either"),
    ),
    Property(
        "close",
        Words(("own-line", "same-line", "item-column")),
        "same-line",
        "Where the closing delimiter of an opened sequence stands: on its own line (`own-line`), after the "
        "last item (`same-line`), or on its own line, indented like the items (`item-column`).",
    ),
    Property(
        "inner-line",
        Words(("yes", "no", "two")),
        "no",
        "Whether the items of an opened sequence may share one line of their own, if none of them "
        "is opened, save by exception; `two`: or two lines, in which none is opened.",
        ("yes", "no"),
    ),
    Property(
        "atoms",
        Words(("same", "flow")),
        "same",
        "How a sequence that is stacked where it does not fit is opened if all its items are atoms: like any "
        "other, or with as many in a line as fit.",
    ),
    Property(
        "atom",
        _YES,
        "no",
        "Whether the node is a short item, such as a name or a number, for `atoms`."
    ),
    Property(
        "separator",
        Sign(),
        "none",
        "The token between the items, where the language permits one after the last, too.",
    ),
    Property(
        "trailing",
        Words(("keep", "opened", "stacked", "never")),
        "keep",
        "Whether a separator stands after the last item: as the author has it; so, but only where the "
        "closing delimiter is on its own line; where each item has a line of its own (and as the author "
        "has it where they share several lines); never. Needs `separator`.",
    ),
    Property(
        "sole",
        Words(("drop", "keep")),
        "drop",
        "Whether the separator after a sole item goes like those after the last of several, or stays.",
    ),
    Property(
        "authored",
        Words(("no", "stack", "yes", "rows", "lines")),
        "no",
        "Whether a list whose first item the author set on a new line stays opened, and whether its rows "
        "stay, too, where each fits. If one does not, simple items, such as names and texts, fill their lines. "
        "With `rows`, a list of lists stays opened if its author gave each a line, even with the first beside the "
        "bracket. Rows of simple items below such a first one stay if the list has to be opened and they spare three "
        "lines or more. Terms in no brackets keep their rows where they do not fit on one line. "
        "`stack`: it stays opened if the author gave each of two or more items a line; if it has to be opened anyway, its lines of several items stay where that saves three lines. "
        "`lines`: two items that the author set on two lines stay apart, for sequences without delimiters.",
        ("no", "yes", "rows"),
    ),
    Property(
        "line-most",
        Whole(0, 99),
        0,
        "The most items that a sequence may hold on one line, the head of a chain included; with "
        "more it is opened though it fits. 0: any number.",
    ),
    Property(
        "short",
        Words(("never", "authored", "fits")),
        "never",
        "When a body that holds no more than one simple item stands on the line that opens it, "
        "if it fits there: never, where the author wrote it on one line, always.",
    ),
    Property(
        "nests",
        _YES,
        "no",
        "Whether the `short` body around this one may stand on one line with it.",
    ),
    Property(
        "keep",
        Words(("none", "name", "always")),
        "none",
        "Whether the first link of a chain stays on the line of its head: when the head is a "
        "plain name, always, or never.",
    ),
    Property(
        "comment-about",
        Words(("before", "after")),
        "before",
        "What a comment right after an operator speaks of. `before`: the operand before it, so that operator and "
        "comment end that line. `after`: the operand after it, so that the operator begins a line.",
    ),
    Property(
        "cling",
        Words(("none", "sole", "sole-late", "last", "any")),
        "none",
        "When an item may open in place while the sequence around it stays closed: as its sole "
        "item, as its last, anywhere. `sole-late`: as its sole item, if it is one call and saves lines.",
    ),
    Property(
        "grant",
        Words(("none", "first", "last", "all")),
        "none",
        "Which parts of a sequence may open in place while it stays closed itself.",
    ),
    Property(
        "column",
        Words(("no", "yes", "authored")),
        "no",
        "Whether the node begins at one column in lines that follow each other, each a whole item "
        "of one sequence with such nodes of the same kinds; a comment, where it stands after code. "
        "`authored`: of such lines, those in which it does so in the source, by more than the one space.",
    ),
    Property(
        "past-width",
        _YES,
        "no",
        "Whether its column may stand past the width, as in lines that cannot be broken anyway.",
    ),
    Property(
        "justify",
        Words(("left", "right", "center")),
        "left",
        "On which side of its cell the token before a column stands: the spaces are after it (`left`), before "
        "it (`right`), or on both sides (`center`).",
    ),
    Property(
        "fill",
        Words(("no", "column", "least")),
        "no",
        "Whether a token of one repeated sign is as long as its cell, such as the line below the head of a "
        "table. `column`: where the cell is in a column; else it is as its author wrote it, but of three signs at "
        "least. `least`: likewise, else it is of three signs.",
    ),
    Property(
        "value-gap",
        Sign(),
        "none",
        "A pattern that finds white space in a line for another program: the last of its groups stands before "
        "what it defines.",
    ),
    Property(
        "value-column",
        Words(("keep", "no", "yes")),
        "keep",
        "Whether what the line defines begins at one column in lines that follow each other; `no`: one space "
        "stands before it; `keep`: as many as its author wrote. See `value-gap`.",
    ),
    Property(
        "line-join",
        Sign(),
        "none",
        "The sign at the end of each line of a line for another program but the last.",
    ),
    Property(
        "join-column",
        Words(("keep", "no", "yes")),
        "keep",
        "Whether the signs that join lines stand in a column; `no`: one space before each; `keep`: as many as "
        "its author wrote. One that stands right after a word stays. See `line-join`.",
    ),
    Property("cost", Whole(0, 1000), 3, "What opening the sequence costs."),
    Property(
        "hold",
        Whole(0, 1000),
        0,
        "What each break after the first costs that a sequence holds closed around an open part; with delimiters, "
        "one at least.",
    ),
    Property(
        "hold-lists",
        Whole(0, 1000),
        0,
        "What it costs more to open a list of several items in a chain of calls: where the chain stays closed itself, "
        "or where its links have a line each and such a list is opened even so.",
    ),
    Property(
        "brace",
        Words(("auto", "same-line", "own-line", "own-line-in")),
        "auto",
        "Where the opening brace of a body stands: at the end of the line that begins the "
        "construct, on its own line below, or there and indented, with all that it holds.",
        ("same-line", "own-line", "own-line-in"),
    ),
    Property(
        "hang",
        Words(("none", "line", "fits", "soft", "level")),
        "none",
        "The node stands on a new line, indented: always (`line`), or where it does not fit "
        "(`fits`; `soft`: indented like a wrapped line; `level`: not indented).",
    ),
    Property(
        "line-sharing",
        Words(("split", "keep")),
        "split",
        "Whether items that this sign separates stay on one line where their author set them so, if they "
        "fit.",
    ),
    Property("blank-before", Whole(0, 9), 0, "The least number of blank lines before the item."),
    Property("blank-after", Whole(0, 9), 0, "The least number of blank lines after the item."),
    Property(
        "blank-most",
        Whole(0, 9),
        0,
        "The most blank lines kept between the items of the sequence.",
    ),
    Property(
        "blank-kept",
        Whole(0, 9),
        0,
        "The most blank lines kept before a node that begins a line but is no item of a sequence.",
    ),
    Property(
        "blank-edges",
        Words(("drop", "keep")),
        "drop",
        "Whether blank lines stay behind the opening and before the closing delimiter, up to `blank-most`.",
    ),
    Property(
        "tight",
        Words(("nowhere", "inside", "everywhere")),
        "nowhere",
        "Where an operator stays without spaces whose author wrote none: inside a node of lower `precedence` "
        "than its operation, or everywhere.",
    ),
    Property(
        "precedence",
        Whole(0, 99),
        0,
        "How closely an operation binds its operands, for `tight`; or 1 for what an operation in it stands "
        "apart from anyway. 0: it says nothing.",
    ),
    Property(
        "terminator",
        Sign(),
        "none",
        "The sign at the end of the node, which may be left out where a line ends (see the fact `goes-on`).",
    ),
    Property(
        "terminated",
        Words(("keep", "sign", "line")),
        "keep",
        "How the node ends: as its author has it; with its sign; or with the end of the line, wherever what follows "
        "does not belong to it then. Needs `terminator`.",
    ),
    Property(
        "joined-by",
        Sign(),
        "none",
        "What makes one string of several: an operator between them, or `beside` where it is enough that they stand "
        "side by side. `none`: the string cannot be split.",
    ),
    Property(
        "pieces",
        Words(("keep", "split", "refill")),
        "keep",
        "What becomes of a string too long for its line: it stays; it is split after spaces; or pieces of a string are "
        "also joined again, and split anew where they do not fit on one line. Nothing that `holes` matches is split. "
        "Needs `joined-by`.",
    ),
    Property(
        "idle",
        _YES,
        "no",
        "The token does nothing where a new line follows it: it is left out there.",
    ),
    Property(
        "quotes",
        Words(("keep", "double", "single")),
        "keep",
        "Which quotes a string has that takes no escape for them; else it keeps its own.",
    ),
    Property(
        "letters",
        Words(("keep", "lower", "upper-digits", "upper")),
        "keep",
        "How the letters of a number, or those before the quotes of a string, are written: in small "
        "ones, or so but for the digits of a hexadecimal number, or in capitals.",
    ),
    Property(
        "sign",
        Words(("keep", "dash", "star", "plus")),
        "keep",
        "Which sign is written, of several that mean the same.",
    ),
    Property(
        "holds",
        Sign(),
        "none",
        "The language of the text that the node, which is one token, holds: a name that a sheet gives it, or "
        "`said`: the one that stands in the group `language` of the pattern `held`.",
    ),
    Property(
        "held",
        Holding(),
        "none",
        "A pattern of the whole node, in which the group `text` is what it holds. Further lines stand at the "
        "column of the first, or further in. See `holds`.",
    ),
    Property(
        "line-mark", Sign(), "none", "What each line of a held text begins with. See `holds`."
    ),
    Property(
        "held-indent",
        Words(("outside", "text", "shared")),
        "outside",
        "Whether the white space with which the lines of a held text begin is no part of it (`outside`), or is "
        "(`text`), so that lines that begin within one of its tokens stay where they are; or is but for what all "
        "lines share (`shared`), so that a text with such lines stays as it is. See `holds`.",
    ),
    Property(
        "held-margin",
        Words(("step", "line", "stood")),
        "step",
        "Where the lines of such a text begin: one step further in than the line that its token stands in "
        "(`step`), where that line begins (`line`), or where the leftmost of them stood (`stood`). See "
        "`held-indent`.",
    ),
    Property(
        "holes",
        Pattern(),
        "none",
        "A pattern of what in a held text is the outer language's: each stays, and is taken for a name "
        "meanwhile. See `holds`; and `pieces`.",
    ),
    Property(
        "inside",
        Words(("laid-out", "keep")),
        "laid-out",
        "Whether a held text is laid out in the style of its language, or stays. See `holds`.",
    ),
    Property(
        "inner-lines",
        Words(("keep", "align", "follow", "further")),
        "keep",
        "Whether the further lines of a text move along with its first, and stand among themselves "
        "as they do. `align`: the leftmost of them stands under the first; `follow`: each as far from it as it "
        "did, where a tab takes four columns; `further`: each four columns further in.",
    ),
    Property(
        "comment",
        Words(("none", "line", "block", "directive")),
        "none",
        "The node is a comment: to the end of its line, or with an end of its own; or a line for another "
        "program, which stays as it is, on lines of its own, with the blank lines around it.",
    ),
    Property(
        "margin",
        Words(("block", "out", "none")),
        "block",
        "Where a line that the node begins begins: where its block says, a step further out, or at the "
        "first column.",
    ),
    Property(
        "token",
        Words(("parts", "whole", "word")),
        "parts",
        "`whole` takes the node as one token, never looking inside; `word` too, and promises that "
        "it holds no line end, which saves time. Declared for a kind alone.",
    ),
    Property(
        "import",
        Name(),
        "none",
        "The node is an import, of this form: a name of the sheet's own, which groups may ask for as "
        "`:name`. Forms stand in the order in which the sheet first names them.",
        about="imports",
    ),
    Property(
        "part",
        Words((
            "none",
            "module",
            "name",
            "path",
            "alias",
            "wildcard",
            "whole",
            "mark",
            "home",
            "inside",
        )),
        "none",
        "What the node is in the import around it: the module that names are taken from, such a name, "
        "both in one (`path`), another name for it, or the sign for all names; `whole`: a name for what the module "
        "offers as a whole; `mark`: a word before a name that says of what sort it is. In no import, `home`: the module "
        "that the file itself, or what it is in, is of; `inside`: a body with imports of its own.",
        about="imports",
    ),
    Property(
        "writes",
        Sign(),
        "none",
        "How an import of this form is written: a text with `{module}` and `{name}`, or `{names}` "
        "where one may take several. `{whole}` stands before `{names}`, for names of that part; then the others are "
        "always in brackets. `{quoted}`: the module as its author wrote it. `{tail}`: what the author wrote after the "
        "last part, such as a semicolon.",
        about="imports",
    ),
    Property(
        "writes-alias",
        Sign(),
        "none",
        "How a name of an import with another name for it is written, with `{name}` and `{alias}`.",
        about="imports",
    ),
    Property(
        "wraps",
        Sign(),
        "none",
        "Two signs: the brackets that the names of an import get to stand on several lines.",
        about="imports",
    ),
    Property(
        "module-between",
        Sign(),
        "none",
        "Two signs, for an import that is one token: the module is what stands between them.",
        about="imports",
    ),
    Property(
        "binds",
        Words(("last", "first", "nothing")),
        "last",
        "Which word of its path an import without another name makes known in the file; `nothing`: the names "
        "it makes known are not in it.",
        about="imports",
    ),
    Property(
        "moves",
        Words(("yes", "no", "first", "paragraph")),
        "yes",
        "Whether the import may change places with others, or must not, or stands before all of them; "
        "`paragraph`: with those between which there is no blank line.",
        about="imports",
    ),
    Property(
        "crossed",
        Words(("boldly", "yes", "header")),
        "boldly",
        "Of what is no import, whether those that stand below it may go above it: only if that is asked for "
        "boldly, or always; `header`: those at the head of the file belong below it.",
        about="imports",
    ),
    Property(
        "offers",
        Words(("names", "files", "around")),
        "names",
        "What a star takes from the module of this import: the names in its file, or the files in its "
        "folder. `around`: the import takes what all code within the module has without it.",
        about="imports",
    ),
    Property(
        "star",
        Words(("strong", "weak")),
        "strong",
        "Whether the names that a star takes count like any other, or give way to all that are made "
        "known otherwise, and may be of no more than one module.",
        about="imports",
    ),
    Property(
        "qualified",
        _YES,
        "no",
        "Whether the node may be a name with the whole path of its module before it.",
        about="names",
    ),
    Property(
        "exports",
        Words(("none", "yes", "star", "list", "listed", "closed", "unknown")),
        "none",
        "What the node says of the names that its file offers to a star: it is one, it is a module "
        "whose names are passed on, it lists all names there are, it is such a name as a text, it holds "
        "none (`closed`); or they cannot be known.",
        about="exports",
    ),
    Property(
        "name",
        Words(("none", "use", "bind", "global", "quoted")),
        "none",
        "What a word does here: nothing of the kind, it refers to what has this name, it makes the "
        "name known in the scope around it, it declares it as one of the top; or the node is a text "
        "(`quoted`) in which names are referred to.",
        about="names",
    ),
    Property(
        "scope",
        Words(("none", "own", "loose", "outside")),
        "none",
        "Whether names made known in the node hide those around it; `loose`: they do so for no more "
        "than what stands in it directly. `outside`: the node stands in the scope around the one it is "
        "in, such as the name of a function.",
        about="names",
    ),
)

#: What the groups of imports may ask for, besides the forms that a sheet names, as `:word`.
RELATIVE, STANDARD, PROJECT, OWN = CLASSES = ("relative", "standard", "project", "own")
#: The properties that say nothing of the layout.
ORDER = frozenset(name for name, prop in PROPERTIES.items() if prop.about)

#: What the node plays: names of roles, declared like a property, matched like a class in a selector.
ROLE = "role"
