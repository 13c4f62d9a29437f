"""Services of subtitles, what they offer for a film or an episode, and the times of texts beside it."""

from __future__ import annotations

from apiflask import APIBlueprint

from ..core.playing.offered import OfferedText
from ..sources.text_profile import parse_text_profile
from ..store.found import find
from ..store.models import TextService
from ..store.text_services import (
    add_text_service,
    key_of_service,
    list_text_services,
    remove_text_service,
    set_service_key,
)
from ..work.subtitles import Draft, beside_of, draft_text, draft_times, propose_times, search_texts, try_service
from .common import begin, begin_for_all, database, entry_at, iso, say, settings
from .plans import plan_out
from .schemas import Done
from .schemas_matching import KeyIn, Said, SourceIn
from .schemas_texts import (
    OfferedTextOut,
    OfferedTextsOut,
    TextDraftIn,
    TextDraftOut,
    TextFileOut,
    TextFilesOut,
    TextLine,
    TextSearchIn,
    TextServiceOut,
    TextServicesOut,
    TimesIn,
    TimesOut,
    TimesProposeIn,
)

__all__ = ["bp"]

bp = APIBlueprint("subtitles", __name__, url_prefix="/api", tag="Subtitles")


@bp.get("/text-services")
@bp.output(TextServicesOut)
def list_services() -> TextServicesOut:
    """All services of subtitles, without their keys."""
    with begin() as db:
        return TextServicesOut(
            services=[
                TextServiceOut(
                    id=one.id,
                    name=one.name,
                    url=one.url,
                    problem=say(one.problem),
                    has_key=bool(key_of_service(db, one.name)),
                    checked_at=iso(one.checked_at),
                    languages=list(parse_text_profile(one.profile).languages),
                    profile=one.profile,
                )
                for one in list_text_services(db)
            ]
        )


@bp.post("/text-services")
@bp.input(SourceIn, arg_name="body")
@bp.output(Done)
def put_service(body: SourceIn) -> Done:
    """Add a service by its profile, or replace the one of the same name."""
    with begin() as db:
        add_text_service(db, body.profile, body.key)
    return Done()


@bp.delete("/text-services/<int:service_id>")
@bp.output(Done)
def remove_service(service_id: int) -> Done:
    """Forget a service and its key; texts that came from it stay."""
    with begin() as db:
        remove_text_service(db, find(db, TextService, service_id))
    return Done()


@bp.put("/text-services/<int:service_id>/key")
@bp.input(KeyIn, arg_name="body")
@bp.output(Done)
def put_service_key(service_id: int, body: KeyIn) -> Done:
    """Keep a service's key."""
    with begin() as db:
        set_service_key(db, find(db, TextService, service_id).name, body.key)
    return Done()


@bp.post("/text-services/<int:service_id>/test")
@bp.output(Said)
def test_service(service_id: int) -> Said:
    """Ask a service whether it is there and takes the key."""
    with begin() as db:
        service = find(db, TextService, service_id)
    return Said(message=say(try_service(database(), service)))


@bp.get("/entries/<int:entry_id>/subtitles")
@bp.output(TextFilesOut)
def list_texts(entry_id: int) -> TextFilesOut:
    """The texts that lie beside a film or an episode."""
    with begin() as db:
        files = beside_of(db, entry_at(db, entry_id))
    return TextFilesOut(
        texts=[
            TextFileOut(
                file_id=file.id,
                name=file.shown.rpartition("/")[2],
                language=str(file.reading["language"]) if file.reading.get("language") else None,
                flags=[str(flag) for flag in file.reading.get("flags") or ()],
            )
            for file in files
        ]
    )


@bp.post("/entries/<int:entry_id>/subtitles/search")
@bp.input(TextSearchIn, arg_name="body")
@bp.output(OfferedTextsOut)
def search(entry_id: int, body: TextSearchIn) -> OfferedTextsOut:
    """What the services offer for a film or an episode, the likeliest to fit first, and why."""
    with begin() as db:
        entry = entry_at(db, entry_id)
    found, problems = search_texts(database(), entry, body.file_id, [one.lower() for one in body.languages])
    return OfferedTextsOut(
        texts=[
            OfferedTextOut(
                service_id=one.service_id,
                service=one.service,
                id=one.ranked.text.id,
                language=one.ranked.text.language,
                title=one.ranked.text.title,
                release=one.ranked.text.release,
                form=one.ranked.text.form,  # pyright: ignore[reportArgumentType]
                for_deaf=one.ranked.text.is_for_deaf,
                forced=one.ranked.text.is_forced,
                seconds=one.ranked.text.seconds,
                grounds=list(one.ranked.grounds),
                weight=one.ranked.weight,
                stretch=round(one.ranked.stretch, 6),
            )
            for one in found
        ],
        problems=problems,
    )


@bp.post("/entries/<int:entry_id>/subtitles/draft")
@bp.input(TextDraftIn, arg_name="body")
@bp.output(TextDraftOut)
def draft(entry_id: int, body: TextDraftIn) -> TextDraftOut:
    """Fetch a text and draft to lay it beside its film. Nothing is written yet."""
    with begin() as db:
        entry = entry_at(db, entry_id)
        service = find(db, TextService, body.service_id)
    offer = OfferedText(
        id=body.id, language=body.language, form=body.form, is_for_deaf=body.for_deaf, is_forced=body.forced
    )
    made = draft_text(database(), settings().home, entry, body.file_id, service, offer, stretch=body.stretch)
    return _draft_out(made)


def _draft_out(made: Draft) -> TextDraftOut:
    with begin_for_all() as db:
        shown = plan_out(db, made.plan)
    return TextDraftOut(
        plan=shown,
        path=made.path,
        replaces=made.replaces,
        lines=[TextLine(seconds=when, words=words) for when, words in made.lines],
    )


@bp.post("/entries/<int:entry_id>/subtitles/<int:text_id>/listen")
@bp.input(TimesProposeIn, arg_name="body")
@bp.output(TimesOut)
def listen(entry_id: int, text_id: int, body: TimesProposeIn) -> TimesOut:
    """Listen to the film, and say how the times of a text must change so that its lines come where voices are heard."""
    with begin() as db:
        entry = entry_at(db, entry_id)
    found = propose_times(database(), entry, text_id, body.file_id)
    return TimesOut(offset_seconds=found.offset_seconds, stretch=found.stretch, is_sure=found.is_sure)


@bp.post("/entries/<int:entry_id>/subtitles/<int:text_id>/times")
@bp.input(TimesIn, arg_name="body")
@bp.output(TextDraftOut)
def change_times(entry_id: int, text_id: int, body: TimesIn) -> TextDraftOut:
    """Draft a text with its times multiplied and moved. Nothing is written yet."""
    with begin() as db:
        entry = entry_at(db, entry_id)
    made = draft_times(
        database(), settings().home, entry, text_id, offset_seconds=body.offset_seconds, stretch=body.stretch
    )
    return _draft_out(made)
