"""Candidates of a source → scored parts → a decision that can be explained."""

from .assign import Mine, Theirs, assign
from .decide import Candidate, Evidence, Part, Verdict, decide, likeness, score

__all__ = ["Candidate", "Evidence", "Mine", "Part", "Theirs", "Verdict", "assign", "decide", "likeness", "score"]
