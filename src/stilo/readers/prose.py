"""Prose within code: its words as tokens of their own, so that lines may be filled with them.

The white space of such a text counts as in JSX (facebook.github.io/jsx, and how compilers take its text): with a line
end it is nothing at the ends of the text and one space between words; without one it stands for itself. So a space at
an end of the text is a token, and only one space, or a line end, parts words.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Sequence, Set
from dataclasses import replace

from stilo.tree.flat import Tree

#: The kinds of tokens that come of a text: a word after another one, the first after a line end, the first right
#: after what stands before the text; the same where a line end follows the text; and a space at one of its ends.
WORD, LINE, JOINED = "text_word", "text_line", "text_joined"
WORD_LAST, LINE_LAST, JOINED_LAST = "text_word_last", "text_line_last", "text_joined_last"
SPACE = "text_space"
PROSE_KINDS = (WORD, LINE, JOINED, WORD_LAST, LINE_LAST, JOINED_LAST, SPACE)
#: Kinds that differ in no more than line ends, which mean nothing there, count as one.
_SHAPE = {
    name: SPACE if name == SPACE else WORD if name in (WORD, WORD_LAST) else JOINED
    for name in PROSE_KINDS
}
#: Where words part. Beside any other white space, compilers do not agree on what it means.
_GAP = re.compile(r"(?<=\S)(?: |[ \t]*\n[ \t\n]*)(?=\S)")
#: A character by its number may be white space, and stands beside no other then.
_NUMBERED = "&#"


def with_words(tree: Tree, texts: Set[int], kinds: Sequence[int]) -> Tree:
    """The tree with the words of texts in place of them.

    texts: the kinds of tokens that texts consist of, side by side. kinds: the numbers of `PROSE_KINDS`.
    """
    number_of = dict(zip(PROSE_KINDS, kinds))
    token_of = {node: token for token, node in enumerate(tree.token_node)}
    known = tree.known_texts
    kind: list[int] = []
    parent: list[int] = []
    token_node: list[int] = []
    starts: list[int] = []
    ends: list[int] = []
    found: list[bytes] = []
    moved: list[int] = []  # by node, its new number
    behind: list[int] = []  # by token, how many there are up to its end
    shapes: list[list[int]] = []  # of each piece of a text, the kinds of the words in its place
    node, count = 0, len(tree.kind)
    while node < count:
        token = token_of.get(node)
        if token is None:
            moved.append(len(kind))
            kind.append(tree.kind[node])
            parent.append(tree.parent[node])
            node += 1
            continue
        last = _last_of_text(tree, node, token, texts) if tree.kind[node] in texts else -1
        start, end = tree.token_start[token], tree.token_end[token]
        if last >= 0:  # and the white space around it, of which grammars take a part for nothing
            behind_it = token + 1 + last - node
            start = tree.token_end[token - 1] if token else 0
            end = (
                tree.token_start[behind_it] if behind_it < len(tree.token_start) else len(tree.data)
            )
        words = [(tree.kind[node], start, end)]
        if last >= 0:
            found_words = list(_words(tree.data[start:end].decode(), start))
            words = [(number_of[name], begin, at) for name, begin, at in found_words]
            same = [number_of[_SHAPE[name]] for name, *_ in found_words]
            shapes += [same, *([] for _ in range(last - node))]
        pieces = max(1, last + 1 - node)
        moved += [len(kind)] * pieces
        for number, begin, at in words:
            token_node.append(len(kind))
            starts.append(begin)
            ends.append(at)
            found.append(tree.data[begin:at] if last >= 0 or known is None else known[token])
            kind.append(number)
            parent.append(tree.parent[node])
        behind += [len(token_node)] * pieces
        node += pieces
    own = frozenset(kinds)
    return replace(
        tree,
        kind=kind,
        parent=[moved[above] if above >= 0 else above for above in parent],
        token_node=token_node,
        token_start=starts,
        token_end=ends,
        last_token={moved[n]: behind[last] - 1 for n, last in tree.last_token.items()},
        shape=_shape(tree.shape, texts, shapes),
        field={moved[n]: number for n, number in tree.field.items() if tree.kind[n] not in texts},
        known_texts=None if known is None else found,
        has_prose=True,
        spaced=tuple(
            text
            for leaf, text in zip(token_node, found)
            if kind[leaf] in own and text.split() != [text]
        ),
    )


def _last_of_text(tree: Tree, node: int, token: int, texts: Set[int]) -> int:
    """The last of the tokens that are a text together with the first."""
    last = node
    while (
        last + 1 < len(tree.kind)
        and tree.kind[last + 1] in texts
        and tree.parent[last + 1] == tree.parent[node]
        and not tree.between(token + last + 1 - node).strip()
    ):
        last += 1
    return last


def _shape(shape: Sequence[int], texts: Set[int], words: Iterable[Sequence[int]]) -> list[int]:
    """The shape of a tree with words in place of its texts. words: their kinds, for each piece of a text."""
    found: list[int] = []
    pieces = iter(words)
    for number in shape:
        if number in texts:
            found += next(pieces)
        else:
            found.append(number)
    return found


def _words(text: str, start: int) -> Iterator[tuple[str, int, int]]:
    """The words of a text that begins at an offset, each with its kind and its extent."""
    core = text.strip()
    if not core or _NUMBERED in core:
        if core or "\n" not in text or not _is_plain(text):
            yield SPACE, start, start + len(text.encode())
        return
    lead = text[:text.index(core)]
    trail = text[len(lead) + len(core):]
    at = start + len(lead.encode())
    is_led = "\n" in lead and _is_plain(lead)
    is_trailed = "\n" in trail and _is_plain(trail)
    if lead and not is_led:
        yield SPACE, start, at
    pieces, gaps = _GAP.split(core), _GAP.findall(core)
    for number, (piece, gap) in enumerate(zip(pieces, [*gaps, ""])):
        end = at + len(piece.encode())
        is_last = is_trailed and number == len(gaps)
        if number:
            kind = WORD_LAST if is_last else WORD
        elif is_led:
            kind = LINE_LAST if is_last else LINE
        else:
            kind = JOINED_LAST if is_last else JOINED
        yield kind, at, end
        at = end + len(gap)
    if trail and not is_trailed:
        yield SPACE, at, at + len(trail.encode())


def _is_plain(blanks: str) -> bool:
    """Whether white space is of a sort of which all compilers make the same."""
    return not blanks.strip(" \t\n")
