"""Metadata sources, reached over the open Reconciliation Service API 0.2, and services of subtitles."""
