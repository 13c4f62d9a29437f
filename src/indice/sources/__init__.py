"""Metadata sources, reached over the open Reconciliation Service API 0.2, and services of subtitles."""

from .client import SourceClient, as_rows
from .draft import draft_profile, guess_field, guess_kind
from .polite import SourceDown, SourceKeyWrong
from .profile import Profile, ProfileError, parse_profile
from .texts import TextProfile, TextServiceClient, is_text_profile, parse_text_profile

__all__ = [
    "Profile",
    "ProfileError",
    "SourceClient",
    "SourceDown",
    "SourceKeyWrong",
    "TextProfile",
    "TextServiceClient",
    "as_rows",
    "draft_profile",
    "guess_field",
    "guess_kind",
    "is_text_profile",
    "parse_profile",
    "parse_text_profile",
]
