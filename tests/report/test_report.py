"""The report on a code base."""

from __future__ import annotations

import re
import sys
from base64 import b64decode
from pathlib import Path

import pytest

from stilo import Styles, reformat_file
from stilo.report.measure import WIDEST, history, measured
from tests.run.test_changed import git

LONG = f"x = [{', '.join(str(n) for n in range(100, 160))}]\n"


def test_lines_are_counted_by_width_before_and_after(place) -> None:
    place({"a.py": f"{LONG}\n\ty = '⛴️'\n".replace("\n\ty", "\ny"), "b.py": f"# {'x' * 300}\n"})
    found = measured("a.py", reformat_file("a.py", style={"width": 60}))
    assert found.limit == 60 and found.lines == 3 and found.changed == 1
    assert found.before[8] == 1 and found.before[min(WIDEST, len(LONG) - 1)] == 1
    assert max(found.after) <= 60 and sum(found.before.values()) == 2  # without the blank line
    assert measured("b.py", reformat_file("b.py")).before == {WIDEST: 1}


def repository(place) -> Path:
    folder: Path = place({"deep/a.py": "x=1\ny=2\n", "deep/b.txt": "x", "c.py": "z = 1\n"})
    git("init", "-q", "-b", "main")
    git("add", ".")
    git("commit", "-qm", "Begin")
    for text in ("x = 1\ny=2\n", "x = 1\ny = 2\n", "x = (\n"):
        (folder / "deep" / "a.py").write_text(text)
        git("commit", "-qam", "Go on")
    return folder


def test_history_tells_how_much_was_in_style(place) -> None:
    folder = repository(place)
    moments = list(history(folder, Styles(), 10, 10))
    assert [(m.lines, m.in_style) for m in moments] == [(3, 1), (3, 2), (3, 3), (1, 1)]
    assert [m.when for m in moments] == sorted(m.when for m in moments)
    inside = list(history(folder / "deep", Styles(), 2, 10))  # the first and the last
    assert [(m.lines, m.in_style) for m in inside] == [(2, 0), (0, 0)]
    assert [m.lines for m in history(folder, Styles(), 10, 1)] in ([1] * 4, [2, 2, 2, 0])


def test_a_page_that_needs_nothing_else_and_the_figures(place, run) -> None:
    folder = repository(place)
    place({"<b>.py": LONG * 3, "bad.py": "(\n"})
    done = run("report", "--page", "out.html", "--pictures", "figures", "--jobs", "2")
    assert done.exit_code == 0 and "out.html: written" in done.output, done.output
    text = (folder / "out.html").read_text(encoding="utf-8")
    assert "&lt;b&gt;.py" in text and "<b>.py" not in text
    assert "25 %</b>of 4 lines are in style" in text and "1 of 2</b>files" in text
    assert "bad.py:1:2: syntax error" in text and "4 commits from" in text
    assert not re.search(r"(src|href)=\"(?!data:)", text) and "url(" not in text
    pictures = [b64decode(data) for data in re.findall(r"base64,([^\"]+)", text)]
    names = ("widths", "places", "history")
    assert pictures == [(folder / "figures" / f"{name}.png").read_bytes() for name in names]
    assert all(picture.startswith(b"\x89PNG") for picture in pictures)


def test_all_in_style_and_no_repository(place, run) -> None:
    folder: Path = place({"a.py": "x = 1\n"})
    done = run("report", ".", "--page", "out.html")
    text = (folder / "out.html").read_text(encoding="utf-8")
    assert done.exit_code == 0 and "no history: git: not a git repository" in done.output
    assert "100 %</b>" in text and "A sample" not in text and "history" not in text


def test_nothing_to_report_on_and_no_packages(place, run, monkeypatch: pytest.MonkeyPatch) -> None:
    folder: Path = place({"a.txt": ""})
    done = run("report")
    assert (
        done.exit_code == 2 and "nothing to report on; passed over: 1 in no language" in done.output
    )
    for name in [name for name in sys.modules if name.startswith("stilo.report.")]:
        monkeypatch.delitem(sys.modules, name)
    monkeypatch.setitem(sys.modules, "pandas", None)
    done = run("report")
    assert done.exit_code == 2 and 'pip install "stilo[report]"' in done.output
    assert not list(folder.glob("*.html"))
