"""The forms in which `stilo proof` reports to programs: patches, JSON, SARIF, and what CI services read."""

from __future__ import annotations

import json
import os
from collections.abc import Callable, Sequence
from hashlib import blake2b
from pathlib import PurePath
from typing import TYPE_CHECKING, Any
from urllib.parse import quote

import stilo
from stilo.cli.patch import patch_of
from stilo.explain.findings import CODES
from stilo.records import dataclass

if TYPE_CHECKING:
    from stilo import DocumentResult, Finding, Result

Made = Callable[[str, "Sequence[Finding]"], list[str]]
#: The published schema of SARIF 2.1.0 (OASIS).
SARIF_SCHEMA = "https://json.schemastore.org/sarif-2.1.0.json"


@dataclass(frozen=True)
class Form:
    """How a report is written. lines: of a file that is not in style, what is printed. between: what stands
    between two of these. frame: what stands before and after all of them; the end is made of the errors
    that there were."""

    lines: Made
    between: str = "\n"
    frame: tuple[str, Callable[[Sequence[str]], str]] | None = None


def of_file(
    form: str, path: str, result: Result | DocumentResult, findings: Sequence[Finding]
) -> bytes:
    """What a form prints of a file that is not in style; nothing where it has no form for files.

    findings: those of the result.
    """
    if form == "patch":
        return patch_of(result.source.raw, result.data, path)
    if form not in FORMS:
        return b""
    found = FORMS[form]
    return found.between.join(found.lines(path, findings)).encode("utf-8", "surrogateescape")


def _json(path: str, findings: Sequence[Finding]) -> list[str]:
    """Objects with the place, what is wrong, and the setting that says so; lines and columns from 1."""
    return [
        json.dumps(
            {
                "path": path,
                "line": finding.position.line,
                "column": finding.position.column,
                "end-line": finding.end.line,
                "end-column": finding.end.column,
                "code": finding.code,
                "message": finding.message,
                "setting": finding.reason.setting,
                "value": finding.reason.value,
                "from": finding.reason.origin or finding.reason.place,
            },
            ensure_ascii=False,
        )
        for finding in findings
    ]


def _sarif(path: str, findings: Sequence[Finding]) -> list[str]:
    return [
        json.dumps({
            "ruleId": finding.code,
            "level": "warning",
            "message": {"text": _said(finding)},
            "locations": [{
                "physicalLocation": {
                    "artifactLocation": {"uri": quote(_slashed(path))},
                    "region": {
                        "startLine": finding.position.line,
                        "startColumn": finding.position.column,
                        "endLine": finding.end.line,
                        "endColumn": finding.end.column,
                    },
                },
            }],
            "properties": {
                "setting": finding.reason.setting,
                "value": finding.reason.value,
                "from": finding.reason.origin or finding.reason.place,
            },
        })
        for finding in findings
    ]


def _sarif_begin() -> str:
    driver = {
        "name": "Stilo",
        "version": stilo.__version__,
        "rules": [{"id": code, "shortDescription": {"text": text}} for code, text in CODES.items()],
    }
    head = {"$schema": SARIF_SCHEMA, "version": "2.1.0"}
    run = {"tool": {"driver": driver}, "columnKind": "unicodeCodePoints"}
    return json.dumps(head)[:-1] + ', "runs": [' + json.dumps(run)[:-1] + ', "results": [\n'


def _sarif_end(errors: Sequence[str]) -> str:
    told = [{"level": "error", "message": {"text": error}} for error in errors]
    invocation: dict[str, Any] = {"executionSuccessful": not errors}
    if told:
        invocation["toolExecutionNotifications"] = told
    return f'\n], "invocations": {json.dumps([invocation])}}}]}}\n'


def _github(path: str, findings: Sequence[Finding]) -> list[str]:
    """Commands of a GitHub workflow, which shows them beside the lines of a change."""

    def escaped(text: str, more: str = "") -> str:
        for sign in f"%\r\n{more}":
            text = text.replace(sign, f"%{ord(sign):02X}")
        return text

    where = escaped(_slashed(path), ":,")
    return [
        f"::warning file={where},line={finding.position.line},endLine={finding.end.line},"
        f"col={finding.position.column},endColumn={finding.end.column},"
        f"title={finding.code}::{escaped(_said(finding))}"
        for finding in findings
    ]


def _gitlab(path: str, findings: Sequence[Finding]) -> list[str]:
    """Objects of a Code Quality report, which GitLab shows in merge requests."""
    found = []
    for number, finding in enumerate(findings):
        said = _said(finding)
        mark = f"{_slashed(path)}\0{number}\0{finding.code}\0{said}"
        found.append(json.dumps({
            "description": said,
            "check_name": finding.code,
            "fingerprint": blake2b(mark.encode(errors="replace"), digest_size=16).hexdigest(),
            "severity": "minor",
            "location": {"path": _slashed(path), "lines": {"begin": finding.position.line}},
        }))
    return found


def _said(finding: Finding) -> str:
    where = f"in {finding.within}: " if finding.within else ""
    return f"{where}{finding.message} ({finding.reason.short()})"


def _slashed(path: str) -> str:
    """A path as addresses have it."""
    return PurePath(path).as_posix() if os.sep != "/" else path


#: The forms that print something of each file, by name. (`patch` is handed over as bytes.)
FORMS = {
    "all": Form(lambda path, findings: [f"{path}:{finding}" for finding in findings]),
    "names": Form(lambda path, findings: [path]),
    "patch": Form(lambda path, findings: [], ""),
    "json": Form(_json),
    "sarif": Form(_sarif, ",\n", (_sarif_begin(), _sarif_end)),
    "github": Form(_github),
    "gitlab": Form(_gitlab, ",\n", ("[\n", lambda errors: "\n]\n")),
}
