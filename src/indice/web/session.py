"""Sign-in: the owner's first run, sessions in a signed cookie, and a token against forged requests."""

from __future__ import annotations

import hmac
import os
import secrets
from datetime import timedelta
from functools import cache

from apiflask import APIBlueprint
from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerifyMismatchError
from flask import g, request, session
from sqlalchemy import func, select

from .. import __version__
from ..errors import IndiceError
from ..store.catalog import has_owner, waiting_counts
from ..store.models import Library, Person, now
from .common import begin, settings
from .schemas import DemoFolder, Done, Kind, SetupIn, SignIn, Status

__all__ = ["bp", "guard"]

bp = APIBlueprint("session", __name__, url_prefix="/api", tag="Session")
hasher = PasswordHasher()
_OPEN = {"session.read_status", "session.set_up", "session.sign_in", "openapi.spec"}
A_VISIT_ENDS_AFTER = timedelta(hours=4)
_DEMO_KINDS: tuple[tuple[str, Kind], ...] = (
    ("Films", "movies"),
    ("Series", "series"),
    ("Music", "music"),
    ("Photos", "photos"),
    ("Home videos", "home-videos"),
)


def guard() -> None:
    """Before every request: changes need the token of the session, and all but the first page need a sign-in."""
    if not request.path.startswith("/api/") or request.endpoint is None:
        return
    if request.method not in ("GET", "HEAD", "OPTIONS"):
        sent = request.headers.get("X-Indice-Token", "")
        if not sent or not hmac.compare_digest(sent, session.get("csrf", "")):
            raise IndiceError("This page is out of date.", hint="Load it again.", reference="token-wrong", status=403)
    if request.endpoint in _OPEN:
        return
    if not isinstance(session.get("person"), int):
        raise IndiceError("Please sign in.", reference="sign-in-needed", status=401)
    g.person_id = session["person"]


def _demo_folders() -> list[DemoFolder]:
    root = settings().home / "household"
    if os.environ.get("INDICE_DEMO") != "1" or not root.is_dir():
        return []
    return [
        DemoFolder(name=name, path=str(root / name), kind=kind) for name, kind in _DEMO_KINDS if (root / name).is_dir()
    ]


@bp.get("/status")
@bp.output(Status)
def read_status() -> Status:
    """Who is signed in, whether this is the first run, and how much waits where."""
    session.permanent = True
    session.setdefault("csrf", secrets.token_urlsafe(24))
    with begin() as db:
        person = db.get(Person, session["person"]) if isinstance(session.get("person"), int) else None
        return Status(
            version=__version__,
            has_owner=has_owner(db),
            has_library=bool(person) and (db.scalar(select(func.count()).select_from(Library)) or 0) > 0,
            person=person.name if person else None,
            language=person.language if person else "en",
            csrf=session["csrf"],
            demo_folders=_demo_folders() if person else [],
            waiting=waiting_counts(db) if person else {},
        )


def _enter(person: Person) -> None:
    session.clear()
    session.permanent = True
    session["person"] = person.id
    session["csrf"] = secrets.token_urlsafe(24)
    moment = now()
    if person.visited_at is None or moment - person.visited_at > A_VISIT_ENDS_AFTER:
        person.previous_visit_at, person.visited_at = person.visited_at, moment


@bp.post("/setup")
@bp.input(SetupIn, arg_name="body")
@bp.output(Done)
def set_up(body: SetupIn) -> Done:
    """Make the owner, once."""
    with begin() as db:
        if has_owner(db):
            raise IndiceError(
                "There is an owner already.", hint="Sign in instead.", reference="owner-exists", status=409
            )
        person = Person(
            name=body.name.strip(), password_hash=hasher.hash(body.password), language=body.language, is_owner=True
        )
        db.add(person)
        db.flush()
        _enter(person)
    return Done()


@bp.post("/session")
@bp.input(SignIn, arg_name="body")
@bp.output(Done)
def sign_in(body: SignIn) -> Done:
    """Sign in."""
    with begin() as db:
        person = db.scalars(select(Person).where(func.lower(Person.name) == body.name.strip().lower())).first()
        try:
            hasher.verify(person.password_hash if person else _nobody(), body.password)
        except (VerifyMismatchError, InvalidHashError):
            person = None
        if person is None:
            raise IndiceError("Name or password is not right.", reference="sign-in-wrong", status=401)
        _enter(person)
    return Done()


@cache
def _nobody() -> str:
    """A hash that no password fits, so that an unknown name takes as long as a wrong password."""
    return hasher.hash(secrets.token_urlsafe(16))


@bp.delete("/session")
@bp.output(Done)
def sign_out() -> Done:
    """Sign out."""
    session.clear()
    return Done()
