"""Puts files together into entries. A pure function: the same files give the same entries in whatever order they come.

An entry's key says what it is (`movie:harbour glass:1987`); files with the same key serve the same entry.
"""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from datetime import date
from typing import Any

from ..reading.places import is_sorting
from ..reading.scan import without_accents
from ..reading.work import folder_role
from ..titles import better_title
from .discs import disc_of, feature_of
from .shots import beside_shots

__all__ = ["EntryDraft", "FileView", "Grouped", "group", "home_of"]


@dataclass(frozen=True, slots=True, kw_only=True)
class FileView:
    """What grouping needs to know of a file."""

    id: int
    path: str
    kind: str
    reading: dict[str, Any]
    tags: dict[str, Any] = field(default_factory=dict)
    """Embedded tags: `title`, `artist`, `album`, `album_artist`, `track`, `disc`, `year`."""
    taken: str | None = None
    """The picture's own moment, ISO 8601."""
    seconds: float | None = None
    """Running time of a film, or of a clip."""
    facts: dict[str, Any] = field(default_factory=dict)
    """What is written inside of what it is; of a sidecar: what it says of the thing it lies beside."""
    is_own: bool = False
    """Whether Indice itself wrote the sidecar: then it says again what was known, and nothing new."""
    about: str = ""
    """Kind of the thing that a sidecar speaks of, where it says so."""

    @property
    def directory(self) -> str:
        """Its folder, without the last slash."""
        return self.path.rpartition("/")[0]


@dataclass(slots=True, kw_only=True)
class EntryDraft:
    """An entry as names and tags tell it."""

    key: str
    kind: str
    title: str
    parent: str | None = None
    year: int | None = None
    season: int | None = None
    number: int | None = None
    disc: int | None = None
    moment: str | None = None
    facts: dict[str, dict[str, Any]] = field(default_factory=dict)
    """Origin (`name`, `tags`) → field → value."""


@dataclass(slots=True)
class Grouped:
    """Entries, parents before children, and which file serves which."""

    entries: dict[str, EntryDraft] = field(default_factory=dict)
    serves: dict[int, tuple[str, str]] = field(default_factory=dict)
    """File id → entry's key, and what it serves as."""
    years: dict[tuple[str, str], int] = field(default_factory=dict)
    """Folder of a series or an album, and its folded title → the year that its files give."""
    wide: frozenset[str] = frozenset()
    """Folders of pictures that lie too far apart to be one event."""
    asked: set[str] = field(default_factory=set)
    """Keys that a side file asked for and that no file here has."""
    elsewhere: frozenset[str] = frozenset()
    """Keys of artists that files make which are not seen here."""

    def holds(self, key: str) -> bool:
        """Whether there is an entry of this key; what no file here has is noted."""
        if key in self.entries:
            return True
        self.asked.add(key)
        return key in self.elsewhere

    def add(self, draft: EntryDraft) -> EntryDraft:
        """Add an entry, or fill in what the one of this key lacks."""
        known = self.entries.get(draft.key)
        if known is None:
            self.entries[draft.key] = draft
            return draft
        for name in ("year", "season", "number", "disc", "moment"):
            if getattr(known, name) is None:
                setattr(known, name, getattr(draft, name))
        if better_title(draft.title, known.title):
            known.title = draft.title
        for origin, facts in draft.facts.items():
            said = known.facts.setdefault(origin, {})
            said |= {name: value for name, value in facts.items() if name not in said}
            if "title" in facts and better_title(facts["title"], said["title"]):
                said["title"] = facts["title"]
        return known


def group(files: Iterable[FileView], *, elsewhere: Iterable[str] = ()) -> Grouped:
    """Entries of these files. Side files are put with the work that their name or their folder gives.

    `elsewhere` are keys of artists that there are beside; a picture may be theirs.
    """
    ordered = sorted(files, key=lambda file: file.path)
    result = Grouped(years=_years(ordered), wide=_wide_folders(ordered), elsewhere=frozenset(elsewhere))
    mains: dict[str, list[str]] = defaultdict(list)
    later: list[FileView] = []
    taken_along = beside_shots(ordered)
    for file in ordered:
        if file.id in taken_along:
            continue
        make = _MAKERS.get(file.kind)
        if make is None:
            if file.kind in ("extra", "subtitle", "lyrics", "artwork") or (file.kind == "sidecar" and file.facts):
                later.append(file)
            continue
        key = make(result, file)
        if file.facts:
            inside = result.entries[key].facts.setdefault("tags" if file.kind in ("photo", "track") else "file", {})
            inside.update({name: value for name, value in file.facts.items() if name not in inside})
        result.serves[file.id] = (key, "main")
        mains[file.directory].append(key)
    for file_id, (shot, role) in taken_along.items():
        result.serves[file_id] = (result.serves[shot][0], role)
    _part_by_length(result, ordered, mains)
    named = _by_name(result, ordered)
    for file in later:
        key = _owner_of_sidecar(result, file, named, mains) if file.kind == "sidecar" else _owner(result, file, mains)
        if file.kind == "lyrics":
            key = named.get(file.path.rpartition(".")[0], key)
        if key is not None:
            result.serves[file.id] = (key, file.kind)
            if file.kind == "lyrics":
                if result.entries[key].kind == "track" and "lyrics" in file.facts:
                    result.entries[key].facts.setdefault("sidecar", {}).setdefault("lyrics", file.facts["lyrics"])
            elif file.kind == "sidecar":
                said = result.entries[key].facts.setdefault("echo" if file.is_own else "sidecar", {})
                said.update({name: value for name, value in file.facts.items() if name not in said})
    _label_versions(result, ordered)
    _label_discs(result, ordered)
    return result


def _by_name(result: Grouped, files: list[FileView]) -> dict[str, str]:
    """Path of a main file, with and without its extension → the entry that it serves."""
    named: dict[str, str] = {}
    for file in files:
        served = result.serves.get(file.id)
        if served is not None:
            named.setdefault(file.path, served[0])
            named.setdefault(file.path.rpartition(".")[0], served[0])
    return named


def _owner_of_sidecar(
    result: Grouped, file: FileView, named: dict[str, str], mains: dict[str, list[str]]
) -> str | None:
    """The entry that a sidecar speaks of: that of the file it is named after, else the
    one of its kind that its folder holds."""
    stem = file.path.rpartition(".")[0]
    if stem in named:
        return named[stem]
    inside = f"{file.directory}/" if file.directory else ""
    found: set[str] = set()
    for directory, keys in mains.items():
        if directory == file.directory or directory.startswith(inside):
            for key in keys:
                above: str | None = key
                while above is not None:
                    if not file.about or result.entries[above].kind == file.about:
                        found.add(above)
                    above = result.entries[above].parent
    tops = found if file.about else {key for key in found if result.entries[key].parent is None}
    return next(iter(tops)) if len(tops) == 1 else None


SAME_LENGTH = 0.6
"""Least share of the longer one that a shorter version of a film may last."""


def _part_by_length(result: Grouped, files: list[FileView], mains: dict[str, list[str]]) -> None:
    """Files of one title and year whose lengths are far apart are two works, not two versions of one."""
    by_entry: dict[str, list[FileView]] = defaultdict(list)
    for file in files:
        served = result.serves.get(file.id)
        if disc_of(file.path) is not None:
            continue  # menus and trailers are short, and belong to their disc
        if file.kind == "movie" and served is not None and file.seconds and file.reading.get("part") is None:
            by_entry[served[0]].append(file)
    for key, several in by_entry.items():
        longest = max(file.seconds or 0.0 for file in several)
        short = [file for file in several if (file.seconds or 0.0) < longest * SAME_LENGTH]
        for file in short:
            minutes = round((file.seconds or 0.0) / 60)
            draft = result.entries[key]
            facts = {origin: dict(values) for origin, values in draft.facts.items()}
            other = replace(draft, key=f"{key}:{minutes} min", facts=facts)
            result.entries.setdefault(other.key, other)
            result.serves[file.id] = (other.key, "main")
            mains[file.directory].remove(key)
            mains[file.directory].append(other.key)


def home_of(directory: str) -> str:
    """The folder of a film, a series or an album: those of seasons and discs count for the one above."""
    parts = directory.split("/")
    while len(parts) > 1 and folder_role(parts[-1]) in ("season", "special", "disc", "extra", "subs", "structure"):
        parts.pop()
    return "/".join(parts)


def _years(files: Iterable[FileView]) -> dict[tuple[str, str], int]:
    """Works of one title are told apart by their years; one folder holds one of them, whatever single files say."""
    votes: dict[tuple[str, str], Counter[int]] = defaultdict(Counter)
    for file in files:
        title = (
            file.reading.get("series") if file.kind == "episode" else _album_title(file) if file.kind == "track" else ""
        )
        if not title:
            continue
        year = file.reading.get("year")
        if isinstance(year, int):
            votes[home_of(file.directory), without_accents(str(title))][year] += 1
    return {place: min(counted, key=lambda year: (-counted[year], year)) for place, counted in votes.items()}


AN_EVENT_LASTS_DAYS = 21
"""An event's pictures lie within about three weeks, whatever its folder is called."""


def _day_of(file: FileView) -> str | None:
    taken = file.taken or file.reading.get("taken")
    return str(taken)[:10] if taken else None


def _wide_folders(files: Iterable[FileView]) -> frozenset[str]:
    days: dict[str, set[str]] = defaultdict(set)
    for file in files:
        if file.kind in ("photo", "clip") and file.reading.get("event") and (day := _day_of(file)):
            days[file.directory].add(day)
    return frozenset(
        folder for folder, seen in days.items() if _days_between(min(seen), max(seen)) > AN_EVENT_LASTS_DAYS
    )


def _days_between(first: str, last: str) -> int:
    try:
        return (date.fromisoformat(last) - date.fromisoformat(first)).days
    except ValueError:
        return 0


def _album_title(file: FileView) -> str:
    return str(file.tags.get("album") or file.reading.get("album") or "")


def _name_facts(file: FileView, *names: str) -> dict[str, dict[str, Any]]:
    return {"name": {name: file.reading[name] for name in names if name in file.reading}}


def _movie_key(reading: dict[str, Any], directory: str) -> str:
    title = without_accents(str(reading.get("title", ""))) or directory
    year = reading.get("year") or reading.get("date")
    return f"movie:{title}:{year}" if year else f"movie:{title}:?:{directory}"


def _year_of(day: Any) -> int | None:
    return int(str(day)[:4]) if day else None


def _movie(result: Grouped, file: FileView) -> str:
    reading = file.reading
    title = str(reading.get("title") or file.path.rpartition("/")[2].rpartition(".")[0])
    draft = EntryDraft(
        key=_movie_key({**reading, "title": title}, file.directory),
        kind="movie",
        title=title,
        year=reading.get("year") or _year_of(reading.get("date")),
        facts=_name_facts(file, "title", "year", "alt_title", "ids"),
    )
    return result.add(draft).key


def _series_key(result: Grouped, reading: dict[str, Any], directory: str) -> str:
    title = without_accents(str(reading.get("series") or directory.partition("/")[0] or "unnamed"))
    year = result.years.get((home_of(directory), title))
    return f"series:{title}:{year}" if year else f"series:{title}"


def _series(result: Grouped, file: FileView) -> str:
    reading = file.reading
    title = str(reading.get("series") or file.directory.partition("/")[0] or "Unnamed series")
    facts = {"name": {"title": title, **{k: reading[k] for k in ("year", "alt_title", "ids") if k in reading}}}
    return result.add(
        EntryDraft(
            key=_series_key(result, reading, file.directory),
            kind="series",
            title=title,
            year=reading.get("year"),
            facts=facts,
        )
    ).key


def _season(result: Grouped, series: str, number: int | None) -> str:
    title = "Specials" if number == 0 else f"Season {number}" if number is not None else "Running numbers"
    key = f"{series}/season:{'-' if number is None else number}"
    return result.add(EntryDraft(key=key, kind="season", title=title, parent=series, season=number)).key


def _episode_keys(reading: dict[str, Any], series: str) -> tuple[str, int | None, int | None]:
    """Key without the season's, season and number of an episode."""
    season = reading.get("season")
    numbers = reading.get("episodes") or reading.get("absolute") or []
    number = numbers[0] if numbers else None
    if season is None and reading.get("episodes"):
        season = 1
    if number is not None:
        return f"{series}/episode:{'-' if season is None else season}:{number}", season, number
    if reading.get("date"):
        year = int(str(reading["date"])[:4])
        return f"{series}/episode:{reading['date']}", season if season is not None else year, None
    return f"{series}/episode:{season}:{without_accents(str(reading.get('title', '?')))}", season, None


def _episode(result: Grouped, file: FileView) -> str:
    series = _series(result, file)
    key, season, number = _episode_keys(file.reading, series)
    parent = _season(result, series, season)
    numbers = file.reading.get("episodes") or file.reading.get("absolute") or [None]
    title = str(
        file.reading.get("title")
        or (f"Episode {number}" if number is not None else file.reading.get("date") or file.path.rpartition("/")[2])
    )
    first = result.add(
        EntryDraft(
            key=key,
            kind="episode",
            title=title,
            parent=parent,
            season=season,
            number=number,
            moment=file.reading.get("date"),
            facts=_name_facts(file, "title", "season", "episodes", "absolute", "date"),
        )
    )
    for other in numbers[1:]:
        result.add(
            EntryDraft(
                key=f"{series}/episode:{'-' if season is None else season}:{other}",
                kind="episode",
                title=f"Episode {other}",
                parent=parent,
                season=season,
                number=other,
            )
        )
    return first.key


def _album_key(result: Grouped, artist: str, album: str, directory: str) -> str:
    title = without_accents(album)
    year = result.years.get((home_of(directory), title))
    return f"album:{without_accents(artist)}:{title}" + (f":{year}" if year else "")


def _track(result: Grouped, file: FileView) -> str:
    """A track below its album, or below its artist where it is of none."""
    artist = _told(file, "album_artist") or _told(file, "artist") or "Unknown artist"
    album = str(file.tags.get("album") or file.reading.get("album") or "")
    parent = f"artist:{without_accents(artist)}"
    result.add(EntryDraft(key=parent, kind="artist", title=artist, facts={"name": {"title": artist}}))
    if album:
        parent = _album(result, file, artist, album, parent)
    reading, tags = file.reading, file.tags
    title = str(tags.get("title") or reading.get("title") or file.path.rpartition("/")[2].rpartition(".")[0])
    number = tags.get("track") or reading.get("track")
    disc = tags.get("disc") or reading.get("disc")
    place = f"{disc or 1}:{number}" if number is not None else without_accents(title)
    draft = EntryDraft(
        key=f"track:{parent}:{place}:{without_accents(title) if number is None else ''}",
        kind="track",
        title=title,
        parent=parent,
        number=number,
        disc=disc,
        moment=reading.get("date"),
        facts={
            "name": _name_facts(file, "title", "artist", "track", "disc", "featuring")["name"],
            "tags": _stated({name: tags.get(name) for name in ("title", "artist", "track", "disc")}),
        },
    )
    return result.add(draft).key


def _album(result: Grouped, file: FileView, artist: str, album: str, parent: str) -> str:
    """The album that a track is of; returns its key."""
    reading, tags = file.reading, file.tags
    key = _album_key(result, artist, album, file.directory)
    by_name = {
        "title": reading.get("album"),
        "year": reading.get("year"),
        "artist": reading.get("album_artist") or reading.get("artist"),
        "ids": reading.get("ids"),
    }
    by_tags = {
        "title": tags.get("album"),
        "year": tags.get("year"),
        "artist": tags.get("album_artist") or tags.get("artist"),
        "genres": tags.get("genres"),
    }
    result.add(
        EntryDraft(
            key=key,
            kind="album",
            title=album,
            parent=parent,
            year=tags.get("year") or reading.get("year"),
            facts={"name": _stated(by_name), "tags": _stated(by_tags)},
        )
    )
    return key


def _told(file: FileView, field: str) -> str:
    """What its tags say, else its name; nothing where neither does."""
    return str(file.tags.get(field) or file.reading.get(field) or "")


def _stated(facts: Mapping[str, Any]) -> dict[str, Any]:
    """Those that say something."""
    return {name: value for name, value in facts.items() if value}


def _picture(result: Grouped, file: FileView) -> str:
    """A photo or a clip, below its event or its day."""
    taken = file.taken or file.reading.get("taken")
    event = file.reading.get("event")
    day = _day_of(file)
    if event and file.directory not in result.wide:
        holder = f"event:{file.directory}"
        result.add(
            EntryDraft(
                key=holder,
                kind="event",
                title=str(event),
                moment=file.reading.get("taken", taken) and str(file.reading.get("taken", taken))[:10],
                facts={"name": {"title": str(event)}},
            )
        )
    else:
        holder = f"event:day:{day or 'undated'}"
        result.add(EntryDraft(key=holder, kind="event", title=day or "Without a date", moment=day))
    name = file.path.rpartition("/")[2]
    draft = EntryDraft(
        key=f"{file.kind}:{file.path}",
        kind=file.kind,
        title=str(file.reading.get("title") or name),
        parent=holder,
        moment=str(taken) if taken else None,
        facts=_name_facts(file, "title", "taken", "event"),
    )
    return result.add(draft).key


_MAKERS = {"movie": _movie, "episode": _episode, "track": _track, "photo": _picture, "clip": _picture}


def _owner(result: Grouped, file: FileView, mains: dict[str, list[str]]) -> str | None:
    """The entry that a side file belongs to: by its own facts, else the only work of its folder or the one above."""
    return _owner_by_name(result, file, mains) or _owner_beside(result, file, mains)


def _owner_by_name(result: Grouped, file: FileView, mains: dict[str, list[str]]) -> str | None:
    reading = file.reading
    if reading.get("series"):
        series = _series_key(result, reading, file.directory)
        if result.holds(series):
            return _part_of_series(result, reading, series)
    if "title" in reading and "artist" not in reading:
        key = _movie_key(reading, file.directory)
        beside = [main for main in mains.get(file.directory, ()) if main == key or main.startswith(f"{key}:")]
        if result.holds(key):
            return beside[0] if len(set(beside)) == 1 else key
    if reading.get("artist") and file.kind == "artwork":
        artist = without_accents(str(reading.get("artist")))
        key = _album_key(result, artist, str(reading.get("album", "")), file.directory)
        if result.holds(key):
            return key
        if not reading.get("album") and result.holds(f"artist:{artist}"):
            return f"artist:{artist}"
    return None


def _part_of_series(result: Grouped, reading: dict[str, Any], series: str) -> str:
    """Of a series that there is: the episode, else the season that a side file names, else the whole."""
    if reading.get("episodes") or reading.get("absolute") or reading.get("date"):
        key, _, _ = _episode_keys(reading, series)
        if result.holds(key):
            return key
    season = f"{series}/season:{reading.get('season')}"
    return season if reading.get("season") is not None and result.holds(season) else series


def _owner_beside(result: Grouped, file: FileView, mains: dict[str, list[str]]) -> str | None:
    for directory in _looked_in(file.directory):
        keys = sorted(set(mains.get(directory, ())))
        if keys:
            parents = {result.entries[key].parent for key in keys}
            if len(keys) == 1 and result.entries[keys[0]].kind != "track":
                return keys[0]
            if (
                len(parents) == 1
                and (parent := next(iter(parents))) is not None
                and result.entries[parent].kind in ("album", "season", "artist")
            ):
                return parent
            return None
    return None


def _looked_in(directory: str) -> Iterator[str]:
    """The folders in which a side file looks for its work: its own and up to two above.

    A folder that names a work of its own does not look in one that only sorts: what lies there is another work.
    """
    yield directory
    for _ in range(2):
        above, _, name = directory.rpartition("/")
        if not directory or (folder_role(name) == "work" and (not above or is_sorting(above.rpartition("/")[2]))):
            return
        yield above
        directory = above


def _label_versions(result: Grouped, files: list[FileView]) -> None:
    """Several main files of one entry are its parts, or its versions."""
    by_entry: dict[str, list[FileView]] = defaultdict(list)
    for file in files:
        served = result.serves.get(file.id)
        if served is not None and served[1] == "main":
            by_entry[served[0]].append(file)
    for key, several in by_entry.items():
        parts = [file for file in several if file.reading.get("part") is not None]
        for place, file in enumerate(sorted(several, key=lambda f: (f.reading.get("part") or 0, f.path))):
            if len(parts) > 1 and file in parts:
                result.serves[file.id] = (key, "part")
            elif place > 0:
                result.serves[file.id] = (key, "version")


def _label_discs(result: Grouped, files: list[FileView]) -> None:
    """Of the files of a disc those of the film are the main one, or its parts;
    menus and the rest only lie beside it."""
    discs: dict[tuple[str, str], list[FileView]] = defaultdict(list)
    mains: set[str] = set()
    for file in files:
        served = result.serves.get(file.id)
        if file.kind != "movie" or served is None:
            continue
        disc = disc_of(file.path)
        if disc is not None:
            discs[served[0], disc].append(file)
        elif served[1] in ("main", "part"):
            mains.add(served[0])
    for (key, _), inside in sorted(discs.items()):
        film = feature_of((file.path, file.seconds) for file in inside)
        if not film:
            continue
        # A film that lies loose as well, or on a disc before this one, is the main
        # one; a disc in pieces cannot be a version.
        role = "main" if key not in mains else "version" if len(film) == 1 else "beside"
        for file in inside:
            is_film = file.path in film
            result.serves[file.id] = (
                key,
                ("part" if role == "main" and len(film) > 1 else role) if is_film else "beside",
            )
        mains.add(key)
