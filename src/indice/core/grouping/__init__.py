"""Readings and media facts → entries of the catalog."""

from .entries import EntryDraft, FileView, Grouped, better_title, group, home_of, sort_title
from .shots import RAW_ENDINGS

__all__ = ["RAW_ENDINGS", "EntryDraft", "FileView", "Grouped", "better_title", "group", "home_of", "sort_title"]
