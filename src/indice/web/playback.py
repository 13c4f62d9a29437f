"""Playing: the call that a player begins with, the playlists and segments that it then fetches, and who plays what."""

from __future__ import annotations

import contextlib
import os
import threading
import time
from typing import cast

from apiflask import APIBlueprint
from flask import Response, current_app, g, request
from sqlalchemy.exc import SQLAlchemyError

from ..core.playing.decide import sent_kbps
from ..disk.encoder import HEAD
from ..disk.hardware import encoder_version
from ..errors import IndiceError
from ..store.database import Database
from ..store.encodings import carried_now, most_elsewhere
from ..store.family import parents_of
from ..store.jobs import announce
from ..store.models import Playing
from ..store.playings import (
    LEFT_AFTER_SECONDS,
    end_left,
    end_playing,
    note_beat,
    open_playing,
    playing_at,
    playings_now,
)
from ..work.delivery import Delivery
from ..work.playback import REASONS, Ground, Offer, ground_of, offer
from ..work.playback import Asked as AskedOf
from ..work.playing_plan import Plan, PlannedText
from .common import base, begin, begin_for_all, cards_of, database, entry_at, language, say, settings, viewer
from .gateway import is_away
from .schemas import Done, Picture
from .schemas_playing import (
    ChapterOut,
    LoudnessOut,
    PartOut,
    PassageOut,
    PlaybackIn,
    PlaybackOut,
    PlayingOut,
    PlayingsOut,
    PlayMode,
    SoundTrack,
    TextTrack,
    VersionOut,
)
from .server import has_hung_up

__all__ = ["bp"]

bp = APIBlueprint("playback", __name__, url_prefix="/api", tag="Playing")
LOOK_EVERY_SECONDS = 2.0
BEAT_EVERY_SECONDS = 5.0
"""A player that fetches is there: that is noted so often."""
_NOISE = os.urandom(1_000_000)
_watching = threading.Lock()
_watched: set[int] = set()
_fetched: dict[str, float] = {}


def delivery() -> Delivery:
    """Who delivers what is played from this server."""
    return current_app.extensions["indice-delivery"]


def most_conversions() -> int:
    """So many films may be converted at the same time, here and on other machines."""
    here = settings().conversions or os.cpu_count() or 1
    with begin_for_all() as db:
        return here + most_elsewhere(db, encoder_version())


@bp.post("/entries/<int:entry_id>/playback")
@bp.input(PlaybackIn, arg_name="body")
@bp.output(PlaybackOut)
def play(entry_id: int, body: PlaybackIn) -> PlaybackOut:
    """Begin to play an entry: how it comes to this player, its tracks, and what follows."""
    with begin() as db:
        ground = ground_of(db, viewer(), entry_at(db, entry_id), body.file_id, list_id=body.list_id)
        above = parents_of(db, ground.entry)
        card = cards_of(db, [ground.entry])[0]
    download = f"{base()}/files/{ground.media.chosen.id}/content?download=true"
    asked = AskedOf(
        can=body.can,
        max_height=body.max_height,
        max_kbps=_bound_kbps(body.max_kbps),
        sound=body.sound,
        text=body.text,
        hls=body.hls,
        from_seconds=body.from_seconds,
    )
    try:
        made = offer(ground, asked, language=language())
        with begin_for_all() as db:
            key = open_playing(
                db,
                viewer(),
                entry_id=ground.entry.id,
                file_id=ground.media.chosen.id,
                mode=made.plan.decision.mode,
                reasons=made.plan.decision.reasons,
                plan=made.plan.told(),
                device=request.user_agent.string,
                most=most_conversions(),
            )
            announce(db, "playings")
    except IndiceError as error:
        error.download = download
        raise
    _watch()
    return _answer(ground, made, key, download, card.picture, [one.title for one in above], card.title)


def _bound_kbps(wanted: int | None) -> int | None:
    """What is wished, and for somebody away from home no more than the owner lets be sent to them."""
    person = g.get("person")
    most = person.away_kbps if person is not None and is_away(request.remote_addr or "") else None
    return min((one for one in (wanted, most) if one is not None), default=None)


def _answer(
    ground: Ground, made: Offer, key: str, download: str, picture: Picture | None, above: list[str], title: str
) -> PlaybackOut:
    plan, decision = made.plan, made.plan.decision
    shown = decision.picture
    own = f"{base()}/playbacks/{key}"
    return PlaybackOut(
        mode=decision.mode,
        reason=" ".join(say(REASONS[reason]) for reason in decision.reasons),
        reasons=list(decision.reasons),
        url=f"{base()}/files/{ground.media.chosen.id}/content" if decision.mode == "direct" else f"{own}/main.m3u8",
        mime=made.mime,
        entry_id=ground.entry.id,
        kind=ground.entry.kind,
        title=title,
        subtitle=", ".join(above),
        parent_id=ground.entry.parent_id,
        picture=picture,
        file_id=ground.media.chosen.id,
        duration_seconds=made.duration_seconds,
        width=shown.width if shown else None,
        height=shown.height if shown else None,
        source_height=plan.streams.video.upright[1] if plan.streams.video else None,
        kbps=sent_kbps(plan.streams, decision),
        sound=plan.sound if plan.streams.sounds else None,
        sounds=_sounds(plan),
        texts=[_text_track(place, text, own) for place, text in enumerate(plan.texts)],
        chapters=[ChapterOut(start_seconds=one.start_seconds, title=one.title) for one in made.chapters],
        passages=[
            PassageOut(kind=one.kind, start_seconds=one.start_seconds, end_seconds=one.end_seconds)
            for one in made.passages
        ],
        versions=[VersionOut(file_id=i, label=label, width=w, height=h) for i, label, w, h in made.versions],
        position_seconds=ground.position_seconds if ground.media.chosen.kind != "extra" else 0.0,
        keeps_position=ground.media.chosen.kind != "extra" and viewer().shared is None,
        next_entry_id=ground.following,
        parts=[
            PartOut(file_id=one.file_id, start_seconds=one.start_seconds, duration_seconds=one.duration_seconds)
            for one in made.parts
        ],
        loudness=_loudness(ground),
        key=key,
        download=download,
    )


def _sounds(plan: Plan) -> list[SoundTrack]:
    return [
        SoundTrack(
            index=place,
            language=sound.language,
            label=plan.sound_labels[place],
            codec=sound.codec,
            channels=sound.channels,
            default=sound.is_default,
        )
        for place, sound in enumerate(plan.streams.sounds)
    ]


def _text_track(place: int, text: PlannedText, own: str) -> TextTrack:
    flags = {
        "forced": text.is_forced,
        "sdh": text.is_for_deaf,
        "default": text.is_default,
        "picture": text.is_picture,
    }
    return TextTrack(
        index=place,
        language=text.language,
        label=text.label,
        flags=[flag for flag, holds in flags.items() if holds],
        url=None if text.is_picture else f"{own}/text-{place}.vtt",
    )


def _loudness(ground: Ground) -> LoudnessOut | None:
    told = (ground.media.chosen.media or {}).get("loudness")
    return LoudnessOut(**told) if isinstance(told, dict) and told else None


def _own(key: str) -> Playing:
    """A playing of whoever asks, who is there since they ask."""
    with begin() as db:
        found = playing_at(db, viewer(), key)
        entry_at(db, found.entry_id)  # what may not be seen any more is not played on
        moment = time.monotonic()
        if moment - _fetched.get(key, 0.0) > BEAT_EVERY_SECONDS:
            _fetched[key] = moment
            note_beat(db, key)
    _watch()
    return found


@bp.get("/line")
@bp.doc(responses={200: {"description": "Noise", "content": {"application/octet-stream": {}}}})
def measure_line() -> Response:
    """A million bytes that nothing on the way can make smaller: a player takes the time and knows its line."""
    answer = Response(_NOISE, mimetype="application/octet-stream")
    answer.headers["Cache-Control"] = "no-store"
    return answer


def _plan(key: str) -> Plan:
    return Plan.from_told(_own(key).plan)


def _text(content: str, mimetype: str) -> Response:
    answer = Response(content, mimetype=mimetype)
    answer.headers["Cache-Control"] = "private, no-cache"
    return answer


@bp.post("/playbacks/<key>/beat")
@bp.output(Done)
def beat(key: str) -> Done:
    """The player is there, playing or paused."""
    with begin() as db:
        playing_at(db, viewer(), key)
        note_beat(db, key)
    _watch()
    return Done()


@bp.post("/playbacks/<key>/end")
@bp.output(Done)
def end(key: str) -> Done:
    """The player leaves; what was made for it ends."""
    with begin_for_all() as db:
        end_playing(db, playing_at(db, viewer(), key).key)
        announce(db, "playings")
        left = set(end_left(db))
    delivery().keep_only(left)
    return Done()


@bp.get("/playbacks")
@bp.output(PlayingsOut)
def list_playings() -> PlayingsOut:
    """Who plays what at the moment, and how it reaches them."""
    with begin() as db:
        end_left(db)
        rows = playings_now(db)
        carried = carried_now(db)
    shown: list[PlayingOut] = []
    for playing, person, entry in rows:
        picture = playing.plan["decision"]["picture"]
        shown.append(
            PlayingOut(
                key=playing.key,
                person=person,
                entry_id=entry.id,
                title=entry.title,
                mode=cast(PlayMode, playing.mode),
                reasons=playing.reasons,
                began_at=playing.began_at.isoformat(),
                device=playing.device,
                height=picture["height"] if picture else None,
                speed=round(delivery().speed(playing.key), 2),
                machine=carried.get(playing.key, ""),
            )
        )
    return PlayingsOut(playings=shown, most=most_conversions())


@bp.delete("/playbacks/<key>")
@bp.output(Done)
def stop(key: str) -> Done:
    """Stop what somebody plays; their player is told, and may begin again."""
    with begin() as db:
        end_playing(db, key)
        announce(db, "playings")
        left = set(end_left(db))
    delivery().keep_only(left)
    return Done()


@bp.get("/playbacks/<key>/main.m3u8")
@bp.doc(responses={200: {"description": "The playlist", "content": {"application/vnd.apple.mpegurl": {}}}})
def read_main(key: str) -> Response:
    """The multivariant playlist of a playing (RFC 8216)."""
    return _text(_plan(key).main_playlist(), "application/vnd.apple.mpegurl")


@bp.get("/playbacks/<key>/<track>.m3u8")
@bp.doc(responses={200: {"description": "The playlist", "content": {"application/vnd.apple.mpegurl": {}}}})
def read_playlist(key: str, track: str) -> Response:
    """The playlist of a track over its whole length."""
    return _text(_plan(key).playlist(track), "application/vnd.apple.mpegurl")


@bp.get("/playbacks/<key>/<track>.vtt")
@bp.doc(responses={200: {"description": "The text", "content": {"text/vtt": {}}}})
def read_text(key: str, track: str) -> Response:
    """A text track, whatever it was, as WebVTT."""
    plan = _plan(key)
    return _text(delivery().webvtt(plan, plan.text(track)), "text/vtt")


@bp.get("/playbacks/<key>/<track>/<int:number>.vtt")
@bp.doc(responses={200: {"description": "The text", "content": {"text/vtt": {}}}})
def read_text_segment(key: str, track: str, number: int) -> Response:
    """The cues of a segment of a text track."""
    return _text(delivery().text_segment(_plan(key), track, number), "text/vtt")


def _mime(plan: Plan, track: str) -> str:
    return "video/mp4" if track == "picture" and plan.has_picture else "audio/mp4"


@bp.get(f"/playbacks/<key>/<track>/{HEAD}")
@bp.doc(responses={200: {"description": "The head", "content": {"video/mp4": {}}}})
def read_head(key: str, track: str) -> Response:
    """What stands before the segments of a track."""
    plan = _plan(key)
    plan.timeline(track)
    answer = Response(delivery().head(key, plan, track), mimetype=_mime(plan, track))
    answer.headers["Cache-Control"] = "private, max-age=3600"
    return answer


@bp.get("/playbacks/<key>/<track>/<int:number>.m4s")
@bp.doc(responses={200: {"description": "The segment", "content": {"video/mp4": {}}}})
def read_segment(key: str, track: str, number: int) -> Response:
    """A segment of a track; it is made when it is asked for, and sent while it is made.

    `moment` in the query: what of it is waited for, in seconds of the file. What
    lies before it may hold few pictures then.
    """
    plan = _plan(key)
    moment = request.args.get("moment", type=float)
    link = request.environ.get("gunicorn.socket")
    made = delivery().segment(key, plan, track, number, moment, is_gone=lambda: link is not None and has_hung_up(link))
    answer = Response(made, mimetype=_mime(plan, track))
    answer.headers["Cache-Control"] = "private, max-age=3600" if moment is None else "no-store"
    return answer


def _watch() -> None:
    """See to it that somebody looks whether players have left."""
    made, records = delivery(), database()
    with _watching:
        if id(made) in _watched:
            return
        _watched.add(id(made))
    threading.Thread(target=_look_after, args=(made, records), daemon=True, name="players").start()


def _look_after(made: Delivery, records: Database) -> None:
    """End what was made for players that have left, until nobody plays any more."""
    answered = time.monotonic()
    while True:
        time.sleep(LOOK_EVERY_SECONDS)
        left: set[str] | None = None
        with contextlib.suppress(SQLAlchemyError), records.begin() as db:
            left = set(end_left(db))
            answered = time.monotonic()
        if left is None and time.monotonic() - answered > LEFT_AFTER_SECONDS:
            left = set()  # nobody can say who is there
        if left is not None:
            made.keep_only(left)
            with _watching:
                for key in set(_fetched) - left:
                    _fetched.pop(key, None)
                if not left:
                    _watched.discard(id(made))
                    return
