"""HTML: what white space may come and go, what must not, and what stops a page."""

from __future__ import annotations

import re

import pytest
from hypothesis import assume, given
from hypothesis import strategies as some

import stilo
from stilo.languages.html.check import check
from stilo.languages.html.match import MOST_DEPTH, match
from stilo.languages.html.scan import ScanError, scan, without_templates
from stilo.layout.indents import MOST_COLUMNS

HTML = stilo.load_language("html")


def laid_out(text: str, **style: str | int) -> str:
    """A page in a style, scripts and all; a second run changes nothing."""
    values = {name.replace("_", "-"): value for name, value in style.items()}
    chosen = stilo.Styles(values, "default", "html").of("page.html")
    result = stilo.reformat_styled(text, chosen, name="page.html")
    again = stilo.reformat_styled(result.data, chosen, name="page.html")
    assert not again.changed
    assert not again.findings
    return result.text


@pytest.mark.parametrize(
    "text",
    [
        "<p>a<b>b</b>c <i>d</i></p>\n",
        "a<!-- c -->b\n",
        "a<script src=x></script>b\n",
        "x<a>foo<div>bar</div></a>\n",
        "<p>one<img src=a>two</p>\n",
        "x<b>a<hr>c</b>y\n",
        "<p>a&nbsp;b\u00a0c</p>\n",
        "{{ a   <  b }}{% if  c %}\n",
        "<a href='{{  x }}' {% if  y %}hidden{% endif %}>z</a>\n",
        "<textarea>\n a\n  b</textarea>\n",
        "<p style='white-space: pre-wrap'>a   b</p>\n",
        "<pre>\n a\n</pre>\n",
        "<script type='text/template'> <b>  x</b></script>\n",
        "<p>&lt; 3 < 4</p>\n",
        "",
    ],
)
def test_what_stays(text: str) -> None:
    assert laid_out(text) == text


@pytest.mark.parametrize(
    "text, expected",
    [
        ("<div><p>a</p><p>b</p></div>", "<div>\n  <p>a</p>\n  <p>b</p>\n</div>\n"),
        ("<ul><li>a<li>b</ul>", "<ul>\n  <li>a\n  <li>b\n</ul>\n"),
        ("<dl><dt>a<dd>b<dt>c</dl>", "<dl>\n  <dt>a\n  <dd>b\n  <dt>c\n</dl>\n"),
        ("<p>  a\n b </p>", "<p>a b</p>\n"),
        ("<p>a<br>b<br/> c", "<p>\n  a<br>\n  b<br/>\n  c\n"),
        ("<P\n>a</P\n>", "<P>a</P>\n"),
        ("<a  x = 1\ty='2'   z=''>b</a>", "<a x=1 y='2' z=''>b</a>\n"),
        ("<input value=a />", "<input value=a />\n"),
        ("<input value='a'/>", "<input value='a' />\n"),
        ("<a><div>b</div></a>", "<a>\n  <div>b</div>\n</a>\n"),
        ("<button>  a </button>", "<button>a</button>\n"),
        ("a <select><option>b</select> c", "a\n<select>\n  <option>b\n</select>\nc\n"),
        ("<svg><g><path d='M0'/></g></svg>", "<svg>\n  <g>\n    <path d='M0' />\n  </g>\n</svg>\n"),
        ("<svg><text> a  b</text></svg>", "<svg>\n  <text> a  b</text>\n</svg>\n"),
        ("<p>a</p>\n<!-- b -->\n<p>c</p>", "<p>a</p>\n<!-- b -->\n<p>c</p>\n"),
        ("<p>a</p><!-- b --><p>c</p>", "<p>a</p>\n<!-- b -->\n<p>c</p>\n"),
        ("a<meta b><meta c>d", "a<meta b><meta c>d\n"),
        ("<meta a><meta b><p>x", "<meta a>\n<meta b>\n<p>x\n"),
        ("{% if a %}\n<p>b</p>\n{% endif %}", "{% if a %}\n<p>b</p>\n{% endif %}\n"),
        ("<p>\n{% if a %}\nb c\nd\n{% endif %}", "<p>\n  {% if a %}\n  b c d\n  {% endif %}\n"),
        ("<p>\n{{ a }} <b>c</b> d", "<p>{{ a }} <b>c</b> d\n"),
        ("</p>a</div>", "</p>\na\n</div>\n"),
        ("<p>a\r\n b\r\n<p>c\r\n", "<p>a b\r\n<p>c\r\n"),
        ("\ufeff<p>  a", "<p>a\n"),
        ("<table><tr><td>a<tr><td>b</table>", "<table>\n  <tr><td>a\n  <tr><td>b\n</table>\n"),
        ("<title> a  b </title>", "<title>a b</title>\n"),
    ],
)
def test_what_changes(text: str, expected: str) -> None:
    assert laid_out(text) == expected


@pytest.mark.parametrize(
    "text, expected",
    [
        ("<script>a( )</script>", "<script>\n  a()\n</script>\n"),
        ("<script>\n\n</script>", "<script></script>\n"),
        ("<script type=module>a( )</script>", "<script type=module>\n  a()\n</script>\n"),
        ("<script>x(`a\n  b`)</script>", "<script>\n  x(`a\n  b`)\n</script>\n"),
        (
            "<script>\nif(a){\n/* b\n   c */\nd()}</script>",
            "<script>\n  if (a) {\n    /* b\n       c */\n    d()\n  }\n</script>\n",
        ),
        ("<script>a(</script>", "<script>\n  a(\n</script>\n"),
        ("<style>p{margin:0}</style>", "<style>\n  p { margin: 0 }\n</style>\n"),
        (
            "<script type=importmap>{\"a\":1}</script>",
            "<script type=importmap>\n  {\"a\": 1}\n</script>\n",
        ),
        ("<script><!--\na( )\n//--></script>", "<script>\n  <!--\n  a()\n  //-->\n</script>\n"),
    ],
)
def test_code_within(text: str, expected: str) -> None:
    assert laid_out(text) == expected


def test_tabs_stand_before_code_within() -> None:
    text = laid_out("<div><script>if(a){b()}</script></div>", indent_with="tabs", indent=4)
    assert text.startswith("<div>\n\t<script>\n\t\tif (a) {\n")


def test_code_that_stays_moves_as_a_whole() -> None:
    text = "<div><script>\nif a(\n    b\n</script></div>"
    assert laid_out(text) == ("<div>\n  <script>\n    if a(\n        b\n  </script>\n</div>\n")


def test_no_line_ends_where_browsers_drop_it() -> None:
    text = "漢字 漢字\n漢字 漢字 \u200b漢字漢字漢字 漢字漢字漢字"
    assert (
        laid_out(f"<p>{text}</p>", width=20)
        == ("<p>\n  漢字 漢字\n  漢字 漢字 \u200b漢字漢字漢字 漢字漢字漢字\n</p>\n")
    )
    assert check("<p>漢字\n漢字".encode(), "<p>漢字 漢字".encode(), False)
    assert not check("<p>한글\n한글".encode(), "<p>한글 한글".encode(), False)


def test_elements_alone_keep_their_lines() -> None:
    text = "<nav>\n<a>b</a>\n<a>c</a> <a>d</a>\n</nav>"
    assert laid_out(text) == "<nav>\n  <a>b</a>\n  <a>c</a> <a>d</a>\n</nav>\n"
    assert laid_out(text, element_rows="flow") == "<nav><a>b</a> <a>c</a> <a>d</a></nav>\n"
    assert laid_out("<p>\n<a>b</a>\nc <a>d</a>\n</p>") == "<p><a>b</a> c <a>d</a></p>\n"


def test_a_blank_line_parts_a_text() -> None:
    text = "<p>a\nb\n\n\n\nc <b>d\n\ne</b></p>"
    assert laid_out(text) == "<p>\n  a b\n\n  c <b>d e</b>\n</p>\n"
    assert laid_out(text, **{"element.blank-most": 0}) == "<p>a b c <b>d e</b></p>\n"


def test_known_words() -> None:
    text = "<div class='a b'>c   d</div><ul class=e><li>f</li><li> g</li></ul>"
    style = ".b shown | .e>li inline"
    assert (
        laid_out(text, known_words=style)
        == ("<div class='a b'>c   d</div>\n<ul class=e><li>f</li><li> g</li></ul>\n")
    )


CLASSES = "<p class='berth  wide\tlow' title='a  b'>c</p>"


@pytest.mark.parametrize(
    "style, expected",
    [
        ({"class_lists": "keep"}, "<p\n    class='berth  wide\tlow'\n    title='a  b'>c</p>\n"),
        ({}, "<p\n    class='berth wide\n           low'\n    title='a  b'>c</p>\n"),
        (
            {
                "class-list.open": "new-line",
                "class-list.close": "own-line",
                "class-list.align": "no",
            },
            "<p\n    class='\n        berth wide low\n    '\n    title='a  b'>c</p>\n",
        ),
        ({"class-list.wrap": "row"}, "<p\n    class='berth wide low'\n    title='a  b'>c</p>\n"),
        (
            {"attribute-quotes": "double"},
            '<p\n    class="berth wide\n           low"\n    title="a  b">c</p>\n',
        ),
    ],
)
def test_classes_fill_their_lines(style: dict[str, str], expected: str) -> None:
    style = {"class_lists": "flow", **style}
    assert laid_out(CLASSES, width=22, **style) == expected
    assert laid_out(expected, width=22, **style) == expected


@pytest.mark.parametrize(
    "tag",
    [
        '<p class=" berth ">',
        "<p class=berth>",
        '<p class="">',
        '<p class="{% if wide %}  low  {% endif %}">',
        """<p class="berth  it's">""",
        "<p title='berth  wide'>",
        "<p class='berth\u00a0wide'>",
    ],
)
def test_no_list_of_classes(tag: str) -> None:
    assert laid_out(f"{tag}c</p>", class_lists="flow", width=20).replace("\n", " ") in (
        f"{tag}c</p> ",
        f"{tag}   c </p> ",
        f"{tag.replace(' ', '     ', 1)}c</p> ",
    )


def test_a_style_that_asks_for_nothing_needs_no_other_reader() -> None:
    assert HTML.knowing(HTML.values({})) is HTML
    flowing = HTML.knowing(HTML.values({"class-lists": "flow"}))
    assert flowing is not HTML
    assert flowing is HTML.knowing(HTML.values({"class-lists": "flow", "width": 40}))
    words = HTML.knowing(HTML.values({"class-lists": "flow", "known-words": ".berth shown"}))
    assert b"berth low" not in words.read(b"<p class='berth low'>").tree.texts


def test_quotes_stay_around_a_template_with_the_same() -> None:
    text = """<a href="{{ quay["url"] }}" title="b">c</a>\n"""
    assert laid_out(text, attribute_quotes="single") == text.replace('"b"', "'b'")


@pytest.mark.parametrize(
    "text, column, message",
    [
        ("<p>a<!-- b", 5, "the comment is not closed"),
        ("<p>a<b c='d>", 5, "the tag <b> is not closed"),
        ("<script>a", 1, "<script> is not closed"),
        ("<li{% a %}>b", 1, "a sign of a template stands in the name of this tag"),
        ("<a /b>c", 3, "a slash stands before an attribute of this tag"),
        ("<pre>a", 1, "<pre> is not closed"),
        ("<svg><![CDATA[ a", 6, "the CDATA section is not closed"),
        ("<p>" + "<b>" * (MOST_DEPTH + 1), 3 * MOST_DEPTH + 1, "elements are open here"),
    ],
)
def test_what_stops_a_page(text: str, column: int, message: str) -> None:
    with pytest.raises(stilo.SyntaxFault) as raised:
        stilo.reformat(text, "html")
    assert (raised.value.fault.line, raised.value.fault.column) == (1, column)
    assert message in raised.value.fault.message


@pytest.mark.parametrize(
    "before, after",
    [
        ("<p>a<b>c</b>", "<p>a <b>c</b>"),
        ("<p>a <b>c</b>", "<p>a<b> c</b>"),
        ("<p><u>a</u> b", "<p><u>a </u>b"),
        ("<p>a<img src=b>", "<p>a <img src=b>"),
        ("<pre>a b</pre>", "<pre>a  b</pre>"),
        ("<p style='white-space:pre'>a b", "<p style='white-space:pre'>a  b"),
        ("<textarea>a</textarea>", "<textarea>a </textarea>"),
        ("<script>a(`b`)</script>", "<script>a(` b`)</script>"),
        ("<a title='b c'>d</a>", "<a title='b  c'>d</a>"),
        ("<a class='b c'>d</a>", "<a class='b\u00a0c'>d</a>"),
        ("<a class='b c'>d</a>", "<a class='c b'>d</a>"),
        ("<p>a</p>b", "<p>a</p>c"),
        ("<svg><text>a</text></svg>", "<svg><text> a</text></svg>"),
        ("<button>a</button>b", "<button>a</button> b"),
        ("a<title>b</title>c", "a <title>b</title>c"),
        ("<title>a b</title>", "<title>ab</title>"),
    ],
)
def test_the_check_sees_what_shows(before: str, after: str) -> None:
    assert check(before.encode(), after.encode(), False) == 1


@pytest.mark.parametrize(
    "before, after",
    [
        ("<div>a</div>", "<div>\n a\n</div>"),
        ("<p><b>a</b>", "<p>\n<b>a</b>\n"),
        ("a <b>c</b>", "a <b> c</b>"),
        ("a<br>b", "a<br>\nb"),
        ("<select><option>a</select>", "<select> <option> a </select>"),
        ("<button>a</button>", "<button> a </button>"),
        ("<style>a{}</style>", "<style>\na{}\n</style>"),
        ("a<title>b  c</title>", "a\n<title>b c</title>\n"),
        ("<a><div>b</div></a>", "<a>\n<div>b</div>\n</a>"),
        ("<a class='b  c'>d</a>", "<a class=' b\n\tc'>d</a>"),
    ],
)
def test_the_check_lets_pass_what_does_not(before: str, after: str) -> None:
    assert check(before.encode(), after.encode(), False) == 0


def test_the_check_tells_the_line() -> None:
    page = "<body>\n<p>a\n<p>b<i>c</i>\n<p>d"
    assert check(page.encode(), page.replace("b<i>", "b <i>").encode(), False) == 3


def test_tags_end_what_the_standard_says() -> None:
    pieces = scan(b"<ul><li>a<p>b<li>c</ul><p>d<div>e</div></p>")
    found = match(pieces, {})
    tags = [p.name.decode() for p in pieces if p.what == "tag"]
    ends = [found.close[n] for n, p in enumerate(pieces) if p.what == "tag"]
    assert list(zip(tags, ends)) == [
        ("ul", 7), ("li", 5), ("p", 5), ("li", 7), ("p", 10), ("div", 12)
    ]
    assert [found.is_end[n] for n, p in enumerate(pieces) if p.what == "end_tag"] == [
        True, True, False
    ]


def test_an_end_tag_looks_past_an_open_list() -> None:
    found = match(scan(b"<div><ul><li>a</div>"), {})
    assert found.close[0] == 4 and found.has_end[0]


def test_scripts_end_where_the_standard_says() -> None:
    text = b"<script><!-- <script> </script> --></script><p>a"
    assert [p.what for p in scan(text)] == ["tag", "raw", "end_tag", "tag", "word"]
    text = b"<script><!-- <script> --> a</script>"
    assert [p.what for p in scan(text)] == ["tag", "raw", "end_tag"]
    with pytest.raises(ScanError):
        scan(b"<script><!-- <script> </script>")


def test_lines_go_no_further_in_than_a_limit() -> None:
    deep = stilo.reformat("<div>" * 1200 + "</div>" * 1200, "html").text
    margins = [len(line) - len(line.lstrip()) for line in deep.splitlines()]
    assert max(margins) == MOST_COLUMNS == margins[1100]
    assert margins[900] == 1800


def test_templates_are_words_of_one_length() -> None:
    text = b"{{ a }}<% b > c %><?xml d?>{% e"
    masked = without_templates(text)
    assert len(masked) == len(text)
    assert masked == b"x" * 18 + b"<?xml d?>{% e"


def test_what_is_wrong_with_a_page_is_told_where_it_would_read_differently() -> None:
    with pytest.raises(stilo.SyntaxFault) as raised:
        stilo.reformat("<p>\n<tr>at</tr>{{ x }}", "html")
    assert (
        str(raised.value)
        == ("text:2:1: syntax error: <tr> stands outside a table; the file is left as it was")
    )


def test_xhtml_closes_any_tag() -> None:
    head = "<!DOCTYPE html PUBLIC '-//W3C//DTD XHTML 1.0 Strict//EN' 'x'>\n"
    assert (
        laid_out(f"{head}<div><h1><a name='b'/>c</h1><p>d</p></div>")
        == (f"{head}<div>\n  <h1><a name='b' />c</h1>\n  <p>d</p>\n</div>\n")
    )


def test_white_space_at_inner_edges() -> None:
    assert laid_out("<p>x<b> a </b>y</p>\n") == "<p>x<b> a </b>y</p>\n"
    assert laid_out("<p>x <b> a </b>y</p>\n") == "<p>x <b>a </b>y</p>\n"
    long = "abcdefgh ijklmnop"
    assert (
        laid_out(f"<p>x<b>{long} </b>y</p>", width=20)
        == ("<p>\n  x<b>abcdefgh\n  ijklmnop </b>y\n</p>\n")
    )
    assert (
        laid_out(f"<p>x <b>{long} </b>y</p>", width=20)
        == ("<p>\n  x <b>\n    abcdefgh\n    ijklmnop\n  </b>y\n</p>\n")
    )


def test_a_long_tag() -> None:
    text = "<p>Tickets for the <a href='/quays/north' title='The north quay'>north quay</a>.</p>"
    assert laid_out(text, width=40) == (
        "<p>\n  Tickets for the\n  <a\n      href='/quays/north'\n      title='The north quay'>north\n"
        "  quay</a>.\n</p>\n"
    )
    assert laid_out(text.replace("title='The north quay'", "id=b"), width=30) == (
        "<p>\n  Tickets for the\n  <a\n      href='/quays/north'\n      id=b>north quay</a>.\n</p>\n"
    )
    assert laid_out(text, width=40, **{"attributes.close": "own-line"}) == (
        "<p>\n  Tickets for the\n  <a\n      href='/quays/north'\n      title='The north quay'\n"
        "  >north quay</a>.\n</p>\n"
    )
    style = {
        "attributes.open": "same-line",
        "attributes.align": "yes",
        "attributes.close": "same-line",
    }
    assert (
        laid_out("<input name='berth' title='The berth'>", width=30, **style)
        == ("<input name='berth'\n       title='The berth'>\n")
    )


PARTS = (
    "Boats leave  at\n nine. <p> </p> <div> </div> <div\tclass='a\tb'> <b> </b> <a\thref='q'> </a> <br> <img\tsrc=a> <ul> <li> "
    "</li> </ul> <table> <tr> <td> </td> </tr> </table> <pre> </pre> <!--\tc\t--> <textarea> </textarea> <script> </script> "
    "a(\t); <style> </style> p{a:b} <select> <option> </select> <svg> <g/> </svg> {{\tx\t}} {%\ty\t%} <title> </title> "
    "<button> </button> <hr> <label> <input> </label> <meta> <template> </template> <dl> <dt> <dd> <video> </video>"
).split(" ")
SOUP = some.lists(
    some.sampled_from([*(p.replace("\t", " ") for p in PARTS), " ", "\n"]), max_size=14
)
WIDTHS = some.sampled_from([20, 30, 60])


@pytest.mark.parametrize(
    "page", ["<tr><img src=a> </b></td>Boats", "<tr>} </td>link orgapache", "<div>a</p> b</div>"]
)
def test_an_end_tag_that_ends_nothing_is_an_item(page: str) -> None:
    """It closes nothing, so it stands no further out than what is beside it, on the second run, too."""
    once = stilo.reformat(page, HTML, {"width": 20})
    assert not stilo.reformat(once.data, HTML, {"width": 20}).changed
    tag = next(line for line in once.text.splitlines()[1:-1] if line.strip().startswith("</"))
    assert tag.startswith("  ")


@given(SOUP, WIDTHS, some.sampled_from(["keep", "flow"]))
def test_any_page_stays_itself(parts: list[str], width: int, classes: str) -> None:
    text = "".join(parts)
    style = {"width": width, "class-lists": classes}
    try:
        result = stilo.reformat(text, HTML, style)
    except stilo.SyntaxFault:
        assume(False)
    assert re.sub(r"\s", "", result.text) == re.sub(r"\s", "", text)
    assert not stilo.reformat(result.data, HTML, style).changed


@given(SOUP, some.integers(0, 9), some.integers(0, 9))
def test_any_part_alone(parts: list[str], first: int, more: int) -> None:
    text = "\n".join(parts) + "\n"
    last = text.count("\n")
    lines = (min(first + 1, last), min(first + more + 1, last))
    try:
        stilo.reformat(text, HTML)
        result = stilo.reformat(text, HTML, lines=lines)
    except stilo.SyntaxFault:
        assume(False)
    assert result.text.startswith("".join(text.splitlines(True)[:0]))
    assert re.sub(r"\s", "", result.text) == re.sub(r"\s", "", text)
