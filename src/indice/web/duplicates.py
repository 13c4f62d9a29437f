"""What is there twice: shown side by side, one kept, the rest put into the bin by plan."""

from __future__ import annotations

from typing import cast

from apiflask import APIBlueprint

from ..core.duplicates import Copy, quality_of
from ..store.duplicates import TwiceFile, count_twins, entries_of, not_the_same, twice_files, twin_at, twins
from ..store.jobs import announce, find_active
from ..work.duplicates import to_the_bin
from ..work.requests import Queue, request_look_for_duplicates
from .common import begin, cards_of, database, say
from .schemas import Done, JobRef, Picture
from .schemas_names import BinIn, BinOut, TwinFile, TwinKind, TwinOut, TwinsIn, TwinsOut

__all__ = ["bp"]

AT_ONCE = 60
bp = APIBlueprint("duplicates", __name__, url_prefix="/api", tag="Duplicates")


@bp.get("/duplicates")
@bp.input(TwinsIn, location="query", arg_name="asked")
@bp.output(TwinsOut)
def list_twins(asked: TwinsIn) -> TwinsOut:
    """Groups of files of which one is enough, as they were last found."""
    with begin() as db:
        found = twins(db, after=asked.after, limit=AT_ONCE, kind=asked.kind)
        files = twice_files(db, [id_ for twin in found for id_ in twin.files])
        entries = entries_of(db, files.values())
        pictures = {card.id: card.picture for card in cards_of(db, entries)}
        job = find_active(db, "duplicates", None)
        return TwinsOut(
            groups=[
                TwinOut(
                    id=twin.id,
                    kind=cast(TwinKind, twin.kind),
                    why=say(twin.why),
                    files=[
                        _file(files[id_], pictures.get(files[id_].entry_id or 0))
                        for id_ in twin.files
                        if id_ in files and files[id_].state == "present"
                    ],
                )
                for twin in found
            ],
            counts=count_twins(db),
            next=found[-1].id if len(found) == AT_ONCE else None,
            job_id=job.id if job is not None else None,
        )


def _file(file: TwiceFile, picture: Picture | None) -> TwinFile:
    copy = Copy(file.id, file.shown, file.kind, file.size_bytes, file.media)
    return TwinFile(
        id=file.id,
        library=file.library,
        path=file.shown,
        size_bytes=file.size_bytes,
        quality=quality_of(copy),
        kind=file.kind,
        entry_id=file.entry_id,
        picture=picture,
    )


@bp.post("/duplicates/look")
@bp.output(JobRef)
def look() -> JobRef:
    """Look through all libraries for what is there twice."""
    job_id = request_look_for_duplicates(database())
    Queue(database()).defer(job_id)
    return JobRef(job_id=job_id)


@bp.post("/duplicates/<int:twin_id>/distinct")
@bp.output(Done)
def tell_apart(twin_id: int) -> Done:
    """Say that these files are not the same; they are not shown together again."""
    with begin() as db:
        twin = twin_at(db, twin_id)
        not_the_same(db, twin.files)
        db.delete(twin)
        announce(db, "duplicates")
    return Done()


@bp.post("/duplicates/bin")
@bp.input(BinIn, arg_name="body")
@bp.output(BinOut)
def draft_bin(body: BinIn) -> BinOut:
    """Draft plans that put all files of groups into the bin but the one that stays; nothing is moved yet."""
    with begin() as db:
        made = to_the_bin(db, {choice.group: choice.keep for choice in body.choices})
        return BinOut(plans=[plan.id for plan in made])
