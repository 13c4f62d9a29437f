"""Metadata sources, reached over the open Reconciliation Service API 0.2."""

from .client import SourceClient, SourceDown, SourceKeyWrong
from .profile import Profile, ProfileError, parse_profile

__all__ = ["Profile", "ProfileError", "SourceClient", "SourceDown", "SourceKeyWrong", "parse_profile"]
