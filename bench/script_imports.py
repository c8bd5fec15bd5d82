"""Put the imports of JavaScript and TypeScript files in order, unused ones out, and prove by TypeScript's compiler
that none was used.

    python bench/script_imports.py FOLDER … --typescript node_modules/typescript [--language typescript]
        [--limit N] [--set NAME=VALUE …]

Needs Node.js and the package `typescript`. Nothing else of the files is touched (`only_order`). Of each file
the compiler lists what its imports make known (module, name, other name, only a type or not), and which of it
nothing refers to. What the result does not import any more must be of these; nothing may have come to it; its
other statements must be the same, but for white space beside an import; and it must be settled. Counted too is what the compiler finds unused and
the result still imports.
"""

from __future__ import annotations

import argparse
import json
import random
import re
import subprocess
import sys
import tempfile
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from pathlib import Path

import stilo

STYLE = {"import.order": "groups", "import.unused": "remove"}
COMPARE = """
const ts = require(process.argv[2]);
const fs = require("fs");
const options = {
  noResolve: true, noLib: true, noUnusedLocals: true, jsx: ts.JsxEmit.React, target: ts.ScriptTarget.Latest,
  module: ts.ModuleKind.ESNext, experimentalDecorators: true, types: [],
};
function look(path, name) {
  const text = fs.readFileSync(path, "utf8");
  const file = ts.createSourceFile(name, text, ts.ScriptTarget.Latest, true);
  if (file.parseDiagnostics.length) return null;
  const host = {
    getSourceFile: asked => asked === name ? file : undefined, writeFile() {}, fileExists: asked => asked === name,
    getDefaultLibFileName: () => "", useCaseSensitiveFileNames: () => true, getCurrentDirectory: () => "",
    getCanonicalFileName: asked => asked, getNewLine: () => "\\n", readFile: () => undefined,
  };
  const program = ts.createProgram([name], options, host);
  const found = program.getSemanticDiagnostics(file);
  const unused = found.filter(d => [6133, 6192, 6196].includes(d.code));
  const missing = found.filter(d => [2304, 2503, 2552, 2686, 2874].includes(d.code)).map(d => String(d.messageText));
  const names = [], idle = new Set(), rest = [];
  for (const statement of file.statements) {
    if (!ts.isImportDeclaration(statement)) {
      rest.push(statement.getText().replace(/\\s+/g, ""));
      continue;
    }
    const from = statement.moduleSpecifier.text, clause = statement.importClause;
    const note = (node, name) => {
      const said = JSON.stringify([from, clause && clause.isTypeOnly, name]);
      names.push(said);
      const whole = d => d.code === 6192 && d.start === statement.getStart();
      if (unused.some(d => whole(d) || node.getStart() <= d.start && d.start < node.getEnd()
          || d.start === statement.getStart() && d.start + d.length === statement.getEnd())) idle.add(said);
    };
    if (!clause) { names.push(JSON.stringify([from, "side effect"])); continue; }
    if (clause.name) note(clause.name, ["default", clause.name.text]);
    const bindings = clause.namedBindings;
    if (bindings && ts.isNamespaceImport(bindings)) note(bindings, ["*", bindings.name.text]);
    else if (bindings) {
      if (!bindings.elements.length) names.push(JSON.stringify([from, "nothing"]));
      for (const e of bindings.elements) {
        note(e, [(e.propertyName ?? e.name).text, e.name.text, e.isTypeOnly]);
      }
    }
  }
  return { names, idle, rest, missing };
}
for (const [before, after, name] of JSON.parse(fs.readFileSync(process.argv[3], "utf8"))) {
  const old = look(before, name), made = look(after, name);
  if (!old) { console.log(JSON.stringify({ verdict: "not parsed" })); continue; }
  let verdict = "same", removed = 0;
  if (!made) verdict = "DIFFERS: no longer parsed";
  else {
    const left = new Set(made.names), had = new Set(old.names);
    const gone = [...had].filter(n => !left.has(n));
    removed = gone.length;
    const used = gone.filter(n => !old.idle.has(n)), more = [...left].filter(n => !had.has(n));
    const lost = made.missing.filter(m => !old.missing.includes(m));
    if (used.length) verdict = "DIFFERS: took out " + used;
    else if (more.length) verdict = "DIFFERS: put in " + more;
    else if (lost.length) verdict = "DIFFERS: " + lost;
    else if (old.rest.join("\\n") !== made.rest.join("\\n")) verdict = "DIFFERS: other code";
  }
  console.log(JSON.stringify({ verdict, removed, idle: old.idle.size, kept: made ? [...made.idle].length : 0 }));
}
"""


def put_in_order(
    language: str, values: dict[str, str], scratch: str, job: tuple[int, str]
) -> tuple[str, str, str]:
    """Write a source and its result side by side. Returns what became of it, and both paths."""
    number, path = job
    try:
        result = stilo.reformat(
            Path(path).read_bytes(), language, values, name=path, only_order=True
        )
        again = stilo.reformat(result.data, language, values, name=path, only_order=True)
    except stilo.StiloError as error:
        return f"refused: {error}", path, ""
    if again.changed:
        return "UNSETTLED", path, ""
    copy = Path(scratch, f"{number}{Path(path).suffix}")
    copy.write_bytes(result.data)
    return "changed" if result.changed else "as it was", path, str(copy)


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n\n")[0])
    parser.add_argument("folder", type=Path, nargs="+")
    parser.add_argument("--typescript", type=Path, required=True)
    parser.add_argument("--language", default="typescript")
    parser.add_argument("--limit", type=int, default=10 ** 9)
    parser.add_argument("--set", action="append", default=[])
    arguments = parser.parse_args()
    language = stilo.load_language(arguments.language)
    imports = re.compile(rb"^import\b", re.MULTILINE)
    paths = sorted({
        str(path)
        for folder in arguments.folder
        for pattern in language.facts.globs
        for path in folder.rglob(pattern)
        if path.is_file() and path.stat().st_size < 300_000 and imports.search(path.read_bytes())
    })
    paths = random.Random(4).sample(paths, min(arguments.limit, len(paths)))
    values = STYLE | dict(pair.split("=", 1) for pair in arguments.set)
    counts: Counter[str] = Counter()
    with tempfile.TemporaryDirectory() as scratch:
        work = partial(put_in_order, arguments.language, values, scratch)
        with ProcessPoolExecutor() as pool:
            done = list(pool.map(work, enumerate(paths), chunksize=8))
        pairs = []
        name = "unit.ts" if arguments.language == "typescript" else "unit.tsx"
        for what, path, copy in done:
            counts[what.partition(":")[0]] += 1
            if what == "UNSETTLED" or what.startswith("refused"):
                print(f"{path}: {what}")
            if what == "changed":
                pairs.append((path, copy, name))
        listed, script = Path(scratch, "pairs.json"), Path(scratch, "compare.cjs")
        listed.write_text(json.dumps(pairs))
        script.write_text(COMPARE)
        command = ["node", str(script), str(arguments.typescript.resolve()), str(listed)]
        answers = (
            subprocess.run(command, capture_output=True, text=True, check=True).stdout.splitlines()
        )
        names: Counter[str] = Counter()
        for (path, _, _), answer in zip(pairs, map(json.loads, answers), strict=True):
            verdict = answer.pop("verdict")
            counts[verdict.partition(":")[0]] += 1
            names.update(answer)
            if verdict.startswith("DIFFERS"):
                print(f"{path}: {verdict}")
    print(f"{len(paths)} files with imports: {dict(counts)}")
    print(
        f"names: {names['removed']} taken out; {names['idle']} that nothing refers to, by the compiler, of which "
        f"{names['kept']} stay"
    )
    bad = ("DIFFERS", "UNSETTLED")
    return 1 if any(counts[word] for word in bad) else 0


if __name__ == "__main__":
    sys.exit(main())
