"""Whether Markdown says the same after it was laid out: by the HTML that is made of it.

    python bench/same_documents.py FOLDER … [--limit N] [--each]

Lays each document out and compares what markdown-it-py makes of it with what it made of the source, and so does
`cmark-gfm` (Debian's package of that name), where it is installed. White space that runs on counts as one space,
but not in preformatted text; code in fences is compared as it is, and left as it is for that. With --each, for each
value of each setting in turn; else in the default style. Then once more with code laid out, for which the second
run must change nothing. Prints counts, and names each document that differs. Fetches nothing.
"""

from __future__ import annotations

import argparse
import random
import re
import shutil
import subprocess
import sys
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from multiprocessing import get_context
from pathlib import Path

from markdown_it import MarkdownIt

import stilo

PRE = re.compile(r"(<pre\b.*?</pre>)", re.DOTALL)
GFM = shutil.which("cmark-gfm")
#: What is no part of a document, and is read as if it were by these.
FRONT = re.compile(rb"\A(---|\+\+\+)[ \t]*\n.*?\n\1[ \t]*\n", re.DOTALL)


def evened(html: str) -> str:
    """HTML with each run of white space as one space, but in preformatted text."""
    parts = PRE.split(re.sub(r"<br ?/?>\s*", "<br />", html))
    parts[::2] = [
        re.sub(
            r"\s*(</?(?:p|li|ul|ol|h\d|td|th|tr|blockquote)>)\s*", r"\1", re.sub(r"\s+", " ", part)
        )
        for part in parts[::2]
    ]
    return "".join(parts).strip()


def pages(data: bytes) -> Iterator[str]:
    """The HTML of a document, by each converter."""
    data = FRONT.sub(b"", data.removeprefix(b"\xef\xbb\xbf").replace(b"\r\n", b"\n"))
    yield evened(MarkdownIt("commonmark").enable(["table", "strikethrough"]).render(data.decode()))
    if GFM is not None:
        command = [GFM, "--unsafe", "-e", "table", "-e", "strikethrough"]
        found = subprocess.run(command, input=data, capture_output=True, check=True)
        yield evened(found.stdout.decode("utf-8", "replace"))


def outcome(job: tuple[Path, dict[str, str | int]]) -> tuple[str, str]:
    """What became of a document in a style: one word, and what there is to say."""
    path, style = job
    raw = path.read_bytes()
    try:
        styles = stilo.Styles(style, "default", "markdown")
        result = stilo.reformat_styled(raw, styles.of(path), name=path.name)
        again = stilo.reformat_styled(result.data, styles.of(path), name=path.name)
    except stilo.StiloError as error:
        return "refused", str(error)
    if again.changed:
        return "unsettled", str(path)
    if style["code-blocks"] == "laid-out":
        return "laid out", str(len(result.results) - 1)
    for before, after in zip(pages(raw), pages(result.data)):
        if before != after:
            return "different", str(path)
    return "same", ""


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path, nargs="+")
    parser.add_argument("--limit", type=int, default=10 ** 9)
    parser.add_argument("--each", action="store_true")
    parser.add_argument("--jobs", type=int, default=2)
    arguments = parser.parse_args()
    language = stilo.load_language("markdown")
    paths = sorted(p for f in arguments.folder for g in language.facts.globs for p in f.rglob(g))
    paths = random.Random(3).sample(paths, min(arguments.limit, len(paths)))
    styles: list[dict[str, str | int]] = [{}]
    if arguments.each:
        styles += [
            {setting.name: value, **({"paragraphs": "flow"} if setting.name == "width" else {})}
            for setting in language.settings.values()
            for value in setting.values_shown
            if value != setting.default and setting.name not in ("charset", "code-blocks")
        ]
    styles = [{**style, "code-blocks": "keep"} for style in styles] + [{"code-blocks": "laid-out"}]
    failed = 0
    with ProcessPoolExecutor(arguments.jobs, mp_context=get_context("spawn")) as pool:
        for style in styles:
            counts: Counter[str] = Counter()
            texts = 0
            for word, said in pool.map(outcome, [(p, style) for p in paths], chunksize=8):
                counts[word] += 1
                texts += int(said) if word == "laid out" else 0
                if word not in ("same", "laid out"):
                    print(f"  {word}: {said[:200]}")
            failed += counts["different"] + counts["unsettled"]
            shown = " ".join(f"{name}={value}" for name, value in style.items())
            print(
                f"{shown}: {dict(counts)}" + (f", {texts} texts within" if texts else ""),
                flush=True
            )
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
