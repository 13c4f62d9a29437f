"""Candidates of a source → scored parts → a decision that can be explained."""

from .decide import Candidate, Evidence, Part, Verdict, decide, likeness, score

__all__ = ["Candidate", "Evidence", "Part", "Verdict", "decide", "likeness", "score"]
