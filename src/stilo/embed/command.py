"""Commands of the user's own that lay out texts in languages that are none of ours: text in, text out.

What a command gives is taken only if it differs from the text in no more than white space between words, and
if the command changes nothing in it when it is run once more.
"""

from __future__ import annotations

import os
import re
import shutil
import signal
import subprocess
from collections.abc import Sequence
from functools import lru_cache
from pathlib import Path
from tempfile import TemporaryFile

from stilo.errors import CommandFailed

#: Seconds that a command may take for a text, and how many times longer than the text its answer may be.
LIMIT = 10.0
MOST_GROWTH, LEAST_ANSWER = 20, 100_000
#: Texts in quotes, comments to the end of a line, words, and all other signs.
_WORDS = re.compile(r"""'[^'\n]*'|"[^"\n]*"|`[^`\n]*`|(?:--|//|\#)[^\n]*|\w+|[^\w\s]""", re.VERBOSE)
_UNCLEAR = frozenset("'\"`\\")
#: Signs beside which white space may come and go: brackets and separators, and beside words operators, too.
_BRACKETS, _OPERATORS = frozenset("()[]{},;"), frozenset("=<>+-*/|!^~")


def words_of(text: str) -> object:
    """All that a text says as far as that can be known without its language: its words and other signs, and
    which of these must stand side by side. None where white space in it may mean something."""
    words: list[str] = []
    joined: list[bool] = []
    end = -1
    for found in _WORDS.finditer(text):
        word = found.group().rstrip()
        if word in _UNCLEAR:
            return None  # it is not known where the text in quotes ends
        is_joined = found.start() == end and not _is_free(words[-1][-1], word[0])
        words.append(word)
        joined.append(is_joined)
        end = found.end()
    return words, joined


def _is_free(before: str, after: str) -> bool:
    """Whether white space may come and go between two signs at the ends of words."""
    if before in _BRACKETS or after in _BRACKETS:
        return True
    return (before in _OPERATORS) != (after in _OPERATORS)


def run_command(words: Sequence[str], text: str, width: int) -> str:
    """What a command makes of a text on its standard input.

    words: the program and its arguments, in which `{width}` stands for the columns that are left. It runs in
    the user's home folder, without a shell. Raises CommandFailed.
    """
    said = words_of(text)
    if said is None:
        raise CommandFailed("where its texts in quotes end is not known without its language")
    new = _answer(tuple(words), text, width)
    if words_of(new) != said:
        raise CommandFailed("the command changes more than white space")
    if _answer(tuple(words), new, width) != new:
        raise CommandFailed("the command changes it once more on a second run")
    return new


@lru_cache(maxsize=1000)
def _answer(words: tuple[str, ...], text: str, width: int) -> str:
    """The answer of a command, without blank lines around it. Raises CommandFailed."""
    program = found_program(words[0])
    arguments = [word.replace("{width}", str(width)) for word in words[1:]]
    with TemporaryFile() as source, TemporaryFile() as answer:
        source.write(text.encode())
        source.seek(0)
        try:
            process = subprocess.Popen(
                [program, *arguments],
                stdin=source,
                stdout=answer,
                stderr=subprocess.DEVNULL,
                cwd=Path.home(),
                start_new_session=True,
            )
        except (OSError, RuntimeError) as error:
            raise CommandFailed(
                f"{words[0]} cannot be started: {error.strerror if isinstance(error, OSError) else error}"
            ) from error
        try:
            status = process.wait(LIMIT)
        except subprocess.TimeoutExpired as error:
            raise CommandFailed(f"{words[0]} took more than {LIMIT:g} s") from error
        finally:
            _end(process)
        if status:
            raise CommandFailed(f"{words[0]} ended with status {status}")
        answer.seek(0)
        most = LEAST_ANSWER + MOST_GROWTH * len(text)
        data = answer.read(most + 1)
    if len(data) > most:
        raise CommandFailed(f"the answer of {words[0]} is too long")
    try:
        lines = data.decode().replace("\r\n", "\n").split("\n")
    except UnicodeDecodeError as error:
        raise CommandFailed(f"the answer of {words[0]} is not UTF-8") from error
    return "\n".join(line.rstrip() for line in lines).strip("\n")


def _end(process: subprocess.Popen[bytes]) -> None:
    """End a process with all that it began."""
    try:
        os.killpg(process.pid, signal.SIGKILL)
    except (OSError, AttributeError):
        process.kill()
    process.wait()


def found_program(name: str) -> str:
    """The path of a program: whole, from the home folder (`~/…`), or found in the folders of PATH that are named
    by whole paths. Raises CommandFailed."""
    path = os.path.expanduser(name)
    if os.path.isabs(path):
        return path
    folders = [f for f in os.environ.get("PATH", "").split(os.pathsep) if os.path.isabs(f)]
    found = None if os.sep in path else shutil.which(path, path=os.pathsep.join(folders))
    if found is None:
        raise CommandFailed(f"no program {name} is found")
    return found
