"""Readings and media facts → entries of the catalog."""

from .entries import EntryDraft, FileView, Grouped, group, home_of
from .shots import RAW_ENDINGS, folder_of_shot

__all__ = ["RAW_ENDINGS", "EntryDraft", "FileView", "Grouped", "folder_of_shot", "group", "home_of"]
