"""Layout sheets: from text in CSS syntax to what is declared for each node."""

from stilo.sheet.language import Language, language_for_file, language_names, load_language

__all__ = ["Language", "language_for_file", "language_names", "load_language"]
