"""The page of an invitation: who invites, to what, and how one comes in."""

from __future__ import annotations

from apiflask import APIBlueprint
from flask import request
from sqlalchemy.orm import Session

from ..errors import IndiceError
from ..store.deeds import note_deed
from ..store.invitations import open_invitation, sender_of, use_invitation
from ..store.jobs import announce
from ..store.models import Invitation
from ..store.people import note_wrong
from .common import begin_for_all
from .schemas import Done
from .schemas_people import InvitedIn, InvitedOut
from .session import enter, hasher, patiently

__all__ = ["bp"]

bp = APIBlueprint("invited", __name__, url_prefix="/api", tag="Invitations")
_INVITED = "an invitation"


@bp.get("/invited/<key>")
@bp.output(InvitedOut)
def read_invited(key: str) -> InvitedOut:
    """What an invitation says: who invites, and to what. 404 when it is none,
    was used, has ended, or was taken back."""
    with patiently(_INVITED), begin_for_all() as db:
        found = _invitation(db, key)
        return InvitedOut(
            by=sender_of(db, found),
            role=found.role,
            libraries=[str(name) for name in found.libraries],
            age=found.age,
            ends_at=found.ends_at.isoformat(),
        )


@bp.post("/invited/<key>")
@bp.input(InvitedIn, arg_name="body")
@bp.output(Done)
def come_in(key: str, body: InvitedIn) -> Done:
    """Take an invitation up: a name and a password, and one is inside. It can be used once."""
    with patiently(_INVITED):
        with begin_for_all() as db:
            _invitation(db, key)
        password_hash = hasher.hash(body.password)
        with begin_for_all() as db:
            found = _invitation(db, key, for_use=True)
            person_id = use_invitation(db, found, body.name, password_hash, language=body.language).id
            note_deed(db, "came-in", person=body.name.strip(), address=request.remote_addr or "")
            announce(db, "people")
    enter(person_id)
    return Done()


def _invitation(db: Session, key: str, *, for_use: bool = False) -> Invitation:
    """An invitation by its secret; a wrong one counts as a wrong password does."""
    found = open_invitation(db, key, for_use=for_use)
    if found is None:
        with begin_for_all() as other:
            note_wrong(other, _INVITED, request.remote_addr or "")
        raise IndiceError(
            "This invitation is not open any more.",
            hint="It can be used once, and until its last day. Ask who sent it for another one.",
            reference="invitation-closed",
            status=404,
        )
    return found
