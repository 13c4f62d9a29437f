"""Shares, for who makes them: links to one entry or one list, what became of them, and taking them back."""

from __future__ import annotations

from apiflask import APIBlueprint
from flask import request

from ..errors import IndiceError
from ..store.deeds import note_deed
from ..store.intakes import list_intakes
from ..store.jobs import announce
from ..store.models import now
from ..store.shares import Terms, make_share, shares_of, take_share_back, title_of
from .common import begin, iso, viewer
from .schemas import Done
from .schemas_lists import IntakeChoice, ShareIn, ShareMade, ShareOut, SharesOut
from .session import hash_of, who_asks

__all__ = ["bp"]

bp = APIBlueprint("sharing", __name__, url_prefix="/api", tag="Sharing")


@bp.get("/shares")
@bp.output(SharesOut)
def list_shares() -> SharesOut:
    """Links of one's own, for an owner everybody's, with how often they were opened."""
    asking = viewer()
    with begin() as db:
        return SharesOut(
            shares=[
                ShareOut(
                    id=one.share.id,
                    title=one.title,
                    kind=one.kind,
                    entry_id=one.share.entry_id,
                    list_id=one.share.playlist_id,
                    by=one.by,
                    made_at=one.share.made_at.isoformat(),
                    ends_at=one.share.ends_at.isoformat(),
                    is_over=one.share.ends_at <= now(),
                    has_password=bool(one.share.password_hash),
                    views=one.share.views,
                    most_views=one.share.most_views,
                    viewed_at=iso(one.share.viewed_at),
                    may_download=one.share.may_download,
                    takes_files=one.share.intake_id is not None,
                    uploaded_bytes=one.share.uploaded_bytes,
                    upload_bytes=one.share.upload_bytes,
                )
                for one in shares_of(db, asking)
            ],
            may_share=asking.manages or bool(asking.shares),
            intakes=[IntakeChoice(id=one.id, path=one.shown) for one in list_intakes(db)] if asking.manages else [],
        )


@bp.post("/shares")
@bp.input(ShareIn, arg_name="body")
@bp.output(ShareMade)
def share(body: ShareIn) -> ShareMade:
    """Share one entry, or one list of one's own, by a link; it is told this once."""
    import segno

    if (body.entry_id is None) == (body.list_id is None):
        raise IndiceError("Share one entry, or one list.", reference="request-wrong", status=422)
    terms = Terms(
        days=body.days,
        password_hash=hash_of(body.password) if body.password else "",
        most_views=body.most_views,
        may_download=body.may_download,
        intake_id=body.intake_id,
        upload_bytes=body.upload_megabytes * 1_000_000,
    )
    with begin() as db:
        made, secret = make_share(db, viewer(), entry_id=body.entry_id, playlist_id=body.list_id, terms=terms)
        note_deed(db, "shared", **who_asks(), values={"title": title_of(db, made)[0], "days": body.days})
        announce(db, "shares")
        link = f"{request.host_url}s/{secret}"
        return ShareMade(id=made.id, link=link, picture=segno.make(link).svg_data_uri(scale=4, border=2))


@bp.delete("/shares/<int:share_id>")
@bp.output(Done)
def take_back(share_id: int) -> Done:
    """Take a link back: it leads nowhere any more, also for who is looking at it."""
    with begin() as db:
        thing = take_share_back(db, viewer(), share_id)
        note_deed(db, "share-ended", **who_asks(), values={"title": thing.title})
        announce(db, "shares")
    return Done()
