"""`stilo arrange`: imports in order, and what is asked where a name may be several."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import field, replace

import click

import stilo
from stilo.cli.counts import counted
from stilo.cli.notes import PREFER, tell_open, tell_unseen
from stilo.cli.options import Failures, Wanted
from stilo.cli.telling import tell
from stilo.order.groups import parts
from stilo.records import dataclass
from stilo.run import write_result

AnyResult = stilo.Result | stilo.DocumentResult


@dataclass
class Done:
    """How many files were changed, and what became of their imports."""

    changed: int = 0
    failed: int = 0
    total: Counter[str] = field(default_factory=Counter)


def arrange_files(
    results: Iterable[tuple[str, AnyResult]],
    wanted: Wanted,
    failures: Failures,
    lists: bool,
    asks: bool,
) -> Done:
    """Write, or list, what is to change of the imports of files.

    asks: where a name may be several, ask on the terminal which is meant; an answer holds for all
    files that follow.
    """
    done = Done()
    meant: dict[str, str] = {}
    for path, result in results:
        if asks and isinstance(result, stilo.Result) and result.ambiguities:
            result = _asked(path, result, wanted, meant)
        if isinstance(result, stilo.Result):
            tell_open(path, result.open_stars, result.unknown_modules)
            tell_unseen(path, result.unseen_imports)
        if not result.changed:
            continue
        if lists:
            for finding in result.findings:
                tell(f"{path}:{finding}")
        else:
            try:
                write_result(path, result.data, result.source.raw)
            except stilo.StiloError as error:
                failures.tell(error)
                done.failed += 1
                continue
            tell(f"{path}: imports {counted(result.order_counts)}")
        done.changed += 1
        done.total += result.order_counts
    if meant:
        said = " | ".join(sorted(meant.values()))
        tell(f'to keep the answers: --set "{PREFER}={said}", or in stilo.toml', err=True)
    return done


def _asked(path: str, result: stilo.Result, wanted: Wanted, meant: dict[str, str]) -> AnyResult:
    """The result with the answers to what was not clear."""
    for unclear in result.ambiguities:
        if meant.get(unclear.name) in unclear.candidates:
            continue
        places = [result.source.position(offset) for offset in unclear.offsets[:3]]
        where = ", ".join(f"{line}:{column}" for line, column in places)
        tell(f"{path}: {unclear.name} (used at {where}) may be", err=True)
        for number, candidate in enumerate(unclear.candidates, 1):
            tell(f"  {number}  {candidate}", err=True)
        choice = click.prompt(
            "which one? (0: leave it)",
            type=click.IntRange(0, len(unclear.candidates)),
            default=0,
            err=True,
        )
        if choice:
            meant[unclear.name] = unclear.candidates[choice - 1]
    given = [*parts(str(result.values[PREFER])), *meant.values()]
    found = wanted.styles.of(path)
    style = replace(found, values={**found.values, PREFER: " | ".join(given)})
    return stilo.reformat_styled(
        result.source.raw, style, lines=wanted.lines, name=path, only_order=True
    )
