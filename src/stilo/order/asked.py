"""Which settings ask for imports to be put in order, and which decide on an import's place."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from stilo.language import Language
from stilo.order.lookup import NEEDS
from stilo.order.reading import runs_of
from stilo.sheet.properties import Value, Words
from stilo.tree.flat import Tree

#: The settings that turn passes on, each by any value but `keep`.
PASSES = ("import.order", "import.scattered", *NEEDS)
#: What keeps all imports that there are as they are, but for their order.
KEPT: Mapping[str, Value] = dict.fromkeys(NEEDS, "keep")


def is_wanted(values: Mapping[str, Value]) -> bool:
    """Whether a style asks for any of these passes."""
    return any(values.get(name, "keep") != "keep" for name in PASSES)


def order_alone(language: Language) -> dict[str, Value]:
    """What holds where imports are to be put in order and the style asks for no pass."""
    setting = language.settings.get("import.order")
    if setting is None or not isinstance(setting.type, Words):
        return {}
    return {setting.name: setting.type.permitted[1]}


def asks_for_uses(values: Mapping[str, Value]) -> bool:
    """Whether a style asks for a pass that looks at what the whole text uses."""
    return any(values.get(name, off) != off for name, off in KEPT.items())


def placing(
    tree: Tree, language: Language, values: Mapping[str, Value], offset: int
) -> tuple[str, ...]:
    """The settings that decide on the place of the import at an offset; none where there is none."""
    settings: tuple[str, ...] = ()
    if values.get("import.order", "keep") != "keep":
        settings += ("import.groups", "import.sort")
    if values.get("import.scattered", "keep") != "keep":
        settings += ("import.scattered",)
    is_import = (
        settings
        and any(item.start <= offset < item.end for run in runs_of(tree, language) for item in run)
    )
    return settings if is_import else ()


def consulted_for_order(
    tree: Tree, language: Language, values: Mapping[str, Value], touched: Sequence[int] | None
) -> frozenset[str]:
    """The settings that decide on the imports in some tokens, or in all."""
    if "import.order" not in language.settings:
        return frozenset()
    is_touched = any(
        touched is None or tree.first(item.node) in touched
        for run in runs_of(tree, language)
        for item in run
    )
    if not is_touched:
        return frozenset()
    if not is_wanted(values):
        return frozenset(PASSES)
    return frozenset(n for n in language.settings if n.startswith("import."))
