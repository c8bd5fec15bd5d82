"""The files that a command is about, and what is told of those that it does not look at."""

from __future__ import annotations

import functools
import os
import sys
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import field
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from stilo.cli.options import Failures, Wanted, end_on
from stilo.cli.telling import tell
from stilo.errors import StiloError
from stilo.records import dataclass

if TYPE_CHECKING:
    from stilo import DocumentResult, Result
    from stilo.run.find import Finder, Target
    from stilo.run.staged import Staged
    from stilo.source import LineRange


NAME_HELP = "The name of the file that standard input (`-`) stands for."


@dataclass
class Files:
    """Files, folders and patterns as they were named.

    since: a revision of git, of which only what was changed since then counts. is_staged: only what is
    staged counts. name: what standard input stands for, if that is named. laid_out: how many files were
    looked at in full. skipped: how many of those that were named are left alone as the style says.
    """

    named: Sequence[str]
    since: str | None = None
    is_staged: bool = False
    name: str | None = None
    laid_out: int = 0
    skipped: int = 0
    staged: dict[str, Staged] = field(default_factory=dict, repr=False)
    _finder: Finder | None = field(default=None, repr=False)

    def targets(self, wanted: Wanted, failures: Failures) -> Iterator[Target]:
        """The files to look at, each once."""
        from stilo.run.find import Finder, Target
        from stilo.run.git import GitFailed

        if self.is_input:
            yield Target(self.name or "standard input", data=self.input)
            return
        if wanted.lines is not None and (self.since is not None or self.is_staged):
            which = "--staged" if self.is_staged else "--edited-since"
            raise click.UsageError(f"{which} and --within exclude each other")
        try:
            if self.is_staged:
                yield from self._staged(wanted)
                return
            self._finder = Finder(wanted.styles, self._changed())
            yield from self._finder.find(self.named)
        except GitFailed as error:
            end_on(error)
        for fault in self._finder.faults:
            failures.tell(fault)

    @property
    def is_input(self) -> bool:
        """Whether it is standard input that was named."""
        return list(self.named) == ["-"]

    @cached_property
    def input(self) -> bytes:
        """All of standard input. Raises UnreadableSource."""
        return read_input()

    def _changed(self) -> Mapping[Path, Sequence[LineRange] | None] | None:
        if self.since is None:
            return None
        from stilo.run.changed import changed_lines

        return changed_lines(Path.cwd(), self.since)

    def _staged(self, wanted: Wanted) -> Iterator[Target]:
        """What is staged of the files that were named, or of those in folders that were."""
        from stilo.run.find import Finder
        from stilo.run.staged import staged_files

        self._finder = Finder(wanted.styles)
        here = Path.cwd()
        asked = [Path(os.path.realpath(name)) for name in self.named]
        for file in staged_files(here):
            if any(file.path.is_relative_to(one) for one in asked):
                name = os.path.relpath(file.path, os.path.realpath(here))
                for target in self._finder.offer(name):
                    self.staged[name] = file
                    yield target._replace(lines=file.lines, data=file.data)

    def results(
        self, wanted: Wanted, failures: Failures, only_order: bool = False
    ) -> Iterator[tuple[str, Result | DocumentResult]]:
        """Lay each file out; tell what fails and go on."""
        from stilo.run.many import lay_out

        for target in self.targets(wanted, failures):
            path = target.path
            asked = target.lines if target.lines is not None else wanted.lines
            try:
                style, found = lay_out(target, wanted.styles, asked, only_order)
            except StiloError as error:
                failures.tell(error)
                continue
            if found is None:
                self.tell_skipped(path, style.skipped)
                continue
            self.laid_out += 1
            yield path, found

    def tell_skipped(self, path: str, by: str) -> None:
        """Say that a file that was named is left alone."""
        self.skipped += 1
        tell(f"{path}: skipped, {by}", err=True)

    def rest(self) -> str:
        """How many files were not looked at, and why, to end a summary with."""
        found = self._finder.passed_over if self._finder is not None else {}
        said = f"; skipped: {self.skipped}" if self.skipped else ""
        why = ", ".join(f"{count} {reason}" for reason, count in sorted(found.items()))
        return f"{said}; passed over: {why}" if why else said


def read_input() -> bytes:
    """All of standard input. Raises UnreadableSource."""
    from stilo.errors import UnreadableSource
    from stilo.reading import MOST_SOURCE

    if sys.stdin is None:
        raise UnreadableSource("standard input", "is closed")
    data = sys.stdin.buffer.read(MOST_SOURCE + 1)
    if len(data) > MOST_SOURCE:
        raise UnreadableSource("standard input", f"is larger than {MOST_SOURCE >> 20} MB")
    return data


def paths(command: Callable[..., Any], is_all: bool = False) -> Callable[..., Any]:
    """Give a command the files that its arguments name, or a list of names. is_all: with no names, all files
    in the current folder."""

    @functools.wraps(command)
    def collect(
        files: tuple[str, ...],
        files_from: str | None,
        edited_since: str | None,
        staged: bool = False,
        name: str | None = None,
        **others: Any,
    ) -> Any:
        named = [*files, *(_listed(files_from) if files_from is not None else ())]
        if staged and edited_since is not None:
            raise click.UsageError("--staged and --edited-since exclude each other")
        if "-" in files and not (name or others.get("language") or others.get("sheet")):
            raise click.UsageError("standard input needs --language, --sheet or --name")
        if "-" in files and (len(named) > 1 or staged or edited_since is not None):
            raise click.UsageError("standard input (-) goes with no other files")
        if not named and files_from is None:
            if edited_since is None and not staged and not is_all:
                raise click.UsageError("name files or folders, such as . for all that is here")
            named = ["."]
        return command(files=Files(named, edited_since, staged, name), **others)

    option = click.option(
        "--files-from",
        metavar="LIST",
        help="Take names from a file, too, one a line (`-`: from standard input).",
    )
    changed = click.option(
        "--edited-since",
        metavar="REVISION",
        help="Only the statements changed since a revision of git, such as HEAD or main.",
    )
    return click.argument("files", nargs=-1, metavar="FILE…")(option(changed(collect)))


def texts(command: Callable[..., Any]) -> Callable[..., Any]:
    """Let a command that takes `paths` look at what is staged, too, or at standard input."""
    staged = click.option(
        "--staged",
        is_flag=True,
        help="Only the statements that are staged in git: as they are staged, whatever the files hold.",
    )
    name = click.option("--name", metavar="FILE", help=NAME_HELP)
    return staged(name(command))


def _listed(source: str) -> list[str]:
    """The names in a list: one a line, or ended by NUL, as `find -print0` has them."""
    from stilo.calls import read_bytes

    try:
        data = read_input() if source == "-" else read_bytes(source)
    except StiloError as error:
        end_on(error)
    parts = data.split(b"\0") if b"\0" in data else data.splitlines()
    return [os.fsdecode(part) for part in parts if part]
