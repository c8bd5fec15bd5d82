"""Style sheets before and after, compared by a browser and by the tokens of the CSS standard.

    python bench/same_styles.py FOLDER … [--limit N] [--set NAME=VALUE] [--browser chromium]

Lays each style sheet out. A browser then reads both texts and tells all their rules, nested ones too, as it
writes them out itself (the CSS Object Model); and tinycss2 finds the rules, declarations and comments of both,
with white space where it counts. Prints how many are the same, and names those that are not. Needs a
browser of the Chromium family, and fetches nothing.
"""

from __future__ import annotations

import argparse
import json
import random
import re
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any

import stilo
from programs import difference

BATCH = 40
PAGE = r"""<!doctype html><meta charset="utf-8"><pre id="out"></pre>
<script type="application/json" id="pairs">%s</script>
<script>
function told(text) {
  const style = document.createElement("style");
  style.media = "not all";  /* nothing is fetched for it */
  style.textContent = text;
  document.head.append(style);
  /* Values with var() are told as they are written, for what white space there means nothing. */
  const rules = Array.from(style.sheet.cssRules, rule => rule.cssText.replace(/\s+/g, " ")
    .replace(/ ?, ?/g, ",").replace(/\( /g, "(").replace(/ \)/g, ")").replace(/: /g, ":"));
  style.remove();
  return rules;
}
const pairs = JSON.parse(document.getElementById("pairs").textContent);
document.getElementById("out").textContent = JSON.stringify(pairs.map(([before, after]) => {
  const [old, now] = [told(before), told(after)];
  const at = old.findIndex((rule, number) => rule !== now[number]);
  return { count: old.length, same: at < 0 && old.length === now.length,
           before: old[at] ?? "", after: now[at] ?? "" };
}));
</script>"""


def told(browser: str, pairs: list[tuple[str, str]]) -> list[dict[str, Any]]:
    """What a browser says of each pair of texts."""
    data = json.dumps(pairs).replace("</", "<\\/").replace("<!--", "<\\u0021--")
    with tempfile.TemporaryDirectory() as folder:
        page = Path(folder) / "page.html"
        page.write_text(PAGE % data, encoding="utf-8")
        command = [browser, "--headless", "--no-sandbox", "--disable-gpu", "--no-first-run"]
        command += ["--disable-background-networking", "--disable-component-update"]
        command += ["--disable-sync", "--disable-quic", f"--user-data-dir={folder}/user"]
        run = subprocess.run(
            [*command, "--dump-dom", page.as_uri()], capture_output=True, text=True, timeout=300
        )
    found = re.search(r'<pre id="out">(.*?)</pre>', run.stdout, re.DOTALL)
    if found is None or not found[1]:
        sys.exit(f"the browser gave no answer: {run.stderr[-500:]}")
    text = found[1].replace("&lt;", "<").replace("&gt;", ">").replace("&amp;", "&")
    answer: list[dict[str, Any]] = json.loads(text)
    return answer


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path, nargs="+")
    parser.add_argument("--limit", type=int, default=10 ** 9)
    parser.add_argument("--set", action="append", default=[], metavar="NAME=VALUE")
    parser.add_argument("--browser", default="chromium")
    arguments = parser.parse_args()
    language = stilo.load_language("css")
    style = dict(pair.split("=", 1) for pair in arguments.set)
    files = sorted(p for folder in arguments.folder for p in folder.rglob("*.css") if p.is_file())
    pairs: list[tuple[Path, str, str]] = []
    refused = unsettled = 0
    for path in random.Random(1).sample(files, min(arguments.limit, len(files))):
        try:
            before = path.read_bytes().decode()
            after = stilo.reformat(before, language, style).text
            again = stilo.reformat(after, language, style).text
        except (stilo.StiloError, UnicodeDecodeError) as error:
            print(f"refused: {path}: {error}")
            refused += 1
            continue
        if again != after:
            print(f"not settled: {path}")
            unsettled += 1
        pairs.append((path, before, after))
    rules = 0
    differ = set[Path]()
    for path, before, after in pairs:
        if what := difference("css", before.encode(), after.encode()):
            print(f"{path}: {what}")
            differ.add(path)
    for at in range(0, len(pairs), BATCH):
        batch = pairs[at : at + BATCH]
        answers = told(arguments.browser, [(before, after) for _, before, after in batch])
        for (path, *_), answer in zip(batch, answers):
            rules += answer["count"]
            if not answer["same"]:
                print(
                    f"other rules: {path}:\n  {answer['before'][:300]}\n  {answer['after'][:300]}"
                )
                differ.add(path)
    print(
        f"{len(files)} style sheets found, {len(pairs)} laid out, {refused} refused, {unsettled} not "
        f"settled; {rules} rules compared, {len(pairs) - len(differ)} style sheets the same"
    )
    return 1 if differ or unsettled else 0


if __name__ == "__main__":
    sys.exit(main())
