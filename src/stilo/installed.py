"""Packages that are installed, and not what lies in the folder one happens to stand in."""

from __future__ import annotations

import os
import shlex
import sys
import threading
from importlib.machinery import ModuleSpec, PathFinder
from importlib.util import module_from_spec
from types import ModuleType


_LOADING = threading.RLock()


def trusted_path() -> list[str]:
    """The folders of `sys.path` that do not depend on the current one.

    Left out are relative entries, those that `PYTHONPATH` has as relative ones (which are absolute by
    now), and the current folder where the interpreter put it there.
    """
    relative = {
        os.path.abspath(entry or ".")
        for entry in os.environ.get("PYTHONPATH", "").split(os.pathsep)
        if "PYTHONPATH" in os.environ and not os.path.isabs(entry)
    }
    return [entry for entry in sys.path if os.path.isabs(entry) and entry not in relative]


def own_command(*words: str) -> str:
    """How a shell runs this Stilo, wherever it stands: what lies in its current folder (-P) is none of ours."""
    return shlex.join([sys.executable, "-P", "-m", "stilo", *words])


def find_installed(name: str) -> ModuleSpec | None:
    """Where an installed package is, or None. name: of a package at the top."""
    return PathFinder.find_spec(name, trusted_path())


def import_installed(name: str) -> ModuleType:
    """An installed package. Raises ImportError."""
    with _LOADING:  # or another thread would find it while half of it is there
        known = sys.modules.get(name)
        if known is not None:
            return known
        spec = find_installed(name)
        if spec is None or spec.loader is None:
            raise ImportError(f"no installed package {name}")
        module = sys.modules[name] = module_from_spec(spec)
        try:
            spec.loader.exec_module(module)
        except BaseException:
            del sys.modules[name]
            raise
        return module
