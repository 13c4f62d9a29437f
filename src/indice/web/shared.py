"""The page of a share, for who holds its link: what it shows, its pictures, what plays in it, and files handed in.

What it shows is asked by the same functions that the household uses, as a viewer who sees nothing but what is shared.
"""

from __future__ import annotations

import os
from collections.abc import Callable
from typing import Any, cast

from apiflask import APIBlueprint
from flask import g, request

from ..core.phrase import phrase
from ..disk.encoder import HEAD
from ..disk.handed import TooShort, write_handed
from ..errors import IndiceError
from ..store.deeds import note_deed
from ..store.models import Share
from ..store.shares import list_of, reserve_upload, title_of
from . import entry, media, playback
from .common import begin, begin_for_all
from .lists import page_of
from .schemas import Done
from .schemas_lists import HandedIn, OpenIn, SharedOut
from .session import is_right, patiently, remember_share, who_asks

__all__ = ["bp"]

bp = APIBlueprint("shared", __name__, url_prefix="/api/shared/<share_key>", tag="Shared by link")


@bp.url_value_preprocessor
def _take_key(_: str | None, values: dict[str, Any] | None) -> None:
    """The same functions serve both places; what they are asked in is known before they are called."""
    if values is not None:
        g.share_key = values.pop("share_key", "")


@bp.get("/")
@bp.output(SharedOut)
def read_shared() -> SharedOut:
    """What a link shows. 404 when it leads nowhere: never did, has ended, was opened
    as often as it may, or was taken back."""
    share: Share = g.share
    if g.get("viewer") is None:
        return SharedOut(by=g.share_by, needs_password=True)
    with begin() as db:
        title, kind = title_of(db, share)
        places = []
        if share.playlist_id is not None:
            places = page_of(db, list_of(db, share, g.share_by)).places
        return SharedOut(
            by=g.share_by,
            needs_password=False,
            title=title,
            kind=kind,
            entry_id=share.entry_id,
            ends_at=share.ends_at.isoformat(),
            may_download=share.may_download,
            takes_files=share.intake_id is not None,
            upload_bytes_left=max(0, share.upload_bytes - share.uploaded_bytes),
            places=places,
        )


@bp.post("/open")
@bp.input(OpenIn, arg_name="body")
@bp.output(Done)
def open_by_password(body: OpenIn) -> Done:
    """Say the password of a link; this browser is then let in."""
    share: Share = g.share
    with patiently(f"share {share.id}"):
        if not share.password_hash or not is_right(share.password_hash, body.password):
            raise IndiceError("That is not the password of this link.", reference="share-password", status=401)
    remember_share(share)
    return Done()


@bp.post("/files/<name>")
@bp.output(HandedIn)
def hand_in(name: str) -> HandedIn:
    """Hand a file in, its bytes as the body; it lands where new files do, and is looked at there before it is filed."""
    share: Share = g.share
    size = request.content_length
    if size is None:
        raise IndiceError("It is not said how large this file is.", reference="length-needed", status=411)
    with begin_for_all() as db:
        intake = reserve_upload(db, share, size) if size > 0 else None
        folder = bytes(intake.path) if intake is not None else b""
    if not folder:
        raise IndiceError(
            "This cannot be handed in here.",
            hint="It is empty, or larger than what may still be handed in."
            if share.intake_id
            else "This link takes no files.",
            reference="upload-refused",
            status=413 if share.intake_id else 403,
        )
    request.max_content_length = size + 1
    try:
        written = write_handed(folder, name, request.stream.read, size)
    except (TooShort, OSError) as error:
        with begin_for_all() as db:
            reserve_upload(db, share, -size)
        raise IndiceError(
            "The file did not come whole." if isinstance(error, TooShort) else "The file cannot be kept.",
            hint="Try it again."
            if isinstance(error, TooShort)
            else phrase("Tell who shares with you: {why}.", why=os.strerror(error.errno or 0)),
            reference="upload-broken",
            status=400 if isinstance(error, TooShort) else 507,
        ) from error
    with begin_for_all() as db:
        note_deed(db, "handed-in", **who_asks(), values={"name": written, "bytes": size})
    return HandedIn(name=written, size_bytes=size)


_SAME: tuple[tuple[str, str, Callable[..., Any]], ...] = (
    ("GET", "/entries/<int:entry_id>", entry.read_entry),
    ("GET", "/pictures/<digest>/<int:width>", media.read_picture),
    ("GET", "/files/<int:file_id>/content", media.read_content),
    ("POST", "/entries/<int:entry_id>/playback", playback.play),
    ("GET", "/line", playback.measure_line),
    ("POST", "/playbacks/<key>/beat", playback.beat),
    ("POST", "/playbacks/<key>/end", playback.end),
    ("GET", "/playbacks/<key>/main.m3u8", playback.read_main),
    ("GET", "/playbacks/<key>/<track>.m3u8", playback.read_playlist),
    ("GET", "/playbacks/<key>/<track>.vtt", playback.read_text),
    ("GET", "/playbacks/<key>/<track>/<int:number>.vtt", playback.read_text_segment),
    ("GET", f"/playbacks/<key>/<track>/{HEAD}", playback.read_head),
    ("GET", "/playbacks/<key>/<track>/<int:number>.m4s", playback.read_segment),
)
"""What the household's own addresses answer, too."""
for _method, _rule, _function in _SAME:
    bp.add_url_rule(_rule, view_func=cast(Any, _function), methods=[_method])
