"""Readings and media facts → entries of the catalog."""

from .entries import EntryDraft, FileView, Grouped, better_title, group, home_of, sort_title

__all__ = ["EntryDraft", "FileView", "Grouped", "better_title", "group", "home_of", "sort_title"]
