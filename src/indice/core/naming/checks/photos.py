"""Checks of photos and clips of one's own: dates, events, copies."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator
from datetime import date

from ...phrase import phrase
from ...reading.photo_folders import month_of_folders
from ...reading.places import is_sorting
from ...reading.vocabulary import alternation
from .model import Hit, Item, Listing, check, shared

__all__ = ["copy_marked", "date_disagrees", "date_unknown", "event_unnamed"]

_LIBRARIES = ("photos", "home-videos")
MANY = 10
"""So many pictures of one day are an event."""


def _pictures(listing: Listing) -> list[Item]:
    return listing.of_kind("photo", "clip")


@check(
    slug="date-unknown",
    title="No date",
    libraries=_LIBRARIES,
    severity="advice",
    content=True,
    why="Pictures are looked for by day. One without a date is found by nobody.",
    before="Grandmother.jpg",
    after="1962-06 Grandmother.jpg",
)
def date_unknown(listing: Listing) -> Iterator[Hit]:
    """No date in the name, the folder, the picture or its sidecar; a year with a
    month is a date, a year alone is not."""
    hits: dict[str, Hit] = {}
    for item in _pictures(listing):
        if item.reading.get("taken") or item.taken or item.size_bytes == 0 or item.problem:
            continue
        if item.wrong_format is not None:
            continue  # its content cannot be believed, and that is said
        if month_of_folders(item.path) is None:
            hits[item.path] = Hit(
                item.path, phrase("Neither name, folder nor picture give a date. Put one in front of the name.")
            )
    yield from shared(
        hits,
        listing,
        lambda item: item.kind in ("photo", "clip"),
        message="None of the {n} pictures has a date. Give the folder one.",
        least=3,
    )


def _days_apart(one: str, other: str) -> int:
    try:
        return abs((date.fromisoformat(one[:10]) - date.fromisoformat(other[:10])).days)
    except ValueError:
        return 0


@check(
    slug="date-disagrees",
    title="Dates disagree",
    libraries=_LIBRARIES,
    severity="problem",
    content=True,
    why="The name says one day, the picture another. It stands among the wrong pictures in one program or the other.",
    before="2019-07-20 Lake.jpg, taken 2017-05-02",
    after="2017-05-02 Lake.jpg",
)
def date_disagrees(listing: Listing) -> Iterator[Hit]:
    """The day of the name, else of its folder, and the picture's own are more than a day apart; scans are left out."""
    hits: dict[str, Hit] = {}
    for item in _pictures(listing):
        stated, own = item.reading.get("taken"), item.original
        if not stated or not own or "scan" in (item.reading.get("marks") or ()) or item.wrong_format is not None:
            continue
        if _days_apart(str(stated), own) > 1:
            hits[item.path] = Hit(
                item.path, phrase("The name says {stated}, the picture {own}.", stated=str(stated)[:10], own=own[:10])
            )
    yield from shared(
        hits,
        listing,
        lambda item: item.kind in ("photo", "clip"),
        message="All {n} pictures were taken on another day than their names say.",
    )


_NO_EVENT = re.compile(
    r"(?:dcim|[0-9]{3}[_A-Z][A-Z0-9_]{2,7}|new folder.*|neuer ordner.*|[\W\d_]+|camera.*|img_?[0-9]*)", re.IGNORECASE
)


@check(
    slug="event-unnamed",
    title="Event without a name",
    libraries=_LIBRARIES,
    severity="advice",
    why="Ten pictures of one day are an occasion. With its name in the folder it is found again in ten years.",
    before="DCIM/100CAMRA/IMG_0481.jpg …",
    after="2019-07-20 Lake Walk/IMG_0481.jpg …",
)
def event_unnamed(listing: Listing) -> Iterator[Hit]:
    """Ten or more pictures of one day in a folder that names neither a full date nor an event."""
    for folder, items in sorted(listing.by_folder.items()):
        photos = [
            item for item in items if item.kind == "photo" and "screenshot" not in (item.reading.get("marks") or ())
        ]
        if len(photos) < MANY or _names_event(folder, photos):
            continue
        days = Counter(day[:10] for item in photos if (day := item.taken or item.reading.get("taken")))
        if days and (most := days.most_common(1)[0])[1] >= MANY:
            yield Hit(
                f"{folder}/" if folder else "./",
                phrase(
                    "{n} pictures of {day} lie here. Name the folder after the day and the occasion.",
                    n=most[1],
                    day=most[0],
                ),
            )


def _names_event(folder: str, photos: list[Item]) -> bool:
    """Whether the folder says what it holds: an event, or a full day."""
    if not folder:
        return False
    if any(item.reading.get("event") for item in photos):
        return True
    name = folder.rpartition("/")[2]
    if is_sorting(name) or _NO_EVENT.fullmatch(name):
        return _is_day(folder)
    return _is_day(folder)


_DAY_PARTS = re.compile(r"(?:^|/)(?:18|19|20)[0-9]{2}/(?:[0-9]{4}-)?[01]?[0-9][^/]*/(?:[0-9-]*)[0-3]?[0-9]$")
_DAY = re.compile(
    r"(?:18|19|20)[0-9]{2}[-._ ]?[01][0-9][-._ ]?[0-3][0-9]|[0-3]?[0-9][-._/ ][01]?[0-9][-._/ ](?:18|19|20)[0-9]{2}"
)


def _is_day(folder: str) -> bool:
    return _DAY.search(folder.rpartition("/")[2]) is not None or _DAY_PARTS.search(folder) is not None


_COPY = re.compile(
    rf"(?:\s?\([0-9]{{1,3}}\)|[\s_-]+\(?(?:{alternation('copy')})\)?(?:[\s_-]*\(?[0-9]{{1,3}}\)?)?)$", re.IGNORECASE
)
_COPY_OF = re.compile(rf"^(?:{alternation('copy-of')}|{alternation('copy')})\s+", re.IGNORECASE)


@check(
    slug="copy-marked",
    title="Copy of a picture",
    libraries=_LIBRARIES,
    severity="advice",
    why="A copy beside its original shows every moment twice and takes twice the space.",
    before="IMG_0481 (1).jpg beside IMG_0481.jpg",
)
def copy_marked(listing: Listing) -> Iterator[Hit]:
    """A name that says it is a copy, beside the file it is a copy of."""
    for items in listing.by_folder.values():
        names = {item.name.casefold(): item for item in items}
        for item in items:
            if item.kind not in ("photo", "clip"):
                continue
            stem = _COPY_OF.sub("", _COPY.sub("", _COPY.sub("", item.stem)))
            original = names.get(f"{stem}.{item.extension}".casefold()) if stem != item.stem else None
            if original is not None and original is not item:
                yield Hit(
                    item.path, phrase("It says that it is a copy of {name}.", name=original.name), also=(original.path,)
                )
