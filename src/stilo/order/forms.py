"""Forms that a language writes in several ways, such as marks and numbers of lists: all in one.

Which there are, the language's own code says (`Support.forms`). They are put before anything is laid out.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from stilo.order.passes import Ordered, rewritten
from stilo.order.text import Text
from stilo.sheet.properties import Value
from stilo.source import LineRange


def put_forms(
    text: Text,
    values: Mapping[str, Value],
    lines: Sequence[LineRange] | None,
    left: Sequence[range],
) -> Ordered | None:
    """The text with the forms that a style asks for; None if that changes nothing.

    lines: only forms that reach into these. left: runs of gaps that stay as they are. Raises UnsafeResult.
    """
    forms, check = text.language.support.forms, text.language.support.check
    if forms is None or check is None:
        return None
    tree, source = text.tree, text.source
    stays = [
        (tree.token_start[gaps[0]], tree.token_end[min(gaps[-1], len(tree.texts) - 1)])
        for gaps in left
        if gaps and gaps[0] < len(tree.texts)
    ]
    wanted = []
    for form in forms(tree, values):
        start, end = form.edits[0].start, form.edits[-1].end
        if any(start < b and a < end for a, b in stays):
            continue
        first, last = source.position(start).line, source.position(max(start, end - 1)).line
        if lines is None or any(first <= b and a <= last for a, b in lines):
            wanted.append(form)
    return rewritten(
        text,
        wanted,
        "form",
        "other forms",
        lambda new: not check(source.raw, new.source.raw, False),
    )
