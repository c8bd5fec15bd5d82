"""The time to find the style of 10,000 files in 1,000 folders, against that of laying them out.

    python bench/resolving.py FOLDER --language java

The files are those of FOLDER, over and over, in a temporary tree with a project file, a shared one
in every tenth folder, and EditorConfig files in every third. All styles are found; of the files, a
sample by chance is laid out, and the time for all follows from that.
"""

from __future__ import annotations

import argparse
import random
import sys
import tempfile
import time
from itertools import cycle
from pathlib import Path

import stilo
from corpus import files_of

PROJECT = """\
style = "allman"
width = 90
arguments.wrap = "flow"
skip = ["generated/", "*.min.json"]
[java]
indent = 2
[json]
indent = 2
"""
EDITORCONFIG = (
    "[*]\nindent_style = space\n[*.{java,json}]\nindent_size = 3\n[lib/**.js]\ntab_width = 8\n"
)


def build(root: Path, sources: list[Path], files: int, folders: int) -> list[Path]:
    """Write the tree; the paths of its files."""
    (root / "stilo.toml").write_text(PROJECT)
    (root / ".editorconfig").write_text("root = true\n" + EDITORCONFIG)
    paths = []
    source = cycle(sources)
    for number in range(folders):
        folder = root / f"part{number // 100}" / f"area{number // 10 % 10}" / f"module{number % 10}"
        folder.mkdir(parents=True)
        if not number % 3:
            (folder / ".editorconfig").write_text(EDITORCONFIG)
        if not number % 10:
            (folder / "pyproject.toml").write_text("[tool.stilo]\nwidth = 80\n")
        for index in range(files // folders):
            origin = next(source)
            path = folder / f"File{index}{origin.suffix}"
            path.symlink_to(origin.resolve())
            paths.append(path)
    return paths


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path, nargs="+")
    parser.add_argument("--language", required=True)
    parser.add_argument("--files", type=int, default=10_000)
    parser.add_argument("--folders", type=int, default=1_000)
    parser.add_argument("--sample", type=int, default=300)
    arguments = parser.parse_args()
    language = stilo.load_language(arguments.language)
    sources = files_of(arguments.folder, language.facts.globs)
    with tempfile.TemporaryDirectory() as name:
        paths = build(Path(name), sources, arguments.files, arguments.folders)
        styles = stilo.Styles()
        begin = time.perf_counter()
        found = {path: styles.of(path) for path in paths}
        resolving = time.perf_counter() - begin
        chosen = random.Random(1).sample(paths, arguments.sample)
        begin = time.perf_counter()
        for path in chosen:
            try:
                stilo.reformat_styled(path.read_bytes(), found[path], name=path.name)
            except stilo.StiloError as error:
                print(error)
        layout = (time.perf_counter() - begin) * len(paths) / len(chosen)
    share = resolving / layout
    print(
        f"{len(paths)} files in {arguments.folders} folders: styles found in {resolving:.2f} s, "
        f"laid out in {layout:.0f} s (from {len(chosen)}): {share:.2%}"
    )
    return 0 if share < 0.05 else 1


if __name__ == "__main__":
    sys.exit(main())
