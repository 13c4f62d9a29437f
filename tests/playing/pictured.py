"""Subtitles that are pictures, as Blu-rays have them: written byte by byte, since no encoder makes them."""

from __future__ import annotations

import struct

__all__ = ["pictured_subtitle"]


def _segment(kind: int, seconds: float, body: bytes) -> bytes:
    return struct.pack(">2sIIBH", b"PG", round(seconds * 90000), 0, kind, len(body)) + body


def _composed(seconds: float, size: tuple[int, int], number: int, place: tuple[int, int] | None) -> bytes:
    """A composition: with a place one object is shown there, without one nothing is."""
    objects = struct.pack(">HBBHH", 0, 0, 0, *place) if place else b""
    state = 0x80 if place else 0x00
    head = struct.pack(">HHBHBBBB", *size, 0x10, number, state, 0, 0, 1 if place else 0)
    return _segment(0x16, seconds, head + objects)


def pictured_subtitle(size: tuple[int, int], box: tuple[int, int, int, int], shown: tuple[float, float]) -> bytes:
    """A white box (left, top, width, height) that is there from one second to another, in a picture of a size."""
    left, top, width, height = box
    line = b"\x00" + bytes([0xC0 | width >> 8, width & 0xFF]) + b"\x01" + b"\x00\x00"
    run = line * height
    data = struct.pack(">HBB", 0, 0, 0xC0) + (len(run) + 4).to_bytes(3, "big") + struct.pack(">HH", width, height) + run
    window = struct.pack(">BBHHHH", 1, 0, left, top, width, height)
    palette = bytes([0, 0]) + bytes([1, 235, 128, 128, 255])
    begin, end = shown
    return b"".join(
        [
            _composed(begin, size, 0, (left, top)),
            _segment(0x17, begin, window),
            _segment(0x14, begin, palette),
            _segment(0x15, begin, data),
            _segment(0x80, begin, b""),
            _composed(end, size, 1, None),
            _segment(0x17, end, window),
            _segment(0x80, end, b""),
        ]
    )
