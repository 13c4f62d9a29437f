"""Watching together: somebody invites the household, and all who come see the same moment."""

from __future__ import annotations

import time

from apiflask import APIBlueprint
from flask import g

from ..errors import IndiceError
from ..store.jobs import announce
from ..store.marks import PLAYED
from ..store.models import Entry
from ..store.together import Round, begin_party, come, leave_party, parties_now, round_at, say
from .common import begin, entry_at, viewer
from .schemas import Done
from .schemas_together import PartiesOut, PartyBeat, PartyIn, PartyKey, PartyOut, PartySaid

__all__ = ["bp"]

bp = APIBlueprint("together", __name__, url_prefix="/api/together", tag="Playing")
TOPIC = "together"


def _out(party: Round) -> PartyOut:
    return PartyOut(
        key=party.key,
        entry_id=party.entry.id,
        title=party.entry.title,
        host=party.host,
        names=list(party.names),
        changed_by=party.changed_by,
        is_paused=party.shared.is_paused,
        position_seconds=party.shared.position_seconds,
        at_seconds=party.shared.at_seconds,
        came_seconds=g.came_at,
        now_seconds=time.time(),
    )


def _playable(entry: Entry) -> Entry:
    if entry.kind not in PLAYED:
        raise IndiceError("There is nothing to play here.", reference="nothing-to-play", status=404)
    return entry


@bp.get("")
@bp.output(PartiesOut)
def list_parties() -> PartiesOut:
    """What is watched together at the moment, of what one may see."""
    with begin() as db:
        return PartiesOut(parties=[_out(party) for party in parties_now(db)])


@bp.post("")
@bp.input(PartyIn, arg_name="body")
@bp.output(PartyKey)
def invite(body: PartyIn) -> PartyKey:
    """Invite the household to watch something together; it waits until somebody starts it."""
    with begin() as db:
        key = begin_party(db, viewer(), _playable(entry_at(db, body.entry_id)), body.position_seconds)
        announce(db, TOPIC)
    return PartyKey(key=key)


@bp.post("/<key>/beat")
@bp.input(PartyBeat, arg_name="body")
@bp.output(PartyOut)
def beat(key: str, body: PartyBeat) -> PartyOut:
    """Say that one is there, and hear where the film is. 404 `party-over` when nobody watches any more."""
    with begin() as db:
        round_at(db, key)
        if come(db, viewer(), key, body.device):
            announce(db, TOPIC)
        db.flush()
        return _out(round_at(db, key))


@bp.put("/<key>")
@bp.input(PartySaid, arg_name="body")
@bp.output(PartyOut)
def tell(key: str, body: PartySaid) -> PartyOut:
    """Start it, stop it, jump, or go on to another entry, for all who watch."""
    with begin() as db:
        round_at(db, key)
        entry = _playable(entry_at(db, body.entry_id)) if body.entry_id is not None else None
        say(db, viewer(), key, position_seconds=body.position_seconds, is_paused=body.is_paused, entry=entry)
        announce(db, TOPIC)
        db.flush()
        return _out(round_at(db, key))


@bp.post("/<key>/leave")
@bp.input(PartyBeat, arg_name="body")
@bp.output(Done)
def leave(key: str, body: PartyBeat) -> Done:
    """Leave; the others go on."""
    with begin() as db:
        leave_party(db, viewer(), key, body.device)
        announce(db, TOPIC)
    return Done()
