"""What a player is told when somebody wants to play something: how it comes, which tracks there are, what follows."""

from __future__ import annotations

import os
import re
from collections.abc import Sequence
from dataclasses import dataclass

import langcodes
from sqlalchemy.orm import Session

from ..core.phrase import phrase
from ..core.playing.codecs import MIMES, read_can
from ..core.playing.decide import Decision, Reason, Unplayable, Wish, decide
from ..core.playing.moments import Passage, passages_of_chapters
from ..core.playing.streams import Chapter, Sound, Streams
from ..errors import IndiceError
from ..store.hearings import passages_heard
from ..store.marks import marks_of
from ..store.models import Entry, File, Folder, Playlist
from ..store.playings import Media, following_of, media_of, what_plays
from ..store.playlists import following_in, playlist_at
from ..store.viewer import Viewer
from .playing_plan import Plan, PlannedText, look_inside, moments_of_keys

__all__ = ["REASONS", "Asked", "Ground", "Offer", "Part", "ground_of", "offer", "path_below"]

REASONS: dict[Reason, str] = {
    "box": phrase("This player does not take this kind of file."),
    "picture": phrase("This player does not take the picture's codec."),
    "sound": phrase("This player does not take the sound's codec."),
    "other-sound": phrase("Another sound track is chosen."),
    "height": phrase("A smaller picture is asked for."),
    "kbps": phrase("The line is too narrow for the original."),
    "interlaced": phrase("The picture is interlaced."),
    "range": phrase("The picture is of high dynamic range."),
    "words": phrase("Subtitles that are pictures are drawn in."),
    "cut": phrase("The file is cut off at its end."),
    "keys": phrase("The file does not list its key frames."),
}
"""Why a file is not sent as it is, in words."""
_CHANNELS = {1: "mono", 2: "stereo", 6: "5.1", 7: "6.1", 8: "7.1"}


@dataclass(frozen=True, slots=True, kw_only=True)
class Asked:
    """What a player asks for."""

    can: Sequence[str]
    max_height: int | None
    max_kbps: int | None
    sound: int | None
    text: int | None
    hls: bool
    from_seconds: float | None = None
    """Where it will begin, in the time of the file; where it is not said, at the position that is kept."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Ground:
    """What the records say of something that is to be played."""

    entry: Entry
    media: Media
    following: int | None
    position_seconds: float
    heard: tuple[Passage, ...] = ()
    """Passages that the season's sound told."""


@dataclass(frozen=True, slots=True)
class Part:
    """A file of a film that lies in several."""

    file_id: int
    start_seconds: float
    duration_seconds: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Offer:
    """How something comes to a player."""

    plan: Plan
    mime: str
    duration_seconds: float
    chapters: tuple[Chapter, ...]
    versions: tuple[tuple[int, str, int, int], ...]
    """Number, label, width and height of each file that holds the whole."""
    parts: tuple[Part, ...]
    passages: tuple[Passage, ...]
    """What one may want to skip, in the time of the file; none of a film in parts."""


def ground_of(db: Session, viewer: Viewer, entry: Entry, file_id: int | None, *, list_id: int | None = None) -> Ground:
    """What the records say of playing an entry, in a playlist where one is named.

    Raises :class:`IndiceError` (404) when there is nothing to play, or no such list.
    """
    played = what_plays(db, viewer, entry)
    media = media_of(db, played, file_id)
    shared = viewer.shared.playlist_id if viewer.shared is not None else None
    if shared is not None:
        following = following_in(db, db.get_one(Playlist, shared), played.id)
    elif list_id is not None and viewer.shared is None:
        following = following_in(db, playlist_at(db, viewer, list_id), played.id)
    else:
        following = following_of(db, played)
    mark = marks_of(db, viewer, [played.id]).get(played.id)
    return Ground(
        entry=played,
        media=media,
        following=following.id if following else None,
        position_seconds=(mark.position_seconds or 0.0) if mark else 0.0,
        heard=tuple(passages_heard(db, media.chosen)),
    )


def path_below(file: File, folder: Folder) -> bytes:
    """Where a file lies, links followed; raises :class:`IndiceError` when that is outside its library's folder."""
    root = os.path.realpath(bytes(folder.path))
    path = os.path.realpath(os.path.join(root, bytes(file.path)))
    if not path.startswith(root + b"/"):
        raise IndiceError(phrase("This file lies outside its library."), reference="file-outside", status=403)
    return path


def path_of(file: File, folder: Folder) -> bytes:
    """Where a file lies; raises :class:`IndiceError` when it lies outside its library's folder or is not there."""
    path = path_below(file, folder)
    if not os.path.isfile(path):
        raise IndiceError(
            phrase("{path} is not there.", path=file.shown),
            hint=phrase("Plug its drive in, or scan again."),
            reference="file-away",
            status=404,
        )
    return path


def offer(ground: Ground, asked: Asked, *, language: str) -> Offer:
    """How something comes to a player that asks.

    Raises :class:`IndiceError`: 422 when it cannot be played at all, 409 when it cannot be played as
    it is and the player takes nothing else.
    """
    media = ground.media
    path = path_of(media.chosen, media.folder)
    try:
        streams = look_inside(path)
        texts = _texts(streams, media, language)
        wish = _wish(asked, streams, texts)
        needs_keys = streams.video is not None and streams.video.codec in ("h264", "hevc", "vp9", "av1")
        decision = decide(streams, wish)
        if decision.mode != "direct" and needs_keys and decision.picture and decision.picture.how == "copy":
            decision = decide(streams, wish, has_keys=bool(moments_of_keys(path, streams)))
    except Unplayable as error:
        raise _unplayable(str(error)) from error
    except (ValueError, OSError) as error:
        raise _unplayable(phrase("This file cannot be played: it is broken, or no film and no sound.")) from error
    if streams.seconds <= 0:
        raise _unplayable(phrase("This file cannot be played: nothing of it is left."))
    if decision.mode != "direct" and not asked.hls:
        raise IndiceError(
            phrase("This cannot be played as it is. {why}", why=REASONS[decision.reasons[0]]),
            hint=phrase("It can be downloaded."),
            reference="not-direct",
            status=409,
        )
    parts = _parts(media, path, streams)
    return Offer(
        plan=Plan(
            path=path,
            streams=streams,
            decision=decision,
            sound=wish.sound,
            words=streams.texts[wish.words].index if wish.words is not None else None,
            texts=texts,
            start_seconds=asked.from_seconds if asked.from_seconds is not None else ground.position_seconds,
            sound_labels=tuple(_sound_label(sound, place, language) for place, sound in enumerate(streams.sounds, 1)),
        ),
        mime=_mime(streams, decision),
        duration_seconds=parts[-1].start_seconds + parts[-1].duration_seconds if parts else streams.seconds,
        chapters=streams.chapters,
        versions=tuple(_version(file, streams if file is media.chosen else None) for file in media.versions),
        parts=parts,
        passages=() if parts else _passages(streams, ground.heard),
    )


def _passages(streams: Streams, heard: Sequence[Passage]) -> tuple[Passage, ...]:
    """What chapters name, and what was heard of a kind that none names."""
    named = passages_of_chapters([(one.start_seconds, one.title) for one in streams.chapters], streams.seconds)
    kinds = {one.kind for one in named}
    return tuple(sorted([*named, *(one for one in heard if one.kind not in kinds)], key=lambda one: one.start_seconds))


def _unplayable(words: str) -> IndiceError:
    return IndiceError(words, hint=phrase("It can be downloaded."), reference="not-playable", status=422)


def _wish(asked: Asked, streams: Streams, texts: Sequence[PlannedText]) -> Wish:
    sound = asked.sound
    if sound is None:
        sound = next((place for place, one in enumerate(streams.sounds) if one.is_default), 0)
    sound = sound if sound < len(streams.sounds) else 0
    words = None
    if asked.text is not None and asked.text < len(texts) and texts[asked.text].is_picture:
        words = next(place for place, text in enumerate(streams.texts) if text.index == texts[asked.text].stream)
    return Wish(
        can=read_can(asked.can),
        max_height=asked.max_height,
        max_kbps=asked.max_kbps,
        sound=sound,
        words=words,
        hls=asked.hls,
    )


def _mime(streams: Streams, decision: Decision) -> str:
    if decision.mode != "direct":
        return "application/vnd.apple.mpegurl"
    mime = MIMES.get(streams.box, "application/octet-stream")
    return mime if streams.video is not None else mime.replace("video/", "audio/")


def name_of_language(code: str | None, language: str) -> str:
    """A language's name in another; empty where the code says nothing."""
    if not code:
        return ""
    try:
        said = langcodes.Language.get(code)
        return said.display_name(language).capitalize() if said.is_valid() else code
    except (ValueError, LookupError):
        return code


def _sound_label(sound: Sound, place: int, language: str) -> str:
    name = name_of_language(sound.language, language)
    channels = _CHANNELS.get(sound.channels, f"{sound.channels}")
    said = f"{name} {channels}".strip() if name else f"{place}: {channels}"
    return f"{said}, {sound.title}" if sound.title and sound.title.lower() not in said.lower() else said


def _texts(streams: Streams, media: Media, language: str) -> tuple[PlannedText, ...]:
    """Texts inside the file, then those beside it."""
    found: list[PlannedText] = []
    for place, text in enumerate(streams.texts, 1):
        name = name_of_language(text.language, language) or str(place)
        found.append(
            PlannedText(
                label=f"{name}, {text.title}" if text.title and text.title.lower() != name.lower() else name,
                language=text.language,
                stream=text.index,
                is_picture=text.is_picture,
                is_forced=text.is_forced,
                is_for_deaf=text.is_for_deaf,
                is_default=text.is_default,
            )
        )
    for file, folder in media.texts:
        try:
            path = path_of(file, folder)
        except IndiceError:
            continue
        if re.search(r"\.(idx|sup)$", file.shown, re.IGNORECASE):
            continue
        code = file.reading.get("language")
        code = str(code) if code else None
        flags = [str(flag) for flag in file.reading.get("flags") or ()]
        name = name_of_language(code, language) or file.shown.rpartition("/")[2]
        found.append(
            PlannedText(
                label=name,
                language=code,
                path=path,
                is_forced="forced" in flags,
                is_for_deaf="sdh" in flags,
            )
        )
    return tuple(found)


def _version(file: File, streams: Streams | None) -> tuple[int, str, int, int]:
    media = file.media or {}
    width, height = int(media.get("width") or 0), int(media.get("height") or 0)
    if streams is not None and streams.video is not None:
        width, height = streams.video.upright
    said = file.reading.get("version") or file.reading.get("edition")
    words = [str(said)] if said else []
    if height:
        words.append(f"{height}p")
    return file.id, " ".join(words) or file.shown.rpartition("/")[2], width, height


def _parts(media: Media, path: bytes, streams: Streams) -> tuple[Part, ...]:
    found: list[Part] = []
    start = 0.0
    for file in media.parts:
        if file is media.chosen:
            seconds = streams.seconds
        else:
            try:
                seconds = look_inside(path_of(file, media.folder)).seconds
            except (ValueError, OSError, IndiceError):
                seconds = float((file.media or {}).get("seconds") or 0.0)
        found.append(Part(file.id, round(start, 3), seconds))
        start += seconds
    return tuple(found)
