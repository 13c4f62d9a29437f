"""Readings and media facts → entries of the catalog."""

from .entries import EntryDraft, FileView, Grouped, group, sort_title

__all__ = ["EntryDraft", "FileView", "Grouped", "group", "sort_title"]
