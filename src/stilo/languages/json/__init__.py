"""JSON (RFC 8259), with comments."""

from stilo.support import NO_SUPPORT

SUPPORT = NO_SUPPORT
