"""The people of a household: roles, the libraries that are given to them, their ages."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal, cast

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session

from ..core.phrase import phrase
from ..errors import IndiceError
from .ages import settle_ages
from .libraries import libraries_named
from .models import Entry, Grant, Mark, Passkey, Person, PersonSession, Playlist, Share, Token, now
from .people import end_sessions, person_named
from .viewer import Role, Viewer, may_see

__all__ = [
    "ROLES",
    "Change",
    "Member",
    "add_person",
    "change_person",
    "forget_visit",
    "lift_age",
    "members",
    "remove_person",
    "seers_of",
    "the_person",
    "viewer_named",
    "viewer_of",
]

ROLES = ("owner", "librarian", "member", "guest")
OLDEST = 21
MOST_STREAMS = 50
LEAST_KBPS, MOST_KBPS = 200, 1_000_000


@dataclass(frozen=True, slots=True, kw_only=True)
class Change:
    """What is to be different of a person; what is None stays."""

    name: str | None = None
    role: str | None = None
    libraries: Sequence[str] | None = None
    """Names; the list takes the place of the one before."""
    age: int | Literal["none"] | None = None
    unrated: str | None = None
    password_hash: str | None = None
    pin_hash: str | None = None
    downloads: bool | None = None
    """Whether they may save files of the libraries that are given to them."""
    shares: bool | None = None
    """Whether they may share what is in these libraries by a link."""
    tidies: bool | None = None
    """Whether they may keep these libraries: mend names, write facts."""
    most_streams: int | Literal["none"] | None = None
    away_kbps: int | Literal["none"] | None = None


@dataclass(frozen=True, slots=True)
class Member:
    """A person with the libraries that are given to them."""

    person: Person
    libraries: tuple[int, ...]
    downloads: bool
    shares: bool
    tidies: bool
    last_seen: datetime | None
    has_picture: bool


def the_person(db: Session, name: str) -> Person:
    """Somebody by their name; raises :class:`IndiceError` (404) when nobody is called so."""
    person = person_named(db, name)
    if person is None:
        raise IndiceError(
            phrase("Nobody is called {name}.", name=name),
            hint="`./indice person list` names everybody.",
            reference="person-unknown",
            status=404,
        )
    return person


def viewer_of(db: Session, person: Person, *, lifted_until: datetime | None = None) -> Viewer:
    """A person as who asks; `lifted_until`: until then their age does not bind them."""
    grants = list(db.scalars(select(Grant).where(Grant.person_id == person.id)))
    is_lifted = lifted_until is not None and lifted_until > now()
    return Viewer(
        person_id=person.id,
        role=cast(Role, person.role),
        libraries=frozenset(grant.library_id for grant in grants),
        age=None if is_lifted else person.age,
        sees_unrated=person.age is None or is_lifted or person.unrated == "show",
        downloads=frozenset(grant.library_id for grant in grants if grant.download),
        shares=frozenset(grant.library_id for grant in grants if grant.share),
        tidies=frozenset(grant.library_id for grant in grants if grant.tidy and person.age is None),
    )


def viewer_named(db: Session, name: str) -> Viewer:
    """Somebody by their name, as who asks; raises :class:`IndiceError` (404) when nobody is called so."""
    return viewer_of(db, the_person(db, name))


def add_person(db: Session, name: str, change: Change, *, language: str = "en") -> Person:
    """Somebody new; raises :class:`IndiceError` when the name is taken or something is not understood."""
    name = name.strip()
    if not 0 < len(name) <= 60:
        raise IndiceError("A name has between 1 and 60 letters.", reference="name-wrong")
    if person_named(db, name) is not None:
        raise IndiceError(phrase("Somebody is called {name} already.", name=name), reference="name-taken", status=409)
    person = Person(name=name, password_hash=change.password_hash or "", language=language, role="member")
    db.add(person)
    db.flush()
    change_person(db, person, change)
    return person


def change_person(db: Session, person: Person, change: Change) -> None:
    """Change what is said of a person; raises :class:`IndiceError` when that cannot be."""
    if change.role is not None:
        _set_role(db, person, change.role)
    if change.name is not None and change.name.strip() != person.name:
        _rename(db, person, change.name)
    _set_limits(person, change)
    if change.password_hash is not None:
        person.password_hash = change.password_hash
        end_sessions(db, person.id)
    if change.pin_hash is not None:
        person.pin_hash = change.pin_hash
    if change.libraries is not None:
        given = [library.id for library in libraries_named(db, list(change.libraries))] if change.libraries else []
        _give(db, person, given)
    for grant in db.scalars(select(Grant).where(Grant.person_id == person.id)):
        grant.download = grant.download if change.downloads is None else change.downloads
        grant.share = grant.share if change.shares is None else change.shares
        grant.tidy = grant.tidy if change.tidies is None else change.tidies


def _set_role(db: Session, person: Person, role: str) -> None:
    if role not in ROLES:
        raise IndiceError(
            phrase("There is no role {role}.", role=role),
            hint=phrase("Known: {roles}.", roles=", ".join(ROLES)),
            reference="role-unknown",
        )
    if role != "owner":
        _keep_an_owner(db, person)
    person.role = role


def _rename(db: Session, person: Person, name: str) -> None:
    taken = person_named(db, name)
    if taken is not None and taken.id != person.id:
        raise IndiceError(phrase("Somebody is called {name} already.", name=name), reference="name-taken", status=409)
    person.name = name.strip()


def _set_limits(person: Person, change: Change) -> None:
    """What a person may see by age, and how much they may play at once and from away."""
    if change.age is not None:
        if change.age != "none" and not 0 <= change.age <= OLDEST:
            raise IndiceError(phrase("An age is a number from 0 to {oldest}.", oldest=OLDEST), reference="age-wrong")
        person.age = None if change.age == "none" else change.age
    if change.unrated is not None:
        if change.unrated not in ("show", "hide"):
            raise IndiceError("What is unrated is shown or hidden: `show` or `hide`.", reference="unrated-wrong")
        person.unrated = change.unrated
    if change.most_streams is not None:
        person.most_streams = _bound("streams", change.most_streams, 1, MOST_STREAMS)
    if change.away_kbps is not None:
        person.away_kbps = _bound("kbps", change.away_kbps, LEAST_KBPS, MOST_KBPS)


def _bound(reference: str, wanted: int | Literal["none"], least: int, most: int) -> int | None:
    if wanted == "none":
        return None
    if not least <= wanted <= most:
        raise IndiceError(
            phrase("Say a number from {least} to {most}, or none.", least=least, most=most),
            reference=f"{reference}-wrong",
            status=422,
        )
    return wanted


def _give(db: Session, person: Person, libraries: Sequence[int]) -> None:
    before = {grant.library_id: grant for grant in db.scalars(select(Grant).where(Grant.person_id == person.id))}
    for id_, grant in before.items():
        if id_ not in libraries:
            db.delete(grant)
    for id_ in dict.fromkeys(libraries):
        if id_ not in before:
            db.add(Grant(person_id=person.id, library_id=id_, download=True, share=False))
    db.flush()


def _keep_an_owner(db: Session, person: Person) -> None:
    others = select(func.count()).select_from(Person).where(Person.role == "owner", Person.id != person.id)
    if person.role == "owner" and not db.scalar(others):
        raise IndiceError(
            "The last owner stays.", hint="Make somebody else an owner first.", reference="last-owner", status=409
        )


def remove_person(db: Session, person: Person) -> None:
    """Somebody goes, with their marks and sessions; raises :class:`IndiceError` when they are the last owner."""
    _keep_an_owner(db, person)
    db.delete(person)


def members(db: Session) -> list[Member]:
    """Everybody, in the order in which they came."""
    given: dict[int, list[Grant]] = {}
    for grant in db.scalars(select(Grant).order_by(Grant.library_id)):
        given.setdefault(grant.person_id, []).append(grant)
    seen: dict[int, Any] = dict(
        db.execute(
            select(PersonSession.person_id, func.max(PersonSession.seen_at)).group_by(PersonSession.person_id)
        ).all()
    )
    pictured = set(db.scalars(select(Person.id).where(Person.picture.is_not(None))))
    return [
        Member(
            person,
            tuple(grant.library_id for grant in given.get(person.id, ())),
            all(grant.download for grant in given.get(person.id, ())),
            bool(given.get(person.id)) and all(grant.share for grant in given[person.id]),
            bool(given.get(person.id)) and all(grant.tidy for grant in given[person.id]),
            seen.get(person.id),
            person.id in pictured,
        )
        for person in db.scalars(select(Person).order_by(Person.id))
    ]


def seers_of(db: Session, entry: Entry) -> list[tuple[Person, str]]:
    """Everybody, and why they do not see an entry; empty where they do. Who sees
    it is asked as every question asks it."""
    settle_ages(db)
    db.refresh(entry)
    found: list[tuple[Person, str]] = []
    for person in db.scalars(select(Person).order_by(Person.id)):
        viewer = viewer_of(db, person)
        sees = db.scalar(select(Entry.id).where(Entry.id == entry.id, may_see(viewer))) is not None
        found.append((person, "" if sees else _hidden_by(viewer, entry)))
    return found


def _hidden_by(viewer: Viewer, entry: Entry) -> Literal["library", "folder", "age", "unrated"]:
    if entry.library_id not in viewer.libraries:
        return "library"
    if viewer.age is not None and entry.limit_age > viewer.age:
        return "folder"
    return "unrated" if entry.age is None else "age"


def lift_age(db: Session, session_id: int, until: datetime) -> None:
    """The PIN was right: until a moment a browser is not bound by the age of its person."""
    db.get_one(PersonSession, session_id).lifted_until = until


def forget_visit(db: Session, person: Person) -> None:
    """What a guest leaves behind goes with their visit: marks, lists, links, and ways in beside the password."""
    if person.role == "guest":
        for kept in (Mark, Playlist, Share, Token, Passkey):
            db.execute(delete(kept).where(kept.person_id == person.id))
