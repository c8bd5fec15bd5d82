"""Laying out a part of a large text at the cost of that part, and what can be read of a broken one."""

from stilo.part.changed import edits_since
from stilo.part.layout import part_edits
from stilo.part.sound import sound_edits

__all__ = ["edits_since", "part_edits", "sound_edits"]
