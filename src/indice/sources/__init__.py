"""Metadata sources, reached over the open Reconciliation Service API 0.2."""

from .client import SourceClient, SourceDown, SourceKeyWrong, as_rows
from .draft import draft_profile, guess_field, guess_kind
from .profile import Profile, ProfileError, parse_profile

__all__ = [
    "Profile",
    "ProfileError",
    "SourceClient",
    "SourceDown",
    "SourceKeyWrong",
    "as_rows",
    "draft_profile",
    "guess_field",
    "guess_kind",
    "parse_profile",
]
