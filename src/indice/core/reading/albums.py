"""Which folders above a track are artist, album and disc, and who performs."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace

from ..phrase import term
from .album_names import Folder, folder_of, format_of, music_technical
from .columns import Known, read_columns
from .model import Reading
from .music_words import (
    BARE_YEAR,
    BOOK,
    BOOK_OF_SERIES,
    BOOK_PART,
    DISCOGRAPHY,
    EDITION,
    FEATURING,
    PLACEHOLDER,
    PODCAST,
    READ_BY,
    SCORED,
    is_kind_of_release,
)
from .scan import fold, is_same_name, scan, tidy_title
from .seriesmarks import SEASON_FOLDER
from .vocabulary import alternation, roles_of, words_for

__all__ = ["fill_album", "names_in", "performer_of", "place_of"]


def _sense_of_shelf(lowered: str, sense: str) -> str:
    if lowered in PODCAST:
        return "podcast"
    if lowered in BOOK:
        return "book"
    if lowered in words_for("soundtrack"):
        return "soundtrack"
    return "classical" if lowered in words_for("classical") else sense


_NO_PERFORMER = frozenset(
    (
        "live",
        "remix",
        "mix",
        "soundtrack",
        "original",
        "complete",
        "volume",
        "vol",
        "bonus",
        "acoustic",
        "instrumental",
        "demo",
        "sessions",
        "version",
        "edit",
    )
)
_PERFORMER = re.compile(r"\s*[(\[](?P<who>[^()\[\]0-9]+)[)\]]\s*$")


def performer_of(album: str, sense: str) -> tuple[str, str] | None:
    """Album and performer of `Sonatas (Lida Marek)`, where the folder above is a composer's."""
    match = _PERFORMER.search(album)
    words = fold(album).split()
    composed = sense == "classical" or any(word in words_for("work-form") for word in words)
    if (
        match is None
        or not composed
        or _NO_PERFORMER & {*words, *fold(match["who"]).split()}
        or EDITION.search(match.group())
    ):
        return None
    names = [word for word in re.findall(r"[^\W\d_]+", match["who"]) if len(word) > 2]
    if len(names) < 2 or not all(word[0].isupper() for word in names):
        return None
    return album[: match.start()], match["who"].strip()


def place_of(
    reading: Reading, folders: list[str], stem: str = ""
) -> tuple[Folder | None, Folder | None, Folder | None, str]:
    """Album folder, artist folder, disc folder, and the first sort folder's sense (`podcast`, `book` or `music`)."""
    named, disc, sense = _named_folders(reading, folders)
    if _is_disc_of(named):
        disc = named.pop()
    _leave_shelves(named, stem, sense)
    year = named.pop(-2) if len(named) >= 2 and _is_year_of(named[-2], named[-1]) else None
    album = artist = None
    if year is not None and len(named) == 1:
        album = named[0]  # of that year: nobody is
    elif len(named) >= 2:
        artist, album = named[-2], named[-1]
    elif len(named) == 1:
        only = _with_author(named[0]) if sense == "book" and named[0].artist is None else named[0]
        if _is_album_alone(only, disc, sense, stem):
            album = only
        else:
            artist = only
    if year is not None and album is not None and album.year is None:
        reading.put("year", int(year.name), (year.at, year.at + len(year.name)), term("year's folder above the album"))
    if disc is not None:
        reading.put("disc", disc.disc, (disc.at, disc.at + len(disc.name)), term("disc folder"))
    elif album is not None and album.disc is not None:
        reading.put("disc", album.disc, (album.at, album.at + len(album.name)), term("disc in the album's folder"))
    return album, artist, disc, sense


def _is_year_of(above: Folder, album: Folder) -> bool:
    """Whether a folder is the year of the album in it; one that is another year is an artist who is called so."""
    if BARE_YEAR.fullmatch(above.name.strip()) is None or BARE_YEAR.fullmatch(album.name.strip()):
        return False
    return album.year in (None, int(above.name))


def _named_folders(reading: Reading, folders: list[str]) -> tuple[list[Folder], Folder | None, str]:
    """The folders that name somebody or something, the disc among them, and what the shelf is for."""
    place = 0
    named: list[Folder] = []
    disc: Folder | None = None
    sense = "music"
    for name in folders:
        found = replace(folder_of(name), at=place)
        place += len(name) + 1
        lowered = name.strip().lower()
        is_shelf = not named and lowered in words_for("soundtrack") and lowered != "ost"
        if found.kind == "sort" or is_shelf:
            _sort_words(reading, name, found.at, is_inside=bool(named))
            sense = _sense_of_shelf(lowered, sense)
            whole = _discography(name)
            if whole:
                named.append(Folder("artist", name, found.at, artist=whole))
        elif found.kind == "disc":
            disc = found
        elif sense == "book" and named and (part := BOOK_PART.match(lowered)):
            disc = Folder("disc", name, found.at, disc=int(part[1]))
        elif found.kind == "various":
            if not (named and is_kind_of_release(name)):
                named.append(Folder("artist", name, found.at, artist="Various Artists"))
        elif found.kind == "unknown":
            named.append(Folder("unknown", name, found.at))
        elif found.kind != "pictures" and not (named and sense == "podcast" and _sorts_a_show(name.strip())):
            named.append(found)
    return named, disc, sense


def _with_author(only: Folder) -> Folder:
    """A book's folder that says who wrote it behind its title."""
    written = _BY_AUTHOR.match(only.album or "")
    if written is None or not written["who"][0].isupper():
        return only
    return replace(only, artist=written["who"].strip(), album=written["book"])


def _is_album_alone(only: Folder, disc: Folder | None, sense: str, stem: str) -> bool:
    """Whether the only folder that names something is an album's, and not an artist's."""
    says_album = bool((only.artist and only.album) or only.year or only.date)
    is_made_for = sense in ("podcast", "soundtrack") or SCORED.search(only.name) is not None
    is_book = READ_BY.search(only.name) is not None or (
        sense == "book" and only.artist is None and stem.strip(" ._-").isdigit()
    )
    has_discs = disc is not None and not _is_said(
        ["album", "words"], only.name, stem
    )  # nobody is in discs, what they made is
    return (
        says_album or has_discs or is_made_for or is_book or _is_said(["words", "album"], only.album or only.name, stem)
    )


_PARTS_OF_ALBUM = {*words_for("bonus-tracks"), *(word for word, role in roles_of("extras").items() if role == "other")}
_HOLDS_WORKS = re.compile(rf"(?<![^\W_])(?:{alternation('works')})$", re.IGNORECASE)


def _leave_shelves(named: list[Folder], stem: str, sense: str) -> None:
    """Leave out folders that only hold others: shelves, artists said again, series of books."""
    if len(named) > 1 and named[-1].artist and named[-1].album:
        own = fold(named[-1].artist)
        is_said_again = own != fold(_artist_name(named[-2]) or own) and own in fold(stem)
        if named[-2].kind == "shelf" or is_said_again:
            named.pop(-2)  # it only holds what names its own artist, and does so in the file as well
    if len(named) > 2 and named[-1].name.strip().lower() in _PARTS_OF_ALBUM:
        named.pop()  # what an album has beside its discs
    if sense != "book" and len(named) > 2 and _HOLDS_WORKS.search(named[-2].name):
        named.pop(-2)  # of a composer's works those of one form
    if sense == "book" and len(named) == 2 and (counted := BOOK_OF_SERIES.match(named[-1].name)) and counted["book"]:
        named[-1].artist = None  # its place in a series that nobody names
        named[-1].album = re.sub(rf"^{re.escape(counted[0])}", "", named[-1].album or "") or named[-1].album
    if sense == "book" and len(named) > 2 and (counted := BOOK_OF_SERIES.match(named[-1].name)):
        named.pop(-2)  # a series, of which this is one book
        if named[-1].album and counted["book"]:
            named[-1].artist = None  # `Book 2` is nobody
        elif named[-1].album:
            named[-1].album = re.sub(r"^\s*[0-9]{1,2}\s+", "", named[-1].album) if counted["plain"] else named[-1].album
    if len(named) == 2 and named[0].kind == "shelf" and named[1].artist is None and len(_words(named[0].name)) == 1:
        named.pop(0)  # a shelf by its one word: what stands on it is an artist's


def _is_disc_of(named: Sequence[Folder]) -> bool:
    """Whether the last folder is a disc that says its album again: `Hearth (2012)/Hearth CD1`."""
    if len(named) < 2 or named[-1].disc is None or not (len(named) > 2 or named[-2].artist):
        return False
    return fold(named[-1].album or "") == fold(named[-2].album or named[-2].name)


def _words(name: str) -> list[str]:
    return fold(name).split()


def _is_said(order: list[str], name: str, stem: str) -> bool:
    """Whether a file says its only folder's name and other words in this order, and more
    behind: `Artist - Folder - 04 - Title`."""
    found = read_columns(stem, Known(album=name))
    labels = [column.label for column in found.columns] if found is not None else []
    labels = labels[1:] if labels[:1] == ["number"] else labels
    return len(labels) > 2 and labels[:2] == order


def _sorts_a_show(name: str) -> bool:
    """Whether a folder below a podcast's show is one of its years or seasons."""
    return BARE_YEAR.fullmatch(name) is not None or SEASON_FOLDER.match(name) is not None


def _sort_words(reading: Reading, name: str, at: int, *, is_inside: bool) -> None:
    """A folder that only sorts may still name the format of all that lies in it, if it lies in what it speaks of."""
    seen = scan(name)
    said = format_of(name) if is_inside else ()
    is_whole = len(seen.tokens) == len(seen.techs)
    if not said and seen.techs and (is_whole or seen.brackets) and all(tech.strong for tech in seen.techs):
        held = Folder("sort", name, 0)
        music_technical(held, seen, 0 if is_whole else len(name))
        said = tuple((key, value, start, end) for key, (value, start, end) in held.technical.items())
    for key, value, start, end in said:
        reading.put(key, value, (at + start, at + end), term("format of the folder"))


def _discography(name: str) -> str | None:
    match = re.match(rf"(.+?)\s*[-–]?\s*[(\[]?(?:{DISCOGRAPHY.pattern})", name, re.IGNORECASE)
    return tidy_title(match[1], dotted=scan(name).dotted) if match and match[1].strip() else None


_BY_AUTHOR = re.compile(r"^(?P<book>\S.*?)\s+(?:by|von|par)\s+(?P<who>(?:[^\W\d_][\w.'’-]*\s*){2,4})$")
"""A book's folder that names its author behind it: `The Salt Road by Ilse Marden`."""


def _artist_name(folder: Folder) -> str | None:
    if folder.kind == "unknown":
        return None
    name = folder.artist if folder.artist and not folder.album else None
    text = name or tidy_title(folder.name, dotted=scan(folder.name).dotted)
    guest = FEATURING.search(text)
    text = text[: guest.start()] if guest and guest.start() else text
    text = _LIFE.sub("", text) or text
    return None if PLACEHOLDER.match(text) else text


_LIFE = re.compile(r"\s*[(\[]\s*(?:\*|b\.|geb\.|born)?\s*1[0-9]{3}\s*(?:[-–—]\s*(?:[12][0-9]{3})?\s*)?[)\]]$")
"""When somebody lived, behind their name: `Hartvig, Emil (1801-1870)`."""


def fill_album(reading: Reading, album: Folder | None, artist: Folder | None) -> str | None:
    """State the album's facts; returns the folder's artist."""
    name: str | None = None
    if artist is not None:
        name = _artist_name(artist)
        guest = FEATURING.search(artist.name)
        if name and guest is not None and guest.start():
            names = names_in((guest["names"] or guest["names2"]).strip())
            where = (artist.at + guest.start(), artist.at + guest.end())
            reading.put("featuring", names, where, term("guest in the artist's folder"))
    if album is not None:
        whole = (album.at, album.at + len(album.name))
        text = album.album
        if album.artist and (
            artist is None
            or is_same_name(album.artist, name or "")
            or fold(album.artist) in fold(name or "").split()
            or artist.kind == "unknown"
            or (name == "Various Artists" and album.artist == "Various Artists")
        ):
            name = name or _without_guest(reading, album)
        elif album.artist and artist is not None and album.kind == "named" and name != album.artist:
            text = f"{album.artist} - {album.album}"
        if text and not PLACEHOLDER.match(text):
            reading.put("album", text, whole, term("album's folder"))
        if album.year:
            reading.put(
                "year",
                album.year,
                (album.at + album.year_at[0], album.at + album.year_at[1]),
                term("year of the album"),
            )
        if album.date:
            reading.put("date", album.date, whole, term("day of a recording"))
        if album.edition:
            reading.put("edition", album.edition, whole, term("edition in the album's folder"))
        identifiers = scan(album.name).ids
        if identifiers:
            reading.put(
                "ids",
                {scheme: value for scheme, value, _, _ in identifiers},
                (album.at + identifiers[0][2], album.at + identifiers[0][3]),
                term("identifier in brackets"),
            )
        for key, (value, start, end) in album.technical.items():
            reading.put(key, value, (album.at + start, album.at + end), term("technical word of the album"))
    return name


def _without_guest(reading: Reading, album: Folder) -> str | None:
    """The artist that an album's folder names; guests beside them are stated apart."""
    guest = FEATURING.search(album.artist or "")
    if album.artist is None or guest is None or not guest.start():
        return album.artist
    names = names_in((guest["names"] or guest["names2"]).strip())
    where = (album.at, album.at + len(album.name))
    reading.put("featuring", names, where, term("guest in the album's folder"))
    return album.artist[: guest.start()]


def names_in(text: str) -> list[str]:
    text = text.replace("_", " ") if " " not in text else text
    return [part.strip() for part in re.split(r"\s*,\s*|\s+&\s+|\s+and\s+(?=[A-Z])", text) if part.strip()]
