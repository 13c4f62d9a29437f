"""Shares: links by which somebody without an account sees one entry, or one playlist, until a day."""

from __future__ import annotations

import hashlib
import secrets
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import timedelta
from typing import cast

from sqlalchemy import delete, func, or_, select, true, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from ..errors import IndiceError
from .found import find
from .household import viewer_of
from .models import Entry, Intake, Library, Person, Playlist, Share, ShareView, now
from .playlists import Listed, must_be_by_hand, playlist_at
from .viewer import Role, Shared, Viewer

__all__ = [
    "SharedThing",
    "Terms",
    "list_of",
    "make_share",
    "note_view",
    "open_share",
    "reserve_upload",
    "shares_of",
    "take_share_back",
    "title_of",
    "viewer_by",
]

KEPT = timedelta(days=30)
"""So long one that has ended is still listed."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Terms:
    """What a share lets people do, and for how long."""

    days: int
    password_hash: str = ""
    most_views: int | None = None
    may_download: bool = False
    intake_id: int | None = None
    upload_bytes: int = 0


@dataclass(frozen=True, slots=True)
class SharedThing:
    """A share with what it is of, for who looks after it."""

    share: Share
    by: str
    title: str
    kind: str
    """Of the entry, or `list`."""


def make_share(
    db: Session, viewer: Viewer, *, entry_id: int | None, playlist_id: int | None, terms: Terms
) -> tuple[Share, str]:
    """A new share of something that one may see, and the secret of its link, which is kept nowhere.

    Raises :class:`IndiceError`: 404 for what one may not see, 403 where one may not share.
    """
    if entry_id is not None:
        entry = find(db, Entry, entry_id)
        may = viewer.manages or entry.library_id in viewer.shares
    else:
        must_be_by_hand(playlist_at(db, viewer, playlist_id or 0, to_change=True))
        may = viewer.manages or bool(viewer.shares)
    if not may or (terms.intake_id is not None and not viewer.manages):
        raise IndiceError(
            "You may not share this." if not may else "You may not let others hand files in.",
            hint="Ask the owner.",
            reference="not-allowed",
            status=403,
        )
    if terms.intake_id is not None:
        find(db, Intake, terms.intake_id)
    secret = secrets.token_urlsafe(24)
    made = Share(
        digest=_digest(secret),
        person_id=viewer.person_id,
        entry_id=entry_id,
        playlist_id=playlist_id if entry_id is None else None,
        ends_at=now() + timedelta(days=terms.days),
        password_hash=terms.password_hash,
        most_views=terms.most_views,
        may_download=terms.may_download,
        intake_id=terms.intake_id,
        upload_bytes=terms.upload_bytes if terms.intake_id is not None else 0,
    )
    db.add(made)
    db.flush()
    return made, secret


def _digest(secret: str) -> str:
    return hashlib.sha256(secret.encode("utf-8", "replace")).hexdigest()


def open_share(db: Session, secret: str) -> Share | None:
    """The share of a link that is open; None when there is none, or it has ended."""
    query = select(Share).where(Share.digest == _digest(secret[:200]), Share.ends_at > now())
    return db.scalars(query).first()


def viewer_by(db: Session, share: Share) -> Viewer | None:
    """Who comes by a share: what they may see is what is shared, as far as who shares may see and share it.

    None when nothing of it is left to see.
    """
    person = db.get_one(Person, share.person_id)
    by = viewer_of(db, person)
    if by.manages:
        downloads = frozenset(db.scalars(select(Library.id)))
        libraries = by.libraries
    else:
        libraries = by.libraries & by.shares
        downloads = by.downloads
    shared = Shared(share.id, person.id, cast(Role, person.role), share.entry_id, share.playlist_id)
    return replace(
        by,
        person_id=0,
        libraries=libraries,
        downloads=downloads if share.may_download else frozenset[int](),
        shares=frozenset[int](),
        shared=shared,
    )


def note_view(db: Session, share: Share, browser: str) -> bool:
    """A browser opens a share, which counts once a day; False when it may not be opened by it any more."""
    today = now().date()
    there = select(ShareView.day).where(ShareView.share_id == share.id, ShareView.browser == browser)
    if db.scalar(there.where(ShareView.day == today)) is not None:
        return True
    counted = (
        update(Share)
        .where(Share.id == share.id, or_(Share.most_views.is_(None), Share.views < Share.most_views))
        .values(views=Share.views + 1, viewed_at=now())
        .returning(Share.id)
    )
    if db.execute(counted.execution_options(synchronize_session=False)).scalar() is None:
        return False
    made = insert(ShareView).values(share_id=share.id, browser=browser, day=today)
    if db.execute(made.on_conflict_do_nothing().returning(ShareView.day)).scalar() is None:
        # Another request of the same browser was first, and has been counted.
        db.execute(update(Share).where(Share.id == share.id).values(views=Share.views - 1))
    db.execute(delete(ShareView).where(ShareView.share_id == share.id, ShareView.day < today))
    return True


def reserve_upload(db: Session, share: Share, size_bytes: int) -> Intake | None:
    """Set bytes of a share aside for a file that is handed in; returns where it lands, None when it is too much.

    A negative number gives back what was not used.
    """
    fits = Share.uploaded_bytes + size_bytes <= Share.upload_bytes if size_bytes > 0 else true()
    taken = (
        update(Share)
        .where(Share.id == share.id, Share.intake_id.is_not(None), fits)
        .values(uploaded_bytes=func.greatest(Share.uploaded_bytes + size_bytes, 0))
        .returning(Share.intake_id)
    )
    intake_id = db.execute(taken.execution_options(synchronize_session=False)).scalar()
    return db.get(Intake, intake_id) if intake_id is not None else None


def title_of(db: Session, share: Share) -> tuple[str, str]:
    """Title and kind of what is shared, as the session may see it; empty when it may not."""
    if share.entry_id is not None:
        entry = db.scalars(select(Entry).where(Entry.id == share.entry_id)).first()
        return (entry.title, entry.kind) if entry is not None else ("", "")
    playlist = db.get(Playlist, share.playlist_id or 0)
    return (playlist.name, "list") if playlist is not None else ("", "")


def list_of(db: Session, share: Share, by: str) -> Listed:
    """The playlist that is shared, as its page shows it."""
    return Listed(db.get_one(Playlist, share.playlist_id), by, False, 0)


def shares_of(db: Session, viewer: Viewer) -> list[SharedThing]:
    """One's own shares, the newest first; for an owner everybody's. What has ended long ago is left out."""
    query = (
        select(Share, Person.name, Entry.title, Entry.kind, Playlist.name)
        .join(Person, Person.id == Share.person_id)
        .outerjoin(Entry, Entry.id == Share.entry_id)
        .outerjoin(Playlist, Playlist.id == Share.playlist_id)
        .where(Share.ends_at > now() - KEPT)
        .order_by(Share.id.desc())
    )
    if not viewer.is_owner:
        query = query.where(Share.person_id == viewer.person_id)
    rows: Sequence[tuple[Share, str, str | None, str | None, str | None]] = list(db.execute(query))
    return [
        SharedThing(share, by, title or name or "", kind or "list")
        for share, by, title, kind, name in rows
        if title is not None or name is not None
    ]


def take_share_back(db: Session, viewer: Viewer, share_id: int) -> SharedThing:
    """A link leads nowhere any more, at once; raises :class:`IndiceError` (404) when it is none of one's own."""
    share = db.get(Share, share_id)
    if share is None or not (viewer.is_owner or share.person_id == viewer.person_id):
        raise IndiceError("There is no such link.", reference="share-unknown", status=404)
    thing = SharedThing(share, db.get_one(Person, share.person_id).name, *title_of(db, share))
    db.execute(delete(Share).where(Share.id == share_id))
    return thing
