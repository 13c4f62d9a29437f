"""Photos and clips: the day, the running number, the marks and the caption of a name."""

from __future__ import annotations

import re
from functools import cache

from ..phrase import term
from .camera_names import (
    BEHIND_DAY,
    CAMERA_DIGITS,
    DAY_FIRST,
    DRONE_DAY,
    EAST_DAY,
    EDITED_PHONE,
    EXPLAINED,
    LATER,
    MACHINE,
    MARKS,
    MESSENGER_DAY,
    PHONE,
    SHORT_DAY,
    SPLIT_DAY,
    STAMP,
    TAIL_DROP,
    first_sequence,
    is_whole_camera_name,
    moment_of,
)
from .model import Reading
from .photo_folders import put_folders
from .places import EXTENSIONS
from .scan import scan, tidy_title
from .vocabulary import words_for

__all__ = ["read_photo"]


def read_photo(path: str, folders: list[str], stem: str, kind: str) -> Reading:
    """A photo or a clip."""
    reading = Reading(kind)
    at = len(path) - len(path.rsplit("/", 1)[-1])
    rest = _own_marks(reading, stem, at, kind)
    rest = _own_stamp(reading, stem, rest, at)
    rest = _own_sequence(reading, stem, rest, at)
    if kind == "clip":
        for tech in scan(stem).techs:
            is_after = tech.start > 0 and "\x01" in rest[: tech.start]
            if (tech.strong or is_after) and tech.facts and tech.facts[0][0] == "resolution":
                reading.put(
                    "resolution",
                    tech.facts[0][1],
                    (at + tech.start, at + tech.end),
                    term("technical word for resolution"),
                )
    _caption(reading, stem, rest, at)
    put_folders(reading, folders)
    return reading


def _own_marks(reading: Reading, stem: str, at: int, kind: str) -> str:
    """Find the marks; returns the stem with their letters blanked out."""
    marks: list[str] = []
    spans: list[tuple[int, int]] = []
    rest = stem
    for name, pattern in MARKS:
        match = pattern.search(rest)
        if match is None:
            continue
        marks.append(name)
        spans.append((at + match.start(), at + match.end()))
        if name not in ("scan", "messenger") or match.start() > 0:
            rest = rest[: match.start()] + "\x00" * (match.end() - match.start()) + rest[match.end() :]
    if EDITED_PHONE.match(stem):
        marks.append("edited")
        spans.append((at, at + 5))
    if marks:
        reading.put("marks", sorted(set(marks)), spans[0], term("mark that a camera, phone or person left"))
        reading.facts["marks"].spans = tuple(spans)
    return rest


def _own_stamp(reading: Reading, stem: str, rest: str, at: int) -> str:
    match = SPLIT_DAY.search(rest) or STAMP.search(rest) or DAY_FIRST.search(rest) or SHORT_DAY.search(rest)
    match = match or EAST_DAY.search(rest)
    if match is None:
        return rest
    if CAMERA_DIGITS.match(stem):
        return rest
    value = moment_of(match)
    groups = match.groupdict()
    if value is None and not (groups.get("H") and (groups.get("d") or groups.get("d2"))):
        return rest
    if value is not None:
        reading.put("taken", value, (at + match.start(), at + match.end()), term("day and time in the name"))
    return rest[: match.start()] + "\x01" * (match.end() - match.start()) + rest[match.end() :]


def _own_sequence(reading: Reading, stem: str, rest: str, at: int) -> str:
    shift = len(rest) - len(rest.lstrip("\x00"))
    found = first_sequence(rest[shift:])
    if found is None:
        messenger, drone = MESSENGER_DAY.match(rest), DRONE_DAY.match(rest)
        later = messenger or drone or LATER.search(rest) or BEHIND_DAY.match(rest)
        if later is None or (drone is None and messenger is None and _is_hour_after_day(reading, rest, later)):
            return rest
        found = (later, term("camera's running number"))
        shift = 0
    match, rule = found
    start, end = shift + match.start(), shift + match.end()
    reading.put("sequence", int(match["n"]), (at + shift + match.start("n"), at + shift + match.end("n")), rule)
    return rest[:start] + "\x01" * (end - start) + rest[end:]


def _is_hour_after_day(reading: Reading, rest: str, later: re.Match[str]) -> bool:
    """Whether four digits right behind a day without a time are the hour and the minute: they state nothing."""
    digits = later["n"]
    is_behind = re.match(r"\x01+_$", rest[: later.start("n")]) is not None
    is_time = len(digits) == 4 and int(digits[:2]) < 24 and int(digits[2:]) < 60
    return is_behind and is_time and "T" not in str(reading.get("taken") or "T")


_SCANNED = re.compile(
    r"^(?:scan|scanned|numérisation|escaneo|scansione|skan|dia|slide)(?:[\s_]*[-–:][\s_]*|[_\s]+)(?=\S)", re.I
)
"""What says of a caption only that it was scanned."""


_HOUR = re.compile(r"(?<=\x01)[ _-]+(?:[01][0-9]|2[0-3])[.:hu]?[0-5][0-9](?=[ _-]|$)")
"""An hour and a minute behind the day; without seconds they state nothing."""
_RUNNING = re.compile(r"(?<=[^\W\d_])[\s_-]+(?!(?:18|19|20)[0-9]{2}$)(?:0[0-9]{1,4}|[0-9]{3,5})$")
"""A running number behind words."""


_WRITES_STAMPS = re.compile(r"[A-Z]{2,4}_")
"""What a device calls itself before a stamp."""


def _caption(reading: Reading, stem: str, rest: str, at: int) -> None:
    """What is left of the name is what a person typed."""
    left = EXPLAINED.split(_HOUR.sub("\x01", rest))
    taken = "\x00" in rest or "\x01" in rest
    pieces: list[str] = []
    for place, piece in enumerate(left):
        if place == 0 and taken and _WRITES_STAMPS.fullmatch(piece):
            continue
        text = _SCANNED.sub("", piece.strip(" _-–.()[]~"))
        text = _RUNNING.sub("", text)
        while (dropped := TAIL_DROP.sub("", text)) != text:
            text = dropped
        if (
            not text
            or text.lower() in EXTENSIONS
            or (taken and (PHONE.match(piece.strip(" _.-~")) or is_whole_camera_name(text)))
            or re.fullmatch(r"(?:IMG|VID|PXL|DSC|scan|WA[0-9]+|at|um|à|[0-9]{1,4}|[A-Z]|M[0-9]{2})", text, re.I)
        ):
            continue
        if reading.get("marks") and "screenshot" in reading.get("marks"):
            continue
        pieces.append(text)
    if not pieces:
        return
    title = tidy_title(" ".join(pieces), dotted="." in pieces[0] and " " not in pieces[0] and not taken, articles=False)
    if title and any(c.isalpha() for c in title) and not MACHINE.match(title) and not _is_only_pictured(title):
        start = stem.find(pieces[0])
        reading.put(
            "title",
            title,
            (at + max(start, 0), at + max(start, 0) + len(pieces[0])),
            term("caption that a person typed"),
        )


_WORD = re.compile(r"[^\W\d_]+")


def _is_only_pictured(title: str) -> bool:
    """Whether words say no more than that it is a picture or a recording, and which: `clip 004`, `Bild 12`."""
    words = [word.lower() for word in _WORD.findall(title)]
    return all(word in _pictured() for word in words)


@cache
def _pictured() -> frozenset[str]:
    return frozenset(words_for("pictured"))
