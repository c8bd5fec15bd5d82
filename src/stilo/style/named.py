"""Named styles: ours, a team's file, or one that comes in a package; each may start from another."""

from __future__ import annotations

from functools import lru_cache
from importlib import resources
from pathlib import Path

from stilo.errors import ConfigError, Fault, near
from stilo.installed import find_installed
from stilo.paths import shown_path
from stilo.style.config import Config, read_config
from stilo.style.given import NAMED, Given

SUFFIX = ".toml"


@lru_cache
def style_names() -> tuple[str, ...]:
    """The named styles that come with Stilo."""
    folder = resources.files("stilo") / "styles"
    names = [entry.name for entry in folder.iterdir() if entry.name.endswith(SUFFIX)]
    return tuple(sorted(name.removesuffix(SUFFIX) for name in names))


def read_style(asked: Given, folder: Path) -> list[Config]:
    """A named style and those it starts from, the weakest first.

    asked: its name with the place that names it; folder: where a relative path begins.
    Raises ConfigError, which names the place that asks for what is not there.
    """
    chain: list[Config] = []
    seen: set[Path] = set()
    while True:
        path = _find(asked, folder).resolve()
        if path in seen:
            raise _error(asked, f'style "{asked.value}" starts from itself')
        seen.add(path)
        ours = resources.files("stilo") / "styles"
        is_ours = path.parent == Path(str(ours)).resolve()
        shown = f"{asked.value}{SUFFIX}" if is_ours else shown_path(path)
        config = read_config(path, NAMED, shown)
        if config is None:
            raise _error(asked, f"{path}: holds no settings of Stilo")
        chain.insert(0, config)
        if config.style is None:
            return chain
        asked, folder = config.style, path.parent


def _find(asked: Given, folder: Path) -> Path:
    name = str(asked.value)
    package, colon, inner = name.partition(":")
    if colon and package.isidentifier():
        spec = find_installed(package)
        for place in (spec.submodule_search_locations or ()) if spec else ():
            path = Path(place) / f"{inner.removesuffix(SUFFIX)}{SUFFIX}"
            if path.is_file():
                return path
        missing = f"no package {package}" if spec is None else f"no {inner}{SUFFIX} in {package}"
        raise _error(asked, f'style "{name}": there is {missing}')
    if name.endswith(SUFFIX) or "/" in name:
        try:
            path = folder / Path(name).expanduser()
        except RuntimeError as error:  # nobody of this name has a home
            raise _error(asked, f'style "{name}": {error}') from error
        if path.is_file():
            return path
        raise _error(asked, f'style "{name}": no such file')
    if name in style_names():
        return Path(str(resources.files("stilo") / "styles" / f"{name}{SUFFIX}"))
    known = ", ".join(style_names())
    raise _error(
        asked,
        f'no style "{name}"{near(name, style_names())}; ours: {known}; '
        "others by a path that ends in .toml, or as package:name",
    )


def _error(asked: Given, message: str) -> ConfigError:
    return ConfigError([Fault(asked.file, max(1, asked.line), 1, message)])
