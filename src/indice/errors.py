"""Errors that are told to a person: what happened, to what, and what to do."""

from __future__ import annotations

__all__ = ["IndiceError"]


class IndiceError(Exception):
    """Base of all errors that have a message for a person."""

    reference = "failed"
    """Stable word for the front end and the docs."""
    status = 400
    """HTTP status when it reaches the web."""
    retry_after: int | None = None
    """Seconds after which it may be tried again, where that is known."""
    download: str | None = None
    """Address of the file that it is about, where it can be had all the same."""

    def __init__(
        self, message: str, *, hint: str = "", reference: str | None = None, status: int | None = None
    ) -> None:
        super().__init__(message)
        self.message = message
        self.hint = hint
        if reference is not None:
            self.reference = reference
        if status is not None:
            self.status = status
