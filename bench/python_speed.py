"""The whole job for ten large modules against `tokenize.tokenize` on the same, in one run.

    python bench/python_speed.py
"""

from __future__ import annotations

import gc
import io
import sys
import sysconfig
import time
import tokenize
from pathlib import Path

import stilo

MODULES = "typing argparse datetime _pydecimal inspect subprocess tarfile doctest pydoc turtle"


def main() -> int:
    gc.set_threshold(200_000, 50, 50)  # as the command line does
    library = Path(sysconfig.get_path("stdlib"))
    texts = [(library / f"{name}.py").read_bytes() for name in MODULES.split()]
    language = stilo.load_language("python")
    stilo.reformat(texts[0], language)
    begin = time.perf_counter()
    for text in texts:
        list(tokenize.tokenize(io.BytesIO(text).readline))
    tokenized = time.perf_counter() - begin
    begin = time.perf_counter()
    for text in texts:
        stilo.reformat(text, language)
    ratio = (time.perf_counter() - begin) / tokenized
    lines = sum(text.count(b"\n") for text in texts)
    print(f"{lines} lines: {ratio:.2f} times tokenize ({tokenized:.2f} s)")
    return 0 if ratio <= 2.5 else 1


if __name__ == "__main__":
    sys.exit(main())
