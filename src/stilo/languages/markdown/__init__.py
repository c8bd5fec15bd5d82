"""Markdown (CommonMark 0.31.2, with the tables of GitHub Flavored Markdown 0.29)."""

from __future__ import annotations

from stilo.languages.markdown.check import check
from stilo.languages.markdown.forms import forms_of
from stilo.languages.markdown.reader import DocumentReader
from stilo.support import Support

SUPPORT = Support(reader=DocumentReader, check=check, forms=forms_of)
