// What TypeScript's own compiler makes of a text of JavaScript or TypeScript, for the commands here that compare.
// Asked over standard input, a JSON value a line, it answers likewise.

const ts = require(process.argv[2]);

// What is shown of the text in an element: lines without white space at the ends, but at those of the whole.
function shown(text) {
  const lines = text.split(/\r\n|\n|\r/);
  return lines
    .map((line, at) => {
      if (at) line = line.replace(/^[ \t]+/, "");
      return at < lines.length - 1 ? line.replace(/[ \t]+$/, "") : line;
    })
    .filter(line => line)
    .join(" ");
}

// A string in pieces with plus signs between them, as one: what stands before it, if anything, and its text. Null of
// anything else.
function joined(node) {
  if (ts.isStringLiteral(node)) return { rest: null, text: node.text };
  const isSum =
    ts.isBinaryExpression(node) &&
    node.operatorToken.kind === ts.SyntaxKind.PlusToken &&
    ts.isStringLiteral(node.right);
  if (!isSum) return null;
  const { rest, text } = joined(node.left) ?? { rest: node.left, text: "" };
  return { rest, text: text + node.right.text };
}

// The kinds of all nodes in preorder, with the texts of leaves; of elements what they are compiled to as well. Null
// of a text that cannot be read.
function tree(path, text) {
  const file = ts.createSourceFile(path, text, ts.ScriptTarget.Latest, true);
  if (file.parseDiagnostics.length) return null;
  const found = [];
  let hasElements = false;
  const visit = node => {
    if (node.kind === ts.SyntaxKind.JsxText && !shown(node.text)) return;
    hasElements ||= node.kind === ts.SyntaxKind.JsxOpeningElement ||
      node.kind === ts.SyntaxKind.JsxSelfClosingElement;
    const sum = joined(node);
    if (sum !== null) {
      found.push(ts.SyntaxKind.StringLiteral, sum.text); // whatever its quotes, and its pieces
      if (sum.rest) visit(sum.rest);
      found.push(-1);
      return;
    }
    found.push(node.kind);
    let count = 0;
    ts.forEachChild(node, child => {
      count++;
      visit(child);
    });
    if (node.kind === ts.SyntaxKind.JsxText) {
      found.push(shown(node.text));
    } else if (!count && node.kind < ts.SyntaxKind.FirstNode)
      found.push(node.getText().replace(/\r\n?/g, "\n"));
    found.push(-1);
  };
  visit(file);
  if (hasElements) {
    const compilerOptions = {
      jsx: ts.JsxEmit.React,
      target: ts.ScriptTarget.Latest
    };
    const made =
      ts.transpileModule(text, { compilerOptions, fileName: path }).outputText;
    found.push(tree(path + ".js", made));
  }
  return JSON.stringify(found);
}

// All comments, their lines without white space at the ends.
function comments(path, text) {
  const file = ts.createSourceFile(path, text, ts.ScriptTarget.Latest, true);
  const found = new Map();
  const take = ranges => {
    for (const { pos, end } of ranges ?? []) {
      found.set(
        pos,
        text.slice(pos, end).split(/\r?\n/).map(line => line.trim()).join("\n")
      );
    }
  };
  const texts = [];
  const visit = node => {
    if (node.kind === ts.SyntaxKind.JsxClosingElement) { // its tokens, read alone, would be others
      take(ts.getLeadingCommentRanges(text, node.tagName.getFullStart()));
      take(ts.getTrailingCommentRanges(text, node.tagName.getFullStart()));
      return;
    }
    if (node.kind === ts.SyntaxKind.JsxText) texts.push(node);
    else {
      take(ts.getLeadingCommentRanges(text, node.getFullStart()));
      take(ts.getTrailingCommentRanges(text, node.getEnd()));
    }
    node.getChildren().forEach(visit);
  };
  visit(file);
  for (const at of found.keys()) {
    if (texts.some(node => node.pos <= at && at < node.end)) found.delete(at);
  }
  return [...found.keys()].sort((a, b) => a - b).map(at => found.get(at));
}

require("readline")
  .createInterface({ input: process.stdin })
  .on("line", line => {
    const { path, text } = JSON.parse(line);
    const made = tree(path, text);
    console.log(JSON.stringify({
      tree: made,
      comments: made === null ? [] : comments(path, text)
    }));
  });
