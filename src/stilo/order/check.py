"""Whether a text whose imports were put in order says the same as before."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterable, Sequence, Set

from stilo.errors import Fault, UnsafeResult
from stilo.order.changes import Arrangement
from stilo.order.imports import Import
from stilo.order.reading import Reading
from stilo.order.rewrite import is_model
from stilo.order.shorten import Path
from stilo.order.text import Text
from stilo.source import Source
from stilo.tree.flat import Tree


def check(before: Reading, after: Reading, arrangement: Arrangement) -> None:
    """Compare every import, every comment, and the code if paths in it were cut.

    Raises UnsafeResult.
    """
    is_same = _said(after.runs) == _wanted(before.runs, arrangement)
    if paths := arrangement.needs.shortened.paths:
        kept = _code(before.text.tree, before.runs, paths)
        is_same &= kept == _code(after.text.tree, after.runs, ())
    comments = [_comments(r.text, arrangement.headers) for r in (before, after)]
    if not is_same or comments[0] != comments[1]:
        raise unsafe(arrangement, before.text.source)


def unsafe(arrangement: Arrangement, source: Source) -> UnsafeResult:
    """The error that not all imports, or not all comments, would still be there.

    The text outside the runs of imports is the same, since nothing else is edited.
    """
    edit = arrangement.edits[0]
    line, column = source.position(edit.start)
    message = (
        "the imports from here on would not say the same in order; the file is left as it was "
        "(a fault of the sheet or of Stilo: please report it)"
    )
    return UnsafeResult(Fault(source.name, line, column, message))


def _said(
    runs: Iterable[Iterable[Import]], gone: Set[int] = frozenset()
) -> set[tuple[str, str, str, str, str]]:
    """What imports say, but for the entries that begin at some offsets."""
    return {
        (item.form.name, item.module, entry.name, entry.alias, entry.mark)
        for run in runs
        for item in run
        for entry in item.entries
        if entry.offset not in gone
    }


def _wanted(
    before: Iterable[Iterable[Import]], arrangement: Arrangement
) -> set[tuple[str, str, str, str, str]]:
    """What imports are to say."""
    needs = arrangement.needs
    gone = {change.offset for change in arrangement.changes if change.what == "removed"}
    items = [item for run in before for item in run]
    added = needs.shortened.added
    forms = {item.form.name for item in items if is_model(item)}
    wanted = _said(before, gone | needs.stars.keys())
    wanted |= {(form, module, name, "", "") for form in forms for module, name in added}
    for item in items:
        for entry in item.entries:
            names = needs.stars.get(entry.offset, ())
            wanted |= {(item.form.name, item.module, name, "", "") for name in names}
    return wanted


def _code(tree: Tree, runs: Iterable[Iterable[Import]], paths: Sequence[Path]) -> list[bytes]:
    """The tokens that are in no import, without what is cut from paths."""
    spans = sorted(
        [(item.start, item.end) for run in runs for item in run]
        + [(path.start, path.end) for path in paths]
    )
    starts = [start for start, _ in spans]
    kept = []
    for text, at in zip(tree.texts, tree.token_start):
        number = bisect_right(starts, at) - 1
        if number < 0 or at >= spans[number][1]:
            kept.append(text)
    return kept


def _comments(text: Text, headers: frozenset[bytes]) -> list[bytes]:
    """All comments but those above groups, in no order."""
    kinds = text.language.comments - {text.language.branch_kind}
    found: dict[int, bytes] = {}
    for tree in (view.top for view in text.views):
        for said, node, start in zip(tree.texts, tree.token_node, tree.token_start):
            if tree.kind[node] in kinds and said not in headers:
                found[start] = said.strip()
    return sorted(found.values())
