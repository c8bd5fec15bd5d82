"""What TypeScript's own compiler makes of texts of JavaScript and TypeScript: asked of one process of Node.js."""

from __future__ import annotations

import json
import subprocess
from functools import lru_cache
from pathlib import Path
from typing import Any, NamedTuple

#: Per language, a name by which the compiler knows how a text is to be read.
NAMES = {"javascript": "unit.jsx", "typescript": "unit.ts", "tsx": "unit.tsx"}


class Seen(NamedTuple):
    """The tree of a text as the compiler reads it, or None, and its comments."""

    tree: str | None
    comments: list[str]


class Compiler:
    """The compiler, started once. package: the folder of the npm package `typescript`."""

    def __init__(self, package: Path) -> None:
        script = Path(__file__).parent / "script_tree.cjs"
        self._process: Any = subprocess.Popen(
            ["node", str(script), str(package.resolve())],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            text=True,
            encoding="utf-8",
        )
        self.see = lru_cache(maxsize=20)(self._see)

    def _see(self, language: str, text: str) -> Seen:
        self._process.stdin.write(json.dumps({"path": NAMES[language], "text": text}) + "\n")
        self._process.stdin.flush()
        answer = json.loads(self._process.stdout.readline())
        return Seen(answer["tree"], answer["comments"])
