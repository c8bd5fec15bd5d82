"""Whether pages show the same in a browser after they were laid out.

    python bench/same_pages.py FOLDER … [--limit N] [--each-folder N] [--set NAME=VALUE]… [--code]

Lays each page out, has Chromium (Debian's packages chromium and chromium-driver, driven by the package selenium)
show it before and after, and compares: all elements with their attributes, in order; the text that each element
shows which holds no other; the text of the whole page; and a picture of it at three widths. Scripts of pages are
not run, and nothing but the folders is served. Scripts and style sheets in pages stay as they are; with --code they
are laid out, too. A second run must change nothing. Prints counts, and names each page that differs.
"""

from __future__ import annotations

import argparse
import base64
import functools
import random
import sys
import threading
from collections import Counter, defaultdict
from http.server import SimpleHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import Any
from urllib.parse import quote, unquote, urlsplit

from selenium import webdriver

import stilo

WIDTHS = (400, 800, 1280)
FLAGS = (
    "--headless=new",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--hide-scrollbars",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE 127.0.0.1",
    "--force-prefers-reduced-motion",
)
SAID = r"""
const found = [];
const valueOf = a => a.name === 'class' ? a.value.trim().replace(/\s+/g, ' ') : a.value;  // a list of words
for (const node of document.querySelectorAll('*')) {
  const attributes = Array.from(node.attributes, a => a.name + '=' + valueOf(a)).join(' ');
  const isCode = ['SCRIPT', 'STYLE'].includes(node.tagName);
  const isLeaf = !node.children.length && !isCode;
  const isShown = node.innerText !== undefined && node.getClientRects().length > 0;
  const text = isShown ? node.innerText : node.textContent.trim().replace(/\s+/g, ' ');
  found.push([node.tagName, attributes, isLeaf ? text : '']);
}
return [found, document.body ? document.body.innerText : ''];
"""


class Pages(SimpleHTTPRequestHandler):
    """Serves files, some of them with other bytes if they are asked for so."""

    after: dict[str, bytes] = {}

    def do_GET(self) -> None:
        """Answer with the bytes of a result, or with the file."""
        parts = urlsplit(self.path)
        found = self.after.get(unquote(parts.path)) if parts.query == "after" else None
        if found is None:
            super().do_GET()
            return
        self.send_response(200)
        self.send_header("Content-Type", self.guess_type(parts.path))
        self.send_header("Content-Length", str(len(found)))
        self.end_headers()
        self.wfile.write(found)

    def log_message(self, format: str, *args: Any) -> None:
        """Say nothing."""


def browser() -> webdriver.Chrome:
    options = webdriver.ChromeOptions()
    options.binary_location = "/usr/bin/chromium"
    for flag in FLAGS:
        options.add_argument(flag)
    options.add_experimental_option(
        "prefs", {"profile.managed_default_content_settings.javascript": 2}
    )
    service = webdriver.ChromeService("/usr/bin/chromedriver")
    driver = webdriver.Chrome(options, service)
    driver.set_page_load_timeout(30)
    return driver


def shown(driver: webdriver.Chrome, url: str) -> tuple[Any, list[bytes]]:
    """What a page says, and its pictures."""
    driver.get(url)
    said = driver.execute_script(SAID)
    pictures = []
    for width in WIDTHS:
        driver.execute_cdp_cmd(
            "Emulation.setDeviceMetricsOverride",
            {"width": width, "height": 3000, "deviceScaleFactor": 1, "mobile": False},
        )
        taken = driver.execute_cdp_cmd("Page.captureScreenshot", {"format": "png"})
        pictures.append(base64.b64decode(taken["data"]))
    return said, pictures


def paths_in(folders: list[Path], limit: int, each: int) -> list[Path]:
    """Some pages, so that no folder has most of them."""
    groups: dict[Path, list[Path]] = defaultdict(list)
    for folder in folders:
        for path in sorted((*folder.rglob("*.html"), *folder.rglob("*.htm"))):
            if path.is_file() and 200 < path.stat().st_size < 200_000:
                groups[path.parent].append(path)
    chance = random.Random(5)
    found = [p for group in groups.values() for p in chance.sample(group, min(each, len(group)))]
    chance.shuffle(found)
    return found[:limit]


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path, nargs="+")
    parser.add_argument("--limit", type=int, default=500)
    parser.add_argument("--each-folder", type=int, default=5)
    parser.add_argument("--set", action="append", default=[])
    parser.add_argument("--code", action="store_true")
    parser.add_argument("--keep", type=Path, help="where to write pictures that differ")
    arguments = parser.parse_args()
    style: dict[str, str | int] = dict(pair.split("=", 1) for pair in arguments.set)
    if not arguments.code:
        style.update(scripts="keep", styles="keep")
    handler = functools.partial(Pages, directory="/")
    server = ThreadingHTTPServer(("127.0.0.1", 0), handler)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    driver = browser()
    counts: Counter[str] = Counter()
    for path in paths_in(
        [f.resolve() for f in arguments.folder], arguments.limit, arguments.each_folder
    ):
        raw = path.read_bytes()
        styles = stilo.Styles(style, "default", "html")
        try:
            result = stilo.reformat_styled(raw, styles.of(path), name=path.name)
            again = stilo.reformat_styled(result.data, styles.of(path), name=path.name)
        except stilo.StiloError as error:
            counts["refused"] += 1
            print(f"  refused: {path}: {error}", flush=True)
            continue
        if again.changed:
            counts["unsettled"] += 1
            print(f"  unsettled: {path}", flush=True)
        url = f"http://127.0.0.1:{server.server_port}{quote(str(path))}"
        Pages.after = {str(path): result.data}
        try:
            before, after = shown(driver, url), shown(driver, f"{url}?after")
            if before != after:
                before = shown(driver, url)  # a picture may have come late
                after = shown(driver, f"{url}?after")
        except Exception as error:  # the driver's own
            counts["not shown"] += 1
            print(f"  not shown: {path}: {str(error)[:100]}", flush=True)
            driver.quit()
            driver = browser()
            continue
        outcome = (
            "same" if before == after
            else "other text" if before[0] != after[0]
            else "other picture"
        )
        counts[outcome] += 1
        if outcome != "same":
            print(f"  {outcome}: {path}", flush=True)
            if arguments.keep is not None:
                arguments.keep.mkdir(exist_ok=True)
                for number, pair in enumerate(zip(before[1], after[1])):
                    for name, picture in zip(("before", "after"), pair):
                        (arguments.keep / f"{path.stem}-{number}-{name}.png").write_bytes(picture)
    driver.quit()
    server.shutdown()
    print(f"{dict(counts)} in a browser, at widths of {', '.join(map(str, WIDTHS))}")
    return 0 if counts["same"] == sum(counts.values()) else 1


if __name__ == "__main__":
    sys.exit(main())
