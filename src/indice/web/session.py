"""Sign-in: the owner's first run, sessions that are records, a token against forged requests, and patience with guessing."""

from __future__ import annotations

import hmac
import os
import secrets
import threading
from collections.abc import Generator
from contextlib import contextmanager
from datetime import timedelta
from functools import cache
from typing import cast

from apiflask import APIBlueprint
from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from flask import g, request, session

from .. import __version__
from ..errors import IndiceError
from ..store.ages import settle_ages
from ..store.catalog import waiting_counts
from ..store.household import forget_visit, lift_age, viewer_of
from ..store.libraries import has_library
from ..store.models import Person, now
from ..store.people import change_password as change_password_of
from ..store.people import (
    end_sessions,
    forget_guesses,
    has_owner,
    make_first_owner,
    note_visit,
    note_wrong,
    open_session,
    person_named,
    session_of,
    sessions_of,
    setup_code,
    wait_seconds,
)
from ..store.viewer import Role
from .common import begin, settings
from .doors import is_near
from .rights import who_may
from .schemas import DemoFolder, Done, Kind, PasswordIn, PinIn, SessionOut, SessionsOut, SetupIn, SignIn, Status

__all__ = ["bp", "enter", "guard", "hasher", "patiently"]

bp = APIBlueprint("session", __name__, url_prefix="/api", tag="Session")
hasher = PasswordHasher()
_hashing = threading.BoundedSemaphore(2)
"""A hash takes 64 MB on purpose: two at a time, whoever asks."""
PATIENCE_SECONDS = 8.0
LIFTED = timedelta(hours=4)
"""So long a PIN lifts the age limit."""
MOST_BYTES = 16_000
"""Of a request before sign-in."""
_WITHOUT_TOKEN = {"playback.end"}
"""What a page says while it closes, when it can send no headers; its address holds a secret of its own."""
_SETUP = "first run"
_DEMO_KINDS: tuple[tuple[str, Kind], ...] = (
    ("Films", "movies"),
    ("Series", "series"),
    ("Music", "music"),
    ("Photos", "photos"),
    ("Home videos", "home-videos"),
)


def guard() -> None:
    """Before every request: changes need the token of the session, and all but the first page need a sign-in.

    The person is looked up each time, so that one who is removed, or signed out elsewhere, is out at once.
    """
    if not request.path.startswith("/api/") or request.endpoint is None:
        return
    who = who_may(request.endpoint)
    if who == "anybody":
        request.max_content_length = MOST_BYTES
    if request.method not in ("GET", "HEAD", "OPTIONS") and request.endpoint not in _WITHOUT_TOKEN:
        sent = request.headers.get("X-Indice-Token", "").encode("utf-8", "replace")
        if not sent or not hmac.compare_digest(sent, str(session.get("csrf", "")).encode()):
            raise IndiceError("This page is out of date.", hint="Load it again.", reference="token-wrong", status=403)
    if who == "anybody":
        return
    with begin() as db:
        found = session_of(db, session.get("key"))
        asking = viewer_of(db, found.person, lifted_until=found.lifted_until) if found is not None else None
        if asking is not None and not asking.manages and asking.age is not None:
            settle_ages(db)
    if found is None or asking is None:
        raise IndiceError("Please sign in.", reference="sign-in-needed", status=401)
    if not (who == "everyone" or (who == "librarian" and asking.manages) or (who == "owner" and asking.is_owner)):
        raise IndiceError(
            "This is for who keeps the catalog.", hint="Ask the owner.", reference="not-allowed", status=403
        )
    g.person, g.session_id, g.viewer = found.person, found.session_id, asking


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
        found = session_of(db, session.get("key"))
        person = found.person if found else None
        is_set_up = has_owner(db)
        manages = person is not None and person.role in ("owner", "librarian")
        return Status(
            version=__version__,
            has_owner=is_set_up,
            needs_code=not is_set_up and not is_near(),
            has_library=bool(person) and (not manages or has_library(db)),
            role=cast(Role, person.role) if person else None,
            manages=manages,
            age=person.age if person else None,
            has_pin=bool(person and person.pin_hash),
            is_lifted=bool(found and found.lifted_until and found.lifted_until > now()),
            person=person.name if person else None,
            language=person.language if person else "en",
            csrf=session["csrf"],
            demo_folders=_demo_folders() if manages else [],
            waiting=waiting_counts(db) if manages else {},
        )


@contextmanager
def patiently(name: str) -> Generator[None]:
    """Around what checks a secret: not too often from one place, and not too many at once.

    Raises :class:`IndiceError` (429) when it is not to be tried now. What is wrong inside, told by a 401, is counted.
    """
    address = request.remote_addr or ""
    if not _hashing.acquire(timeout=PATIENCE_SECONDS):
        raise _later(5)
    try:
        with begin() as db:
            seconds = wait_seconds(db, name, address)
        if seconds:
            raise _later(seconds)
        try:
            yield
        except IndiceError as error:
            if error.status == 401:
                with begin() as db:
                    note_wrong(db, name, address)
            raise
        with begin() as db:
            forget_guesses(db, name, address)
    finally:
        _hashing.release()


def _later(seconds: int) -> IndiceError:
    error = IndiceError("That was tried too often.", hint=f"Wait {seconds} seconds.", reference="too-often", status=429)
    error.retry_after = seconds
    return error


def _is_right(password_hash: str, password: str) -> bool:
    try:
        return hasher.verify(password_hash, password)
    except (VerificationError, InvalidHashError):
        return False


def enter(person_id: int) -> None:
    """Open a session for a person in this browser; the one that it had before ends."""
    before = session.get("key")
    with begin() as db:
        person = note_visit(db, person_id)
        forget_visit(db, person)
        old = session_of(db, before)
        if old is not None:
            end_sessions(db, old.person.id, only=old.session_id)
        key = open_session(db, person, device=request.headers.get("User-Agent", ""), address=request.remote_addr or "")
    session.clear()
    session.permanent = True
    session["key"] = key
    session["csrf"] = secrets.token_urlsafe(24)


@bp.post("/setup")
@bp.input(SetupIn, arg_name="body")
@bp.output(Done)
def set_up(body: SetupIn) -> Done:
    """Make the owner, once. From another machine it takes the code that the start command prints."""
    with patiently(_SETUP):
        with begin() as db:
            if has_owner(db):
                raise IndiceError(
                    "There is an owner already.", hint="Sign in instead.", reference="owner-exists", status=409
                )
        if not is_near():
            told = "".join(body.code.split()).upper().encode("utf-8", "replace")
            if not hmac.compare_digest(told, setup_code(settings().home).encode()):
                raise IndiceError(
                    "The code is not right.",
                    hint="The start command prints it, on the machine that Indice runs on.",
                    reference="code-wrong",
                    status=401,
                )
        password_hash = hasher.hash(body.password)
        with begin() as db:
            person_id = make_first_owner(db, body.name.strip(), password_hash, body.language).id
    (settings().home / "setup-code").unlink(missing_ok=True)
    enter(person_id)
    return Done()


@bp.post("/session")
@bp.input(SignIn, arg_name="body")
@bp.output(Done)
def sign_in(body: SignIn) -> Done:
    """Sign in; 429 with `Retry-After` when it was tried too often."""
    with patiently(body.name):
        with begin() as db:
            person = person_named(db, body.name)
        if not _is_right(person.password_hash if person else _nobody(), body.password) or person is None:
            raise IndiceError("Name or password is not right.", reference="sign-in-wrong", status=401)
    enter(person.id)
    return Done()


@cache
def _nobody() -> str:
    """A hash that no password fits, so that an unknown name takes as long as a wrong password."""
    return hasher.hash(secrets.token_urlsafe(16))


@bp.delete("/session")
@bp.output(Done)
def sign_out() -> Done:
    """Sign out; the cookie is worth nothing any more, wherever it was copied to."""
    with begin() as db:
        end_sessions(db, g.person.id, only=g.session_id)
        forget_visit(db, g.person)
    session.clear()
    return Done()


@bp.post("/pin")
@bp.input(PinIn, arg_name="body")
@bp.output(Done)
def lift(body: PinIn) -> Done:
    """Lift one's age limit in this browser for four hours, by the PIN; with an empty one it holds again."""
    person: Person = g.person
    if not body.pin:
        with begin() as db:
            lift_age(db, g.session_id, now())
        return Done()
    with patiently(f"pin {person.name}"):
        if not person.pin_hash or not _is_right(person.pin_hash, body.pin):
            raise IndiceError("That is not the PIN.", reference="pin-wrong", status=401)
    with begin() as db:
        lift_age(db, g.session_id, now() + LIFTED)
    return Done()


@bp.post("/password")
@bp.input(PasswordIn, arg_name="body")
@bp.output(Done)
def change_password(body: PasswordIn) -> Done:
    """Change one's own password; one's other sessions end."""
    person: Person = g.person
    with patiently(person.name):
        if not _is_right(person.password_hash, body.old):
            raise IndiceError("The old password is not right.", reference="password-wrong", status=401)
        password_hash = hasher.hash(body.new)
    with begin() as db:
        change_password_of(db, person.id, password_hash, stays=g.session_id)
    return Done()


@bp.get("/sessions")
@bp.output(SessionsOut)
def list_sessions() -> SessionsOut:
    """The browsers in which one is signed in."""
    with begin() as db:
        return SessionsOut(
            sessions=[
                SessionOut(
                    id=one.id,
                    device=one.device,
                    address=one.address,
                    created_at=one.created_at.isoformat(),
                    seen_at=one.seen_at.isoformat(),
                    is_this=one.id == g.session_id,
                )
                for one in sessions_of(db, g.person.id)
            ]
        )


@bp.delete("/sessions/<int:session_id>")
@bp.output(Done)
def end_session(session_id: int) -> Done:
    """Sign out another browser of one's own."""
    with begin() as db:
        if not end_sessions(db, g.person.id, only=session_id):
            raise IndiceError("This session has ended already.", reference="session-unknown", status=404)
    return Done()
