"""Prose within code: its words as tokens of their own, so that lines may be filled with them.

White space with a line end is nothing at the ends of such a text, and one space between its words; without one it
stands for itself. So a space at an end of the text is a token, and only one space, or a line end, parts words.
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


def with_words(
    tree: Tree, texts: Set[int], kinds: Sequence[int], whole: re.Pattern[str] | None
) -> Tree:
    """The tree with the words of texts in place of them.

    texts: the kinds of tokens that texts consist of, side by side. kinds: the numbers of `PROSE_KINDS`. whole:
    what is found in a text that is not parted.
    """
    number_of = dict(zip(PROSE_KINDS, kinds))
    known = tree.texts
    kind: list[int] = []
    parent: list[int] = []
    token_node: list[int] = []
    starts: list[int] = []
    ends: list[int] = []
    found: list[bytes] = []
    moved: list[int] = []  # by node, its new number
    behind: list[int] = []  # by token, how many there are up to its end
    shapes: list[list[int]] = []  # of each piece of a text, the kinds of the words in its place
    spaced: list[bytes] = []

    def take(nodes: range, tokens: range) -> None:
        """Nodes and tokens that stay, further on."""
        a, b, t, u = nodes.start, nodes.stop, tokens.start, tokens.stop
        shift, further = len(kind) - a, len(token_node) - t
        moved.extend(range(a + shift, b + shift))
        behind.extend(range(t + further + 1, u + further + 1))
        kind.extend(tree.kind[a:b])
        parent.extend(tree.parent[a:b])
        token_node.extend([node + shift for node in tree.token_node[t:u]])
        starts.extend(tree.token_start[t:u])
        ends.extend(tree.token_end[t:u])
        found.extend(known[t:u])

    node = token = 0
    for first, last in _runs(tree, texts):
        begin = tree.token_node[first]
        take(range(node, begin), range(token, first))
        # The text, and the white space around it, of which grammars take a part for nothing.
        start = tree.token_end[first - 1] if first else 0
        end = tree.token_start[last + 1] if last + 1 < len(known) else len(tree.data)
        words = list(_words(tree.data[start:end].decode(), start, whole))
        pieces = last + 1 - first
        shapes += [
            [number_of[_SHAPE[name]] for name, *_ in words],
            *([] for _ in range(pieces - 1)),
        ]
        moved += [len(kind)] * pieces
        for name, at, stop in words:
            text = tree.data[at:stop]
            token_node.append(len(kind))
            kind.append(number_of[name])
            parent.append(tree.parent[begin])
            starts.append(at)
            ends.append(stop)
            found.append(text)
            if text.split() != [text]:
                spaced.append(text)
        behind += [len(token_node)] * pieces
        node, token = begin + pieces, last + 1
    take(range(node, len(tree.kind)), range(token, len(known)))
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
        known_texts=found,
        has_prose=True,
        spaced=tuple(spaced),
    )


def _runs(tree: Tree, texts: Set[int]) -> Iterator[tuple[int, int]]:
    """First and last token of each text."""
    kinds, leaves, parents = tree.kind, tree.token_node, tree.parent
    first = last = -1
    for token, leaf in enumerate(leaves):
        if kinds[leaf] not in texts:
            continue
        goes_on = (
            token == last + 1
            and leaf == leaves[last] + 1
            and parents[leaf] == parents[leaves[last]]
        )
        if last >= 0 and not goes_on:
            yield first, last
        first, last = first if last >= 0 and goes_on else token, token
    if last >= 0:
        yield first, last


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


def _words(text: str, start: int, whole: re.Pattern[str] | None) -> Iterator[tuple[str, int, int]]:
    """The words of a text that begins at an offset, each with its kind and its extent."""
    core = text.strip()
    if not core or whole is not None and whole.search(core):
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
