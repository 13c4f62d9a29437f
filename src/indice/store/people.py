"""People who sign in: the first owner, sessions as records, and what was guessed wrong."""

from __future__ import annotations

import hashlib
import os
import secrets
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path

from sqlalchemy import delete, func, select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from ..errors import IndiceError
from .models import Guess, Person, PersonSession, Setting, now

__all__ = [
    "ANY_NAME",
    "SignedIn",
    "change_password",
    "end_sessions",
    "forget_guesses",
    "has_owner",
    "is_unusual",
    "make_first_owner",
    "name_of",
    "note_visit",
    "note_wrong",
    "open_session",
    "person_named",
    "session_of",
    "sessions_of",
    "setup_code",
    "unusual_guesses",
    "wait_seconds",
]

ANY_NAME = ""
FREE_WRONG = 5
"""So many wrong passwords in a row of a name from an address cost nothing yet."""
FREE_WRONG_ADDRESS = 20
"""The same for an address whatever the names."""
FIRST_WAIT_SECONDS = 15
LONGEST_WAIT_SECONDS = 15 * 60
FORGET_AFTER = timedelta(days=1)
SESSION_LASTS = timedelta(days=60)
NOTE_SEEN_AFTER = timedelta(minutes=1)


def has_owner(db: Session) -> bool:
    """Whether somebody has signed up as the owner."""
    return db.scalar(select(func.count()).select_from(Person)) != 0


def make_first_owner(db: Session, name: str, password_hash: str, language: str) -> Person:
    """Make the first owner; raises :class:`IndiceError` when there is one. Of
    two at the same moment one is the first."""
    taken = insert(Setting).values(name="first-owner", value={}).on_conflict_do_nothing().returning(Setting.name)
    if has_owner(db) or db.execute(taken).scalar() is None:
        raise IndiceError("There is an owner already.", hint="Sign in instead.", reference="owner-exists", status=409)
    person = Person(name=name, password_hash=password_hash, language=language, role="owner")
    db.add(person)
    db.flush()
    return person


def setup_code(home: Path) -> str:
    """The code that the first run asks for from another machine; made once, in a file that only the account reads."""
    file = home / "setup-code"
    try:
        handle = os.open(file, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    except FileExistsError:
        return file.read_text().strip()
    with os.fdopen(handle, "w") as opened:
        alphabet = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789"
        opened.write("".join(secrets.choice(alphabet) for _ in range(10)))
    return file.read_text().strip()


def _digest(secret: str) -> str:
    return hashlib.sha256(secret.encode("utf-8", "replace")).hexdigest()


def open_session(db: Session, person: Person, *, device: str, address: str) -> str:
    """A new session of a person; returns the secret for the cookie, which is kept nowhere."""
    secret = secrets.token_urlsafe(32)
    db.execute(delete(PersonSession).where(PersonSession.seen_at < now() - SESSION_LASTS))
    db.add(PersonSession(person_id=person.id, digest=_digest(secret), device=device[:200], address=address[:60]))
    return secret


def is_unusual(db: Session, person_id: int, *, device: str, address: str) -> bool:
    """Whether somebody who was here before was never here with this device from this address."""
    of_person = PersonSession.person_id == person_id
    known = (PersonSession.device == device[:200]) | (PersonSession.address == address[:60])
    seen = db.scalar(select(func.count()).select_from(PersonSession).where(of_person)) or 0
    return seen > 0 and db.scalar(select(PersonSession.id).where(of_person, known).limit(1)) is None


@dataclass(frozen=True, slots=True)
class SignedIn:
    """Somebody who is signed in, and the session in which they are."""

    person: Person
    session_id: int
    lifted_until: datetime | None = None


def session_of(db: Session, secret: object) -> SignedIn | None:
    """Who a cookie's secret belongs to; None when its session has ended, or its person is gone."""
    if not isinstance(secret, str) or len(secret) > 200:
        return None
    row = db.execute(
        select(PersonSession, Person)
        .join(Person, Person.id == PersonSession.person_id)
        .where(PersonSession.digest == _digest(secret), PersonSession.seen_at > now() - SESSION_LASTS)
    ).first()
    if row is None:
        return None
    session, person = row
    if now() - session.seen_at > NOTE_SEEN_AFTER:
        session.seen_at = now()
    return SignedIn(person, session.id, session.lifted_until)


def sessions_of(db: Session, person_id: int) -> Sequence[PersonSession]:
    """Sessions of a person, the one last seen first."""
    query = select(PersonSession).where(PersonSession.person_id == person_id)
    return db.scalars(query.order_by(PersonSession.seen_at.desc(), PersonSession.id.desc())).all()


def end_sessions(db: Session, person_id: int, *, only: int | None = None, but: int | None = None) -> int:
    """End sessions of a person: all, one, or all but one; returns how many ended."""
    query = delete(PersonSession).where(PersonSession.person_id == person_id).returning(PersonSession.id)
    if only is not None:
        query = query.where(PersonSession.id == only)
    if but is not None:
        query = query.where(PersonSession.id != but)
    return len(db.execute(query).all())


def _folded(name: str) -> str:
    return name.strip().casefold()[:60] or "?"


def wait_seconds(db: Session, name: str, address: str) -> int:
    """How long a name from an address must wait before it is tried again; 0 when it need not."""
    query = select(func.max(Guess.until)).where(Guess.address == address, Guess.name.in_((_folded(name), ANY_NAME)))
    until: datetime | None = db.scalar(query)
    if until is None:
        return 0
    left = (until - now()).total_seconds()
    return max(0, int(left + 0.999))


def note_wrong(db: Session, name: str, address: str) -> None:
    """A password was wrong: of a name from an address, and of the address."""
    moment = now()
    db.execute(delete(Guess).where(Guess.at < moment - 2 * FORGET_AFTER))
    for key, free in ((_folded(name), FREE_WRONG), (ANY_NAME, FREE_WRONG_ADDRESS)):
        db.execute(
            update(Guess)
            .where(Guess.name == key, Guess.address == address, Guess.at < moment - FORGET_AFTER)
            .values(wrong=0, until=None)
        )
        made = insert(Guess).values(name=key, address=address, wrong=1, at=moment)
        again = {"wrong": Guess.wrong + 1, "at": moment}
        wrong = db.execute(
            made.on_conflict_do_update(index_elements=["name", "address"], set_=again).returning(Guess.wrong)
        ).scalar_one()
        if wrong >= free:
            wait = min(FIRST_WAIT_SECONDS * 2 ** min(wrong - free, 10), LONGEST_WAIT_SECONDS)
            db.execute(
                update(Guess)
                .where(Guess.name == key, Guess.address == address)
                .values(until=moment + timedelta(seconds=wait))
            )


def forget_guesses(db: Session, name: str, address: str) -> None:
    """The password was right: what was wrong before, of this name from this address, counts no more."""
    db.execute(update(Guess).where(Guess.name == _folded(name), Guess.address == address).values(wrong=0, until=None))


def unusual_guesses(db: Session) -> Sequence[Guess]:
    """Names and addresses from which somebody has guessed more than is usual, in the last day, the newest first."""
    query = select(Guess).where(
        Guess.at > now() - FORGET_AFTER,
        (Guess.wrong >= FREE_WRONG) & (Guess.name != ANY_NAME)
        | (Guess.wrong >= FREE_WRONG_ADDRESS) & (Guess.name == ANY_NAME),
    )
    return db.scalars(query.order_by(Guess.at.desc()).limit(10)).all()


def person_named(db: Session, name: str) -> Person | None:
    """Who signs in by this name, in whatever case."""
    return db.scalars(select(Person).where(func.lower(Person.name) == name.strip().lower())).first()


def name_of(db: Session, person_id: int) -> str:
    """What somebody is called."""
    return db.get_one(Person, person_id).name


def change_password(db: Session, person_id: int, password_hash: str, *, stays: int) -> None:
    """A person has another password from now on; their sessions end, but for the one that changed it."""
    db.get_one(Person, person_id).password_hash = password_hash
    end_sessions(db, person_id, but=stays)


A_VISIT_ENDS_AFTER = timedelta(hours=4)


def note_visit(db: Session, person_id: int) -> Person:
    """A person signs in: the visit before this one is where *new since* counts from."""
    person, moment = db.get_one(Person, person_id), now()
    if person.visited_at is None or moment - person.visited_at > A_VISIT_ENDS_AFTER:
        person.previous_visit_at, person.visited_at = person.visited_at, moment
    return person
