"""What is played, by whom, and what comes after it."""

from __future__ import annotations

import secrets
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta
from typing import Any

from sqlalchemy import delete, func, or_, select, text, update
from sqlalchemy.orm import Session

from ..core.catalog.lacking import due_of
from ..core.catalog.story import Place, specials_behind
from ..core.facts import best_value
from ..core.phrase import phrase
from ..core.playing.moments import closing_start
from ..errors import IndiceError
from .catalog import files_of, shared_files
from .facts import values_of
from .family import children_of, seasons_of, tracks_of
from .marks import PLAYED, marks_of
from .models import Entry, File, Folder, Person, Playing, now
from .viewer import Viewer

__all__ = [
    "LEFT_AFTER_SECONDS",
    "Media",
    "closing_of",
    "end_left",
    "end_playing",
    "following_of",
    "media_of",
    "note_beat",
    "open_playing",
    "playing_at",
    "playings_now",
    "what_plays",
]

LEFT_AFTER_SECONDS = 30
"""A player that says nothing for so long has left."""
RETRY_SECONDS = 5
"""So soon it is worth asking again whether another conversion may begin."""
_LOCK = 7801
"""Of the count of conversions, so that two that begin at once are not both the last."""


@dataclass(frozen=True, slots=True)
class Media:
    """The files of something that is played."""

    chosen: File
    folder: Folder
    versions: tuple[File, ...]
    """Files that each hold the whole; one, where there is one only."""
    parts: tuple[File, ...]
    """Files that hold it one after the other."""
    texts: tuple[tuple[File, Folder], ...]
    """Texts that lie beside the chosen file."""


def what_plays(db: Session, viewer: Viewer, entry: Entry) -> Entry:
    """What is played when somebody plays an entry: of a series the next episode not seen, of an album its first track.

    Raises :class:`IndiceError` (404) when there is nothing to play.
    """
    if entry.kind in PLAYED or entry.kind == "photo":  # of a photo the moments around it, where they were filmed
        return entry
    if entry.kind in ("series", "season"):
        found = _next_episode(db, viewer, _episodes(db, entry))
    elif entry.kind in ("album", "artist"):
        found = next((track for track in _there(db, tracks_of(db, entry.id))), None)
    else:
        found = next(iter(_there(db, [one for one in children_of(db, entry.id) if one.kind in PLAYED])), None)
    if found is None:
        raise IndiceError("There is nothing to play here.", reference="nothing-to-play", status=404)
    return found


def _episodes(db: Session, entry: Entry) -> list[Entry]:
    """Episodes of a series or a season in the order of the story; specials of which nobody knows the day come last."""
    series_id = entry.id if entry.kind == "series" else entry.parent_id or 0
    seasons, episodes = seasons_of(db, series_id)
    numbers = {season.id: season.season for season in seasons}
    story: dict[int, Place] = {}
    if entry.kind == "series" and 0 in numbers.values():
        expected = best_value(values_of(db, [series_id], fields=["expected"]).get(series_id, {}).get("expected", []))
        story = specials_behind(due_of(expected.value if expected else []))

    def order(episode: Entry) -> tuple[Any, ...]:
        season, number = numbers.get(episode.parent_id or 0), episode.number
        behind = story.get(number or -1) if season == 0 else None
        own = (number is None, number or 0, episode.moment or "", episode.id)
        if behind is not None:
            return (False, False, behind[0], (False, behind[1], "￿", 0), own)
        return (season == 0, season is None, season or 0, own)

    mine = [e for e in episodes if entry.kind == "series" or e.parent_id == entry.id]
    return _there(db, sorted(mine, key=order))


def _there(db: Session, entries: Sequence[Entry]) -> list[Entry]:
    """Those of entries that there is a file of."""
    rows = files_of(db, [entry.id for entry in entries])
    return [
        entry
        for entry in entries
        if any(file.kind in PLAYED for file, _ in rows.get(entry.id, [])) or shared_files(db, entry)
    ]


def _next_episode(db: Session, viewer: Viewer, episodes: Sequence[Entry]) -> Entry | None:
    marks = marks_of(db, viewer, [episode.id for episode in episodes])
    unseen = (e for e in episodes if e.id not in marks or marks[e.id].seen_at is None)
    begun = [e for e in episodes if e.id in marks and marks[e.id].position_at is not None]
    latest = max(begun, key=lambda e: marks[e.id].position_at or now(), default=None)
    return latest or next(unseen, episodes[0] if episodes else None)


def following_of(db: Session, entry: Entry) -> Entry | None:
    """The episode or track after one; None after the last."""
    if entry.kind == "track" and entry.parent_id is not None:
        row = _there(db, [t for t in tracks_of(db, entry.parent_id) if t.parent_id == entry.parent_id])
    elif entry.kind == "episode" and entry.parent_id is not None:
        season = db.get(Entry, entry.parent_id)
        series = db.get(Entry, season.parent_id) if season is not None and season.parent_id else None
        holder = series or season
        row = _episodes(db, holder) if holder is not None else []
    else:
        return None
    ids = [one.id for one in row]
    place = ids.index(entry.id) + 1 if entry.id in ids else len(ids)
    return row[place] if place < len(ids) else None


def media_of(db: Session, entry: Entry, file_id: int | None) -> Media:
    """The files that playing an entry needs; `file_id` names a version, a part, or an extra of it.

    Raises :class:`IndiceError` (404) when there is none.
    """
    rows = files_of(db, [entry.id]).get(entry.id, []) or shared_files(db, entry)
    folders = {file.id: folder for file, folder in rows}
    media = [file for file, _ in rows if (file.kind in PLAYED and file.serves != "beside") or file.kind == "extra"]
    parts = sorted((f for f in media if f.serves == "part"), key=lambda f: (f.reading.get("part") or 0, f.shown))
    mains = [f for f in media if f.kind != "extra" and f.serves != "part"]
    mains.sort(key=lambda f: (f.state != "present", f.serves != "main", f.shown))
    chosen = (
        next((f for f in media if f.id == file_id), None) if file_id is not None else next(iter(mains or parts), None)
    )
    if chosen is None:
        raise IndiceError("There is nothing to play here.", reference="nothing-to-play", status=404)
    texts = [(file, folder) for file, folder in rows if file.kind == "subtitle" and file.state == "present"]
    stem = chosen.shown.rpartition(".")[0]
    own = [row for row in texts if row[0].shown.startswith(stem)]
    others = len(media) > 1
    return Media(
        chosen=chosen,
        folder=folders[chosen.id],
        versions=tuple(mains) if chosen in mains else (chosen,),
        parts=tuple(parts) if chosen in parts else (),
        texts=tuple(own if own or others else texts),
    )


def open_playing(
    db: Session,
    viewer: Viewer,
    *,
    entry_id: int,
    file_id: int,
    mode: str,
    reasons: Sequence[str],
    plan: dict[str, Any],
    device: str,
    most: int,
) -> str:
    """Somebody begins to play; returns the key of this playing.

    Raises :class:`IndiceError` (429) when as many conversions run as may, or the person plays as much as they may.
    """
    _bound_streams(db, viewer, entry_id, device[:200])
    if mode == "converted":
        db.execute(text("select pg_advisory_xact_lock(:lock)"), {"lock": _LOCK})
        end_left(db)
        count = db.scalar(select(func.count()).select_from(Playing).where(Playing.mode == "converted")) or 0
        if count >= most:
            raise _full(
                "conversions-full",
                phrase("As many films are being converted as this machine can."),
                phrase("Wait until somebody is through, or play it in its original quality."),
            )
    key = secrets.token_urlsafe(18)
    db.add(
        Playing(
            key=key,
            person_id=viewer.shared.by_id if viewer.shared else viewer.person_id,
            share_id=viewer.shared.share_id if viewer.shared else None,
            entry_id=entry_id,
            file_id=file_id,
            mode=mode,
            reasons=list(reasons),
            plan=plan,
            device=device[:200],
        )
    )
    return key


def _bound_streams(db: Session, viewer: Viewer, entry_id: int, device: str) -> None:
    """See that a person plays no more at the same time than the owner lets them;
    the same thing begun again counts once."""
    most = None
    if viewer.shared is None:  # two that begin at once wait for each other here
        most = db.scalar(select(Person.most_streams).where(Person.id == viewer.person_id).with_for_update())
    if most is None:
        return
    end_left(db)
    others = select(func.count()).select_from(Playing)
    mine = others.where(Playing.person_id == viewer.person_id, Playing.share_id.is_(None))
    if (db.scalar(mine.where(or_(Playing.entry_id != entry_id, Playing.device != device))) or 0) >= most:
        raise _full(
            "streams-full",
            phrase("You play as much at the same time as you may."),
            phrase("End what plays elsewhere, and play this again."),
        )


def _full(reference: str, message: str, hint: str) -> IndiceError:
    error = IndiceError(message, hint=hint, reference=reference, status=429)
    error.retry_after = RETRY_SECONDS
    return error


def playing_at(db: Session, viewer: Viewer, key: str) -> Playing:
    """A playing of one's own; raises :class:`IndiceError` (404) when there is none, or it is over."""
    found = db.get(Playing, key) if len(key) < 100 else None
    if found is None or not _is_of(found, viewer):
        raise IndiceError("This playing is over.", hint="Play it again.", reference="playing-over", status=404)
    return found


def _is_of(playing: Playing, viewer: Viewer) -> bool:
    if viewer.shared is not None:
        return playing.share_id == viewer.shared.share_id
    return playing.person_id == viewer.person_id and playing.share_id is None


def closing_of(db: Session, viewer: Viewer, entry_id: int, duration_seconds: float) -> float | None:
    """Where the closing chapter of what somebody plays begins; None where none is named, or a film lies in parts."""
    query = select(Playing.plan).where(Playing.person_id == viewer.person_id, Playing.entry_id == entry_id)
    plan = db.scalars(query.order_by(Playing.began_at.desc()).limit(1)).first()
    if plan is None or abs(plan["streams"]["seconds"] - duration_seconds) > 5:
        return None
    chapters = [(one["start_seconds"], one["title"]) for one in plan["streams"]["chapters"]]
    return closing_start(chapters, duration_seconds)


def note_beat(db: Session, key: str) -> bool:
    """A player says that it is there; False when its playing is over."""
    beaten = update(Playing).where(Playing.key == key).values(beat_at=now()).returning(Playing.key)
    return db.execute(beaten.execution_options(synchronize_session=False)).scalar() is not None


def end_playing(db: Session, key: str) -> None:
    """A playing is over."""
    db.execute(delete(Playing).where(Playing.key == key))


def end_left(db: Session) -> list[str]:
    """Playings whose players have left are over; returns the keys of all that are not."""
    db.execute(delete(Playing).where(Playing.beat_at < now() - timedelta(seconds=LEFT_AFTER_SECONDS)))
    return list(db.scalars(select(Playing.key)))


def playings_now(db: Session) -> list[tuple[Playing, str, Entry]]:
    """What is played at the moment: the playing, who, and what."""
    query = (
        select(Playing, Person.name, Entry)
        .join(Person, Person.id == Playing.person_id)
        .join(Entry, Entry.id == Playing.entry_id)
        .order_by(Playing.began_at)
    )
    return list(db.execute(query).all())
