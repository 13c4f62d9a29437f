"""The household's face of an entry's page: who made it, its versions, and what is related to it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from sqlalchemy.orm import Session

from ..core.facts import Ranking, Value, best_value
from ..store.models import Entry, File
from ..store.related import related_to
from .common import cards_of
from .schemas_entry import Credit, RelatedOut, SoundOut, VersionLine

__all__ = ["credits_of", "related_of", "versions_of"]

CREDITED = ("cast", "directors", "writers", "composers")
MOST_CREDITS = 14
_PLAYED = ("movie", "episode", "clip")


def credits_of(values: Mapping[str, list[Value]], ranking: Ranking) -> list[Credit]:
    """Who made it and who is in it; the cast first, and nobody twice for the same."""
    found: list[Credit] = []
    for field in CREDITED:
        best = best_value(values.get(field, []), field, ranking)
        said: Any = best.value if best is not None else []
        for name in dict.fromkeys(said if isinstance(said, list) else [said]):
            found.append(Credit(name=str(name), field=field))
    makers = [one for one in found if one.field != "cast"]
    cast = [one for one in found if one.field == "cast"]
    return [*cast[: max(MOST_CREDITS - len(makers), 6)], *makers][:MOST_CREDITS]


def versions_of(files: Sequence[File]) -> list[VersionLine]:
    """The files that play an entry, the largest picture first; parts in their order."""
    beside = sorted({str(f.reading["language"]) for f in files if f.kind == "subtitle" and f.reading.get("language")})
    played = [file for file in files if file.kind in _PLAYED and file.serves not in ("beside", "live")]
    parts = sorted((f for f in played if f.serves == "part"), key=lambda f: (f.reading.get("part") or 0, f.shown))
    places = {file.id: place for place, file in enumerate(parts, 1)}
    lines = [_version(file, beside, places.get(file.id)) for file in played]
    return sorted(lines, key=lambda line: (line.part or 0, -line.height, line.file_id))


def _version(file: File, beside: Sequence[str], part: int | None) -> VersionLine:
    media: dict[str, Any] = file.media or {}
    video: dict[str, Any] = (media.get("video") or [{}])[0]
    inside = [str(one["language"]) for one in media.get("subtitles") or () if one.get("language")]
    said = file.reading.get("edition") or file.reading.get("version") or ""
    return VersionLine(
        file_id=file.id,
        edition=", ".join(map(str, said)) if isinstance(said, list) else str(said),
        part=part,
        width=int(media.get("width") or 0),
        height=int(media.get("height") or 0),
        codec=str(video.get("codec") or ""),
        hdr=bool(file.reading.get("hdr")),
        sounds=[
            SoundOut(
                codec=str(one.get("codec") or ""),
                channels=int(one.get("channels") or 0),
                language=str(one.get("language") or ""),
            )
            for one in media.get("audio") or ()
        ],
        texts=list(dict.fromkeys([*inside, *beside])),
        seconds=float(media["seconds"]) if media.get("seconds") else None,
        is_there=file.state == "present",
    )


def related_of(db: Session, entry: Entry, values: Mapping[str, list[Value]]) -> list[RelatedOut]:
    """What has most in common with a film or a series, and what that is."""
    found = related_to(db, entry, values)
    cards = {card.id: card for card in cards_of(db, [other for other, _ in found])}
    return [
        RelatedOut(entry=cards[other.id], why=[Credit(name=value, field=field) for field, value in why])
        for other, why in found
    ]
