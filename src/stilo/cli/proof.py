"""`stilo proof`: what is not in style, summed up for many files and shown for few."""

from __future__ import annotations

import json
from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from stilo.cli.patch import patch_of
from stilo.cli.telling import hand_over, tell
from stilo.explain.findings import count_of
from stilo.width import display_width

if TYPE_CHECKING:
    from stilo import DocumentResult, Finding, Result

#: So many files are each shown with their first places; of more, a table and a few places in all.
MOST_SHOWN = 3
#: How many places of a file are shown, how many settings of a file are named, how many files and
#: settings a summary lists.
PLACES, SETTINGS, FILES, LINES = 3, 3, 15, 15
#: Columns of a line that are shown around a place.
ROOM = 76


@dataclass
class _File:
    """What is kept of a file: its name, its number of places by setting, the first of them with lines."""

    path: str
    settings: Counter[str]
    first: list[tuple[Finding, str]]

    @property
    def count(self) -> int:
        return sum(self.settings.values())


@dataclass
class Report:
    """Takes in results one by one, and tells of them at the end. form: one of FORMS."""

    form: str = "short"
    looked_at: int = 0
    files: list[_File] = field(default_factory=list)

    def add(self, path: str, result: Result | DocumentResult) -> None:
        """Take in a result."""
        self.looked_at += 1
        if not result.changed:
            return
        findings = result.findings
        if self.form == "all":
            for finding in findings:
                tell(f"{path}:{finding}")
        elif self.form == "names":
            tell(path)
        elif self.form == "patch":
            hand_over(patch_of(result.source.raw, result.data, path))
        elif self.form == "json":
            for finding in findings:
                tell(json.dumps(_record(path, finding), ensure_ascii=False))
        shown = [(found, _line_of(result, found)) for found in findings[:PLACES]]
        counts = Counter(found.reason.short() for found in findings)
        self.files.append(_File(path, counts, shown))

    def tell(self) -> None:
        """Print what was found."""
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

    def _tell_of(self, file: _File) -> None:
        often = ", ".join(f"{name} ({n})" for name, n in file.settings.most_common(SETTINGS))
        tell(f"{file.path}: {count_of(file.count, 'place')} not in style, most by {often}")
        for finding, line in file.first:
            _tell_place(f"  {finding}", finding, line)
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
            name, often = file.settings.most_common(1)[0]
            tell(f"  {file.count:{wide}}  {file.path}, {often} by {name}")
        if len(worst) > FILES:
            tell(f"  {rest:{wide}}  in {count_of(len(worst) - FILES, 'more file')}")
        tell("")
        tell("The first places:")
        for file in self.files[:MOST_SHOWN]:
            finding, line = file.first[0]
            _tell_place(f"  {file.path}:{finding}", finding, line)
        tell("")

    def _tell_settings(self) -> None:
        """How many places each setting, or rule, decides, the most frequent first."""
        total = sum((file.settings for file in self.files), Counter[str]())
        rest = sum(total.values()) - sum(n for _, n in total.most_common(LINES))
        wide = len(str(max(rest, *total.values())))
        tell("By setting, or by rule where no setting decides:")
        for name, count in total.most_common(LINES):
            tell(f"  {count:{wide}}  {name}")
        if len(total) > LINES:
            tell(f"  {rest:{wide}}  by {len(total) - LINES} more")


def told(results: Iterable[tuple[str, Result | DocumentResult]], form: str) -> Report:
    """Report on results in one of FORMS. Returns what was taken in."""
    report = Report(form)
    for path, result in results:
        report.add(path, result)
    report.tell()
    return report


def _record(path: str, finding: Finding) -> dict[str, object]:
    """A finding as a program reads it; lines and columns from 1."""
    reason = finding.reason
    return {
        "path": path,
        "line": finding.position.line,
        "column": finding.position.column,
        "end-line": finding.end.line,
        "end-column": finding.end.column,
        "code": finding.code,
        "message": finding.message,
        "setting": reason.setting,
        "value": reason.value,
        "from": reason.origin or reason.place,
    }


def _line_of(result: Result | DocumentResult, finding: Finding) -> str:
    """The line of the source in which a place is."""
    source, line = result.source, finding.position.line
    if line > source.line_count:
        return ""
    return source.data[source.line_start(line):source.line_start(line + 1)].decode().rstrip("\n")


def _tell_place(said: str, finding: Finding, line: str) -> None:
    """A finding, its line, and a caret below the place."""
    tell(said)
    if not line.strip():
        return
    at = finding.position.column - 1
    start = max(0, at - ROOM // 2) if len(line) > ROOM else 0
    shown = line[start : start + ROOM]
    before = shown[:at - start].expandtabs(4)
    tell(f"      {shown.expandtabs(4)}")
    tell(f"      {' ' * display_width(before)}^")
