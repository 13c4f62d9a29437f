"""What stands in a file that can be played, as far as playing asks for it."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

__all__ = ["Chapter", "Sound", "Streams", "Text", "Video"]

Transfer = Literal["sdr", "pq", "hlg"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Video:
    """The moving picture of a file."""

    index: int
    """Number of the stream in the file."""
    codec: str
    mark: str
    """The codec as RFC 6381 writes it; empty where it has no such name."""
    width: int
    """Samples of a line as they are stored."""
    height: int
    """Lines as they are stored."""
    pixel_shape: float = 1.0
    """Width of a sample by its height."""
    turn: int = 0
    """By how many degrees it is turned to stand upright: 0, 90, 180 or 270."""
    rate: tuple[int, int] = (25, 1)
    """Pictures a second, as a fraction."""
    is_interlaced: bool = False
    bits: int = 8
    pixels: str = "yuv420p"
    transfer: Transfer = "sdr"
    matrix: Literal["bt709", "bt601", "bt2020", "rgb", ""] = ""
    is_full_range: bool = False
    shift_seconds: float = 0.0
    """By how much a key frame is shown after the moment that the box lists for it."""

    @property
    def upright(self) -> tuple[int, int]:
        """Width and height as it is seen: upright, in square pixels."""
        wide, high = round(self.width * self.pixel_shape), self.height
        return (high, wide) if self.turn in (90, 270) else (wide, high)

    @property
    def aspect(self) -> float:
        """Width by height as it is seen."""
        wide = self.width * self.pixel_shape / max(self.height, 1)
        return 1 / wide if self.turn in (90, 270) else wide

    @property
    def frames(self) -> Fraction:
        """Pictures a second."""
        return Fraction(*self.rate)


@dataclass(frozen=True, slots=True, kw_only=True)
class Sound:
    """One sound track."""

    index: int
    codec: str
    mark: str
    channels: int
    rate: int
    language: str | None = None
    title: str = ""
    is_default: bool = False
    frame_seconds: float = 0.0
    """Length of each of its packets; 0 when they differ or are not known."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Text:
    """One text track inside a file."""

    index: int
    codec: str
    is_picture: bool
    """Whether it holds pictures of words, which can only be drawn into the picture."""
    language: str | None = None
    title: str = ""
    is_default: bool = False
    is_forced: bool = False
    is_for_deaf: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Chapter:
    """A named part of a film."""

    start_seconds: float
    title: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Streams:
    """What stands in a file."""

    box: str
    """`mp4`, `quicktime`, `matroska`, `webm`, `ogg`, `mp3`, `flac`, `wav`, `adts` or what else it is."""
    seconds: float
    """How long it can really be played."""
    size_bytes: int
    is_cut: bool = False
    """Whether it ends before its own head says so."""
    video: Video | None = None
    sounds: tuple[Sound, ...] = ()
    texts: tuple[Text, ...] = ()
    chapters: tuple[Chapter, ...] = ()

    @property
    def kbps(self) -> float:
        """Thousands of bits a second, all in all."""
        return self.size_bytes * 8 / 1000 / self.seconds if self.seconds > 0 else 0.0
