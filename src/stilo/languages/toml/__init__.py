"""TOML 1.0 (toml.io)."""

from stilo.support import NO_SUPPORT

SUPPORT = NO_SUPPORT
