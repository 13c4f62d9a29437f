"""The people of the household, for its owner: roles, libraries, ages; and folders that are for an age and above."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint
from flask import g, request

from ..errors import IndiceError
from ..store.ages import limit_directory, limits_of
from ..store.deeds import deeds, note_deed
from ..store.files import folder_at
from ..store.found import find
from ..store.household import Change, Member, add_person, change_person, members, remove_person, seers_of
from ..store.invitations import invitations, make_invitation, take_invitation_back
from ..store.jobs import announce
from ..store.models import Person
from .common import begin, entry_at, iso
from .schemas import Done
from .schemas_lists import DeedOut, DeedsOut, DeedsQuery, SeerOut, SeersOut
from .schemas_people import (
    InvitationIn,
    InvitationMade,
    InvitationOut,
    InvitationsOut,
    LimitIn,
    LimitOut,
    LimitsOut,
    PeopleOut,
    PersonIn,
    PersonOut,
)
from .session import hash_of, who_asks

__all__ = ["bp"]

DEEDS_SHOWN = 60
bp = APIBlueprint("people", __name__, url_prefix="/api", tag="People")


def _told(member: Member) -> PersonOut:
    person = member.person
    return PersonOut(
        id=person.id,
        name=person.name,
        role=person.role,
        libraries=list(member.libraries),
        downloads=member.downloads,
        shares=member.shares,
        tidies=member.tidies,
        most_streams=person.most_streams,
        away_kbps=person.away_kbps,
        tells_seen=person.tells_seen,
        has_picture=member.has_picture,
        age=person.age,
        unrated=person.unrated,
        has_pin=bool(person.pin_hash),
        seen_at=iso(member.last_seen),
    )


def _or_none(body: PersonIn, field: str) -> Any:
    """What is said of a field; `none` where it is said that there is nothing, None where nothing is said."""
    value = getattr(body, field)
    return "none" if value is None and field in body.model_fields_set else value


def _change(body: PersonIn) -> Change:
    return Change(
        name=body.name,
        role=body.role,
        libraries=body.libraries,
        age=_or_none(body, "age"),
        unrated=body.unrated,
        password_hash=hash_of(body.password) if body.password else None,
        pin_hash=None if body.pin is None else hash_of(body.pin) if body.pin else "",
        downloads=body.downloads,
        shares=body.shares,
        tidies=body.tidies,
        most_streams=_or_none(body, "most_streams"),
        away_kbps=_or_none(body, "away_kbps"),
    )


@bp.get("/people")
@bp.output(PeopleOut)
def list_people() -> PeopleOut:
    """Everybody, with what is given to them."""
    with begin() as db:
        return PeopleOut(people=[_told(member) for member in members(db)])


@bp.post("/people")
@bp.input(PersonIn, arg_name="body")
@bp.output(PersonOut)
def add(body: PersonIn) -> PersonOut:
    """Somebody new in the household."""
    if not body.name or not body.password:
        raise IndiceError("A new person needs a name and a password.", reference="person-wrong")
    change = _change(body)
    with begin() as db:
        person = add_person(db, body.name, change)
        note_deed(db, "person-added", **who_asks(), values={"name": person.name, "role": person.role})
        announce(db, "people")
        return _told(next(member for member in members(db) if member.person.id == person.id))


@bp.put("/people/<int:person_id>")
@bp.input(PersonIn, arg_name="body")
@bp.output(PersonOut)
def change(person_id: int, body: PersonIn) -> PersonOut:
    """Change what is said of a person; what is not said stays. With another password their sessions end."""
    wanted = _change(body)
    with begin() as db:
        person = find(db, Person, person_id)
        change_person(db, person, wanted)
        note_deed(db, "rights-changed", **who_asks(), values={"name": person.name, "role": person.role})
        announce(db, "people")
        return _told(next(member for member in members(db) if member.person.id == person_id))


@bp.delete("/people/<int:person_id>")
@bp.output(Done)
def remove(person_id: int) -> Done:
    """Somebody goes, with their marks and sessions."""
    with begin() as db:
        person = find(db, Person, person_id)
        note_deed(db, "person-removed", **who_asks(), values={"name": person.name})
        remove_person(db, person)
        announce(db, "people")
    return Done()


@bp.get("/entries/<int:entry_id>/seen-by")
@bp.output(SeersOut)
def list_seers(entry_id: int) -> SeersOut:
    """Who of the household sees an entry, and why somebody does not."""
    with begin() as db:
        entry = entry_at(db, entry_id)
        return SeersOut(
            age=entry.age,
            seers=[
                SeerOut(person_id=person.id, name=person.name, role=person.role, hidden_by=why)
                for person, why in seers_of(db, entry)
            ],
        )


@bp.get("/invitations")
@bp.output(InvitationsOut)
def list_invitations() -> InvitationsOut:
    """Invitations that were sent, and whether they were used."""
    with begin() as db:
        return InvitationsOut(
            invitations=[
                InvitationOut(
                    id=one.id,
                    role=one.role,
                    libraries=[str(name) for name in one.libraries],
                    age=one.age,
                    ends_at=one.ends_at.isoformat(),
                    made_at=one.made_at.isoformat(),
                    used_at=iso(one.used_at),
                    used_by=name,
                )
                for one, name in invitations(db)
            ]
        )


@bp.post("/invitations")
@bp.input(InvitationIn, arg_name="body")
@bp.output(InvitationMade)
def invite(body: InvitationIn) -> InvitationMade:
    """Make an invitation; its link is told this once."""
    import segno

    with begin() as db:
        made, secret = make_invitation(
            db,
            g.person,
            role=body.role,
            libraries=body.libraries,
            age=body.age,
            unrated=body.unrated,
            downloads=body.downloads,
            days=body.days,
        )
        note_deed(db, "invited", **who_asks(), values={"role": body.role, "days": body.days})
        announce(db, "people")
        link = f"{request.host_url}invitation/{secret}"
        return InvitationMade(id=made.id, link=link, picture=segno.make(link).svg_data_uri(scale=4, border=2))


@bp.delete("/invitations/<int:invitation_id>")
@bp.output(Done)
def take_back(invitation_id: int) -> Done:
    """Take an invitation back: its link opens nothing any more. Who came by it stays."""
    with begin() as db:
        take_invitation_back(db, invitation_id)
        announce(db, "people")
    return Done()


@bp.get("/deeds")
@bp.input(DeedsQuery, location="query", arg_name="query")
@bp.output(DeedsOut)
def list_deeds(query: DeedsQuery) -> DeedsOut:
    """The log of sign-ins, shares, changes of rights and refused requests, the newest first."""
    with begin() as db:
        lines = deeds(db, before=query.before, limit=DEEDS_SHOWN + 1)
        shown = lines[:DEEDS_SHOWN]
        return DeedsOut(
            deeds=[
                DeedOut(
                    id=one.id,
                    at=one.at.isoformat(),
                    kind=one.kind,
                    person=one.person,
                    address=one.address,
                    values=one.values,
                )
                for one in shown
            ],
            following=shown[-1].id if len(lines) > DEEDS_SHOWN else None,
        )


@bp.get("/limits")
@bp.output(LimitsOut)
def list_limits() -> LimitsOut:
    """Folders that are for an age and above."""
    with begin() as db:
        return LimitsOut(
            limits=[
                LimitOut(id=limit.id, path=f"{folder.shown}/{limit.directory}".rstrip("/"), age=limit.age)
                for limit, folder in limits_of(db)
            ]
        )


@bp.put("/limits")
@bp.input(LimitIn, arg_name="body")
@bp.output(Done)
def limit(body: LimitIn) -> Done:
    """All in a folder is from now on for an age and above; without an age the limit goes."""
    with begin() as db:
        folder, directory = folder_at(db, body.path)
        limit_directory(db, folder, directory, body.age)
        announce(db, "people")
    return Done()
