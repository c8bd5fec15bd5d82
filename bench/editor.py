"""The language server as an editor meets it: how fast it answers, and whether it is right after random edits.

    python bench/editor.py start FILE [--times N]
    python bench/editor.py speed FILE... [--times N]
    python bench/editor.py random FOLDER|FILE --language java [--edits N] [--seed N]

`start` starts a server again and again, and prints how long it takes to be told what it can do, and to lay out the
whole of the file, the first request. `speed` opens each file laid out, and prints, in milliseconds (median and 95th percentile of whole
answers, as the client sees them): a statement spoilt and its end typed, then laid out on type; a
statement spoilt, then the whole laid out; and the full job for the same text. Each answer is compared
with the text as it was. The times taken while the machine was idle are also printed by themselves. `random` makes random edits in the files of a folder and random requests; after a tenth of
them the whole is laid out and compared with what the library gives, each answer must keep all signs, and the memory of
the server is printed on the way. A single file stays open all the time: after five edits its text is put back by
one more, as undo does. Talks to `stilo serve` over standard input and output; fetches nothing.
"""

from __future__ import annotations

import argparse
import json
import random
import re
import statistics
import subprocess
import sys
import tempfile
import time
from collections import Counter
from pathlib import Path
from typing import Any

import stilo
from corpus import files_of

#: What ends a statement as it is typed; elsewhere the end of its line does.
SIGNS = dict.fromkeys(["java", "c", "cpp", "csharp", "javascript", "typescript"], ";")
#: The errors that the protocol names for an answer that cannot be given.
NAMED = {-32803: "request failed", -32801: "content modified", -32800: "cancelled"}
OPTIONS = {"tabSize": 4, "insertSpaces": True}


class Server:
    """A server in a process of its own, and the texts that it has."""

    def __init__(self) -> None:
        self.process = subprocess.Popen(
            [sys.executable, "-P", "-m", "stilo", "serve"],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
        )
        self.texts: dict[str, bytes] = {}
        self._next = 0
        encodings = {"general": {"positionEncodings": ["utf-8"]}}
        start = {"processId": None, "rootUri": None, "capabilities": encodings}
        self.ask("initialize", start)
        self.tell("initialized", {})

    def _send(self, message: dict[str, Any]) -> None:
        assert self.process.stdin is not None
        body = json.dumps({"jsonrpc": "2.0", **message}).encode()
        self.process.stdin.write(b"Content-Length: %d\r\n\r\n%s" % (len(body), body))
        self.process.stdin.flush()

    def _read(self) -> dict[str, Any]:
        assert self.process.stdout is not None
        length = 0
        while (line := self.process.stdout.readline()) != b"\r\n":
            if not line:
                raise SystemExit("the server has ended")
            if line.lower().startswith(b"content-length"):
                length = int(line.split(b":")[1])
        found: dict[str, Any] = json.loads(self.process.stdout.read(length))
        return found

    def tell(self, method: str, params: object) -> None:
        self._send({"method": method, "params": params})

    def ask(self, method: str, params: object) -> tuple[Any, int, float]:
        """The answer, the code of an error or 0, and the seconds it took."""
        self._next += 1
        start = time.perf_counter()
        self._send({"id": self._next, "method": method, "params": params})
        while (answer := self._read()).get("id") != self._next:
            pass
        took = time.perf_counter() - start
        return answer.get("result"), answer.get("error", {}).get("code", 0), took

    def open(self, uri: str, language: str, text: bytes) -> None:
        self.texts[uri] = text
        item = {"uri": uri, "languageId": language, "version": 0, "text": text.decode()}
        self.tell("textDocument/didOpen", {"textDocument": item})

    def close(self, uri: str) -> None:
        del self.texts[uri]
        self.tell("textDocument/didClose", {"textDocument": {"uri": uri}})

    def edit(self, uri: str, start: int, end: int, new: bytes) -> None:
        text = self.texts[uri]
        change = {
            "range": {"start": place(text, start), "end": place(text, end)}, "text": new.decode()
        }
        self.texts[uri] = text[:start] + new + text[end:]
        self._next += 1
        document = {"uri": uri, "version": self._next}
        params = {"textDocument": document, "contentChanges": [change]}
        self.tell("textDocument/didChange", params)

    def layout(self, uri: str, kind: str, **more: object) -> tuple[bytes, int, float]:
        """The text with the edits of an answer, the code of an error or 0, and the seconds."""
        params = {"textDocument": {"uri": uri}, "options": OPTIONS, **more}
        edits, code, took = self.ask(f"textDocument/{kind}", params)
        return applied(self.texts[uri], edits or []), code, took

    def memory(self) -> int:
        """The resident memory of the server once it has rested for a second, in MiB."""
        time.sleep(1)
        status = Path(f"/proc/{self.process.pid}/status").read_text()
        return int(status.partition("VmRSS:")[2].split()[0]) >> 10


def place(text: bytes, at: int) -> dict[str, int]:
    return {"line": text.count(b"\n", 0, at), "character": at - text.rfind(b"\n", 0, at) - 1}


def applied(text: bytes, edits: list[dict[str, Any]]) -> bytes:
    starts = [0, *(found.end() for found in re.finditer(b"\n", text))]
    pieces, at = [], 0
    for edit in edits:
        start, end = (
            starts[edit["range"][side]["line"]] + edit["range"][side]["character"]
            for side in ("start", "end")
        )
        pieces += [text[at:start], edit["newText"].encode()]
        at = end
    return b"".join([*pieces, text[at:]])


# Times


class Times:
    """Seconds that were measured, and how busy the machine was right after each: its cores have other users,
    who slow it down to a half."""

    #: A sum that takes so many times its least time tells that the machine was busy.
    IDLE = 1.3
    least = 1.0

    def __init__(self) -> None:
        self._found: list[tuple[float, float]] = []

    def add(self, seconds: float) -> None:
        sum_took = self._sum()
        Times.least = min(Times.least, sum_took)
        self._found.append((seconds, sum_took))

    def leave_first(self) -> None:
        del self._found[0]

    def show(self, name: str) -> None:
        """Print the median and the 95th percentile: of all, and of those while the machine was idle."""
        idle = [seconds for seconds, busy in self._found if busy < self.IDLE * self.least]
        self._print(name, [seconds for seconds, _ in self._found])
        if len(idle) > 1:
            self._print(f"  the {len(idle)} of {len(self._found)} while idle", idle)

    def _print(self, name: str, seconds: list[float]) -> None:
        found = sorted(1000 * s for s in seconds)
        median, high = statistics.median(found), found[int(len(found) * 0.95)]
        print(f"  {name:42}{median:8.1f} ms median{high:8.1f} ms 95th percentile")

    def _sum(self) -> float:
        begin = time.perf_counter()
        sum(range(300_000))
        return time.perf_counter() - begin


# Start


def start(path: Path, times: int) -> int:
    language, text = stilo.language_for_file(path), path.read_bytes()
    told, first = Times(), Times()
    for _ in range(times + 1):
        begin = time.perf_counter()
        server = Server()
        told.add(time.perf_counter() - begin)
        server.open(path.absolute().as_uri(), language, text)
        first.add(server.layout(path.absolute().as_uri(), "formatting")[2])
        server.process.kill()
        server.process.wait()
    print(
        f"{path.name}: {text.count(10)} lines of {language}, {times} starts after one that is not counted"
    )
    told.leave_first()
    first.leave_first()
    told.show("until the editor is told what it can ask")
    first.show("the first request")
    return 0


# Speed


def speed(paths: list[Path], times: int) -> int:
    server, chance = Server(), random.Random(20)
    wrong = 0
    for path in paths:
        language = stilo.language_for_file(path)
        OPTIONS["tabSize"] = int(stilo.load_language(language).values({})["indent"])
        text = stilo.reformat(path.read_bytes().replace(b"\r\n", b"\n"), language).data
        uri = (Path(tempfile.gettempdir()) / f"stilo-bench{path.suffix}").as_uri()
        server.open(uri, language, text)
        whole = Times()
        whole.add(server.layout(uri, "formatting")[2])
        sign = SIGNS.get(language, "\n")
        typed, after = Times(), Times()
        rows = [0, *(found.end() for found in re.finditer(b"\n", text))]
        chosen = [n for n in range(len(rows) - 1) if spoilt(text[rows[n]:rows[n + 1]], sign)]
        for number in chance.choices(chosen, k=times):
            start, end = rows[number], rows[number + 1] - 1
            worse = spoilt(text[start : end + 1], sign)
            assert worse is not None
            server.edit(uri, start, end, worse.rstrip(b"\n;") if sign == ";" else worse[:-1])
            at = start + len(server.texts[uri]) - len(text) + end - start
            server.edit(uri, at, at, sign.encode())
            cursor = place(server.texts[uri], at + 1)
            found, _, took = server.layout(uri, "onTypeFormatting", position=cursor, ch=sign)
            typed.add(took)
            now, lines = server.texts[uri], (number + 1, number + 1)
            wanted = stilo.reformat(now.decode(), language, lines=lines).data
            wrong += told(found, wanted, path, number)
            if sign == "\n":
                server.edit(uri, at, at + 1, b"")
            found, _, took = server.layout(uri, "formatting")
            after.add(took)
            wanted = stilo.reformat(server.texts[uri].decode(), language).data
            wrong += told(found, wanted, path, number)
            back = len(server.texts[uri]) - len(text)
            server.edit(uri, start, end + back, text[start:end])
            server.layout(uri, "formatting")
        server.close(uri)
        for _ in range(3):
            server.open(uri, language, text)
            whole.add(server.layout(uri, "formatting")[2])
            server.close(uri)
        print(f"{path.name}: {text.count(10)} lines of {language}, {times} statements")
        typed.show("a statement on type")
        after.show("the whole after one statement")
        whole.show("the whole, full job")
    print(f"{wrong} answers were not as they should be")
    return 1 if wrong else 0


def told(found: bytes, wanted: bytes, path: Path, row: int) -> bool:
    """Whether an answer is wrong, which is printed."""
    if found != wanted:
        rows = zip(found.split(b"\n"), wanted.split(b"\n"))
        first = next(((one, other) for one, other in rows if one != other), None)
        print(f"{path.name}:{row + 1}: {first}")
    return found != wanted


def spoilt(line: bytes, sign: str) -> bytes | None:
    """A line that ends a statement, with more spaces in it; None of another line."""
    solid = line.strip()
    is_end = solid.endswith(b";") if sign == ";" else re.match(rb"[\w.]+ = [\w.]+$", solid)
    if not is_end or solid.startswith((b"*", b"/", b"#", b"import")) or b" = " not in solid:
        return None
    return line.replace(b" = ", b"   =   ", 1)


# Random edits


def edited(text: bytes, chance: random.Random) -> tuple[int, int, bytes]:
    """A random edit of a text: white space, a line gone or doubled, a sign, a word, a statement."""
    at = chance.randrange(len(text) + 1)
    while at < len(text) and text[at] & 0xC0 == 0x80:
        at += 1
    line, end = text.rfind(b"\n", 0, at) + 1, text.find(b"\n", at) + 1 or len(text)
    kind = chance.randrange(8)
    if kind < 3:
        return at, at, chance.choice([b" ", b"\n", b"    ", b"\n\n"])
    if kind == 3:
        return line, end, b""
    if kind == 4:
        return line, line, text[line:end]
    if kind == 5:
        return at, at, chance.choice([b"(", b")", b"}", b";", b",", b"\xf0\x9f\x9a\xa2"])
    blank = re.search(rb"[ \n]+", text[at : at + 60])
    start = at + blank.start() if blank else at
    return start, start + (len(blank[0]) if blank else 0), chance.choice([b" ", b"\n", b"  "])


def random_edits(folder: Path, language: str, count: int, seed: int) -> int:
    known = stilo.load_language(language)
    paths = [folder] if folder.is_file() else files_of([folder], known.facts.globs)
    OPTIONS["tabSize"] = int(known.values({})["indent"])  # so that the editor asks for what the style says
    server, chance, seen, wrong = Server(), random.Random(seed), Counter[str](), 0
    done = 0
    while done < count:
        path = chance.choice(paths)
        text = path.read_bytes()
        try:
            text.decode()
        except UnicodeDecodeError:
            continue
        if len(paths) > 1 and (b"\r" in text or b"\0" in text or not 200 < len(text) < 200_000):
            continue
        uri = (Path(tempfile.gettempdir()) / f"stilo-bench{path.suffix}").as_uri()
        if uri in server.texts:
            server.edit(uri, 0, len(server.texts[uri]), text)
        else:
            server.open(uri, language, text)
        for _ in range(min(50 if len(paths) > 1 else 5, count - done)):
            done += 1
            text = server.texts[uri]
            if len(text) < 50:
                break
            at, end, new = edited(text, chance)
            server.edit(uri, at, end, new)
            text = server.texts[uri]
            kind = chance.choice(["formatting", "rangeFormatting", "onTypeFormatting"])
            more: dict[str, object] = {}
            if kind == "rangeFormatting":
                last = min(len(text), at + chance.choice([0, 0, 80, 800]))
                last -= next(
                    (
                        n
                        for n in range(4)
                        if (text[last - n : last - n + 1] or b"a")[0] & 0xC0 != 0x80
                    ),
                    0
                )
                more["range"] = {"start": place(text, at), "end": place(text, last)}
            elif kind == "onTypeFormatting":
                ends = [m.end() for m in re.finditer(rb"[;}\n]", text)] or [0]
                near = min(ends, key=lambda place: abs(place - at))
                more = {"position": place(text, near), "ch": text[near - 1 : near].decode()}
            found, code, _ = server.layout(uri, kind, **more)
            seen[f"{kind}: {NAMED.get(code, code) if code else 'answered'}"] += 1
            if code and code not in NAMED:
                wrong += 1
            if signs(found) != signs(text):
                wrong += 1
                print(f"{path}: {kind} loses or adds signs (edit {done})")
            if chance.random() < 0.1:
                wanted = by_library(text, known)
                whole = found if kind == "formatting" else server.layout(uri, "formatting")[0]
                seen["compared with the library"] += wanted is not None
                if wanted is not None and whole != wanted:
                    wrong += 1
                    print(f"{path}: another result than the library's (edit {done})")
            if chance.random() < 0.5 and not code and kind != "onTypeFormatting":
                server.edit(uri, 0, len(text), found)
            if done == 100 or done % 1_000 == 0:
                print(f"after {done} edits: {server.memory()} MiB", flush=True)
        if len(paths) > 1:
            server.close(uri)
    print(f"after {done} edits: {server.memory()} MiB")
    for name, number in sorted(seen.items()):
        print(f"{number:8} {name}")
    print(f"{wrong} wrong")
    return 1 if wrong else 0


def by_library(text: bytes, language: stilo.Language) -> bytes | None:
    """What the library makes of a text; None if it refuses it."""
    try:
        return stilo.reformat(text.decode(), language).data
    except stilo.StiloError:
        return None


def signs(text: bytes) -> bytes:
    """All but white space, and the signs that a layout may add or take away."""
    return re.sub(rb"[\s,()\\;]", b"", text)


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("what", choices=["start", "speed", "random"])
    parser.add_argument("path", type=Path, nargs="+")
    parser.add_argument("--language", default="python")
    parser.add_argument("--times", type=int, default=100)
    parser.add_argument("--edits", type=int, default=1_000)
    parser.add_argument("--seed", type=int, default=1)
    arguments = parser.parse_args()
    if arguments.what == "start":
        return start(arguments.path[0], arguments.times)
    if arguments.what == "speed":
        return speed(arguments.path, arguments.times)
    return random_edits(arguments.path[0], arguments.language, arguments.edits, arguments.seed)


if __name__ == "__main__":
    sys.exit(main())
