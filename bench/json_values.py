"""JSON: values before and after, and one line of 5 MB.

    python bench/json_values.py FOLDER [--limit N] [--megabytes 5]

Lays out every *.json below a folder that `json.loads` reads, and compares the
values. Then makes one line of the given size, lays it out, and prints time and
memory beside `json.loads` + `json.dumps(indent=2)` in the same run.
"""

from __future__ import annotations

import argparse
import json
import random
import resource
import sys
import time
from pathlib import Path

import stilo


def one_line(megabytes: float) -> str:
    """Berths of Skerry Line, as JSON in one line of about this size."""
    chance = random.Random(7)
    berths = []
    size = 0
    while size < megabytes * 1e6:
        number = len(berths)
        berth = {
            "id": number,
            "name": f"Skerry {number}",
            "lanes": [chance.randint(1, 999) for _ in range(8)],
            "open": number % 3 == 0,
            "rate": round(chance.random() * 100, 2),
            "tags": ["deck", "car", "van"],
            "notes": None if number % 5 else "tide \u00e9 dependent",
        }
        berths.append(berth)
        size += len(json.dumps(berth, separators=(",", ":"))) + 1
    return json.dumps(berths, separators=(",", ":"))


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path)
    parser.add_argument("--limit", type=int, default=10 ** 9)
    parser.add_argument("--megabytes", type=float, default=5)
    arguments = parser.parse_args()

    read = equal = refused = 0
    for path in sorted(arguments.folder.rglob("*.json"))[:arguments.limit]:
        try:
            value = json.loads(path.read_bytes().removeprefix(b"\xef\xbb\xbf"))
        except ValueError:
            continue
        read += 1
        try:
            result = stilo.reformat_file(path)
        except stilo.StiloError as error:
            refused += 1
            print(error)
            continue
        if json.loads(result.text) == value:
            equal += 1
        else:
            print(f"differs: {path}")
    print(f"files: {read}, values equal: {equal}, refused: {refused}")

    text = one_line(arguments.megabytes)
    start = time.process_time()
    value = json.loads(text)
    json.dumps(value, indent=2)
    base = time.process_time() - start
    start = time.process_time()
    result = stilo.reformat(text, "json")
    whole = time.process_time() - start
    same = json.loads(result.text) == value
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(
        f"one line of {len(text) / 1e6:.1f} MB: {result.text.count(chr(10))} lines, "
        f"values equal: {same}, {whole:.2f} s, {whole / base:.1f} times loads + dumps(indent=2), "
        f"peak memory {peak:.0f} MB"
    )
    return 0 if read == equal and same else 1


if __name__ == "__main__":
    sys.exit(main())
