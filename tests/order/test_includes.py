"""`#include` lines in order: within what blank lines and other lines for the preprocessor part."""

from __future__ import annotations

from pathlib import Path

import pytest

import stilo

GROUPS = {"import.order": "groups"}


def ordered(text: str, **settings: str) -> str:
    """A text of C with its includes in order."""
    return stilo.reformat(text, "c", {**GROUPS, **settings}).text


def test_they_stay_as_they_are_unless_that_is_asked_for() -> None:
    text = "#include <b.h>\n#include <a.h>\n"
    assert stilo.reformat(text, "c").text == text


def test_standard_headers_may_be_sorted_alone() -> None:
    text = "#include <z.h>\n#include <string.h>\n#include <errno.h>\n#include \"a.h\"\n#include <time.h>\n#include <ctype.h>\n"
    assert ordered(text, **{"import.order": "standard"}) == (
        "#include <z.h>\n#include <errno.h>\n#include <string.h>\n#include \"a.h\"\n"
        "#include <ctype.h>\n#include <time.h>\n"
    )


def test_that_is_what_happens_where_order_alone_is_asked_for() -> None:
    text = "#include \"b.h\"\n#include \"a.h\"\n#include <time.h>\n#include <ctype.h>\n"
    assert (
        stilo.reformat(text, "c", only_order=True).text
        == ("#include \"b.h\"\n#include \"a.h\"\n#include <ctype.h>\n#include <time.h>\n")
    )


def test_the_forms_stand_apart_and_comments_go_with_theirs() -> None:
    text = (
        "#include \"lane.h\"  // lanes\n#include <stdio.h>\n/* berths */\n#include \"berth.h\"\n"
        "#include <errno.h>\n\nint a;\n"
    )
    assert ordered(text) == (
        "#include <errno.h>\n#include <stdio.h>\n\n/* berths */\n#include \"berth.h\"\n"
        "#include \"lane.h\"  // lanes\n\nint a;\n"
    )


@pytest.mark.parametrize("border", ["", "#define A", "#pragma once", "#include A", "int a;"])
def test_none_passes_a_blank_line_another_directive_or_code(border: str) -> None:
    text = f"#include <b.h>\n{border}\n#include <a.h>\n"
    lines = [line for line in ordered(text).split("\n") if line]
    assert lines == [line for line in text.split("\n") if line]


def test_in_each_branch_they_are_sorted() -> None:
    text = "#if A\n#include <d.h>\n#include <c.h>\n#else\n#include <b.h>\n#include <a.h>\n#endif\n"
    assert ordered(text) == (
        "#if A\n#include <c.h>\n#include <d.h>\n#else\n#include <a.h>\n#include <b.h>\n#endif\n"
    )


def test_one_that_stands_twice_stays_twice() -> None:
    text = "#include \"row.inc\"\n#include \"row.inc\"\n"
    assert ordered(text) == text


def test_folders_sort_before_what_is_in_them_and_groups_take_them_whole() -> None:
    text = "#include <sys/types.h>\n#include <sysexits.h>\n#include <quay/lane.h>\n"
    assert (
        ordered(text) == "#include <quay/lane.h>\n#include <sys/types.h>\n#include <sysexits.h>\n"
    )
    assert (
        ordered(text, **{"import.groups": "sys | *"})
        == ("#include <sys/types.h>\n\n#include <quay/lane.h>\n#include <sysexits.h>\n")
    )


def test_the_header_of_the_file_itself_comes_first(tmp_path: Path) -> None:
    path = tmp_path / "gauge.c"
    path.write_text("#include <stdio.h>\n#include \"berth.h\"\n#include \"tide/gauge.h\"\n")
    result = stilo.reformat_file(path, styles=stilo.Styles(GROUPS))
    assert (
        result.data.decode()
        == ("#include \"tide/gauge.h\"\n\n#include <stdio.h>\n\n#include \"berth.h\"\n")
    )


def test_in_cpp_likewise() -> None:
    text = "#include <string>\n#include <map>\n\nint a;\n"
    assert (
        stilo.reformat(text, "cpp", GROUPS).text
        == ("#include <map>\n#include <string>\n\nint a;\n")
    )
