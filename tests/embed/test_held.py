"""Texts in tokens: each in the style of its language, at the width that is left, and nothing else changes."""

from __future__ import annotations

from pathlib import Path

import pytest

import stilo
from stilo.edits import apply_edits
from stilo.embed.held import closed, form_of, opened

NOTICE = """\
Ask like this:

> 1. Berths
>
>    ```python
>    berth( "north",lane = 2 )
>    ```

~~~json
{"sailing":"07:40",
~~~

```sql
select   1
```
"""


def laid_out(
    text: str, lines: tuple[int, int] | None = None, **settings: str | int
) -> stilo.DocumentResult:
    styles = stilo.Styles(
        {n.replace("_", "-"): v for n, v in settings.items()}, "default", "markdown"
    )
    result = stilo.reformat_styled(text, styles.of("notice.md"), lines=lines)
    assert isinstance(result, stilo.DocumentResult)
    assert apply_edits(result.source.raw, result.edits) == result.data
    return result


def test_code_is_laid_out_within_quotes_and_lists() -> None:
    result = laid_out(NOTICE)
    assert result.text == NOTICE.replace('berth( "north",lane = 2 )', 'berth("north", lane=2)')
    assert not laid_out(result.text).changed


def test_what_cannot_be_read_stays_and_is_told() -> None:
    (unread,) = laid_out(NOTICE).unread
    assert (unread.position.line, unread.last_line) == (10, 10)
    assert unread.why == "cannot be read as json from line 10 on"


def test_findings_and_decisions_are_at_places_of_the_document() -> None:
    result = laid_out(NOTICE)
    assert {(f.position.line, f.position.column) for f in result.findings} >= {(6, 12), (6, 21)}
    assert result.decision(6, 21).after == '"lane"'
    assert result.decision(1, 5).after == '"like"'
    assert "opening-parenthesis.after" in result.settings_consulted


def test_a_range_lays_out_no_more_than_its_texts() -> None:
    text = NOTICE.replace("Ask like", "Ask\t \nlike") + "\n```python\na( )\nb( )\n```\n"
    assert text.count("\n") == 21
    assert laid_out(text, (20, 20)).text == text.replace("b( )", "b()")


def test_the_width_is_what_is_left() -> None:
    text = "- a\n\n  > ```python\n  > berth(north, south_quay)\n  > ```\n"
    assert laid_out(text, width=28).text == text
    assert laid_out(text, width=27).text != text


def test_lines_keep_their_ends_and_their_encoding() -> None:
    text = NOTICE.replace("\n", "\r\n")
    assert laid_out(text).text == laid_out(NOTICE).text.replace("\n", "\r\n")


def test_code_may_be_kept() -> None:
    assert laid_out(NOTICE, code_blocks="keep").text == NOTICE


def test_a_directive_keeps_the_text_below_it() -> None:
    text = "<!-- stilo: leave -->\n```python\na( )\n```\n"
    result = stilo.reformat_styled(text, stilo.Styles(None, "default", "markdown").of("notice.md"))
    assert result.text == text


def test_a_project_lays_out_each_language_in_its_style(place) -> None:
    folder = place({
        "stilo.toml": "[python]\nindent = 2\n\n[markdown]\nparagraphs = \"row\"\n",
        "notice.md": "a\nb\n\n```py\nif a:\n    b( )\n```\n",
        ".editorconfig": "[*.md]\nindent_size = 8\n",
    })
    result = stilo.reformat_file(folder / "notice.md")
    assert result.text == "a b\n\n```py\nif a:\n  b()\n```\n"


def test_what_is_known_of_a_file_forgets_no_language_in_it(place, run) -> None:
    folder = place({"stilo.toml": "", "notice.md": "```py\nif a:\n    b()\n```\n"})
    assert run("proof", folder).exit_code == 0
    Path(folder / "stilo.toml").write_text("[python]\nindent = 2\n")
    assert run("proof", folder).exit_code == 1


def test_code_that_holds_the_sign_of_its_end_changes_no_more_than_it_may() -> None:
    text = "````markdown\n```python\na( )\n```\n\n*  b\n````\n"
    assert laid_out(text).text == "````markdown\n```python\na()\n```\n\n* b\n````\n"


LIT = """f(html`
<p>a  ${b}</p><div>
${c}
${d}
</div>

`)
"""


def in_script(text: str, style: dict[str, str | int] | None = None, name: str = "board.js") -> str:
    """A script in a style, with the templates in it; a second run changes nothing."""
    values: dict[str, str | int] = {"inner-texts": "html svg html | css css", **(style or {})}
    chosen = stilo.Styles(values, "default").of(name)
    assert chosen is not None
    result = stilo.reformat_styled(text, chosen, name=name)
    again = stilo.reformat_styled(result.data, chosen, name=name)
    assert not again.changed
    assert not again.findings
    return result.text


@pytest.mark.parametrize("name", ["board.js", "board.ts"])
def test_templates_in_strings(name: str) -> None:
    wanted = "f(html`\n  <p>a ${b}</p>\n  <div>\n    ${c}\n    ${d}\n  </div>\n`)\n"
    assert in_script(LIT, name=name) == wanted
    assert in_script(LIT, {"inner-texts": ""}, name) == LIT
    tabs = {"indent-with": "tabs", "indent": 4}
    assert in_script(LIT, tabs, name).startswith("f(html`\n\t<p>a ${b}</p>\n\t<div>\n\t\t${c}\n")
    assert in_script(LIT.replace("\n", "\r\n"), name=name) == wanted.replace("\n", "\r\n")


@pytest.mark.parametrize(
    "inner",
    [
        "\n<p>  ${a(`b`)}</p>\n",
        "\n<p>  \\n</p>\n",
        "\n<p>  ${{a: b}}</p>\n",
        "<p>  a</p>\n",
        "\n<p>  a</p>",
        "\n<p  a\n",
    ],
)
def test_templates_that_stay(inner: str) -> None:
    assert in_script(f"f(html`{inner}`)\n") == f"f(html`{inner}`)\n"
    assert in_script(f"f(other`{inner}`)\n") == f"f(other`{inner}`)\n"


def test_style_sheets_in_strings() -> None:
    text = "class A {\n  static b = css`\n.c{d:e}\n      .f{g:h}\n`\n}\n"
    wanted = "class A {\n  static b = css`\n    .c { d: e }\n    .f { g: h }\n  `\n}\n"
    assert in_script(text) == wanted
    assert in_script(text.replace("h}\n`", "h}`")) == wanted
    assert in_script(text.replace("`\n.c", "`.c")) == wanted


def test_lines_within_a_template_stay_where_they_show() -> None:
    text = "f(html`\n<div><pre>\n a\n</pre></div>\n`)\n"
    assert in_script(text) == ("f(html`\n  <div>\n    <pre>\n a\n</pre>\n  </div>\n`)\n")


@pytest.mark.parametrize("text", ["a", "a\nb", "a\n\nb", "", "  a\n b"])
def test_a_text_comes_out_of_its_token_as_it_went_in(text: str) -> None:
    form = form_of("(?P<text>.*)", "> ", "outside", True)
    known = opened("> x", 3, form)
    assert known is not None
    token = closed(known, text, "   ", form)
    again = opened(token, 3, form)
    assert again is not None and again.text == text


def test_a_tab_after_the_mark_is_not_torn() -> None:
    assert opened(">\ta", 0, form_of("(?P<text>.*)", "> ", "outside", True)) is None
