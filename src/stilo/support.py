"""A language's own code, which stands beside its sheet."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from pathlib import Path
from typing import TYPE_CHECKING, Any, NamedTuple

from stilo.records import dataclass

if TYPE_CHECKING:
    from stilo.edits import Edit
    from stilo.readers.reader import Reader
    from stilo.sheet.properties import Value
    from stilo.tree.flat import Tree

#: Compares the bytes of two texts: 0 if they mean the same, else the line from which the second reads
#: differently. If the third argument is true, the margins of texts within them do not count.
#: Raises SyntaxError where the first cannot be read.
Check = Callable[[bytes, bytes, bool], int]


class Form(NamedTuple):
    """What in a text is to be written otherwise: where a finding stands, the edits, which go together, what the
    finding says, and the setting that asks for it."""

    at: int
    edits: tuple[Edit, ...]
    message: str
    setting: str


@dataclass(frozen=True)
class Support:
    """What a language does in code of its own. Each part may be missing.

    check: the check of results by the language's own rules.
    spelt_out: puts characters in the place of their numbers, where the language does so before all else.
    charset: the encoding in which the language reads a file. Raises SyntaxError.
    project_settings: the settings that follow from the file in which a project describes itself.
    standard_modules: the modules of the language's own library.
    names: the names that a module offers, read from other things than sources. Takes the module, what is
    asked for (see `order.catalogue`), and the paths of libraries; None if nothing is known.
    fault: where the language's own reader finds the first syntax error of a text: line and column from 1,
    and what is wrong. None if it finds none.
    reader: makes the reader of the language, in place of one over the grammar package that a sheet names.
    folders: where else the sources of modules are, for a project's folder.
    forms: what in a text is to be written otherwise by a style, though it says the same. Needs a check.
    """

    check: Check | None = None
    spelt_out: Callable[[bytes], bytes] | None = None
    charset: Callable[[bytes], str] | None = None
    project_settings: Callable[[Mapping[str, Any]], Mapping[str, str]] | None = None
    standard_modules: Callable[[], frozenset[str]] | None = None
    names: Callable[[str, str, tuple[str, ...]], frozenset[str] | None] | None = None
    folders: Callable[[Path], list[Path]] | None = None
    fault: Callable[[str], tuple[int, int, str] | None] | None = None
    reader: Callable[[], Reader] | None = None
    forms: Callable[[Tree, Mapping[str, Value]], Iterable[Form]] | None = None


NO_SUPPORT = Support()
