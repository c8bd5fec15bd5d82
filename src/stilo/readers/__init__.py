"""What turns a text into a tree: the protocol of readers, and the reader over grammar packages."""

from stilo.readers.reader import Body, Item, Parsed, Reader, Stretch, Wanted

__all__ = ["Body", "Item", "Parsed", "Reader", "Stretch", "Wanted"]
