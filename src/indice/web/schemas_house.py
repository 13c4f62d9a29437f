"""What the house does: jobs, machines, troubles, storage, and what Today tells."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel

from .schemas import Asked, EntryCard, JobLineOut, JobOut


class Trouble(BaseModel):
    name: str
    at: str
    what: str


class TroublesOut(BaseModel):
    troubles: list[Trouble]


class MachineOut(BaseModel):
    id: int
    name: str
    is_home: bool
    is_silent: bool
    """It has said nothing for long: it is gone for all that is known."""
    can: list[str]
    sees: list[list[str]]
    """Where a folder lies at home, and where for it."""
    job: str | None
    """What it is at, or helps with."""
    helps: bool
    done: int
    """Files that it has looked into for others."""
    began_at: str


class MachinesOut(BaseModel):
    machines: list[MachineOut]


class HeldOut(BaseModel):
    what: str
    path: str
    size_bytes: int
    is_about: bool
    limit_bytes: int | None


class DiskOut(BaseModel):
    path: str
    free_bytes: int
    total_bytes: int
    holds: list[str]


class StorageOut(BaseModel):
    home: str
    held: list[HeldOut]
    disks: list[DiskOut]
    little_bytes: int
    """With less room on the disk of the data folder Indice may stop."""


class CleanIn(Asked):
    what: Literal["segments", "pictures", "bins"]


class CleanOut(BaseModel):
    freed_bytes: int


class Arrival(BaseModel):
    at: str
    library: str
    entries: list[EntryCard]
    total: int


class LibraryPicture(BaseModel):
    id: int
    name: str
    kind: str
    states: dict[str, int]
    size_bytes: int
    away: bool


class GuessOut(BaseModel):
    name: str
    """Empty: whatever the name."""
    address: str
    wrong: int
    at: str


class NewcomerOut(BaseModel):
    """Somebody signed in from where, and with what, they were never seen before."""

    person: str
    device: str
    address: str
    at: str


class AbsenceOut(BaseModel):
    library_id: int
    folder: str
    files: int


class Today(BaseModel):
    since: str | None
    arrivals: list[Arrival]
    libraries: list[LibraryPicture]
    jobs: list[JobOut]
    waiting: dict[str, int]
    little_room: int | None
    """Bytes that are free on the disk of the data folder, where they are few."""
    troubles: list[JobLineOut]
    newcomers: list[NewcomerOut]
    guesses: list[GuessOut]
    absences: list[AbsenceOut]


class JobsOut(BaseModel):
    jobs: list[JobOut]


class LogOut(BaseModel):
    lines: list[JobLineOut]
