"""Compare the syntax trees of JavaScript or TypeScript files before and after, by TypeScript's own compiler.

    python bench/same_syntax.py FOLDER … --typescript node_modules/typescript [--language javascript]
        [--limit N] [--set NAME=VALUE …]

Needs Node.js and the package `typescript`. Each file is laid out, twice; the compiler parses source and
result, and their trees must be the same, node by node: kinds, names, and the text of all literals. Files
that the compiler itself cannot parse are counted and left.
"""

from __future__ import annotations

import argparse
import json
import random
import subprocess
import sys
import tempfile
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from pathlib import Path

import stilo

COMPARE = """
const ts = require(process.argv[2]);
const fs = require("fs");
// What is shown of the text in an element: lines without white space at the ends, but at those of the whole.
function shown(text) {
  const lines = text.split(/\\r\\n|\\n|\\r/);
  return lines.map((line, at) => {
    if (at) line = line.replace(/^[ \\t]+/, "");
    return at < lines.length - 1 ? line.replace(/[ \\t]+$/, "") : line;
  }).filter(line => line).join(" ");
}
function tree(path, text) {
  text = text ?? fs.readFileSync(path, "utf8");
  const file = ts.createSourceFile(path, text, ts.ScriptTarget.Latest, true);
  if (file.parseDiagnostics.length) return null;
  const found = [];
  let hasElements = false;
  const visit = node => {
    if (node.kind === ts.SyntaxKind.JsxText && !shown(node.text)) return;
    hasElements ||= node.kind === ts.SyntaxKind.JsxOpeningElement || node.kind === ts.SyntaxKind.JsxSelfClosingElement;
    found.push(node.kind);
    let count = 0;
    ts.forEachChild(node, child => { count++; visit(child); });
    if (node.kind === ts.SyntaxKind.JsxText) {
      found.push(shown(node.text));
    } else if (!count && node.kind < ts.SyntaxKind.FirstNode) found.push(node.getText());
    found.push(-1);
  };
  visit(file);
  if (hasElements) {
    // And what the compiler makes of the elements.
    const compilerOptions = { jsx: ts.JsxEmit.React, target: ts.ScriptTarget.Latest };
    const made = ts.transpileModule(text, { compilerOptions, fileName: path }).outputText;
    found.push(tree(path + ".js", made));
  }
  return JSON.stringify(found);
}
for (const [before, after] of JSON.parse(fs.readFileSync(process.argv[3], "utf8"))) {
  const wanted = tree(before);
  console.log(wanted === null ? "not parsed" : tree(after) === wanted ? "same" : "DIFFERS");
}
"""


def lay_out(
    language: str, values: dict[str, str], scratch: str, job: tuple[int, str]
) -> tuple[str, str, str]:
    """Write a source and its result side by side. Returns what became of it, and both paths."""
    number, path = job
    raw = Path(path).read_bytes()
    try:
        result = stilo.reformat(raw, language, values, name=path)
        again = stilo.reformat(result.data, language, values, name=path)
    except stilo.StiloError as error:
        return f"refused: {error}", path, ""
    ending = Path(path).suffix
    names = [str(Path(scratch, f"{number}.{side}{ending}")) for side in ("before", "after")]
    Path(names[0]).write_bytes(raw)
    Path(names[1]).write_bytes(result.data)
    return ("unsettled" if again.changed else "settled"), names[0], names[1]


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path, nargs="+")
    parser.add_argument("--typescript", type=Path, required=True, help="where the package is")
    parser.add_argument("--language", default="javascript")
    parser.add_argument("--limit", type=int, default=10 ** 9)
    parser.add_argument("--jobs", type=int, default=2)
    parser.add_argument("--set", action="append", default=[], metavar="NAME=VALUE")
    arguments = parser.parse_args()
    values = dict(pair.split("=", 1) for pair in arguments.set)
    globs = stilo.load_language(arguments.language).facts.globs
    skipped = ("/dist/", ".min.", "bundle", "/umd/", "/build/")
    files = sorted(
        str(p)
        for folder in arguments.folder
        for g in globs
        for p in folder.rglob(g)
        if p.is_file() and p.stat().st_size < 400_000 and not any(s in str(p) for s in skipped)
    )
    if arguments.limit < len(files):
        files = random.Random(1).sample(files, arguments.limit)
    found = Counter[str]()
    with tempfile.TemporaryDirectory() as scratch, ProcessPoolExecutor(arguments.jobs) as pool:
        work = partial(lay_out, arguments.language, values, scratch)
        pairs = []
        for path, (became, before, after) in zip(
            files, pool.map(work, enumerate(files), chunksize=8)
        ):
            found[became.partition(":")[0]] += 1
            if became == "unsettled" or became.startswith("refused"):
                print(f"{path}: {became}"[:300])
            if after:
                pairs.append((path, before, after))
        listed, script = Path(scratch, "pairs.json"), Path(scratch, "compare.js")
        listed.write_text(json.dumps([pair[1:] for pair in pairs]))
        script.write_text(COMPARE)
        package = str(arguments.typescript.resolve())
        done = subprocess.run(
            ["node", str(script), package, str(listed)], capture_output=True, text=True, check=True
        )
        for (path, *_), said in zip(pairs, done.stdout.split("\n")):
            found[said] += 1
            if said == "DIFFERS":
                print(f"{path}: {said}")
    print(f"{len(files)} files:", ", ".join(f"{n}: {c}" for n, c in sorted(found.items())))
    return 1 if {"DIFFERS", "unsettled"} & set(found) else 0


if __name__ == "__main__":
    sys.exit(main())
