"""What can be done about a finding: edits of the text, or of a file of settings."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import NamedTuple

from stilo.calls import reformat_styled
from stilo.edits import Edit
from stilo.errors import ConfigError, StiloError
from stilo.reading import MOST_SETTINGS, read_file
from stilo.result import Result
from stilo.serve.answers import lines
from stilo.serve.documents import Snapshot
from stilo.sheet.properties import Value
from stilo.style.config import PROJECT_FILE
from stilo.style.resolve import FileStyle, Styles, personal_path
from stilo.style.save import into_source, into_toml

#: The most other values of a setting that are offered.
MOST_VALUES = 6


class Action(NamedTuple):
    """What is offered: a title, and per file the edits of its bytes. before: the bytes; None: no such file."""

    title: str
    path: str
    before: bytes | None
    edits: Sequence[Edit]


def on_line(
    text: Snapshot, style: FileStyle, line: int, settings: Sequence[str]
) -> Iterator[tuple[Action, str]]:
    """What can be done about what is not in style in a line, each with the setting that it is about, or "".

    settings: those that ask for something there. Raises StiloError.
    """
    edits = lines(text, style, [(line, line)])
    if edits:
        yield Action("Lay out this statement", text.path, text.raw, edits), ""
    for action in leaving(text, style, line):
        yield action, ""
    for setting in settings:
        for action in (
            *_whole_file(text, style, setting),
            *setting_values(text, style, line, setting),
        ):
            yield action, setting


def _whole_file(text: Snapshot, style: FileStyle, setting: str) -> Iterator[Action]:
    try:
        result = reformat_styled(text.raw.decode(), style, name=text.path)
        edits = result.edits_for(setting) if isinstance(result, Result) else ()
    except StiloError:
        return  # not safe by itself, or not to be read
    if edits:
        yield Action(
            f"Lay out all that {setting} asks for in this file", text.path, text.raw, edits
        )


def leaving(text: Snapshot, style: FileStyle, line: int) -> Iterator[Action]:
    """A comment that leaves the item in a line as it is."""
    comment_signs = style.language.facts.comment_signs
    if not comment_signs or style.language.facts.is_notebook(text.path):
        return
    start = text.source.original(text.source.line_start(line))
    row = text.raw[start:].split(b"\n", 1)[0]
    margin = row[:len(row) - len(row.lstrip())]
    end = b"\r\n" if text.source.has_crlf else b"\n"
    comment = (
        margin + " ".join([comment_signs[0], "stilo: leave", *comment_signs[1:]]).encode() + end
    )
    after = text.raw[:start] + comment + text.raw[start:]
    try:
        result = reformat_styled(after.decode(), style, name=text.path)
    except StiloError:
        return
    if isinstance(result, Result) and result.directives.left:
        edit = Edit(start, start, comment)
        yield Action("Leave this item as it is", text.path, text.raw, [edit])


def setting_values(text: Snapshot, style: FileStyle, line: int, setting: str) -> Iterator[Action]:
    """Other values for a setting: for the project, for oneself, and for the line's block."""
    language = style.language
    known = language.settings[setting]
    others = [value for value in known.values_shown if value != style.values[setting]]
    for value in others[:MOST_VALUES]:
        said: dict[str, Value] = {setting: value}
        for where, path in _places(text.path):
            try:
                before = read_file(path, MOST_SETTINGS) if path.is_file() else None
                old = (before or b"").decode("utf-8-sig")
                new = into_toml(old, path, said, language.name)
            except (OSError, UnicodeDecodeError, StiloError, ValueError):
                continue
            edit = Edit(0, len(before or b""), new.encode())
            yield Action(f"Set {setting} to {value} {where}", str(path), before, [edit])
        if language.facts.comment_signs and not language.facts.is_notebook(text.path):
            after = into_source(text.raw.decode(), (line, line), said, language.facts.comment_signs)
            edits = [Edit(0, len(text.raw), after.encode())]
            try:
                result = reformat_styled(after, style, name=text.path)
            except StiloError:
                continue
            if isinstance(result, Result) and result.directives.regions:
                yield Action(f"Set {setting} to {value} for this line", text.path, text.raw, edits)


def _places(path: str) -> Iterator[tuple[str, Path]]:
    """Where a value can be saved: the project's file, and where there is none, a new one and the personal one."""
    folder = Path(path).absolute().parent
    try:
        config = Styles().project(folder)
    except ConfigError:
        return
    if config is not None:
        yield f"in {config.path.name}", config.path
        return
    yield f"in a new {PROJECT_FILE}", folder / PROJECT_FILE
    try:
        yield "for yourself", personal_path()  # which counts only where there is no project's
    except ConfigError:
        return
