"""A file and its result beside each other."""

from __future__ import annotations

from html.parser import HTMLParser
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as st

from stilo.cli.beside import Line, Row, rows_of


def test_lines_are_paired_by_what_they_hold_and_marked_where_they_differ() -> None:
    assert rows_of("a\nx=1\nb\n", "a\nx = 1\nb\n") == [
        Row(Line(1, "a"), Line(1, "a")),
        Row(Line(2, "x=1", 1, 2), Line(2, "x = 1", 1, 4)),
        Row(Line(3, "b"), Line(3, "b")),
    ]
    assert rows_of("f(a)\n", "f(\n  a\n)\n")[1] == Row(None, Line(2, "  a", 0, 3))


def test_what_is_the_same_is_counted() -> None:
    lines = [f"x{n} = {n}" for n in range(30)]
    rows = rows_of("\n".join(lines), "\n".join([*lines[:15], "y = 1", *lines[15:]]))
    assert [row.skipped for row in rows if row.skipped] == [12, 12]
    assert rows_of("a\nb\n", "a\nb\n") == [Row(None, None, 2)]
    assert rows_of("", "") == []


def test_nothing_commands_the_terminal() -> None:
    ((old, new, _),) = rows_of("x=\x1b[2J\t1", "x = 1")
    assert old is not None and "\x1b" not in old.text and "\t" not in old.text


@given(*[st.lists(st.sampled_from(["a", " a", "b b", "bb", "", "c"]), max_size=12)] * 2)
def test_each_line_that_differs_is_there_once(before: list[str], after: list[str]) -> None:
    rows = rows_of("\n".join(before), "\n".join(after))
    for lines, side in ((before, 0), (after, 1)):
        shown = [row[side] for row in rows if row[side] is not None]
        numbers = [line.number for line in shown]
        assert numbers == sorted(set(numbers))
        assert all(line.text == lines[line.number - 1] for line in shown)
        same = sum(row.skipped for row in rows)
        assert len(numbers) + same == len("\n".join(lines).splitlines())


def test_on_a_terminal_or_in_a_pipe(place, run, monkeypatch) -> None:
    place({"a.py": "x=[ '⛴️', 1 ]\n"})
    monkeypatch.setenv("COLUMNS", "60")
    done = run("preview", "a.py", "--beside")
    assert done.exit_code == 0 and "a.py, 1 line " in done.output
    assert "x=[ '⛴️', 1 ]" in done.output and "x = ['⛴️', 1]" in done.output
    assert "\x1b" not in done.output
    assert (Path.cwd() / "a.py").read_text() == "x=[ '⛴️', 1 ]\n"


class Page(HTMLParser):
    """The text of a page, and of its marks."""

    def __init__(self, text: str) -> None:
        super().__init__()
        self.text, self.marked, self.tags = "", [], []
        self.feed(text)

    def handle_starttag(self, tag, attributes) -> None:
        self.tags.append(tag)
        if tag == "mark":
            self.marked.append("")

    def handle_endtag(self, tag) -> None:
        self.tags.append(f"/{tag}")

    def handle_data(self, data) -> None:
        self.text += data
        if self.tags and self.tags[-1] == "mark":
            self.marked[-1] += data


def test_a_page_needs_nothing_else_and_escapes_what_it_shows(place, run) -> None:
    folder: Path = place({"<a>.py": "x='<script>&'\nif x :\n  y\n"})
    done = run("preview", "<a>.py", "--page", "page.html")
    assert done.exit_code == 0 and "page.html: written" in done.output
    text = (folder / "page.html").read_text(encoding="utf-8")
    page = Page(text)
    assert "script" not in page.tags and "x='<script>&'" in page.text.replace("\n", "")
    assert "src=" not in text and "href" not in text and "url(" not in text
    assert "=" in page.marked and " = " in page.marked
    assert run("preview", "<a>.py", "--page", "nowhere/x.html").exit_code == 2
