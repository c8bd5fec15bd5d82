"""`stilo proof`: what is not in style, summed up for many files and shown for few."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import field, replace
from functools import partial
from typing import TYPE_CHECKING

from stilo.cli.counts import summed
from stilo.cli.files import Files
from stilo.cli.forms import FORMS, of_file
from stilo.cli.notes import tell_unread
from stilo.cli.options import FAILED, IN_STYLE, NOT_IN_STYLE, Failures, Wanted
from stilo.cli.telling import hand_over_patch, tell
from stilo.cli.work import Stopped, Workers, outcomes
from stilo.explain.findings import by_setting, count_of
from stilo.records import dataclass
from stilo.width import display_width

if TYPE_CHECKING:
    from stilo import DocumentResult, Finding, Result
    from stilo.result import Unread

#: So many files are each shown with their first places; of more, a table and a few places in all.
MOST_SHOWN = 3
#: How many places of a file are shown, how many settings of a file are named, how many files and
#: settings a summary lists.
PLACES, SETTINGS, FILES, LINES = 3, 3, 15, 15
#: Columns of a line that are shown around a place.
ROOM = 76


@dataclass(frozen=True)
class Place:
    """A place that is shown: what is said of it, the line of the source, and the column (from 1)."""

    said: str
    line: str
    column: int


@dataclass(frozen=True)
class Proof:
    """What is kept of a file: its number of places by setting, the first of them, what is printed of it whatever
    else is found, and the lines that stay as they are."""

    path: str
    is_in_style: bool
    settings: Mapping[str, int]
    first: Sequence[Place]
    printed: bytes = b""
    unread: Sequence[Unread] = ()

    @property
    def count(self) -> int:
        """The number of places that are not in style."""
        return sum(self.settings.values())

    def often(self, most: int) -> str:
        """The settings that decide most of them."""
        found = Counter(self.settings).most_common(most)
        return ", ".join(f"{name} ({count})" for name, count in found)


def proof_of(form: str, path: str, result: Result | DocumentResult) -> Proof:
    """What is to be kept of a result, for a report in one of FORMS."""
    if not result.changed:
        return Proof(path, True, {}, (), unread=result.unread)
    findings = result.findings
    shown = [
        Place(str(found), _line_of(result, found), found.position.column)
        for found in findings[:PLACES]
    ]
    counts = by_setting(findings)
    printed = of_file(form, path, result, findings)
    return Proof(path, False, counts, shown, printed, result.unread)


@dataclass
class Report:
    """Takes in files one by one, and tells of them at the end. form: one of FORMS. is_quiet: it only
    counts."""

    form: str = "short"
    is_quiet: bool = False
    looked_at: int = 0
    files: list[Proof] = field(default_factory=list)
    unread: list[tuple[str, Sequence[Unread]]] = field(default_factory=list)

    def add(self, found: Proof | None) -> None:
        """Take in a file; None: one that is known to be in style."""
        self.looked_at += 1
        if found is None:
            return
        if found.unread:
            self.unread.append((found.path, found.unread))
        if found.is_in_style:
            return
        if found.printed and not self.is_quiet:
            self._print(found.printed)
        self.files.append(replace(found, printed=b""))

    def _print(self, printed: bytes) -> None:
        """Print what a form has of a file, after what it begins with, or what parts two files."""
        form, text = FORMS[self.form], printed.decode("utf-8", "surrogateescape")
        if self.form == "patch":
            hand_over_patch(printed)
        elif form.frame is None:
            tell(text)
        else:
            tell((form.between if self.files else form.frame[0]) + text, is_whole=False)

    def tell(self, errors: Sequence[str]) -> None:
        """Print what was found. errors: why files are not in it."""
        frame = FORMS[self.form].frame if self.form in FORMS else None
        if frame is not None:
            begin, end = frame
            tell(("" if self.files else begin) + end(errors), is_whole=False)
        if not self.files:
            return
        if self.form == "short":
            if len(self.files) > MOST_SHOWN:
                self._tell_of_many()
            else:
                for file in self.files:
                    self._tell_of(file)
            self._tell_settings()
        places = count_of(sum(file.count for file in self.files), "place")
        total = f"{places} in {len(self.files)} of {count_of(self.looked_at, 'file')} not in style"
        more = "; --report all lists every place" if self.form == "short" else ""
        tell(f"{total}{more}", err=True)

    def tell_unread(self) -> None:
        """Tell which lines stay as they are."""
        for path, unread in self.unread:
            tell_unread(path, unread)

    def _tell_of(self, file: Proof) -> None:
        often = file.often(SETTINGS)
        tell(f"{file.path}: {count_of(file.count, 'place')} not in style, most by {often}")
        for place in file.first:
            _tell_place(f"  {place.said}", place)
        if file.count > len(file.first):
            tell(f"  and {file.count - len(file.first)} more")
        tell("")

    def _tell_of_many(self) -> None:
        """The files with the most places, and a few places as examples."""
        worst = sorted(self.files, key=lambda file: (-file.count, file.path))
        rest = sum(file.count for file in worst[FILES:])
        wide = len(str(max(rest, worst[0].count)))
        tell("Files with the most places:")
        for file in worst[:FILES]:
            name, often = Counter(file.settings).most_common(1)[0]
            tell(f"  {file.count:{wide}}  {file.path}, {often} by {name}")
        if len(worst) > FILES:
            tell(f"  {rest:{wide}}  in {count_of(len(worst) - FILES, 'more file')}")
        tell("")
        tell("The first places:")
        for file in self.files[:MOST_SHOWN]:
            place = file.first[0]
            _tell_place(f"  {file.path}:{place.said}", place)
        tell("")

    def _tell_settings(self) -> None:
        """How many places each setting, or rule, decides, the most frequent first."""
        total = summed(file.settings for file in self.files)
        rest = sum(total.values()) - sum(n for _, n in total.most_common(LINES))
        wide = len(str(max(rest, *total.values())))
        tell("By setting, or by rule where no setting decides:")
        for name, count in total.most_common(LINES):
            tell(f"  {count:{wide}}  {name}")
        if len(total) > LINES:
            tell(f"  {rest:{wide}}  by {len(total) - LINES} more")


def proof_files(files: Files, wanted: Wanted, by: Workers, form: str) -> int:
    """Report on files in one of FORMS. Returns the exit status."""
    failures, report = Failures(), Report(form, is_quiet=by.is_quiet)
    stopped = ""
    try:
        for _, found in outcomes(files, wanted, failures, by, partial(proof_of, form)):
            report.add(found)
    except Stopped as error:
        stopped = str(error)
    if not by.is_quiet:
        report.tell_unread()
        report.tell(list(failures.lines))
        _tell_rest(files, report)
    if stopped:
        tell(stopped, err=True)
    return FAILED if failures.count or stopped else NOT_IN_STYLE if report.files else IN_STYLE


def _tell_rest(files: Files, report: Report) -> None:
    """Tell of files that were passed over."""
    if rest := files.rest().removeprefix("; "):
        in_style = count_of(report.looked_at - len(report.files), "file")
        tell(f"in style: {in_style}; {rest}", err=True)


def _line_of(result: Result | DocumentResult, finding: Finding) -> str:
    """The line of the source in which a place is."""
    source, line = result.source, finding.position.line
    if line > source.line_count:
        return ""
    return source.data[source.line_start(line):source.line_start(line + 1)].decode().rstrip("\n")


def _tell_place(said: str, place: Place) -> None:
    """What is said of a place, its line, and a caret below the place."""
    tell(said)
    if not place.line.strip():
        return
    at = place.column - 1
    start = max(0, at - ROOM // 2) if len(place.line) > ROOM else 0
    shown = place.line[start : start + ROOM]
    before = shown[:at - start].expandtabs(4)
    tell(f"      {shown.expandtabs(4)}")
    tell(f"      {' ' * display_width(before)}^")
