"""A made-up world big enough to be confusing: remakes, sequels, namesakes, translations, issues of albums.

The same seed gives the same world. Nothing in it is real.
"""

from __future__ import annotations

import random
from dataclasses import dataclass, replace

from ..demo.world import ADJECTIVES, NOUNS, PHRASES, Album, Episode, Film, Series

__all__ = ["World", "make_world"]

_ONSETS = [
    "b",
    "br",
    "c",
    "d",
    "dr",
    "f",
    "g",
    "gr",
    "h",
    "j",
    "k",
    "l",
    "m",
    "n",
    "p",
    "pr",
    "r",
    "s",
    "sh",
    "st",
    "t",
    "th",
    "tr",
    "v",
    "w",
]
_VOWELS = ["a", "e", "i", "o", "u", "ai", "ea", "ee", "oa", "ou"]
_ENDS = ["n", "r", "l", "m", "s", "th", "rd", "ck", "nd", "ll", "ne"]
_GENRES = ["Drama", "Comedy", "Crime", "Family", "Documentary", "Mystery", "Adventure", "Romance"]
_GERMAN = ["Der stille", "Die letzte", "Das ferne", "Ein kaltes", "Unser", "Kein", "Die rote", "Hinter dem"]
_GERMAN_NOUNS = [
    "Hafen",
    "Laterne",
    "Brücke",
    "Garten",
    "Winter",
    "Fähre",
    "Straße",
    "Tür",
    "Uhr",
    "Küste",
    "Morgen",
    "Zug",
]
_JAPANESE = [
    "灯台の夜",
    "雪の客",
    "霧の朝",
    "青い傘",
    "約束の窓",
    "紙の舟",
    "海の記憶",
    "冬の鳥",
    "古い地図",
    "鐘の音",
    "帰り道",
    "夜の潮",
    "月の階段",
    "小さな港",
    "最後の列車",
    "迷子の星",
]
_SUBTITLES = [
    "A Winter Story",
    "The Long Way Home",
    "Before the Flood",
    "Night Crossing",
    "The Second Key",
    "What Came After",
]


@dataclass(frozen=True, slots=True)
class World:
    """Everything there is."""

    films: tuple[Film, ...]
    series: tuple[Series, ...]
    albums: tuple[Album, ...]


class _Maker:
    """Draws names; each title once, but for those that are meant to be shared."""

    def __init__(self, seed: int, prefix: str) -> None:
        self.rng = random.Random(f"world {seed}")
        self.prefix = prefix
        self.used: set[str] = set()
        self.people = [f"{self.word()} {self.word()}" for _ in range(400)]

    def word(self) -> str:
        rng = self.rng
        made = rng.choice(_ONSETS) + rng.choice(_VOWELS)
        if rng.random() < 0.6:
            made += rng.choice(_ENDS)
        if rng.random() < 0.6:
            made += rng.choice(_ONSETS) + rng.choice(_VOWELS) + (rng.choice(_ENDS) if rng.random() < 0.5 else "")
        return made.capitalize()

    def title(self) -> str:
        rng = self.rng
        while True:
            noun, other = rng.sample(NOUNS, 2)
            name = self.word()
            made = rng.choice(
                (
                    *(phrase.format(a=rng.choice(ADJECTIVES), n=noun, m=other) for phrase in rng.sample(PHRASES, 3)),
                    name,
                    f"The {name} {noun}",
                    f"{name} and the {noun}",
                    f"{noun} in {name}",
                )
            )
            if made not in self.used:
                self.used.add(made)
                return made

    def film(self, number: int, **given: object) -> Film:
        rng = self.rng
        people = rng.sample(self.people, 5)
        plain = Film(
            id=f"{self.prefix}f{number:05d}",
            title="",
            year=rng.randint(1930, 2025),
            minutes=rng.randint(74, 168),
            genres=tuple(rng.sample(_GENRES, 2)),
            director=people[0],
            cast=tuple(people[1:]),
            plot=f"{people[1].split()[0]} comes to {self.word()} and stays too long.",
        )
        return replace(plain, **given) if given else replace(plain, title=self.title())  # pyright: ignore[reportArgumentType]


def make_world(seed: int, *, films: int = 1100, series: int = 180, albums: int = 620, prefix: str = "w") -> World:
    """A world of about so many works."""
    maker = _Maker(seed, prefix)
    return World(_films(maker, films), _series(maker, series), _albums(maker, albums))


def _films(maker: _Maker, count: int) -> tuple[Film, ...]:
    rng, made = maker.rng, [maker.film(1)]
    while len(made) < count:
        number, kind = len(made) + 1, rng.random()
        older = rng.choice(made)
        if kind < 0.07 and not older.aliases:
            apart = rng.choice((-31, -19, -11, 8, 14, 23, 37))
            year = min(max(older.year + apart, 1925), 2025)
            if year != older.year:
                made.append(maker.film(number, title=older.title, year=year))
        elif kind < 0.16 and older.year < 2018 and not older.title[-1].isdigit():
            sign = rng.choice(("2", "II", "3", "III"))
            title = f"{older.title} {sign}"
            if title not in maker.used:
                maker.used.add(title)
                made.append(maker.film(number, title=title, year=older.year + rng.randint(1, 6)))
        elif kind < 0.24:
            own = f"{rng.choice(_GERMAN)} {rng.choice(_GERMAN_NOUNS)}"
            if own not in maker.used:
                maker.used.add(own)
                made.append(maker.film(number, title=own, original=own, aliases=(maker.title(),)))
        elif kind < 0.29:
            own = f"{rng.choice(_JAPANESE)}{rng.choice(('', 'と' + rng.choice(_JAPANESE)))}"
            if own not in maker.used:
                maker.used.add(own)
                made.append(maker.film(number, title=maker.title(), original=own, aliases=(own,)))
        elif kind < 0.36:
            made.append(maker.film(number, title=f"{maker.title()}: {rng.choice(_SUBTITLES)}"))
        else:
            made.append(maker.film(number))
    return tuple(made)


def _series(maker: _Maker, count: int) -> tuple[Series, ...]:
    rng, made = maker.rng, list[Series]()
    while len(made) < count:
        series_id = f"{maker.prefix}s{len(made) + 1:04d}"
        again = rng.choice(made) if made and rng.random() < 0.08 else None
        year = rng.randint(1965, 2020) if again is None else min(again.year + rng.choice((9, 15, 22)), 2022)
        episodes: list[Episode] = []
        used: set[str] = set()
        running = 0
        for season in range(1, rng.choice((1, 1, 2, 3, 5)) + 1):
            for number in range(1, rng.randint(5, 12) + 1):
                running += 1
                episodes.append(_episode(maker, series_id, used, season, number, year, running))
        for number in range(1, rng.choice((0, 0, 2)) + 1):
            episodes.append(_episode(maker, series_id, used, 0, number, year, 0))
        made.append(
            Series(
                id=series_id,
                title=again.title if again else maker.title(),
                year=year,
                minutes=rng.choice((24, 42, 52)),
                genres=tuple(rng.sample(_GENRES, 2)),
                cast=tuple(rng.sample(maker.people, 4)),
                plot="A town and its people.",
                episodes=tuple(episodes),
                aliases=(f"{rng.choice(_GERMAN)} {rng.choice(_GERMAN_NOUNS)}",) if rng.random() < 0.12 else (),
            )
        )
    return tuple(made)


def _episode(
    maker: _Maker, series_id: str, used: set[str], season: int, number: int, year: int, running: int
) -> Episode:
    rng = maker.rng
    title = rng.choice(
        ("The {n}", "{a} {n}", "{n} and {m}", "A {n} Too Many", "{n}", "What {m} Saw", "{a} {m}, {a} {n}")
    )
    while True:
        told = title.format(a=rng.choice(ADJECTIVES), n=rng.choice(NOUNS), m=rng.choice(NOUNS))
        if told not in used:
            used.add(told)
            break
        title = "The {a} {n} of {m}"
    day = number * 7
    return Episode(
        id=f"{series_id}e{season:02d}{number:02d}",
        title=told,
        season=season,
        number=number,
        date=f"{year + max(season - 1, 0)}-{day // 28 + 1:02d}-{day % 28 + 1:02d}",
        minutes=42,
        plot="",
        absolute=running or None,
    )


def _albums(maker: _Maker, count: int) -> tuple[Album, ...]:
    rng, made = maker.rng, list[Album]()
    artists = [
        maker.word()
        if rng.random() < 0.3
        else f"The {maker.title().removeprefix('The ')}"
        if rng.random() < 0.3
        else f"{maker.word()} {maker.word()}"
        for _ in range(count // 4 + 1)
    ]
    while len(made) < count:
        album_id, kind = f"{maker.prefix}a{len(made) + 1:05d}", rng.random()
        artist = rng.choice(artists)
        if made and kind < 0.08:
            older = rng.choice(made)
            bonus = tuple((maker.title(), rng.randint(120, 300), older.artist, 1) for _ in range(rng.randint(2, 4)))
            made.append(replace(older, id=album_id, year=min(older.year + 15, 2025), tracks=older.tracks + bonus))
            continue
        title = artist if kind < 0.14 else rng.choice(made).title if made and kind < 0.2 else maker.title()
        tracks = tuple((maker.title(), rng.randint(100, 420), artist, 1) for _ in range(rng.randint(7, 13)))
        made.append(
            Album(id=album_id, title=title, artist=artist, year=rng.randint(1962, 2024), genres=("pop",), tracks=tracks)
        )
    return tuple(made)
