"""Whether Python reads two texts alike, told from its own tokens.

What Python reads follows from the tokens that its tokenizer finds, line ends and indents among them.
Where these are the same, nothing has changed, and no syntax tree needs to be made. Where those of a
statement differ (it got brackets, or the body after its header a line), that statement's tree is
compared. This takes a third of the time of two whole trees, and asks of the Python that runs no more
than to know the syntax of what was edited.

The tokenizer is the one in C that `tokenize` uses; no module with a documented name gives it away, so
where it is not found, or answers in another way, nothing is told.
"""

from __future__ import annotations

import io
import sys
import token
from collections.abc import Callable, Iterator

try:
    from _tokenize import TokenizerIter  # type: ignore[import-not-found]
except ImportError:
    TokenizerIter = None

LONG = 5_000
#: What stands for tokens without a text. No text holds these between two `_NEXT`, nor any NUL.
_NEXT, _END, _IN, _OUT = "\0", "\n", "\t", "\b"
_MARKS = {token.NEWLINE: _END, token.INDENT: _IN, token.DEDENT: _OUT}
#: Where a statement ends, in tokens joined by `_NEXT`.
_BORDER = _NEXT + _END + _NEXT
#: The words that begin a header, whose colon a body may follow on the line.
_HEADERS = frozenset("if elif else for while with try except finally case def class async".split())
#: What makes a text of a line that is none by itself, by its first word: what to put before and after.
_FRAMES = {
    "elif": ("if 0: pass\n", " pass"),
    "except": ("try: pass\n", " pass"),
    "case": ("match 0:\n ", " pass"),
    "match": ("", "\n case _: pass"),
}
#: What follows `case` where it may be a name, as in `case: int = 3` or `case[0]: int`.
_BEHIND_NAME = frozenset(": = . [ ,".split())
_OPENING, _CLOSING = ("(", "[", "{"), (")", "]", "}")
_ASSIGNING = frozenset("= += -= *= /= //= %= @= &= |= ^= >>= <<= **=".split())
#: What all the rest of a statement is the value of.
_BEFORE_VALUE = _ASSIGNING | {"return"}
#: What begins a header of which all but the colon is a value.
_BEFORE_CONDITION = frozenset({"if", "elif", "while"})
#: What cannot stand in a value, or means something else there, without the brackets around it.
_NOT_BARE = _ASSIGNING | {",", ";", ":", ":=", "for", "async", "yield"}
_HEADER, _DECORATOR = ("", " pass"), ("", "\ndef f(): pass")


def are_alike(before: str, after: str, same_tree: Callable[[str, str], bool]) -> bool:
    """Whether it is sure that Python reads two texts alike; False if it may not, or cannot be told.

    same_tree: whether the syntax trees of two texts are the same; it may raise SyntaxError.
    """
    if TokenizerIter is None or _has_long_lines(before) or _has_long_lines(after):
        return False
    try:
        one, other = _joined(before), _joined(after)
        if not (_is_whole(one, before) and _is_whole(other, after) and _has_bodies(one)):
            return False
        return one == other or _same_statements(one.split(_BORDER), other.split(_BORDER), same_tree)
    except (SyntaxError, ValueError, TypeError, RecursionError, MemoryError):
        return False


def _has_long_lines(text: str) -> bool:
    """Whether a line is so long that the tokenizer, which copies it for each token, takes forever."""
    at = 0
    while at + LONG < len(text):
        end = text.rfind("\n", at, at + LONG + 1)
        if end < 0:
            return True
        at = end + 1
    return False


def _joined(text: str) -> str:
    """The text or mark of each token, with `_NEXT` after each."""
    marks = _MARKS
    if sys.version_info < (3, 12):
        tokens = [
            said if kind not in marks else marks[kind]
            for said, kind, _, _, _, _, _ in TokenizerIter(text)
        ]
    else:
        tokens = list(_with_whole_strings(text))
    tokens.append("")
    return _NEXT.join(tokens)


def _with_whole_strings(text: str) -> Iterator[str]:
    """The same of a Python whose formatted strings are many tokens: each as one, white space and all."""
    lines = list(io.StringIO(text))
    depth, begin = 0, (0, 0)
    for kind, said, start, end, _ in TokenizerIter(io.StringIO(text).readline, extra_tokens=False):
        name = token.tok_name[kind]
        if name.endswith("STRING_START"):
            begin = begin if depth else start
            depth += 1
        elif name.endswith("STRING_END"):
            depth -= 1
            if not depth:
                *whole, last = lines[begin[0] - 1 : end[0]]
                yield "".join([*whole, last[:end[1]]])[begin[1]:]
        elif not depth:
            yield _MARKS.get(kind, said)


def _is_whole(joined: str, text: str) -> bool:
    """Whether the tokens are all there is: some tokenizers say nothing of what ends too early."""
    return joined.rstrip(_OUT + _NEXT).endswith(_END) and not text.rstrip().endswith("\\")


def _has_bodies(joined: str) -> bool:
    """Whether a body stands below each header that ends its line, and nothing else stands further in."""
    end = _NEXT + ":" + _BORDER
    return joined.count(end) == joined.count(end + _IN) == joined.count(_NEXT + _IN + _NEXT)


def _same_statements(
    ones: list[str], others: list[str], same_tree: Callable[[str, str], bool]
) -> bool:
    """Whether the statements of two texts, as lines of tokens, are the same one by one.

    All before the first line that is not the same is passed over, and so on after it. (Both lists
    are changed.)
    """
    one = other = 0
    while one < len(ones) and other < len(others):
        if ones[one] == others[other]:
            one, other = one + 1, other + 1
            continue
        these, those = _statements(ones, one), _statements(others, other)
        while len(these) != len(those):  # what shares a line here has two there
            if len(these) < len(those):
                one += 1
                these += _statements(ones, one)
            else:
                other += 1
                those += _statements(others, other)
        if not all(_same_statement(this, that, same_tree) for this, that in zip(these, those)):
            return False
        one, other = one + 1, other + 1
    return one == len(ones) and other == len(others)


def _statements(lines: list[str], at: int) -> list[str]:
    """The statements that share a line, each as if it had its own; a body ends on the next line.

    Raises ValueError if there is no such line.
    """
    if at >= len(lines):
        raise ValueError("no such line")
    marks, words = _parted(lines[at])
    colon = _header_end(words)
    found = [marks + _NEXT.join(words[:colon])] if colon else []
    bodies = _split(words[colon:])
    if colon and bodies:
        bodies[0] = _IN + _NEXT + bodies[0]
        lines[at + 1] = _OUT + _NEXT + lines[at + 1]
    elif bodies:
        bodies[0] = marks + bodies[0]
    return found + bodies


def _parted(line: str) -> tuple[str, list[str]]:
    """The marks that lead a line, and the tokens after them."""
    said = line.lstrip(_IN + _OUT + _NEXT)
    return line[:len(line) - len(said)], said.split(_NEXT)


def _header_end(words: list[str]) -> int:
    """How many of the tokens of a line are a header with its colon; 0 if it has none."""
    depth = colons = 0
    is_name = words[0] == "case" and len(words) > 1 and words[1] in _BEHIND_NAME
    for at, said in enumerate(words if words[0] in _HEADERS and not is_name else ()):
        depth += (said in _OPENING) - (said in _CLOSING)
        if depth:
            continue
        if said == "lambda":
            colons += 1
        elif said == ":" and colons:
            colons -= 1
        elif said == ":":
            return at + 1
    return 0


def _split(words: list[str]) -> list[str]:
    """The statements in tokens, which a semicolon parts, or ends. None of them holds a body.

    Raises ValueError where nothing stands before one.
    """
    found: list[list[str]] = [[]]
    for said in words:
        if said == ";":
            found.append([])
        else:
            found[-1].append(said)
    if len(found) > 1 and not found[-1]:
        found.pop()
    if words and [] in found:
        raise ValueError("nothing stands before a semicolon")
    return [_NEXT.join(statement) for statement in found if statement]


def _without_spare(words: list[str]) -> list[str]:
    """The tokens of a statement without commas and brackets of which is sure that they say nothing.

    That is a comma behind the last item where another stands between items, and brackets around all of
    a value. Nothing is sure around `lambda`, whose commas and colon are its own.
    """
    return words if "lambda" in words else _without_brackets(_without_commas(words))


def _without_commas(words: list[str]) -> list[str]:
    found: list[str] = []
    commas = [0]  # between the items in each of the brackets that are open
    for said in words:
        if said in _OPENING:
            commas.append(0)
        elif said == ",":
            commas[-1] += 1
        elif said in _CLOSING:
            if commas.pop() > 1 and found[-1] == "," != found[-2]:
                found.pop()
        found.append(said)
    return found


def _without_brackets(words: list[str]) -> list[str]:
    is_header = words[-1] == ":"
    end = len(words) - is_header
    if words[end - 1] != ")":
        return words
    start, depth = end - 1, 1
    while depth and start:
        start -= 1
        depth += (words[start] in _CLOSING) - (words[start] in _OPENING)
        if depth == 1 and words[start] in _NOT_BARE:
            return words
    if is_header:
        is_all = start == 1 and words[0] in _BEFORE_CONDITION
    else:
        is_all = start > 0 and words[start - 1] in _BEFORE_VALUE
    if not is_all or words[start + 1] in (")", "*"):
        return words
    return [*words[:start], *words[start + 1 : end - 1], *words[end:]]


def _same_statement(one: str, other: str, same_tree: Callable[[str, str], bool]) -> bool:
    if one == other:
        return True
    (marks, ones), (other_marks, others) = _parted(one), _parted(other)
    if marks != other_marks:
        return False
    if _without_spare(ones) == _without_spare(others):
        return True
    frame = ("", "")
    if ones[0] == "@":
        frame = _DECORATOR
    elif ones[-1] == ":":
        frame = _FRAMES.get(ones[0], _HEADER)
    before, behind = frame
    return same_tree(before + " ".join(ones) + behind, before + " ".join(others) + behind)
