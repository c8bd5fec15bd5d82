"""Where `stilo settings` can save values."""

from __future__ import annotations

import click
from click.shell_completion import CompletionItem

#: Where a value can be saved.
PLACES = ("project", "personal", "editorconfig", "directive")
#: What the name of a file ends with that a whole style can be written to.
STYLE_FILE = ".toml"


class Place(click.ParamType[str]):
    """One of PLACES, or the name of a file for a whole style."""

    name = "place"

    def convert(self, value: str, param: click.Parameter | None, ctx: click.Context | None) -> str:
        """The place that a word names. Raises BadParameter."""
        if value not in PLACES and not value.endswith(STYLE_FILE):
            known = ", ".join(PLACES)
            self.fail(f"{value!r} is no place; there are {known}, and a FILE.toml", param, ctx)
        return value

    def shell_complete(
        self, ctx: click.Context, param: click.Parameter, incomplete: str
    ) -> list[CompletionItem]:
        """The places that begin so."""
        return [CompletionItem(place) for place in PLACES if place.startswith(incomplete)]
