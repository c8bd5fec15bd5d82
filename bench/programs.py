"""Whether two texts are the same program, told without Stilo: for the commands that count over many."""

from __future__ import annotations

import ast
import io
import json
import re
import tokenize
import tomllib
import warnings
from collections.abc import Sequence
from html.parser import HTMLParser
from pathlib import Path
from typing import Any

import tinycss2
import tree_sitter
import tree_sitter_java

from same_documents import pages
from scripts import NAMES, Compiler

warnings.simplefilter("ignore")

_JAVA = tree_sitter.Parser(tree_sitter.Language(tree_sitter_java.language()))
#: The tokens of Java, comments among them. Of `>>` each sign is one, since types end so.
_JAVA_TOKENS = re.compile(
    r'"""(?:\\.|[^\\])*?"""|"(?:\\.|[^"\\\n])*"|\'(?:\\.|[^\'\\\n])*\'|//[^\n]*|/\*.*?\*/'
    r"|0[xX][\w.]*?[pP][+-]\w+|(?!0[xX])[\w.]*[0-9][eE][+-]\w+|[\w$]+|->|::|\.\.\.|\+\+|--|&&|\|\||[-+*/%&|^=!<]=|<<=?|>|[^\s]",
    re.DOTALL,
)
#: Comments that act on their line.
BOUND = re.compile(rb"#[ \t]*(type: ignore|noqa)|//[ \t]*NOLINT")
_ESCAPE = re.compile(r"(?<!\\)((?:\\\\)*)\\u+([0-9a-fA-F]{4})")


#: Reads JavaScript and TypeScript, once a command says where it is.
compilers: list[Compiler] = []


def start_compiler(package: Path | None) -> None:
    """Have this process read JavaScript and TypeScript by an npm package."""
    if package is not None:
        compilers.append(Compiler(package))


def is_valid(language: str, data: bytes) -> bool:
    """Whether the language's own reader takes a text (Java: the grammar alone)."""
    try:
        if language in NAMES:
            return compilers[0].see(language, data.decode()).tree is not None
        if language == "python":
            ast.parse(data)
            # A star may stand where only what comes after the tree refuses it, but within a function.
            for text in (data, _in_function(data)):
                try:
                    compile(text, "text", "exec", dont_inherit=True)
                except SyntaxError as error:
                    if "starred" in str(error):
                        return False
            return True
        if language == "json":
            json.loads(data.decode("utf-8-sig"))
            return True
        if language == "toml":
            tomllib.loads(data.decode())
            return True
        if language == "html":
            return bool(_Page(data))
        if language == "markdown":
            data.decode()
            return True
        if language == "css":
            return _is_whole(
                tinycss2.parse_component_value_list(f"{data.decode('utf-8-sig')}\n/*end*/")
            )
    except (SyntaxError, ValueError, RecursionError, MemoryError, AssertionError):
        return False
    return not _JAVA.parse(_plain(data).encode("utf-8", "surrogatepass")).root_node.has_error


def _in_function(data: bytes) -> bytes:
    """Statements as the body of a function, where `return` may stand."""
    return b"def f():\n" + b"".join(b" " + line for line in data.splitlines(True))


def difference(language: str, before: bytes, after: bytes, is_prose_wrapped: bool = False) -> str:
    """What differs between two programs, or nothing. is_prose_wrapped: comments may have other lines."""
    compare = {
        "python": _python,
        "json": _json,
        "toml": _toml,
        "java": _java,
        "css": _css,
        "html": _html,
        "markdown": _markdown,
    }
    if language in NAMES:
        return _script(language, before, after, is_prose_wrapped)
    return compare[language](before, after, is_prose_wrapped)


def _script(language: str, before: bytes, after: bytes, wrapped: bool) -> str:
    seen = [compilers[0].see(language, data.decode()) for data in (before, after)]
    if seen[1].tree is None:
        return "no longer read by its compiler"
    if seen[0].tree != seen[1].tree:
        return "another syntax tree"
    said = [sorted(each.comments) for each in seen]
    if wrapped:
        said = [[re.sub(r"[\s/*]+", "", "".join(each.comments))] for each in seen]
    return "" if said[0] == said[1] else "other comments"


class _Page(HTMLParser):
    """What a page says, by Python's own parser: tags, words, comments; all of what is preformatted.

    White space between words and tags is not looked at: `same_pages.py` does, in a browser.
    """

    def __init__(self, data: bytes) -> None:
        super().__init__(convert_charrefs=False)
        self.said: list[Any] = []
        self._exact = 0
        self.feed(data.decode("utf-8-sig").replace("\r\n", "\n"))
        self.close()

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        """A tag, with its attributes."""
        self.said.append((tag, attrs))
        self._exact += tag in ("pre", "textarea")

    def handle_endtag(self, tag: str) -> None:
        """An end tag."""
        self.said.append(("/", tag))
        self._exact = max(0, self._exact - (tag in ("pre", "textarea")))

    def handle_data(self, data: str) -> None:
        """Text."""
        self.said += [data] if self._exact else data.split()

    def handle_comment(self, data: str) -> None:
        """A comment, without the margins of its lines."""
        self.said.append([line.strip() for line in data.split("\n")])

    def handle_entityref(self, name: str) -> None:
        """A character by its name."""
        self.said.append(("&", name))

    def handle_charref(self, name: str) -> None:
        """A character by its number."""
        self.said.append(("&#", name))


def _html(before: bytes, after: bytes, wrapped: bool) -> str:
    said = [_Page(data).said for data in (before, after)]
    return "" if said[0] == said[1] else "other tags or words"


def _markdown(before: bytes, after: bytes, wrapped: bool) -> str:
    said = [next(pages(data)) for data in (before, after)]
    return "" if said[0] == said[1] else "other HTML"


def _python(before: bytes, after: bytes, wrapped: bool) -> str:
    try:
        trees = [_python_tree(data) for data in (before, after)]
    except (SyntaxError, ValueError) as error:
        return f"no longer Python: {error}"
    if trees[0] != trees[1]:
        return "another syntax tree"
    try:
        said = [_python_comments(data, wrapped) for data in (before, after)]
    except (SyntaxError, tokenize.TokenError):  # Python's two tokenizers do not agree on all texts
        return ""
    if said[0] != said[1]:
        return "other comments"
    if not wrapped and BOUND.search(before):
        lines = [_python_bound(data) for data in (before, after)]
        if lines[0] != lines[1]:
            return "a comment acts on other code"
    return ""


def _python_bound(data: bytes) -> list[tuple[str, ...]]:
    """The code on the line of each comment that acts on its line; brackets and commas may come and go."""
    by_line: dict[int, list[str]] = {}
    bound = []
    passed = (tokenize.NEWLINE, tokenize.NL, tokenize.INDENT, tokenize.DEDENT, tokenize.ENCODING)
    for token in tokenize.tokenize(io.BytesIO(data).readline):
        if token.type == tokenize.COMMENT:
            if BOUND.search(token.string.encode()):
                bound.append(token.start[0])
        elif token.type not in passed and token.string not in ("(", ")", ",", ";"):
            for line in {token.start[0], token.end[0]}:
                said = re.sub(r"^\w*(?=['\"])|['\"]|\s", "", token.string).lower()
                by_line.setdefault(line, []).append(said)
    return [tuple(by_line.get(line, ())) for line in bound if line in by_line]


def _python_tree(data: bytes) -> str:
    tree = ast.parse(data)
    for node in ast.walk(tree):
        if isinstance(node, ast.Delete) and len(node.targets) == 1:
            node.targets = getattr(node.targets[0], "elts", node.targets)
        if isinstance(node, (ast.Module, ast.ClassDef, ast.FunctionDef, ast.AsyncFunctionDef)):
            doc = ast.get_docstring(node, clean=True)
            if doc is not None:
                node.body[0] = ast.Expr(ast.Constant(doc))
        if isinstance(node, ast.Constant) and getattr(node, "kind", None) is not None:
            node.kind = None
    return ast.dump(tree)


def _python_comments(data: bytes, wrapped: bool) -> list[str]:
    found = [
        token.string.rstrip()
        for token in tokenize.tokenize(io.BytesIO(data).readline)
        if token.type == tokenize.COMMENT
    ]
    return [re.sub(r"[\s#:]+", "", "".join(found))] if wrapped else found


def _json(before: bytes, after: bytes, wrapped: bool) -> str:
    def value(data: bytes) -> object:
        return json.loads(
            data.decode("utf-8-sig"), object_pairs_hook=tuple, parse_int=str, parse_float=str
        )

    try:
        return "" if value(before) == value(after) else "other values"
    except (ValueError, RecursionError) as error:
        return f"no longer JSON: {error}"


def _toml(before: bytes, after: bytes, wrapped: bool) -> str:
    try:
        values = [repr(tomllib.loads(data.decode())) for data in (before, after)]
    except ValueError as error:
        return f"no longer TOML: {error}"
    if values[0] != values[1]:
        return "other values"
    if wrapped:
        return ""
    signs = [re.sub(rb"[\s,]+", b"", data) for data in (before, after)]
    return "" if signs[0] == signs[1] else "other characters"


def _plain(data: bytes) -> str:
    """Java source with the characters that it writes by their numbers in their place."""
    text = data.decode("utf-8-sig").replace("\r\n", "\n")
    return _ESCAPE.sub(lambda found: found[1] + chr(int(found[2], 16)), text)


def _java(before: bytes, after: bytes, wrapped: bool) -> str:
    tokens = [_java_tokens(data, wrapped) for data in (before, after)]
    for number, (one, other) in enumerate(zip(*tokens)):
        if one != other:
            return f"token {number}: {one!r} became {other!r}"
    return "" if len(tokens[0]) == len(tokens[1]) else "tokens came or went"


def _java_tokens(data: bytes, wrapped: bool) -> list[str]:
    found: list[str] = []
    said = []
    for token in _JAVA_TOKENS.findall(_plain(data)):
        if token[:2] in ("//", "/*"):
            token = "\n".join(line.strip() for line in token.split("\n"))
            said.append(token)
            if wrapped:
                continue
        last = next(
            (n for n in range(len(found) - 1, -1, -1) if found[n][:2] not in ("//", "/*")), -1
        )
        if token in ("}", ")") and last >= 0 and found[last] == ",":
            del found[last]  # a separator after a last item
        found.append(token)
    return [*found, re.sub(r"[\s/*]+", "", "".join(said))] if wrapped else found


def _is_whole(values: Sequence[Any]) -> bool:
    """Whether no error is among component values, and nothing is open at their end: a comment put there."""
    if values[-1].type != "comment" or values[-1].value != "end":
        return False
    stack = list(values)
    while stack:
        value = stack.pop()
        if value.type == "error" or (value.type == "literal" and value.value == "\\"):
            return False
        stack += getattr(value, "arguments", None) or getattr(value, "content", None) or []
    return True


def _css(before: bytes, after: bytes, wrapped: bool) -> str:
    texts = [data.decode("utf-8-sig") for data in (before, after)]
    rules = [_css_items(tinycss2.parse_component_value_list(text)) for text in texts]
    for one, other in zip(*rules):
        if one != other:
            return f"{one[:60]!r} became {other[:60]!r}"
    if len(rules[0]) != len(rules[1]):
        return "rules came or went"
    said = [
        re.sub(
            r"[\s*]+", "" if wrapped else " ", "".join(re.findall(r"/\*.*?\*/", text, re.DOTALL))
        )
        for text in texts
    ]
    return "" if said[0] == said[1] else "other comments"


def _css_items(values: Sequence[Any]) -> list[str]:
    """The rules and declarations of a body, each as one text in which white space stands where it counts."""
    found: list[str] = []
    for item in tinycss2.parse_blocks_contents(values, True, True):
        if item.type == "declaration":
            name = item.name if item.name.startswith("--") else item.lower_name
            value = _css_text(item.value, False)
            value = re.sub(r"#[0-9a-fA-F]+\b", lambda found: found.group().lower(), value)
            if item.name.startswith("--"):
                value = tinycss2.serialize(item.value).strip()
            found.append(f"{name}: {value}{' !important' if item.important else ''}")
        elif item.type in ("qualified-rule", "at-rule"):
            head = f"@{item.at_keyword} " if item.type == "at-rule" else ""
            found.append(head + _css_text(item.prelude, item.type == "qualified-rule"))
            if item.content is not None:
                found += ["{", *_css_items(item.content), "}"]
        else:
            found.append(item.type)
    return found


def _css_text(values: Sequence[Any], is_selector: bool) -> str:
    text = tinycss2.serialize([v for v in values if v.type != "comment"])
    pieces = re.split(r"(\"(?:\\.|[^\"\\])*\"|'(?:\\.|[^'\\])*')", text, flags=re.DOTALL)
    signs = r"[,>+~]" if is_selector else ","
    for at in range(0, len(pieces), 2):
        plain = re.sub(r"/\*.*?\*/|\s+", " ", pieces[at], flags=re.DOTALL)
        plain = re.sub(rf" *({signs}) *", r"\1", plain)
        pieces[at] = re.sub(r"([(\[{]) +| +([)\]}])", r"\1\2", plain)
    return re.sub(r"(\([\w-]+) *: *", r"\1:", re.sub(r" +", " ", "".join(pieces))).strip()
