"""Path → Reading: facts, each with the letters of the name that it came from, and why."""

from .model import Fact, Reading, Span
from .reader import family_of, read_path

__all__ = ["Fact", "Reading", "Span", "family_of", "read_path"]
