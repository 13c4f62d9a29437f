"""A household of made-up works with names as people write them, and what each name truly is."""

from __future__ import annotations

import random
from dataclasses import dataclass, field
from typing import Any

from indice.demo.world import Album, Film, Series
from indice.standins.world import World, make_world

_NUMERALS = {"II": "2", "III": "3", "2": "II", "3": "III"}

__all__ = ["Household", "make_household"]


@dataclass(slots=True)
class Household:
    """Files by kind of library: path → what the probe would find; and the truth by path of a main file."""

    files: dict[str, dict[str, dict[str, Any]]] = field(
        default_factory=lambda: {"movies": {}, "series": {}, "music": {}}
    )
    truth: dict[str, str | None] = field(default_factory=dict)
    """Main file → the work's id, None when no source knows it."""
    episodes: dict[str, str] = field(default_factory=dict)
    """Episode's file → its id."""


def make_household(world: World, seed: int, *, films: int, series: int, albums: int) -> Household:
    """So many works of each kind, most of them known to the world."""
    rng = random.Random(f"household {seed}")
    house = Household()
    strangers = make_world(
        seed + 1000, films=films // 10, series=max(series // 15, 2), albums=max(albums // 15, 2), prefix="u"
    )
    for film in rng.sample(world.films, films - len(strangers.films)):
        _film(house, rng, film, film.id)
    for film in strangers.films:
        _film(house, rng, film, None)
    for show in rng.sample(world.series, series - len(strangers.series)):
        _series(house, rng, show, known=True)
    for show in strangers.series:
        _series(house, rng, show, known=False)
    for album in rng.sample(world.albums, albums - len(strangers.albums)):
        _album(house, rng, album, album.id)
    for album in strangers.albums:
        _album(house, rng, album, None)
    for number in range(films // 40):
        path = f"Home movies/{rng.choice(('Birthday', 'Garden', 'Lake', 'Wedding'))} {2000 + number}.mkv"
        house.files["movies"][path] = {"seconds": rng.uniform(20, 900)}
        house.truth[path] = None
    return house


def _slip(rng: random.Random, text: str) -> str:
    """A spelling slip: two letters swapped, one left out or one doubled."""
    places = [i for i in range(1, len(text) - 1) if text[i].isalpha() and text[i + 1].isalpha()]
    if not places or len(text) < 6:
        return text
    at = rng.choice(places)
    return rng.choice(
        (
            text[:at] + text[at + 1] + text[at] + text[at + 2 :],
            text[:at] + text[at + 1 :],
            text[:at] + text[at] + text[at:],
        )
    )


def _written(rng: random.Random, film: Film) -> tuple[str, int | None]:
    """A film's title and year as somebody wrote them down."""
    title, year = film.title, film.year
    names = [name for name in (film.original, *film.aliases) if name and name != title]
    if names and rng.random() < 0.35:
        title = rng.choice(names)
    dice = rng.random()
    if dice < 0.05:
        title = _slip(rng, title)
    elif dice < 0.09:
        title = title.replace(" and ", " & ")
    elif dice < 0.13 and title.startswith("The "):
        title = f"{title[4:]}, The"
    elif dice < 0.15 and title.startswith("The "):
        title = title[4:]
    elif dice < 0.20 and ":" in title:
        title = title.split(":")[0]
    elif dice < 0.24 and title.endswith((" II", " 2", " III", " 3")):
        head, _, sign = title.rpartition(" ")
        title = f"{head} {_NUMERALS[sign]}"
    dice = rng.random()
    written = year + rng.choice((-1, 1)) if dice < 0.05 else None if dice < 0.12 else year
    return title.replace(":", rng.choice((" -", ""))).replace("/", "-"), written


def _film(house: Household, rng: random.Random, film: Film, truth: str | None) -> None:
    title, year = _written(rng, film)
    minutes = film.minutes * (0.96 if rng.random() < 0.04 else 1) + rng.uniform(-1, 1)
    dice = rng.random()
    if dice < 0.7:
        name = f"{title} ({year})" if year else title
        path = f"{name}/{name}.mkv"
    elif dice < 0.85:
        words = [*title.replace("'", "").split(), *([str(year)] if year else []), "1080p", "WEB", "x264-TERN"]
        path = f"{'.'.join(words)}.mkv"
    else:
        path = f"{title} [{year}].mkv" if year else f"{title}.mkv"
    if path not in house.files["movies"]:
        house.files["movies"][path] = {"seconds": minutes * 60}
        house.truth[path] = truth


def _series(house: Household, rng: random.Random, show: Series, *, known: bool) -> None:
    title = rng.choice(show.aliases) if show.aliases and rng.random() < 0.3 else show.title
    if rng.random() < 0.06:
        title = _slip(rng, title)
    folder = f"{title} ({show.year})" if rng.random() < 0.6 else title
    if any(path.startswith(folder + "/") for path in house.files["series"]):
        return
    style = rng.random()
    seasons = sorted({episode.season for episode in show.episodes})
    kept = [s for s in seasons if rng.random() < 0.85] or seasons
    first = None
    for episode in show.episodes:
        if episode.season not in kept or rng.random() < 0.05:
            continue
        place = "Specials" if episode.season == 0 else f"Season {episode.season:02d}"
        mark = f"S{episode.season:02d}E{episode.number:02d}"
        name = f"{title} - {mark}" + (f" - {episode.title}" if style < 0.6 else "")
        if style > 0.85:
            name = f"{title.replace(' ', '.')}.{mark}.720p.WEB"
        path = f"{folder}/{place}/{name}.mkv"
        house.files["series"][path] = {"seconds": show.minutes * 60.0}
        first = first or path
        if known:
            house.episodes[path] = episode.id
    if first:
        house.truth[first] = show.id if known else None


def _album(house: Household, rng: random.Random, album: Album, truth: str | None) -> None:
    folder = f"{album.artist}/{album.title}" + (f" ({album.year})" if rng.random() < 0.7 else "")
    if any(path.startswith(folder + "/") for path in house.files["music"]):
        return
    tagged = rng.random() < 0.75
    first = None
    for number, (title, seconds, artist, _) in enumerate(album.tracks, 1):
        if rng.random() < 0.02:
            continue
        path = f"{folder}/{number:02d} - {title.replace('/', '-')}.flac"
        tags = {"artist": artist, "album": album.title, "title": title, "track": number} if tagged else {}
        house.files["music"][path] = {"seconds": seconds + rng.uniform(-1, 1), "tags": tags, "has_picture": False}
        first = first or path
    if first:
        house.truth[first] = truth
