"""Tracks, lyrics and the pictures beside music: artist, album and track from the path."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from ..phrase import term
from .album_names import Folder, folder_of, music_technical
from .albums import fill_album, names_in, performer_of, place_of
from .columns import Known, read_columns
from .model import Reading
from .music_words import (
    FEATURING,
    KEEPERS,
    NOISE,
    PARTED,
    PLACEHOLDER,
    RATES,
    SCORED,
    TIGHT,
    TIGHT_NAME,
    is_various,
    scene_of,
)
from .scan import fold, is_same_name, scan, tidy_title
from .seriesmarks import DATE
from .track_words import (
    Around,
    Rest,
    after_bracket,
    counts_and_names,
    is_of_one_case,
    is_only_a_number,
    is_told_by_columns,
    name_and_year,
    put_column,
    put_unlabelled,
    take_day,
    take_day_behind,
    take_number,
    take_number_behind,
    take_scene_artist,
    text_or_none,
)
from .vocabulary import alternation

__all__ = ["read_cover", "read_track"]

_LOOSE_SHOW = re.compile(
    rf"(?P<show>[^\W\d_].*?)(?:\s+[-–—]\s+(?=(?:{alternation('episode')})?[\s._#]*[0-9])|\s+(?=#[0-9]))", re.IGNORECASE
)
"""A show before the number or the day of its episode, in a folder of many shows."""
_RATE_LAST = re.compile(r"(?<=\S)\s*\[(?P<rate>64|96|112|128|160|192|224|256|320)\]$")
"""A rate alone in square brackets behind a title: in round ones it may be the title's own number."""
_DISC_ASIDE = re.compile(rf" [(\[]((?:{alternation('disc')})[\s._]?[0-9]{{1,2}})[)\]](?= - )", re.IGNORECASE)
"""A disc in a bracket between album and number stands for a column of its own:
`Album (Disc 1) - 02`; as many letters."""


_NOT_OF_LYRICS = (
    "audio_codec",
    "bit_depth",
    "sample_rate",
    "bitrate",
    "source",
    "release",
    "edition",
    "album_artist",
    "ids",
)


def read_track(path: str, folders: list[str], stem: str, kind: str, *, library: str) -> Reading:
    """A track or its lyrics."""
    reading = Reading(kind)
    stem = _DISC_ASIDE.sub(r" - \1", stem)
    at = len(path) - len(path.rsplit("/", 1)[-1])
    rate = _RATE_LAST.search(stem)
    if rate is not None:
        reading.put(
            "bitrate", int(rate["rate"]), (at + rate.start("rate"), at + rate.end("rate")), term("rate in brackets")
        )
        stem = stem[: rate.start()]
    album, artist, _, sense = place_of(reading, folders, stem)
    loose = _LOOSE_SHOW.match(stem) if sense == "podcast" and album is None and artist is None else None
    if loose is not None:
        album = replace(folder_of(loose["show"]), at=at)
        stem, at = stem[loose.end() :], at + loose.end()
    album, artist, sense = _shared_by_many(album, artist, sense, stem)
    folder_artist = fill_album(reading, album, artist)
    if folder_artist and folder_artist != "Various Artists" and album is not None:
        _put_performer(reading, album, sense)
    around = Around(
        artist=folder_artist,
        sense=sense,
        is_scene=album is not None and scene_of(album.name) is not None,
        has_folder=bool(album or artist),
    )
    _own_words(reading, stem, at, around)
    if sense == "book" and album is None and reading.get("album") is None and reading.get("track") is None:
        whole = reading.facts.pop("title", None)
        if whole is not None:
            reading.put("album", whole.value, whole.spans[0] if whole.spans else None, term("a whole book in one file"))
    if sense == "book" and "track" in reading.facts and _says_the_book_again(reading):
        reading.facts.pop("title")
    is_anyones = sense == "podcast" and artist is None and reading.get("artist") is None
    if folder_artist is not None and not is_anyones:
        _put_folder_artist(reading, folder_artist)
    if kind == "lyrics":
        for name in _NOT_OF_LYRICS:
            reading.facts.pop(name, None)
    return reading


def _says_the_book_again(reading: Reading) -> bool:
    """Whether a chapter is called as its book is: `Gull Weather/01 - Gull Weather`."""
    title, album = reading.get("title"), reading.get("album")
    return bool(title and album) and is_same_name(str(title), str(album))


def _shared_by_many(
    album: Folder | None, artist: Folder | None, sense: str, stem: str
) -> tuple[Folder | None, Folder | None, str]:
    """Album, artist and sense, where the file names another than its folder does: then many share that folder."""
    if artist is not None and artist.kind == "shelf" and re.search(r"\S\s+[-–—]\s+\S", stem):
        if album is None:
            return None, None, sense  # the file names its own artist
        if album.artist is None and counts_and_names(stem, album):
            return album, None, "various"
    elif album is None and artist is not None and (artist.kind, sense) == ("named", "music"):
        if counts_and_names(stem, artist):
            return artist, None, "various"
        if counts_and_names(f"1 {stem}", artist) and not stem[:1].isdigit():
            return None, None, sense  # songs of many in one folder
    elif artist is None and album is not None and album.artist is None and sense == "music":
        return album, None, "various" if counts_and_names(stem, album) else sense
    return album, artist, sense


def _put_performer(reading: Reading, album: Folder, sense: str) -> None:
    """Who plays an album that stands in its composer's folder."""
    played = performer_of(str(reading.get("album") or ""), sense)
    if played is not None:
        reading.facts["album"].value = played[0]
        reading.put(
            "artist", played[1], (album.at, album.at + len(album.name)), term("performer in the composer's album")
        )


def _put_folder_artist(reading: Reading, folder_artist: str) -> None:
    """The folder's artist is the track's own, or the album's where the file names another."""
    own = reading.get("artist")
    if folder_artist == "Various Artists":
        reading.put("album_artist", folder_artist, None, term("folder of a compilation"))
    elif own is None:
        reading.put("artist", folder_artist, None, term("artist's folder"))
    elif not is_same_name(folder_artist, str(own)):
        reading.put("album_artist", folder_artist, None, term("artist's folder, and the file names another"))
    elif is_of_one_case(str(own)) and not is_of_one_case(folder_artist):
        reading.facts["artist"].value = folder_artist


def _own_columns(reading: Reading, stem: str, at: int, folder_artist: str | None) -> bool:
    """A name whose parts say again what the folders say, or count: those are no
    title. False when it is no such name."""
    known = Known(
        artist=folder_artist if folder_artist != "Various Artists" else None,
        album=text_or_none(reading.get("album")),
        year=reading.get("year"),
        is_compilation=folder_artist == "Various Artists",
    )
    found = read_columns(stem, known)
    if found is None or not is_told_by_columns(found, known):
        return False
    words = found.words()
    rest = Rest(reading, stem, at)
    for column in found.columns:
        put_column(rest, column, known, is_alone=len(found.columns) == 1)
    free = put_unlabelled(rest, words[:-1], known)
    last = found.columns[len(found.columns) - 1]
    if not words and last.label in ("artist", "album"):
        words = [last]  # a title that is called as its album or its artist is
    if words:
        start, end = (free or words[-1:])[0].start, words[-1].end
        body = stem[start:end]
        if found.separator == "dotted dash":
            body = body.replace(".", " ")
        _own_title(reading, body, start, at, " " not in stem and "_" in stem)
    return True


def _own_words(reading: Reading, stem: str, at: int, around: Around) -> None:
    """Number, day, artist and title that the file's own name says."""
    if around.has_folder and is_only_a_number(reading, stem, at, around):
        return
    has_columns = around.sense in ("music", "book", "soundtrack") and not around.is_scene
    if has_columns and DATE.match(stem) is None and _own_columns(reading, stem, at, around.artist):
        return  # a day would be no year of the album with numbers behind it
    is_underscored = " " not in stem and "_" in stem
    rest = Rest(reading, stem, at)
    take_day(rest, around)
    take_number(rest, around)
    take_number_behind(rest, around)
    head = rest.text[rest.offset :].lstrip(" .-_–—·•|~)]:#")
    body = after_bracket(head, around.artist if around.has_folder else None)
    rest.offset = len(rest.text) - len(body) if body else len(rest.text)
    body = take_day_behind(rest, body, around)
    if around.is_scene and "-" in body:
        body = take_scene_artist(rest, body)
    elif not around.is_scene:
        body, rest.offset = _own_artist(
            reading, body, rest.offset, rest.at, around.artist, around.sense, around.has_folder
        )
    after_dot = rest.text[rest.offset - 1 : rest.offset] == "."
    _own_title(reading, body, rest.offset, rest.at, is_underscored or around.is_scene, after_dot=after_dot)


@dataclass(frozen=True, slots=True)
class _Parts:
    """What is left of a name, parted by its separator."""

    body: str
    parts: Sequence[str]
    cuts: Sequence[tuple[int, int]]
    """Where the separators stand in the body."""
    at: int
    """Where the body begins in the path."""

    def span(self, first: int, last: int) -> tuple[int, int]:
        """Where the parts from the first to the last, both meant, stand in the path."""
        begin = self.cuts[first - 1][1] if first else 0
        end = self.cuts[last][0] if last < len(self.cuts) else len(self.body)
        return self.at + begin, self.at + end


_JOINED = re.compile(r"[&,+]|\b(?:and|und|et|y|x|vs|meets|with|mit|avec|con|med)\b")
"""Between the names of several who play together."""


def _own_artist(
    reading: Reading, body: str, offset: int, at: int, folder_artist: str | None, sense: str, has_folder: bool
) -> tuple[str, int]:
    """`Artist - Title` inside the file's own name; also `Artist - Album - 03 - Title`."""
    parted = TIGHT if folder_artist == "Various Artists" and TIGHT_NAME.fullmatch(body) else PARTED
    cuts = [found.span() for found in parted.finditer(body)]
    if not cuts:
        return body, offset
    told = _Parts(body, parted.split(body), cuts, at + offset)
    cut = _numbered_parts(reading, told, sense)
    if cut is not None:
        return body[cut:], offset + cut
    first = told.parts[0]
    guest = FEATURING.search(first)
    plain = tidy_title(first[: guest.start()] if guest else first, dotted=False)
    of_many = SCORED.search(str(reading.get("album") or "")) is not None or sense in ("soundtrack", "various")
    alone = not has_folder or (folder_artist is None and ("album" not in reading.facts or of_many))
    if not (alone or (guest and folder_artist) or (folder_artist and _is_who_plays(plain, folder_artist, told))):
        return body, offset
    if guest:
        where = (told.at + guest.start(), told.at + guest.end())
        names = names_in((guest["names"] or guest["names2"]).strip())
        reading.put("featuring", names, where, term("guest in the artist's part"))
    reading.put("artist", plain, told.span(0, 0), term("artist before the title"))
    cut = cuts[0][1]
    if not has_folder and len(told.parts) == 3 and "album" not in reading.facts:
        name, year = name_and_year(told.parts[2])
        if year is not None:
            reading.put("album", tidy_title(name, dotted=False), told.span(2, 2), term("album behind the title"))
            reading.put("year", year, told.span(2, 2), term("year of the album"))
            return told.parts[1], offset + cut
        if not any(KEEPERS.fullmatch(word) for word in fold(told.parts[2]).split()):
            reading.put(
                "album", tidy_title(told.parts[1], dotted=False), told.span(1, 1), term("album before the title")
            )
            cut = cuts[1][1]
    rest, place = body[cut:], offset + cut
    late = _LATE_NUMBER.match(rest)
    if late and "track" not in reading.facts:
        reading.put("track", int(late["n"]), (at + place, at + place + late.end("n")), term("track's number"))
        rest, place = rest[late.end() :], place + late.end()
    return rest, place


_LATE_NUMBER = re.compile(r"(?P<n>[0-9]{1,2})(?:\s+[-–.]\s*|\.\s+)(?=\S)")


def _numbered_parts(reading: Reading, told: _Parts, sense: str) -> int | None:
    """`Artist - Album - 03 - Title`: states what stands before the title, and returns where that
    begins; None where no part is a number."""
    parts = told.parts
    numbered = next((i for i, part in enumerate(parts[1:-1], 1) if re.fullmatch(r"\s*[0-9]{1,3}\s*", part)), None)
    if numbered is None or "track" in reading.facts:
        return None
    head = tidy_title(parts[0], dotted=False)
    names_its_own = is_various(head) and len(parts) > numbered + 2
    if names_its_own:
        head = tidy_title(parts[numbered + 1], dotted=False)
    if sense != "podcast" or fold(head) != fold(str(reading.get("album") or "")):
        reading.put("artist", head, told.span(0, 0), term("artist before the title"))
    reading.put("track", int(parts[numbered].strip()), told.span(numbered, numbered), term("track's number"))
    if numbered > 1:
        album, year = name_and_year(" - ".join(parts[1:numbered]))
        if year is not None:
            reading.put("year", year, None, term("year of the album"))
        reading.put(
            "album", tidy_title(album, dotted=False), told.span(1, numbered - 1), term("album before the number")
        )
    return told.cuts[numbered + 1 if names_its_own else numbered][1]


def _is_who_plays(name: str, folder_artist: str, told: _Parts) -> bool:
    """Whether the first part of a name is who plays, as far as the folder's artist
    says: it, with others, or one of them."""
    if folder_artist == "Various Artists" or is_same_name(name, folder_artist):
        return True
    known, own = f" {fold(folder_artist)} ", f" {fold(name)} "
    if known in own and _JOINED.search(name):
        return True
    if own in known and _JOINED.search(folder_artist):
        return True
    return any(known in f" {fold(held)} " for held in re.findall(r"[(\[]([^)\]]+)[)\]]", told.body[told.cuts[0][1] :]))


_ISSUE_OF_A_SONG = re.compile(
    r"""
    [\s_]* [(\[]
    (?P<words>
        (?: [0-9]{4} [\s_]+ )? (?: digital (?: ly )? [\s_]+ )? remaster (?: ed )? (?: [\s_]+ [0-9]{4} )? (?: [\s_]+ version )?
      | deluxe (?: [\s_] edition )? | bonus [\s_] track | unabridged | explicit
    )
    [)\]]
    """,
    re.IGNORECASE | re.VERBOSE,
)
_SECOND_COPY = re.compile(r"\s\([1-9]\)$")
"""The second copy of a file."""
_RATE_AT_END = re.compile(rf"\s*\[(?:{'|'.join(RATES)})(?:\s?kbps|k)?\]$", re.IGNORECASE)


def _own_title(
    reading: Reading, body: str, offset: int, at: int, underscored: bool, *, after_dot: bool = False
) -> None:
    guest = FEATURING.search(body)
    if guest:
        names = (guest["names"] or guest["names2"]).strip()
        if not (guest.group().strip("([ ").lower().startswith("with") and not names[:1].isupper()):
            reading.put(
                "featuring",
                names_in(names),
                (at + offset + guest.start(), at + offset + guest.end()),
                term("guest in brackets"),
            )
            body = body[: guest.start()] + body[guest.end() :]
    edition = next(
        (m for m in _ISSUE_OF_A_SONG.finditer(body)),
        None,
    )
    if edition:
        said = edition["words"].replace("_", " ").strip()
        if said.lower() not in (term("bonus track"), "explicit"):
            reading.facts.pop("edition", None)
            reading.put(
                "edition",
                said,
                (at + offset + edition.start("words"), at + offset + edition.end("words")),
                term("remaster or edition in brackets"),
            )
        body = body[: edition.start()] + body[edition.end() :]
    body = NOISE.sub("", body) or body
    seen = scan(body)
    for bracket in reversed(seen.brackets):
        if bracket.technical and bracket.start > 0 and not KEEPERS.search(bracket.inner):
            found = Folder("named", body, 0)
            music_technical(found, seen, len(body))
            for key, (value, start, end) in found.technical.items():
                reading.facts.pop(key, None)
                reading.put(key, value, (at + offset + start, at + offset + end), term("technical word of the track"))
            body = body[: bracket.start] + body[bracket.end :]
    body = _SECOND_COPY.sub("", body)
    body = _RATE_AT_END.sub("", body)
    dotted = seen.dotted and " " not in body and (body.count(".") > 1 or after_dot)
    title = tidy_title(body, dotted=dotted, articles=False) if body.strip() else ""
    title = title if title else body.strip(" _-") if body.strip(" _-.") else ""
    if title and not (PLACEHOLDER.match(title) and "track" in reading.facts):
        reading.put("title", title, (at + offset, at + offset + len(body)), term("what is left is the title"))


def read_cover(path: str, folders: list[str], stem: str, role: str) -> Reading:
    """Artwork beside music."""
    reading = Reading("artwork")
    at = len(path) - len(path.rsplit("/", 1)[-1])
    reading.put("role", role, (at, at + len(stem)), term("name of an artwork"))
    album, artist, _, _ = place_of(reading, folders)
    if (
        album is None
        and artist is not None
        and role in ("cover", "back-cover", "booklet", "disc")
        and artist.album
        and (artist.year or artist.artist)
    ):
        album, artist = artist, None
    name = fill_album(reading, album, artist)
    if name == "Various Artists":
        reading.put("artist", name, None, term("folder of a compilation"))
    elif name:
        reading.put("artist", name, None, term("artist's folder"))
    for key in ("audio_codec", "bit_depth", "sample_rate", "bitrate", "source", "release", "edition", "ids"):
        reading.facts.pop(key, None)
    return reading
