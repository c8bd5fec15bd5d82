"""Stars replaced by the names that a file takes by them, and what is asked where that is not clear."""

from __future__ import annotations

import json
import os
import struct
import subprocess
import sys
from zipfile import ZipFile

import pytest

import stilo

EXPAND = {"import.wildcards": "expand"}

QUAY = {
    "stilo.toml": "",
    "line/quay/Berth.java": "package line.quay;\npublic class Berth {}\n",
    "line/quay/Tide.java": "package line.quay;\npublic class Tide {}\n",
    "line/deck/Lane.java": "package line.deck;\npublic class Lane {\n"
    "  public static int LENGTH; int width; static Lane of() { return null; } interface Tyre {}\n"
    "  class Inner { static int DEEP; } }\n",
    "line/deck/Berth.java": "package line.deck;\npublic class Berth {}\n",
}


@pytest.fixture(autouse=True)
def no_jdk(monkeypatch, tmp_path_factory) -> None:
    """Whatever is installed where the tests run, only what they write is found, and nothing kept."""
    from stilo.languages.java import catalogue as java_catalogue

    monkeypatch.setenv("JAVA_HOME", "/nowhere")
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path_factory.mktemp("cache")))
    java_catalogue._jdk.cache_clear()
    java_catalogue._kept.cache_clear()


def java(place, imports: str, body: str, style: dict[str, str] = EXPAND) -> stilo.Result:
    text = f"package line.sailing;\n{imports}\nclass Sailing {{ {body} }}\n"
    place({**QUAY, "line/sailing/Sailing.java": text})
    found = stilo.Styles(style).of("line/sailing/Sailing.java")
    result = stilo.reformat_styled(text, found, name="line/sailing/Sailing.java", only_order=True)
    again = stilo.reformat_styled(
        result.data, found, name="line/sailing/Sailing.java", only_order=True
    )
    assert not again.changed
    return result


def imports_of(result: stilo.Result) -> list[str]:
    return [line for line in result.text.splitlines() if "import" in line]


@pytest.mark.parametrize(
    "star, body, imports",
    [
        ("line.quay.*", "Berth b; Tide t;", ["line.quay.Berth", "line.quay.Tide"]),
        ("line.quay.*", "Tide.Ebb e;", ["line.quay.Tide"]),
        ("line.quay.*", "x.Tide e;", ["line.quay.*"]),
        ("line.quay.*", "<Tide> void f(Tide t) {} Berth b;", ["line.quay.Berth"]),
        ("line.quay.*", "class Tide {} Tide t; Berth b;", ["line.quay.Berth"]),
        ("line.quay.*", "/** {@link Tide#low words} */ int t;", ["line.quay.Tide"]),
        ("line.quay.*", "// Tide\n", ["line.quay.*"]),
        (
            "static line.deck.Lane.*",
            "int l = LENGTH; Lane m = of();",
            ["static line.deck.Lane.LENGTH", "static line.deck.Lane.of"],
        ),
        (
            "static line.deck.Lane.*",
            "int l = width; Tyre t; int d = DEEP;",
            ["static line.deck.Lane.Tyre"],
        ),
        ("line.unknown.*", "Berth b;", ["line.unknown.*"]),
    ],
)
def test_java(place, star: str, body: str, imports: list[str]) -> None:
    result = java(place, f"import {star};", body)
    assert imports_of(result) == [f"import {name};" for name in imports]


def test_what_another_import_makes_known_is_not_taken_from_a_star(place) -> None:
    result = java(place, "import line.deck.Berth;\nimport line.quay.*;", "Berth b; Tide t;")
    assert imports_of(result) == ["import line.deck.Berth;", "import line.quay.Tide;"]


def test_a_star_from_which_nothing_is_taken_is_unused(place) -> None:
    assert imports_of(java(place, "import line.quay.*;", "")) == ["import line.quay.*;"]
    style = {**EXPAND, "import.unused": "remove"}
    assert imports_of(java(place, "import line.quay.*;", "", style)) == []


def test_a_name_that_two_modules_offer_is_told_and_never_guessed(place) -> None:
    stars = "import line.deck.*;\nimport line.quay.*;"
    result = java(place, stars, "Berth b; Lane l;")
    assert not result.changed
    assert (
        [(a.name, a.candidates, len(a.offsets)) for a in result.ambiguities]
        == [("Berth", ("line.deck.Berth", "line.quay.Berth"), 1)]
    )
    style = {**EXPAND, "import.prefer": "line.quay.Berth"}
    assert (
        imports_of(java(place, stars, "Berth b; Lane l;", style))
        == ["import line.deck.Lane;", "import line.quay.Berth;"]
    )


def test_the_command_tells_and_asks(place, run) -> None:
    path = "line/sailing/Sailing.java"
    place({
        **QUAY,
        path: "package line.sailing;\nimport line.deck.*;\nimport line.quay.*;\nclass S { Berth b; }\n",
    })
    told = run("arrange", "--set", "import.wildcards=expand", path)
    assert f"{path}:4:11: Berth may be line.deck.Berth or line.quay.Berth (1 use)" in told.output
    done = run("arrange", "--ask", "--set", "import.wildcards=expand", path, text=b"2\n")
    assert "import.prefer=line.quay.Berth" in done.output
    assert "put in order: 1" in done.output
    assert (
        imports_of(stilo.reformat_file(path)) == ["import line.deck.*;", "import line.quay.Berth;"]
    )


def class_file(name: str, access: int = 0x21, methods: tuple[tuple[int, str], ...] = ()) -> bytes:
    """A class file (Java Virtual Machine Specification, chapter 4) with nothing in its methods."""
    texts = [name, "java/lang/Object", "()V", *(method for _, method in methods)]
    pool = b"".join(struct.pack(">BH", 1, len(t)) + t.encode() for t in texts)
    pool += struct.pack(">BHBH", 7, 1, 7, 2)  # the two classes
    pool += struct.pack(">BQ", 5, 7)  # a long takes two places
    count = len(texts) + 2 + 2 + 1
    this, above = len(texts) + 1, len(texts) + 2
    data = struct.pack(">IHHH", 0xCAFEBABE, 0, 61, count) + pool
    data += struct.pack(">HHHHHH", access, this, above, 0, 0, len(methods))
    for number, (flags, _) in enumerate(methods):
        data += struct.pack(">HHHH", flags, 4 + number, 3, 0)
    return data + struct.pack(">H", 0)


def test_jars_are_read(place) -> None:
    folder = place(QUAY)
    (folder / "lib").mkdir()
    with ZipFile(folder / "lib" / "harbour.jar", "w") as jar:
        jar.writestr(
            "harbour/Crane.class",
            class_file("harbour/Crane", methods=((9, "lift"), (1, "own"), (10, "secret")))
        )
        jar.writestr("harbour/Hidden.class", class_file("harbour/Hidden", 0x20))
        jar.writestr("harbour/Crane$Hook.class", class_file("harbour/Crane$Hook"))
        jar.writestr("harbour/notes.txt", "none")
        jar.writestr("harbour/Broken.class", b"\xca\xfe\xba\xbe and no more")
    (folder / "lib" / "broken.jar").write_bytes(b"no archive")
    style = {**EXPAND, "import.libraries": f"lib/*.jar | | {folder}/lib/** | **x | /nowhere/*.jar"}
    stars = "import harbour.*;\nimport static harbour.Crane.*;"
    result = java(place, stars, "Crane c = lift(own, secret); Hidden h; Hook k;", style)
    assert imports_of(result) == [
        "import harbour.Crane;",
        "import static harbour.Crane.Hook;",
        "import static harbour.Crane.lift;",
    ]


def test_what_was_read_off_archives_is_kept(place, tmp_path) -> None:
    folder = place({**QUAY, "A.java": "import harbour.*;\nclass A { Crane c; }\n"})
    (folder / "lib").mkdir()
    with ZipFile(folder / "lib" / "harbour.jar", "w") as jar:
        jar.writestr("harbour/Crane.class", class_file("harbour/Crane"))
    settings = ["--set", "import.wildcards=expand", "--set", "import.libraries=lib/*.jar"]
    call = [sys.executable, "-m", "stilo", "arrange", *settings, "A.java"]
    where = {**os.environ, "STILO_CACHE": str(folder / "cache"), "JAVA_HOME": "/nowhere"}
    subprocess.run(call, env=where, check=True, capture_output=True)
    assert (folder / "A.java").read_text().startswith("import harbour.Crane;")
    kept = next((folder / "cache").glob("java-*"))
    assert json.loads(kept.read_text())["files harbour"] == ["Crane"]
    kept.write_text('{"files harbour": ["Winch"]}')
    (folder / "A.java").write_text("import harbour.*;\nclass A { Crane c; Winch w; }\n")
    subprocess.run(call, env=where, check=True, capture_output=True)
    assert (folder / "A.java").read_text().startswith("import harbour.Winch;")


PYTHON = {
    "stilo.toml": "",
    "quay.py": "from tides import *\nimport os as _os, json\ndef berth(): inner = 1\n"
    "class Crane:\n    hook = 1\nLOW, _hidden = 1, 2\nif LOW:\n    HIGH = 3\n",
    "tides.py": "__all__ = ['ebb']\nebb = flow = 1\n",
    "made.py": "__all__ = []\n__all__ += [n for n in ()]\nx = 1\n",
    "deck/__init__.py": "from .lane import *\n",
    "deck/lane.py": "Lane = 1\n",
    "again.py": "from again import *\n",
}


@pytest.mark.parametrize(
    "module, names",
    [
        ("quay", "berth, Crane, ebb, HIGH, json, LOW"),
        ("made", "*"),
        ("deck", "Lane"),
        ("again", "*"),
        ("nowhere", "*"),
        (".quay", "berth, Crane, ebb, HIGH, json, LOW"),
    ],
)
def test_python(place, module: str, names: str) -> None:
    text = (
        f"from {module} import *\n"
        "print(berth, Crane, ebb, flow, LOW, HIGH, _hidden, inner, hook, json, _os, x, Lane)\n"
    )
    place({**PYTHON, "use.py": text})
    result = stilo.reformat_file("use.py", style=EXPAND)
    assert result.text.startswith(f"from {module} import {names}\n")


def test_python_knows_its_own_library(place) -> None:
    place({"use.py": "from json.decoder import *\n\nprint(JSONDecoder, scanner)\n"})
    result = stilo.reformat_file("use.py", style=EXPAND)
    assert result.text.startswith("from json.decoder import JSONDecoder\n")


def test_a_star_stays_where_uses_may_be_hidden(place) -> None:
    place({
        **PYTHON,
        "use.py": "from tides import *\n\neval(ebb)\n",
        "__init__.py": "from tides import *\n",
    })
    assert not stilo.reformat_file("use.py", style=EXPAND).changed
    assert not stilo.reformat_file("__init__.py", style=EXPAND).changed


@pytest.mark.parametrize("dots", [1, 2, 3, 4, 40, 300])
def test_relative_modules_do_not_lead_out_of_the_project(place, dots: int) -> None:
    folder = place({
        "quay.py": "Outside = 1\n",
        "project/stilo.toml": "",
        "project/quay.py": "Berth = 1\n",
        "project/deck/use.py": f"from {'.' * dots}quay import *\nprint(Berth, Outside)\n",
    })
    result = stilo.reformat_file(folder / "project/deck/use.py", style=EXPAND)
    names = "Berth" if dots == 2 else "*"
    assert result.text.startswith(f"from {'.' * dots}quay import {names}\n")


def test_libraries_are_found_in_the_project_alone(place, monkeypatch: pytest.MonkeyPatch) -> None:
    from stilo.order import catalogue

    folder = place({"lib/deep/a.jar": "", "lib/b.jar": "", "other/c.jar": ""})
    (folder / "lib" / "loop").symlink_to(folder / "lib")
    (folder / "lib" / "out").symlink_to("/")

    def found(*patterns: str) -> list[str]:
        return [os.path.relpath(p, folder) for p in catalogue.files_below(folder, patterns)]

    assert found("lib/*.jar") == ["lib/b.jar"]
    assert found("lib/**/*.jar") == ["lib/b.jar", "lib/deep/a.jar"]
    assert found("/lib/b.jar", "other/c.jar") == ["lib/b.jar", "other/c.jar"]
    assert found("../**/*.jar") == found("!") == found("[z-a]") == found() == []
    monkeypatch.setattr(catalogue, "MOST", 3)
    assert found("**/*.jar") == []


def test_classes_that_extend_each_other_are_looked_at_once(place) -> None:
    folder = place(QUAY)
    (folder / "lib").mkdir()
    with ZipFile(folder / "lib" / "round.jar", "w") as jar:
        for number in range(3000):
            data = class_file(f"round/C{number}", methods=((9, f"m{number}"),))
            data = data.replace(
                b"java/lang/Object",
                f"round/C{(number + 1) % 3000:<9}".encode()[:16].strip().ljust(16)
            )
            jar.writestr(f"round/C{number}.class", data)
        jar.writestr("round/Large.class", b"\0" * (5 << 20))
    style = {**EXPAND, "import.libraries": "lib/*.jar"}
    result = java(place, "import static round.C0.*;", "int a = m0();", style)
    assert imports_of(result) == ["import static round.C0.m0;"]


@pytest.mark.parametrize(
    "kept", ["[]", "3", '{"files harbour": 3}', '{"files harbour": [3]}', "[" * 9000, "\0"]
)
def test_what_was_kept_may_have_been_changed(place, monkeypatch, kept: str) -> None:
    from stilo.languages.java import catalogue as java_catalogue

    folder = place({**QUAY, "A.java": "import harbour.*;\nclass A { Crane c; }\n"})
    (folder / "lib").mkdir()
    with ZipFile(folder / "lib" / "harbour.jar", "w") as jar:
        jar.writestr("harbour/Crane.class", class_file("harbour/Crane"))
    places = (str(folder / "lib" / "harbour.jar"),)
    monkeypatch.setattr("atexit.register", lambda *_: None)
    path = folder / "cache.json"
    path.write_text(kept)
    monkeypatch.setattr(java_catalogue, "read_file", lambda *_: path.read_bytes())
    java_catalogue._kept.cache_clear()
    assert java_catalogue.names("harbour", "files", places) == {"Crane"}


SHORTEN = {"import.qualified": "shorten", "import.order": "groups"}


@pytest.mark.parametrize(
    "imports, body, after, code",
    [
        (["deck.Lane"], "line.quay.Berth b;", ["deck.Lane", "quay.Berth"], "Berth b;"),
        (
            ["deck.Lane"],
            "Object o = line.quay.Berth.at(new line.quay.Berth[1]);",
            ["deck.Lane", "quay.Berth"],
            "Object o = Berth.at(new Berth[1]);",
        ),
        (["quay.Tide"], "line.quay.Tide t;", ["quay.Tide"], "Tide t;"),
        # Two of one name, one that means something else, one that stands for a variable, one unknown.
        (["deck.Lane"], "line.quay.Berth b; line.deck.Berth c;", None, None),
        (["deck.Berth"], "line.quay.Berth b; Berth c;", None, None),
        (["deck.Lane"], "line.quay.Berth b; class Berth {}", None, None),
        (["deck.Lane"], "int line = 1; Object o = line.quay.Berth;", None, None),
        (["deck.Lane"], "line.quay.Nothing b;", None, None),
        (["deck.Lane"], "/** {@link Berth} */ line.quay.Berth b;", None, None),
        ([], "line.quay.Berth b;", None, None),
    ],
)
def test_paths_in_code_are_shortened(
    place, imports: list[str], body: str, after: list[str] | None, code: str | None
) -> None:
    written = "\n".join(f"import line.{name};" for name in imports)
    result = java(place, written, body, SHORTEN)
    assert imports_of(result) == [f"import line.{name};" for name in after or imports]
    assert (code or body) in result.text.replace("    ", "").replace("\n", " ")
    if after:
        assert result.order_counts["shortened"]
