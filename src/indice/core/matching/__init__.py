"""Candidates of a source → scored parts → a decision that can be explained."""
