"""Files that are not UTF-8, byte-order marks, and the edits that lead from them to their result."""

from __future__ import annotations

import pytest

import stilo
from stilo.source import BOM

TEXT = '// Fähre zur Öse\r\nString  s = "Ærø";\r\nint  b;\r\n'
DONE = '// Fähre zur Öse\r\nString s = "Ærø";\r\nint b;\r\n'


def applied(result: stilo.Result) -> bytes:
    raw, pieces, at = result.source.raw, [], 0
    for edit in result.edits:
        pieces += [raw[at:edit.start], edit.text]
        at = edit.end
    return b"".join([*pieces, raw[at:]])


@pytest.mark.parametrize(
    "charset, mark",
    [("latin1", b""), ("utf-16le", b"\xff\xfe"), ("utf-16be", b"\xfe\xff"), ("utf-16le", b"")]
)
def test_charset_is_read_and_written(charset: str, mark: bytes) -> None:
    text, done = TEXT, DONE
    if charset != "latin1":
        text, done = text.replace("Ærø", "⛴𝄞"), done.replace("Ærø", "⛴𝄞")
    result = stilo.reformat(mark + text.encode(charset), "java", {"charset": charset})
    assert result.data == mark + done.encode(charset)
    assert applied(result) == result.data
    assert result.text == done
    assert not stilo.reformat(result.data, "java", {"charset": charset}).changed
    assert result.findings[0].end == (2, 9)


@pytest.mark.parametrize(
    "charset, has, gets",
    [
        ("keep", True, True),
        ("keep", False, False),
        ("utf-8", True, False),
        ("utf-8-bom", False, True),
    ]
)
def test_byte_order_mark(charset: str, has: bool, gets: bool) -> None:
    for text in (TEXT, DONE):
        raw = (BOM if has else b"") + text.encode()
        result = stilo.reformat(raw, "java", {"charset": charset})
        assert result.data == (BOM if gets else b"") + DONE.encode()
        assert applied(result) == result.data


def test_what_is_not_in_the_charset_is_left_and_told() -> None:
    with pytest.raises(stilo.UnreadableSource, match="not utf-16le: truncated data"):
        stilo.reformat(b"int", "java", {"charset": "utf-16le"})
    with pytest.raises(stilo.UnreadableSource, match="not UTF-8"):
        stilo.reformat("ä".encode("latin1"), "java")


def test_an_empty_file_stays_empty() -> None:
    for charset in ("keep", "utf-8-bom", "latin1", "utf-16le"):
        assert stilo.reformat(b"", "java", {"charset": charset}).data == b""
