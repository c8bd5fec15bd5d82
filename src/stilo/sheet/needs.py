"""Settings that do nothing while another one has a certain value."""

from __future__ import annotations

from collections.abc import Mapping

from stilo.sheet.properties import Value

#: Aspect of a role, or one value of it → the aspect of the same role that it needs, and the values that make it idle.
_OF_ROLE = {
    "align=yes": ("open", ("new-line",)),
    "inner-line": ("wrap", ("row", "flow", "stack-always")),
    "atoms": ("wrap", ("row", "flow", "stack-always")),
}
_ORDER = ("groups", "packages", "group-blank", "headers", "sort", "forms", "names")
#: Other settings, likewise.
_OTHERS: Mapping[str, tuple[str, tuple[Value, ...]]] = {
    "tab-width": ("indent-with", ("spaces",)),
    **{f"import.{name}": ("import.order", ("keep",)) for name in _ORDER},
}


def idle_while(name: str, values: Mapping[str, Value]) -> str:
    """The setting by whose value a setting does nothing, or "".

    values: those of the settings that a language has.
    """
    role, dot, aspect = name.partition(".")
    other, idle = _OTHERS.get(name, ("", ()))
    for said in (aspect, f"{aspect}={values.get(name)}"):
        if not other and dot and said in _OF_ROLE:
            needed, idle = _OF_ROLE[said]
            other = f"{role}.{needed}"
    return other if values.get(other) in idle else ""
