"""The text of an import, by the pattern of its form."""

from __future__ import annotations

import re

from stilo.order.imports import ALL, Entry, Import


def written(item: Import) -> bytes:
    """The text of an import, by the form's pattern."""
    form = item.form
    wholes = [entry.alias for entry in item.entries if not entry.name]
    entries = [entry for entry in item.entries if entry.name]
    names = [_name(form.writes_alias, entry) for entry in entries]
    opening, closing = form.wraps[:1], form.wraps[1:2]
    is_wrapped = "{whole}" in form.writes or opening != "" and opening.encode() in item.text
    if not entries:
        joined = ""
    elif not item.has_inner_comments:
        joined = ", ".join(names)
        if is_wrapped and joined != ALL:
            joined = f"{opening}{joined}{closing}"
    else:
        lines = [" ".join([opening, *(text.decode() for text in item.head)])]
        for name, entry in zip(names, entries):
            lines += [text.decode() for text in entry.lead]
            lines.append("  ".join([f"{name},", *(text.decode() for text in entry.trail)]))
        joined = "\n".join([*lines, closing])
    parts = {
        "{module}": item.module,
        "{quoted}": item.quoted,
        "{tail}": item.tail,
        "{whole}": ", ".join([*wholes, *([""] if joined else [])]),
        "{names}": joined,
        "{name}": names[0] if names else "",
    }
    return re.sub(r"\{\w+\}", lambda part: parts.get(part[0], part[0]), form.writes).encode()


def _name(pattern: str, entry: Entry) -> str:
    mark = f"{entry.mark} " if entry.mark else ""
    if not entry.alias:
        return mark + entry.name
    return mark + pattern.replace("{name}", entry.name).replace("{alias}", entry.alias)


def says_all(item: Import, solid: bytes) -> bool:
    """Whether an import without comments, written anew as it is, has the same text but for white space.

    solid: its text without any. A comma before the closing bracket does not count.
    """
    closing = item.form.wraps[1:2].encode()
    made = b"".join(written(item).split())
    return made == (solid.replace(b"," + closing, closing) if closing else solid)
