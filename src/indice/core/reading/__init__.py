"""Path → Reading: facts, each with the letters of the name that it came from, and why."""

from .corrections import Correction, apply_corrections
from .model import Fact, Reading, Span
from .reader import family_of, read_path
from .siblings import read_listing

__all__ = ["Correction", "Fact", "Reading", "Span", "apply_corrections", "family_of", "read_listing", "read_path"]
