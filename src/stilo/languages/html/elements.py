"""What is known of elements by their names: how they are shown, and which end where another begins.

Sources: the HTML standard, "Rendering" (15.3) for what begins on a line of its own, "Optional tags" (13.1.2.4),
"Void elements" and "Raw text" (13.1.2).
"""

from __future__ import annotations


def _names(text: str) -> frozenset[bytes]:
    return frozenset(text.encode().split())


#: Elements that begin and end a line. White space next to their edges is not shown.
BLOCKS = _names(
    "html head body address blockquote center dialog div figure figcaption footer form header hr legend listing "
    "main p pre xmp plaintext search article aside h1 h2 h3 h4 h5 h6 hgroup nav section dir dd dl dt menu ol ul li "
    "table caption colgroup col thead tbody tfoot tr td th fieldset details summary optgroup option frameset frame "
    "noframes"
)
#: Elements that show nothing where they stand.
UNSHOWN = _names(
    "base basefont bgsound link meta script style title template area param source track datalist rp noscript"
)
#: Elements in a line with white space of their own: that at the inner edges is not shown.
BOXES = _names("button select svg math object video audio canvas iframe")
#: Of these, the ones with items, none of which is text.
BOXES_OF_ITEMS = _names("select svg object video audio")
VOID = _names(
    "area base basefont bgsound br col embed frame hr image img input keygen link meta param source track wbr"
)
#: Elements whose text holds no tags: as it is, or but for character references.
RAW = _names("script style xmp iframe noembed noframes textarea title")
#: Elements whose white space is shown.
PREFORMATTED = _names("pre listing xmp plaintext textarea")
#: Elements in a line that show something though they hold nothing.
REPLACED = _names("img input embed textarea iframe br wbr meter progress")
#: Elements whose end tags may be left out.
MAY_STAY_OPEN = _names(
    "p li dt dd option optgroup rt rp td th tr thead tbody tfoot colgroup caption head body html"
)
TABLE_PARTS = _names("caption colgroup col tr td th thead tbody tfoot")
#: A pattern of styles by which white space is shown.
SHOWN_STYLE = r"white-space(?:-collapse)?\s*:\s*(?:pre|break-spaces|preserve)"
#: A pattern of what in a script makes its lines stay where they are, unless it can be read: a text of several.
FIXED_CODE = r"`|\\\n"
FOREIGN = _names("svg math")

_ENDS_P = (
    BLOCKS
    - _names(
        "html head body caption colgroup col thead tbody tfoot tr td th legend optgroup option frame frameset noframes"
    )
)
#: The elements, by their names, that an open one ends where they begin.
ENDED_BY: dict[bytes, frozenset[bytes]] = {
    b"p": _ENDS_P,
    b"li": _names("li"),
    b"dt": _names("dt dd"),
    b"dd": _names("dt dd"),
    b"option": _names("option optgroup hr"),
    b"optgroup": _names("optgroup hr"),
    b"rt": _names("rt rp"),
    b"rp": _names("rt rp"),
    b"td": _names("td th tr tbody thead tfoot"),
    b"th": _names("td th tr tbody thead tfoot"),
    b"tr": _names("tr tbody thead tfoot"),
    b"thead": _names("tbody tfoot thead"),
    b"tbody": _names("tbody tfoot thead"),
    b"tfoot": _names("tbody tfoot thead"),
    b"colgroup": _names("thead tbody tfoot tr colgroup"),
    b"caption": _names("thead tbody tfoot tr colgroup col"),
    b"head": _names("body"),
}
#: What an end tag does not look past for the element that it ends, nor what begins for one that it ends.
BOUNDS = _names("table td th caption template html object button select svg math ul ol dl")
