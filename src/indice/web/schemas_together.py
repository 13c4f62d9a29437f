"""What goes over the wire about watching together."""

from __future__ import annotations

from pydantic import BaseModel, Field

from .schemas import Asked

__all__ = ["PartiesOut", "PartyBeat", "PartyIn", "PartyKey", "PartyOut", "PartySaid"]


class PartyIn(Asked):
    entry_id: int = Field(ge=1, le=2**31 - 1)
    position_seconds: float = Field(0.0, ge=0, le=1e6, allow_inf_nan=False)


class PartyKey(BaseModel):
    key: str


class PartyBeat(Asked):
    device: str = Field(min_length=4, max_length=40)
    """What the browser calls itself, of this playing only."""


class PartySaid(Asked):
    is_paused: bool
    position_seconds: float = Field(ge=0, le=1e6, allow_inf_nan=False)
    entry_id: int | None = Field(None, ge=1, le=2**31 - 1)


class PartyOut(BaseModel):
    key: str
    entry_id: int
    title: str
    host: str
    names: list[str]
    """Who is there."""
    changed_by: str
    is_paused: bool
    position_seconds: float
    at_seconds: float
    """When it was there, by the server's clock; what runs stands still until then."""
    came_seconds: float
    """The server's clock when the question came …"""
    now_seconds: float
    """… and when it was answered."""


class PartiesOut(BaseModel):
    parties: list[PartyOut]
