"""Forms that a language writes in several ways, such as marks and numbers of lists: all in one.

Which there are, the language's own code says (`Support.forms`). They are put before anything is laid out, and the text
is read again with them; that it says the same, the check of the result sees.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from stilo.edits import Edit
from stilo.errors import Fault, UnsafeResult
from stilo.order.changes import Arrangement, Change
from stilo.order.passes import Ordered
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

    lines: only forms in these. left: runs of gaps that stay as they are. Raises UnsafeResult.
    """
    forms = text.language.support.forms
    if forms is None:
        return None
    tree, source = text.tree, text.source
    stays = [
        (tree.token_start[gaps[0]], tree.token_end[min(gaps[-1], len(tree.texts) - 1)])
        for gaps in left
        if gaps and gaps[0] < len(tree.texts)
    ]
    edits, changes = [], []
    for form in sorted(forms(tree, values)):
        if any(form.start < end and start < form.end for start, end in stays):
            continue
        if lines is not None:
            line = source.position(form.start).line
            last = source.position(max(form.start, form.end - 1)).line
            if not any(line <= b and a <= last for a, b in lines):
                continue
        edits.append(Edit(form.start, form.end, form.text))
        if form.message:
            changes.append(Change(form.start, "form", form.message, form.setting, 0))
    if not edits:
        return None
    raw = text.raw_edits(edits)
    new = text.edited(edits, raw, False)
    check = text.language.support.check
    assert check is not None  # without, no forms may change
    if new is None or check(source.raw, new.source.raw, False):
        place = source.position(edits[0].start)
        message = "with other forms the text would read differently; the file is left as it was"
        raise UnsafeResult(Fault(source.name, *place, message))
    return Ordered(new, Arrangement(tuple(edits), tuple(changes)), raw, [])
