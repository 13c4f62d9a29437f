"""What a playing needs, as a value that its record keeps: the file, what stands
in it, and what becomes of each track."""

from __future__ import annotations

import json
import os
from dataclasses import dataclass
from functools import cache, lru_cache
from typing import Any

from pydantic import ConfigDict, TypeAdapter

from ..core.playing.decide import Decision
from ..core.playing.orders import LEAD_SECONDS, Encoder, Order, picture_order, sound_order
from ..core.playing.streams import Streams
from ..core.playing.timeline import (
    Rendition,
    Timeline,
    key_timeline,
    main_playlist,
    media_playlist,
    picture_timeline,
    sound_timeline,
)
from ..disk.apart import inside_apart, key_before_apart, keys_apart, words_since_apart
from ..disk.encoder import HEAD
from ..errors import IndiceError

__all__ = ["Plan", "PlannedText", "look_inside", "moments_of_keys", "unknown"]

_AS_HEX = ConfigDict(ser_json_bytes="hex", val_json_bytes="hex")


def look_inside(path: bytes) -> Streams:
    """What stands in a file as it is now; raises ValueError with words."""
    status = os.stat(path)
    return _inside(path, status.st_size, status.st_mtime_ns)


@lru_cache(maxsize=256)
def _inside(path: bytes, _size: int, _mtime: int) -> Streams:
    return inside_apart(path)


def moments_of_keys(path: bytes, streams: Streams) -> tuple[float, ...]:
    """Moments of the key frames of a file as it is now."""
    return _keys(path, streams, os.stat(path).st_mtime_ns)


@lru_cache(maxsize=64)
def _keys(path: bytes, streams: Streams, _mtime: int) -> tuple[float, ...]:
    return tuple(keys_apart(path, streams))


@dataclass(frozen=True, slots=True, kw_only=True)
class PlannedText:
    """A text track: inside the file, or a file beside it."""

    __pydantic_config__ = _AS_HEX

    label: str
    language: str | None
    stream: int | None = None
    path: bytes | None = None
    is_picture: bool = False
    is_forced: bool = False
    is_for_deaf: bool = False
    is_default: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Plan:
    """All that a playing needs."""

    __pydantic_config__ = _AS_HEX

    path: bytes
    streams: Streams
    decision: Decision
    sound: int
    words: int | None
    """Number of the stream of picture subtitles that is drawn in."""
    texts: tuple[PlannedText, ...]
    sound_labels: tuple[str, ...] = ()
    start_seconds: float = 0.0
    """Where the player is likely to begin."""

    def told(self) -> dict[str, Any]:
        """The plan as JSON can hold it."""
        return _adapter().dump_python(self, mode="json")

    @classmethod
    def from_told(cls, told: dict[str, Any]) -> Plan:
        """The plan that :meth:`told` made."""
        return _adapter().validate_json(json.dumps(told))

    @property
    def has_picture(self) -> bool:
        """Whether there is something to look at."""
        return self.decision.picture is not None

    def timeline(self, track: str) -> Timeline:
        """Segments of a track: `picture`, or `sound-N`; raises
        :class:`IndiceError` (404) when there is no such track."""
        picture, streams = self.decision.picture, self.streams
        if track == "picture" and picture is not None:
            if picture.how == "encode":
                return picture_timeline(picture.rate, streams.seconds)
            return key_timeline(moments_of_keys(self.path, streams), streams.seconds)
        number = self._sound_number(track)
        return sound_timeline(streams.sounds[number], self.decision.sounds[number], streams.seconds)

    def _sound_number(self, track: str) -> int:
        text = track.removeprefix("sound-")
        number = int(text) if text.isdigit() and len(text) < 4 else -1
        if not 0 <= number < len(self.decision.sounds):
            raise unknown()
        return number

    def order(
        self,
        track: str,
        timeline: Timeline,
        first: int,
        encoder: Encoder | None = None,
        moment: float | None = None,
    ) -> Order:
        """What the encoder is told for a track from a segment on.

        `encoder`: one of the machine, for the picture. `moment`: what is waited for in the first segment.
        """
        picture = self.decision.picture
        if track == "picture" and picture is not None:
            asked = picture.how == "encode" and moment is not None and moment - timeline.starts[first] > 1
            is_worded = self.words is not None and first > 0
            return picture_order(
                self.streams,
                picture,
                timeline,
                first,
                words=self.words,
                encoder=encoder,
                moment=moment,
                key=key_before_apart(self.path, moment - LEAD_SECONDS) if asked and moment is not None else None,
                words_since=words_since_apart(self.path, self.words or 0, timeline.starts[first])
                if is_worded
                else None,
            )
        number = self._sound_number(track)
        return sound_order(self.streams.sounds[number], self.decision.sounds[number], timeline, first)

    def main_playlist(self) -> str:
        """The multivariant playlist."""
        sounds = self.decision.sounds
        names = _apart(self.sound_labels)
        return main_playlist(
            picture=self.decision.picture,
            sound_marks=[plan.mark for plan in sounds],
            kbps=self._kbps(),
            address="picture.m3u8" if self.has_picture else f"sound-{self.sound}.m3u8",
            sounds=[
                Rendition(
                    name=names[number],
                    address=f"sound-{number}.m3u8",
                    language=self.streams.sounds[number].language,
                    is_default=number == self.sound,
                    channels=plan.channels,
                )
                for number, plan in enumerate(sounds)
            ]
            if self.has_picture
            else [],
            texts=[
                Rendition(
                    name=name,
                    address=f"text-{number}.m3u8",
                    language=text.language,
                    is_forced=text.is_forced,
                )
                for number, (text, name) in enumerate(
                    zip(self.texts, _apart([text.label for text in self.texts]), strict=True)
                )
                if not text.is_picture and self.has_picture
            ],
        )

    def _kbps(self) -> float:
        picture = self.decision.picture
        if picture is None:
            return 256.0
        if picture.how == "copy":
            return self.streams.kbps * 1.5
        return (picture.kbps or picture.width * picture.height * picture.rate[0] / picture.rate[1] * 0.00022) + 192

    def playlist(self, track: str) -> str:
        """The playlist of a track: `picture`, `sound-N` or `text-N`."""
        if track.startswith("text-"):
            self.text(track)
            lead = "picture" if self.has_picture else f"sound-{self.sound}"
            return media_playlist(self.timeline(lead), head=None, name=track + "/{}.vtt")
        return media_playlist(self.timeline(track), head=f"{track}/{HEAD}", name=track + "/{}.m4s")

    def text(self, track: str) -> PlannedText:
        """A text track by its name; raises :class:`IndiceError` (404) when there is none, or it holds pictures."""
        number = track.removeprefix("text-")
        if (
            not number.isdigit()
            or len(number) > 3
            or int(number) >= len(self.texts)
            or self.texts[int(number)].is_picture
        ):
            raise unknown()
        return self.texts[int(number)]


def _apart(labels: tuple[str, ...] | list[str]) -> list[str]:
    """Names of which no two are the same, as RFC 8216 wants them."""
    found: list[str] = []
    for label in labels:
        name, count = label, 1
        while name in found:
            count += 1
            name = f"{label} {count}"
        found.append(name)
    return found


def unknown() -> IndiceError:
    """What is said of an address below a playing at which there is nothing."""
    return IndiceError("There is nothing at this address.", reference="unknown", status=404)


@cache
def _adapter() -> TypeAdapter[Plan]:
    return TypeAdapter(Plan)
