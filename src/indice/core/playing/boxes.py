"""Fragmented MP4 (ISO/IEC 14496-12): samples out of a stream of fragments, and segments made of samples. Pure.

An encoder writes one fragment a sample; here they are put together to segments that begin and end where the playlist
says, with the times that it says, wherever the encoder was started.
"""

from __future__ import annotations

import struct
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

__all__ = ["BadBoxes", "Head", "Sample", "SampleReader", "read_head", "segment_of"]

SYNC_FLAGS = 0x02000000
"""A sample that depends on no other."""
OTHER_FLAGS = 0x01010000
MOST_BOX_BYTES = 256 << 20
STYP = struct.pack(">I4s4sI4s4s", 24, b"styp", b"msdh", 0, b"msdh", b"msix")


class BadBoxes(ValueError):
    """What should be fragmented MP4 is not."""


@dataclass(frozen=True, slots=True)
class Head:
    """What stands before the first fragment."""

    content: bytes
    timescale: int
    track: int


@dataclass(frozen=True, slots=True)
class Sample:
    """A picture, or a packet of sound."""

    dts: int
    """When it is decoded, in the track's timescale."""
    shift: int
    """By how much later it is shown."""
    duration: int
    is_sync: bool
    data: bytes

    @property
    def pts(self) -> int:
        """When it is shown."""
        return self.dts + self.shift


def _boxes(data: bytes, start: int = 0, end: int | None = None) -> Iterator[tuple[bytes, int, int]]:
    """Type, beginning of content and end of each box."""
    end = len(data) if end is None else end
    while start + 8 <= end:
        size, kind = struct.unpack_from(">I4s", data, start)
        body = start + 8
        if size == 1:
            (size,) = struct.unpack_from(">Q", data, body)
            body += 8
        if size < body - start or start + size > end:
            raise BadBoxes(f"A box {kind!r} does not fit into what holds it.")
        yield kind, body, start + size
        start += size


def _find(data: bytes, path: Sequence[bytes], start: int = 0, end: int | None = None) -> tuple[int, int]:
    for kind, body, stop in _boxes(data, start, end):
        if kind == path[0]:
            return (body, stop) if len(path) == 1 else _find(data, path[1:], body, stop)
    raise BadBoxes(f"There is no box {path[0]!r}.")


def read_head(content: bytes) -> Head:
    """The head of a file of one track; raises :class:`BadBoxes` when it is none."""
    try:
        body, _ = _find(content, (b"moov", b"trak", b"mdia", b"mdhd"))
        (timescale,) = struct.unpack_from(">I", content, body + (20 if content[body] == 1 else 12))
        body, _ = _find(content, (b"moov", b"trak", b"tkhd"))
        (track,) = struct.unpack_from(">I", content, body + (20 if content[body] == 1 else 12))
    except struct.error as error:
        raise BadBoxes("The head is cut off.") from error
    if not timescale:
        raise BadBoxes("The head has no timescale.")
    return Head(content, timescale, track)


class SampleReader:
    """Takes a stream of fragmented MP4 in pieces of any size, and gives its head and its samples."""

    def __init__(self) -> None:
        self.head: Head | None = None
        self._held = bytearray()
        self._before: list[bytes] = []
        self._moof = b""

    def feed(self, piece: bytes) -> Iterator[Sample]:
        """The samples that are whole now; raises :class:`BadBoxes`."""
        self._held += piece
        while len(self._held) >= 8:
            size, kind = struct.unpack_from(">I4s", self._held)
            if size == 1:
                if len(self._held) < 16:
                    return
                (size,) = struct.unpack_from(">Q", self._held, 8)
            if size < 8 or size > MOST_BOX_BYTES:
                raise BadBoxes(f"A box {kind!r} of {size} bytes.")
            if len(self._held) < size:
                return
            box = bytes(self._held[:size])
            del self._held[:size]
            yield from self._take(kind, box)

    def _take(self, kind: bytes, box: bytes) -> Iterator[Sample]:
        if self.head is None and kind in (b"ftyp", b"moov"):
            self._before.append(box)
            if kind == b"moov":
                self.head = read_head(b"".join(self._before))
        elif kind == b"moof":
            self._moof = box
        elif kind == b"mdat" and self._moof:
            yield from _samples(self._moof, box)
            self._moof = b""


def _samples(moof: bytes, mdat: bytes) -> Iterator[Sample]:
    """Samples of a fragment of one track whose data follows its moof at once."""
    try:
        start, end = _find(moof, (b"moof", b"traf"))
        defaults = {"duration": 0, "size": 0, "flags": 0}
        dts = 0
        for kind, body, stop in _boxes(moof, start, end):
            if kind == b"tfhd":
                _read_defaults(moof, body, defaults)
            elif kind == b"tfdt":
                (dts,) = struct.unpack_from(">q" if moof[body] == 1 else ">i", moof, body + 4)
            elif kind == b"trun":
                (offset,) = struct.unpack_from(">i", moof, body + 8)
                yield from _run(moof, body, stop, defaults, dts, memoryview(mdat)[offset - len(moof) :])
    except struct.error as error:
        raise BadBoxes("A fragment is cut off.") from error


def _read_defaults(moof: bytes, body: int, defaults: dict[str, int]) -> None:
    (flags,) = struct.unpack_from(">I", moof, body)
    at = body + 8 + (8 if flags & 0x1 else 0) + (4 if flags & 0x2 else 0)
    for bit, name in ((0x8, "duration"), (0x10, "size"), (0x20, "flags")):
        if flags & bit:
            (defaults[name],) = struct.unpack_from(">I", moof, at)
            at += 4


def _run(moof: bytes, body: int, stop: int, defaults: dict[str, int], dts: int, data: memoryview) -> Iterator[Sample]:
    flags, count = struct.unpack_from(">II", moof, body)
    flags &= 0xFFFFFF
    at = body + 8 + (4 if flags & 0x1 else 0)
    first: int | None = None
    if flags & 0x4:
        (first,) = struct.unpack_from(">I", moof, at)
        at += 4
    place = 0
    for number in range(count):
        values = dict(defaults)
        if number == 0 and first is not None:
            values["flags"] = first
        for bit, name in ((0x100, "duration"), (0x200, "size"), (0x400, "flags")):
            if flags & bit:
                (values[name],) = struct.unpack_from(">I", moof, at)
                at += 4
        shift = 0
        if flags & 0x800:
            (shift,) = struct.unpack_from(">i", moof, at)
            at += 4
        if at > stop or place + values["size"] > len(data):
            raise BadBoxes("A fragment is cut off.")
        yield Sample(
            dts,
            shift,
            values["duration"],
            not values["flags"] & 0x10000,
            bytes(data[place : place + values["size"]]),
        )
        dts += values["duration"]
        place += values["size"]


def _box(kind: bytes, *content: bytes) -> bytes:
    body = b"".join(content)
    return struct.pack(">I4s", len(body) + 8, kind) + body


def segment_of(number: int, track: int, samples: Sequence[Sample]) -> bytes:
    """A piece of a segment: one fragment that holds these samples; `number` counts the fragments of a track from 1.

    A sample lasts until the next begins. What would be decoded before the beginning is decoded at
    the beginning, and shown when it should be.
    """
    first = max(samples[0].dts, 0)
    rows = bytearray()
    for sample, following in zip(samples, [*samples[1:], None], strict=True):
        dts = max(sample.dts, 0)
        end = following.dts if following is not None else sample.dts + sample.duration
        duration = max(end - dts, 0)
        flags = SYNC_FLAGS if sample.is_sync else OTHER_FLAGS
        rows += struct.pack(">IIIi", duration, len(sample.data), flags, sample.pts - dts)
    tfhd = _box(b"tfhd", struct.pack(">II", 0x020000, track))
    tfdt = _box(b"tfdt", struct.pack(">IQ", 0x01000000, first))
    trun = struct.pack(">II", 0x01000F01, len(samples))
    size = 8 + 16 + 8 + len(tfhd) + len(tfdt) + 8 + len(trun) + 4 + len(rows)
    moof = _box(
        b"moof",
        _box(b"mfhd", struct.pack(">II", 0, number)),
        _box(b"traf", tfhd, tfdt, _box(b"trun", trun, struct.pack(">i", size + 8), bytes(rows))),
    )
    return moof + _box(b"mdat", *(sample.data for sample in samples))
