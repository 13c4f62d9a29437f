"""Sign-in: the owner's first run, sessions that are records, a token against forged
requests, and patience with guessing."""

from __future__ import annotations

import hashlib
import hmac
import os
import secrets
import threading
import time
from collections.abc import Generator
from contextlib import contextmanager
from datetime import timedelta
from functools import cache
from typing import Any, TypedDict, cast

from apiflask import APIBlueprint
from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from flask import g, request, session
from sqlalchemy.orm import Session

from .. import __version__
from ..core.phrase import phrase
from ..errors import IndiceError
from ..store.ages import settle_ages
from ..store.catalog import waiting_counts
from ..store.deeds import note_deed
from ..store.household import forget_visit, lift_age, viewer_of
from ..store.libraries import has_library
from ..store.looks import LOOKS, looks_of
from ..store.models import Person, Share, now
from ..store.people import change_password as change_password_of
from ..store.people import (
    end_sessions,
    forget_guesses,
    has_owner,
    is_unusual,
    make_first_owner,
    name_of,
    note_visit,
    note_wrong,
    open_session,
    person_named,
    session_of,
    sessions_of,
    setup_code,
    wait_seconds,
)
from ..store.shares import note_view, open_share, title_of, viewer_by
from ..store.tidiers import library_meant
from ..store.tokens import is_token, owner_of_token
from ..store.viewer import Role, Viewer, bind_viewer, keeps
from .common import begin, begin_for_all, settings
from .doors import is_near
from .rights import Who, needed_scope, who_may
from .schemas import Done, Kind
from .schemas_people import DemoFolder, LooksOut, PasswordIn, PinIn, SessionOut, SessionsOut, SetupIn, SignIn, Status

__all__ = [
    "bp",
    "enter",
    "enter_device",
    "guard",
    "has_page_token",
    "hash_of",
    "hasher",
    "is_right",
    "patiently",
    "remember_share",
    "who_asks",
]

bp = APIBlueprint("session", __name__, url_prefix="/api", tag="Session")
hasher = PasswordHasher()
_hashing = threading.BoundedSemaphore(2)
"""A hash takes 64 MB on purpose: two at a time, whoever asks."""
PATIENCE_SECONDS = 8.0
LIFTED = timedelta(hours=4)
"""So long a PIN lifts the age limit."""
MOST_BYTES = 16_000
"""Of a request before sign-in."""
_WITHOUT_TOKEN = {"playback.end", "shared.end", "devices.start", "devices.ask"}
"""What a page says while it closes, when it can send no headers, its address holding a secret of its own; and what a
device says that has no page, which does nothing in the name of who is signed in."""
_SETUP = "first run"
_DEMO_KINDS: tuple[tuple[str, Kind], ...] = (
    ("Films", "movies"),
    ("Series", "series"),
    ("Music", "music"),
    ("Photos", "photos"),
    ("Home videos", "home-videos"),
)


def guard() -> None:
    """Before every request: who asks, and whether they may.

    Changes by a browser need the token of its session, and all but the first page needs a sign-in, a secret
    of a script, or a link that was shared. The person is looked up each time, so that one who is removed,
    or signed out elsewhere, is out at once.
    """
    if not request.path.startswith("/api/") or request.endpoint is None:
        return
    who = who_may(request.endpoint)
    if who == "anybody":
        request.max_content_length = MOST_BYTES
    secret = _bearer()
    is_change = request.method not in ("GET", "HEAD", "OPTIONS") and request.endpoint not in _WITHOUT_TOKEN
    if is_change and secret is None and not has_page_token():
        raise IndiceError("This page is out of date.", hint="Load it again.", reference="token-wrong", status=403)
    if who == "anybody":
        return
    if who == "shared":
        _come_by_link()
        return
    with begin() as db:
        found = session_of(db, secret or session.get("key")) if secret is None or not is_token(secret) else None
        if secret is not None and found is None:
            found = owner_of_token(db, secret, needed_scope(request.endpoint, request.method), _address())
        asking = viewer_of(db, found.person, lifted_until=found.lifted_until) if found is not None else None
        if asking is not None and not asking.manages and asking.age is not None:
            settle_ages(db)
    if found is None or asking is None:
        raise IndiceError("Please sign in.", reference="sign-in-needed", status=401)
    g.person, g.session_id, g.viewer = found.person, found.session_id, asking
    if not _is_let(who, asking):
        _note_refused()
        raise IndiceError(
            "This is for who keeps the catalog.", hint="Ask the owner.", reference="not-allowed", status=403
        )


_OF_ALL_THAT_ONE_TIDIES = (
    "findings.list_findings",
    "findings.list_safe_findings",
    "jobs.list_jobs",
    "libraries.list_libraries",
)
"""What lists things of several libraries, and leaves out those of others by itself."""


def _is_let(who: Who | None, asking: Viewer) -> bool:
    if who == "everyone" or (who == "owner" and asking.is_owner):
        return True
    if who in ("librarian", "tidier") and asking.manages:
        return True
    if who != "tidier" or not asking.tidies:
        return False
    if request.endpoint in _OF_ALL_THAT_ONE_TIDIES:
        return True
    named: Any = request.view_args or (request.get_json(silent=True) if request.is_json else None)
    if not isinstance(named, dict):
        return False
    with begin_for_all() as db:
        library_id = library_meant(db, named)
    return library_id is not None and keeps(asking, library_id)


def has_page_token() -> bool:
    """Whether a request carries the token of the page that this browser has open."""
    sent = request.headers.get("X-Indice-Token", "").encode("utf-8", "replace")
    return bool(sent) and hmac.compare_digest(sent, str(session.get("csrf", "")).encode())


def _bearer() -> str | None:
    """The secret that a request of a script carries (RFC 6750); a cookie beside it counts for nothing."""
    kind, _, secret = request.headers.get("Authorization", "").partition(" ")
    return secret.strip() if kind.lower() == "bearer" else None


def _address() -> str:
    return request.remote_addr or ""


class Asking(TypedDict):
    """Who asks, for the log."""

    person: str
    address: str


def who_asks() -> Asking:
    """Name and address of who asks, for the log."""
    person = str(g.person.name) if "person" in g else ""
    return {"person": person, "address": _address()}


def _note_refused() -> None:
    with begin_for_all() as db:
        note_deed(db, "refused", **who_asks(), values={"operation": request.endpoint})


def _come_by_link() -> None:
    """Let somebody in who holds the link of a share: as a viewer who sees what is shared, and nothing else."""
    with begin_for_all() as db:
        share = open_share(db, g.get("share_key", ""))
        by = viewer_by(db, share) if share is not None else None
        if share is not None and by is not None:
            g.share, g.share_by = share, name_of(db, share.person_id)
            if not by.sees_all and by.age is not None:
                settle_ages(db)
            bind_viewer(db, by)
            if not title_of(db, share)[0]:
                by = None
    if share is None or by is None:
        raise _link_closed()
    if request.endpoint == "shared.open_by_password":
        request.max_content_length = MOST_BYTES
        return
    if share.password_hash and session.get("shares", {}).get(str(share.id)) != _fingerprint(share):
        if request.endpoint == "shared.read_shared":
            return
        raise IndiceError("This link asks for a password.", reference="share-password", status=401)
    browser = session.get("browser")
    if browser is None:
        session.permanent = True
        browser = session["browser"] = secrets.token_urlsafe(12)
    with begin_for_all() as db:
        if not note_view(db, share, str(browser)):
            raise _link_closed()
    g.viewer = by


def _link_closed() -> IndiceError:
    return IndiceError(
        "This link leads nowhere any more.",
        hint="It may have ended, or was taken back. Ask who sent it.",
        reference="share-closed",
        status=404,
    )


def _fingerprint(share: Share) -> str:
    """Of the password by which a browser was let in: another password, and it is asked again."""
    return hashlib.sha256(share.password_hash.encode()).hexdigest()[:24]


def remember_share(share: Share) -> None:
    """This browser has said the password of a share."""
    session["shares"] = {**dict(list(session.get("shares", {}).items())[-20:]), str(share.id): _fingerprint(share)}


def _demo_folders() -> list[DemoFolder]:
    root = settings().home / "household"
    if os.environ.get("INDICE_DEMO") != "1" or not root.is_dir():
        return []
    return [
        DemoFolder(name=name, path=str(root / name), kind=kind) for name, kind in _DEMO_KINDS if (root / name).is_dir()
    ]


def _keep_session() -> None:
    """Give this browser its cookie, and a fresh one each day that it comes: not
    oftener, since answers overtake each other."""
    today = int(time.time()) // 86_400
    if session.get("day") != today:
        session.permanent = True
        session["day"] = today
    session.setdefault("csrf", secrets.token_urlsafe(24))


@bp.get("/status")
@bp.output(Status)
def read_status() -> Status:
    """Who is signed in, whether this is the first run, and how much waits where."""
    _keep_session()
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
            tidies=sorted(viewer_of(db, person).tidies) if person and not manages else [],
            age=person.age if person else None,
            has_pin=bool(person and person.pin_hash),
            is_lifted=bool(found and found.lifted_until and found.lifted_until > now()),
            person=person.name if person else None,
            language=person.language if person else "en",
            looks=LooksOut(**looks_of(person)) if person else LooksOut(**LOOKS),
            person_id=person.id if person else None,
            tells_seen=bool(person and person.tells_seen),
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
        with begin_for_all() as db:
            seconds = wait_seconds(db, name, address)
        if seconds:
            raise _later(seconds)
        try:
            yield
        except IndiceError as error:
            if error.status == 401:
                with begin_for_all() as db:
                    note_wrong(db, name, address)
                    note_deed(db, "sign-in-wrong", address=address, values={"name": name[:60]})
            raise
        with begin_for_all() as db:
            forget_guesses(db, name, address)
    finally:
        _hashing.release()


def _later(seconds: int) -> IndiceError:
    error = IndiceError(
        "That was tried too often.",
        hint=phrase("Wait {seconds} seconds.", seconds=seconds),
        reference="too-often",
        status=429,
    )
    error.retry_after = seconds
    return error


def is_right(password_hash: str, password: str) -> bool:
    """Whether a password is the one that a hash was made of."""
    try:
        return hasher.verify(password_hash, password)
    except (VerificationError, InvalidHashError):
        return False


def hash_of(password: str) -> str:
    """The hash of a password, made when there is room for it; raises :class:`IndiceError` (429) when there is none."""
    if not _hashing.acquire(timeout=PATIENCE_SECONDS):
        raise _later(5)
    try:
        return hasher.hash(password)
    finally:
        _hashing.release()


def enter(person_id: int) -> None:
    """Open a session for a person in this browser; the one that it had before ends."""
    before = session.get("key")
    with begin() as db:
        person = note_visit(db, person_id)
        forget_visit(db, person)
        old = session_of(db, before)
        if old is not None:
            end_sessions(db, old.person.id, only=old.session_id)
        key = _open(db, person, request.headers.get("User-Agent", ""))
    session.clear()
    session.permanent = True
    session["key"] = key
    session["csrf"] = secrets.token_urlsafe(24)


def _open(db: Session, person: Person, device: str) -> str:
    """Open a session, and write down whether it is from where, and with what, this person was never seen before."""
    is_new = is_unusual(db, person.id, device=device, address=_address())
    kind = "new-device" if is_new else "signed-in"
    note_deed(db, kind, person=person.name, address=_address(), values={"device": device[:200]})
    return open_session(db, person, device=device, address=_address())


def enter_device(person_id: int, device: str) -> str:
    """Open a session for a device that has no page; returns its secret, by which the device says who it is."""
    with begin_for_all() as db:
        return _open(db, note_visit(db, person_id), device)


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
        if not is_right(person.password_hash if person else _nobody(), body.password) or person is None:
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
        note_deed(db, "signed-out", **who_asks())
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
        if not person.pin_hash or not is_right(person.pin_hash, body.pin):
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
        if not is_right(person.password_hash, body.old):
            raise IndiceError("The old password is not right.", reference="password-wrong", status=401)
        password_hash = hasher.hash(body.new)
    with begin() as db:
        change_password_of(db, person.id, password_hash, stays=g.session_id)
        note_deed(db, "password-changed", **who_asks())
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
