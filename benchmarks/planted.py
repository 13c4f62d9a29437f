"""Plants defects and their healthy twins into made-up libraries on a real disk, checks them, and counts.

The expectations are written from the contract of checks alone; nothing of the program is asked for them. Each *unit*
is a small part of a library (a film's folder, a season, an album …) with what a check must say of it: a slug, and a
path where the contract fixes one. Healthy units and traps expect nothing.

    python -m benchmarks.planted [--seeds 10] [--units 80] [--show]
"""

from __future__ import annotations

import argparse
import io
import json
import random
import shutil
import subprocess
import tempfile
from collections import Counter, defaultdict
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cache
from pathlib import Path

import av
import numpy as np
from mutagen import File as TagFile  # pyright: ignore[reportPrivateImportUsage]
from mutagen.easyid3 import EasyID3
from mutagen.flac import Picture
from mutagen.id3 import APIC, ID3
from PIL import Image

__all__ = ["main"]

_NOUNS = [
    "Harrow",
    "Kettle",
    "Sable",
    "Orchard",
    "Pilgrim",
    "Cinder",
    "Marrow",
    "Thistle",
    "Anvil",
    "Ferry",
    "Lantern",
    "Quarry",
    "Willow",
    "Saddle",
    "Copper",
    "Meadow",
    "Beacon",
    "Cradle",
    "Ember",
    "Gable",
    "Hollow",
    "Ivory",
    "Juniper",
    "Kestrel",
    "Ledger",
    "Mirror",
    "Nettle",
    "Oyster",
    "Parlour",
    "Ribbon",
    "Shutter",
    "Timber",
]
_HEADS = [
    "Silent",
    "Crooked",
    "Seventh",
    "Winter",
    "Paper",
    "Burning",
    "Little",
    "Hollow",
    "Golden",
    "Distant",
    "Velvet",
    "Borrowed",
    "Iron",
    "Wandering",
    "Last",
    "Broken",
]
_FOREIGN = [
    "Der lange Abend",
    "Le Pont des Ormes",
    "La última cosecha",
    "Il mare di Orlanda",
    "Ночь над рекой",
    "Fjorden som väntade",
    "Ülkenin Işığı",
    "夜の灯台",
    "Zimní cesta",
    "Kuninkaan varjo",
    "Die Brücke von Ahlen",
    "Ørnens Rede",
    "A Árvore Azul",
    "De stille dijk",
]
_PEOPLE = [
    "Orla Venn",
    "Tomas Brill",
    "Mirea Sandoz",
    "The Low Hedges",
    "Kasimir Oake",
    "Jutta Fenn",
    "Los Faroles",
    "Bram & Ida Holt",
    "Echo Parade",
    "Neve Aldous",
    "Die Achterbahn",
    "Pilar Quist",
    "Wold Choir",
    "Émile Garde",
    "Sigrún Hjalt",
    "The Tin Owls",
]
_SORTS = ("", "", "", "Kids/", "Documentaries/", "A-F/", "Kinder/", "Thriller/", "Films/")


@dataclass
class Unit:
    """A part of a library, what lies in it, and what is to be said of it."""

    name: str
    files: dict[str, bytes | dict[str, object]] = field(default_factory=dict)
    """Path → bytes, or tags of a sound, or the moment of a picture; empty for any fitting content."""
    expects: list[tuple[str, str | None]] = field(default_factory=list)
    """Slug, and the path that the contract fixes (None where several would do)."""
    folders: list[str] = field(default_factory=list)

    def put(self, *paths: str) -> None:
        """Files with content that fits their extension."""
        for path in paths:
            self.files[path] = {}

    def say(self, slug: str, path: str | None = None) -> None:
        """Expect a finding."""
        self.expects.append((slug, path))


class Names:
    """Made-up names, none twice."""

    def __init__(self, rng: random.Random) -> None:
        self.rng = rng
        self.used: set[str] = set()

    def title(self) -> str:
        """A title of a film, series or album."""
        while True:
            head, noun = self.rng.choice(_HEADS), self.rng.choice(_NOUNS)
            form = self.rng.random()
            made = (
                f"The {head} {noun}" if form < 0.3
                else f"{head} {noun}" if form < 0.6
                else f"{noun} and {self.rng.choice(_NOUNS)}" if form < 0.75
                else f"{noun} of the {head} {self.rng.choice(_NOUNS)}" if form < 0.9
                else f"{self.rng.choice(_FOREIGN)} {noun}"
            )  # fmt: skip
            if made not in self.used and len(set(made.split())) == len(made.split()):
                self.used.add(made)
                return made

    def song(self) -> str:
        """A title that may come again."""
        return f"{self.rng.choice(_HEADS)} {self.rng.choice(_NOUNS)}"

    def person(self) -> str:
        """A performer."""
        return self.rng.choice(_PEOPLE)

    def year(self) -> int:
        """A plausible year."""
        return self.rng.randint(1931, 2023)


Maker = Callable[[random.Random, Names], Unit]
_UNITS: dict[str, list[Maker]] = defaultdict(list)


def _in(*libraries: str) -> Callable[[Maker], Maker]:
    def note(maker: Maker) -> Maker:
        for library in libraries:
            _UNITS[library].append(maker)
        return maker

    return note


def _ext(rng: random.Random) -> str:
    return rng.choice(("mkv", "mkv", "mp4", "avi", "m4v"))


# Films --------------------------------------------------------------------------------------------------------------


@_in("movies")
def films_in_order(rng: random.Random, names: Names) -> Unit:
    t, y, e, s = names.title(), names.year(), _ext(rng), rng.choice(_SORTS)
    unit, f = Unit("healthy film"), f"{s}{t} ({y})"
    form = rng.randrange(14)
    if form == 0:
        unit.put(f"{f}/{t} ({y}).{e}", f"{f}/{t} ({y}).en.srt", f"{f}/poster.jpg", f"{f}/{t} ({y})-trailer.mp4")
    elif form == 1:
        unit.put(f"{f}/{t} ({y}) - 1080p.mkv", f"{f}/{t} ({y}) - 2160p.mkv")
    elif form == 2:
        cuts = rng.sample(("Director's Cut", "Theatrical", "Extended", "Uncut", "Colourised", "Nana's tape"), 2)
        unit.put(*(f"{f}/{t} ({y}) - {cut}.{e}" for cut in cuts))
    elif form == 3:
        word = rng.choice((" - cd", " - part", " pt", " - disc ", "-part", " (Part ", " CD "))
        close = ")" if "(" in word else ""
        unit.put(*(f"{f}/{t} ({y}){word}{n}{close}.{e}" for n in range(1, rng.randint(3, 4))))
    elif form == 4:
        unit.put(f"{f}/{t}.{e}")
    elif form == 5:
        bare = t.removeprefix("The ")
        unit.put(f"{s}The {bare} ({y})/{bare}, The ({y}).{e}")
    elif form == 6:
        one, two = names.song(), rng.choice(_NOUNS)
        unit.put(f"{s}{one} & {two} ({y})/{one} and {two} ({y}).{e}")
    elif form == 7:
        unit.put(f"{f}/movie.{e}", f"{f}/fanart.jpg")
    elif form == 8:
        c = rng.choice(("Collection", "Trilogy", "Saga"))
        for n, word in enumerate(("", " Returns", " Forever"), 0):
            unit.put(f"{s}{t} {c}/{t}{word} ({y + n})/{t}{word} ({y + n}).{e}")
    elif form == 9:
        n = rng.randint(1900, 1960)
        unit.put(f"{s}{t} {n} ({max(y, n + 20)})/{t} {n} ({max(y, n + 20)}).{e}")
    elif form == 10:
        n = rng.randint(1700, 2600)
        unit.put(f"{s}{n} {t} ({y})/{n} {t} ({y}).{e}")
    elif form == 11:
        unit.put(f"{f} [xq-{rng.randint(1000, 99999)}]/{t} ({y}).{e}")
    elif form == 12:
        unit.put(f"{f}/{t} ({y}).{e}", f"{f}/Subs/English.srt", f"{f}/Extras/{names.song()}.mkv")
        unit.put(f"{f}/Trailers/{names.song()}.mp4")
    else:
        unit.put(f"{f}/VIDEO_TS/VIDEO_TS.VOB", f"{f}/VIDEO_TS/VTS_01_1.VOB", f"{f}/VIDEO_TS/VTS_01_2.VOB")
    return unit


@_in("movies")
def loose(rng: random.Random, names: Names) -> Unit:
    t, y, e = names.title(), names.year(), _ext(rng)
    unit = Unit("loose film")
    form = rng.randrange(4)
    if form < 2:
        path = f"{rng.choice(_SORTS)}{t} ({y}).{e}"
        unit.put(path)
        if form:
            unit.put(path.rpartition(".")[0] + ".de.srt")
        unit.say("loose-film", path)
    elif form == 2:
        c = rng.choice(("Trilogy", "Collection"))
        unit.put(f"{t} {c}/{t} ({y}).{e}", f"{t} {c}/{t} 2 ({y + 3}).{e}", f"{t} {c}/{t} 3 ({y + 5}).{e}")
        for n in ("", " 2", " 3"):
            unit.say("loose-film", next(p for p in unit.files if p.startswith(f"{t} {c}/{t}{n} (")))
    else:
        box = rng.choice(("unsorted", "New Folder", "Incoming", "to sort", "Neuer Ordner"))
        path = f"{box}/{t} ({y}).{e}"
        unit.put(path, f"{box}/{(u := names.title())} ({y + 1}).{e}")
        unit.say("loose-film", path)
        unit.say("loose-film", f"{box}/{u} ({y + 1}).{e}")
    return unit


@_in("movies")
def yearless(rng: random.Random, names: Names) -> Unit:
    t, y, e, s = names.title(), names.year(), _ext(rng), rng.choice(_SORTS)
    unit = Unit("year missing")
    if rng.random() < 0.3:
        unit.put(f"{s}{t}/{t}.{e}")
    elif rng.random() < 0.5:
        unit.put(f"{s}{t}/{t} ({y}).{e}")
    else:
        n = rng.randint(1500, 2700)
        t = f"{n}"
        while t in names.used:
            n += 1
            t = f"{n}"
        names.used.add(t)
        unit.put(f"{s}{t}/{t}.{e}")
    unit.say("year-missing", f"{s}{t}/")
    return unit


@_in("movies")
def disagreeing_film(rng: random.Random, names: Names) -> Unit:
    t, y, e, s = names.title(), names.year(), _ext(rng), rng.choice(_SORTS)
    unit = Unit("folder disagrees")
    path = f"{s}{t} ({y})/" + rng.choice((f"{t} ({y + 1}).{e}", f"{names.title()} ({y}).{e}", f"{names.title()}.{e}"))
    unit.put(path)
    unit.say("folder-disagrees", path)
    return unit


@_in("movies")
def crowded(rng: random.Random, names: Names) -> Unit:
    t, y, e, s = names.title(), names.year(), _ext(rng), rng.choice(_SORTS)
    unit, f = Unit("several films"), f"{s}{t} ({y})"
    unit.put(f"{f}/{t} ({y}).{e}")
    form = rng.randrange(5)
    if form == 0:
        unit.put(f"{f}/{names.title()} ({names.year()}).{e}")
    elif form == 1:
        unit.put(f"{f}/{names.title()}.{e}")
    elif form == 2:
        unit.put(f"{f}/{t} 2 ({y + 4}).{e}")
    elif form == 3:
        unit.put(f"{f}/{names.title()} ({y}).{e}", f"{f}/{names.title()} ({y + 2}).{e}")
    else:
        unit.put(f"{f}/{t} {rng.choice(('II', 'III', '3'))}.{e}")
    unit.say("several-films", f"{f}/")
    return unit


@_in("movies")
def unlabelled(rng: random.Random, names: Names) -> Unit:
    t, y, s = names.title(), names.year(), rng.choice(_SORTS)
    unit, f = Unit("versions unlabelled"), f"{s}{t} ({y})"
    form = rng.randrange(3)
    unit.put(f"{f}/{t} ({y}).mkv", f"{f}/" + (f"{t} ({y}).mp4", f"{t}.avi", f"{t} ({y}) (1).mkv")[form])
    unit.say("versions-unlabelled", f"{f}/")
    return unit


@_in("movies")
def part_gap(rng: random.Random, names: Names) -> Unit:
    t, y, e, s = names.title(), names.year(), _ext(rng), rng.choice(_SORTS)
    unit, f = Unit("part missing"), f"{s}{t} ({y})"
    numbers = rng.choice(((1, 3), (2,), (1, 2, 4), (3,), (2, 3), (1, 4)))
    form = rng.randrange(8)
    for n in numbers:
        letter = "abcdefgh"[n - 1]
        unit.put(
            f"{f}/"
            + (
                f"{t} ({y}) - cd{n}.{e}",
                f"{t} ({y}) - part {n}.{e}",
                f"{t} ({y}).pt{n}.{e}",
                f"{t} ({y}) (Disc {n}).{e}",
                f"CD{n}/{t} ({y}).{e}",
                f"{t} ({y}) Part {letter.upper()}.{e}",
                f"{t} ({y}) - Teil {n}.{e}",
                f"{t} - CD {n}.{e}",
            )[form]
        )
    unit.say("part-missing")
    return unit


@_in("movies")
def cluttered_film(rng: random.Random, names: Names) -> Unit:
    t, y, e, s = names.title(), names.year(), _ext(rng), rng.choice(_SORTS)
    unit, f = Unit("release words"), f"{s}{t} ({y})"
    dots = t.replace(" ", ".")
    form = rng.randrange(7)
    unit.put(
        (
            f"{f}/{dots}.{y}.1080p.BluRay.x264-ORLO.{e}",
            f"{f}/{dots}.{y}.{e}",
            f"{f}/{t.replace(' ', '_')}_({y}).{e}",
            f"{f}/{t} ({y}) 720p WEB-DL AAC2.0 H.264.{e}",
            f"{f}/{t} ({y}) [BDRip] [x265].{e}",
            f"{f}/{t} ({y}) German DL DVDRip XviD.{e}",
            f"{s}{dots}.{y}.2160p.WEB.H265-KIVO/{dots}.{y}.2160p.WEB.H265-KIVO.{e}",
        )[form]
    )
    unit.say("release-words")
    return unit


@_in("movies", "series")
def stray_sound(rng: random.Random, names: Names) -> Unit:
    unit, a, t = Unit("album among videos"), names.person(), names.title()
    f = f"{a} - {t}"
    tags = {"artist": a, "album": t}
    for n in range(1, rng.randint(3, 6)):
        song = names.song()
        unit.files[f"{f}/{n:02d} - {song}.mp3"] = {**tags, "title": song, "tracknumber": str(n)}
    unit.say("kind-unexpected", f"{f}/")
    return unit


@_in("movies")
def stray_episode(rng: random.Random, names: Names) -> Unit:
    unit, t = Unit("series among films"), names.title()
    e = _ext(rng)
    f = f"{t} ({names.year()})"
    if rng.random() < 0.5:
        unit.put(*(f"{f}/Season 01/{t} - S01E{n:02d}.{e}" for n in range(1, 4)))
        unit.say("kind-unexpected", f"{f}/")
    else:
        unit.put(f"{t} - S02E05 - {names.song()}.{e}")
        unit.say("kind-unexpected", f"{next(iter(unit.files))}")
    return unit


# Series -------------------------------------------------------------------------------------------------------------


def _mark(rng: random.Random) -> Callable[[int, int], str]:
    return rng.choice(
        (
            lambda s, n: f"S{s:02d}E{n:02d}",
            lambda s, n: f"s{s:02d}e{n:02d}",
            lambda s, n: f"{s}x{n:02d}",
        )
    )


def _season(rng: random.Random) -> Callable[[int], str]:
    return rng.choice(
        (
            lambda s: f"Season {s:02d}",
            lambda s: f"Season {s}",
            lambda s: f"Staffel {s}",
            lambda s: f"Saison {s}",
            lambda s: f"S{s:02d}",
            lambda s: f"Temporada {s}",
            lambda s: f"Stagione {s:02d}",
        )
    )


@_in("series")
def series_in_order(rng: random.Random, names: Names) -> Unit:
    t, y, e, s = names.title(), names.year(), _ext(rng), rng.choice(("", "", "", "Kids/", "Anime/", "Dokus/"))
    unit, f = Unit("healthy series"), f"{s}{t} ({y})"
    m, season = _mark(rng), _season(rng)
    form = rng.randrange(16)
    if form < 3:
        for one in range(1, 3):
            unit.put(*(f"{f}/{season(one)}/{t} - {m(one, n)} - {names.song()}.{e}" for n in range(1, 6)))
        unit.put(f"{f}/poster.jpg", f"{f}/Specials/{t} - S00E01 - {names.song()}.{e}")
    elif form == 3:
        unit.put(*(f"{f}/{t} - 2019-03-{n:02d}.{e}" for n in (4, 5, 9, 12)))
    elif form == 4:
        unit.put(*(f"{f}/{t} - {n:03d}.{e}" for n in (1, 2, 3, 7, 8)))
    elif form == 5:
        unit.put(*(f"{f}/Episode {n} - {names.song()}.{e}" for n in range(1, 5)))
    elif form == 6:
        unit.put(f"{f}/{season(1)}/{t} - S01E01-E03.{e}", f"{f}/{season(1)}/{t} - S01E04.{e}")
    elif form == 7:
        unit.put(*(f"{f}/{season(1)}/{t} - S01E01{p} - {names.song()}.{e}" for p in "ab"))
        unit.put(f"{f}/{season(1)}/{t} - S01E02 - {names.song()}.{e}")
    elif form == 8:
        unit.put(
            f"{f}/{season(1)}/{t} - S01E01 - Crooked Anvil.{e}", f"{f}/{season(1)}/{t} - S01E01 - Golden Ferry.{e}"
        )
    elif form == 9:
        n = rng.randint(1900, 1945)
        g = f"{s}{t} {n} ({max(y, n + 30)})"
        unit.put(*(f"{g}/{season(1)}/{t} {n} - {m(1, k)} - {names.song()}.{e}" for k in range(1, 4)))
    elif form == 10:
        unit.put(*(f"{f}/{season(2)}/{k:02d} - {names.song()}.{e}" for k in range(1, 4)))
    elif form == 11:
        unit.put(*(f"{f}/{season(1)}/{t} - {m(1, k)}.{e}" for k in (1, 2, 3)))
        unit.put(*(f"{f}/{season(1)}/{t} - {m(1, k)}.en.srt" for k in (1, 2, 3)))
    elif form == 12:
        unit.put(*(f"{f}/{season(1)}/{t} - S01E01 - {q}.{e}" for q in ("720p", "1080p")))
    elif form == 13:
        unit.put(*(f"{f}/{t} - E{k:02d}.{e}" for k in (1, 2, 3, 4)))
    elif form == 14:
        unit.put(*(f"{f}/{season(1)}/{t} - {m(1, k)}.{e}" for k in (1, 2)), f"{f}/Extras/{names.song()}.mkv")
        unit.put(f"{f}/{season(1)}/Featurettes/{names.song()}.mp4", f"{f}/theme.mp3")
    else:
        bare = t.removeprefix("The ")
        g = f"{s}{bare}, The ({y})"
        unit.put(*(f"{g}/{season(1)}/The {bare} - {m(1, k)}.{e}" for k in (1, 2, 3)))
    return unit


@_in("series")
def no_number(rng: random.Random, names: Names) -> Unit:
    t, y, e = names.title(), names.year(), _ext(rng)
    unit, f = Unit("number unreadable"), f"{t} ({y})/Season 01"
    unit.put(*(f"{f}/{t} - S01E{n:02d}.{e}" for n in (1, 2, 3)))
    bad = rng.choice((f"{f}/{t} - {names.song()}.{e}", f"{f}/{names.song()}.{e}", f"{f}/{t} S01.{e}"))
    unit.put(bad)
    unit.say("number-unreadable", bad)
    return unit


@_in("series")
def no_season_folder(rng: random.Random, names: Names) -> Unit:
    t, y, e, m = names.title(), names.year(), _ext(rng), _mark(rng)
    unit, f = Unit("season folder missing"), f"{t} ({y})"
    seasons = rng.choice(((1,), (2,), (1, 2)))
    for one in seasons:
        unit.put(*(f"{f}/{t} - {m(one, n)}.{e}" for n in (1, 2, 3)))
    unit.say("season-folder-missing", f"{f}/")
    return unit


@_in("series")
def wrong_season(rng: random.Random, names: Names) -> Unit:
    t, y, e, m, season = names.title(), names.year(), _ext(rng), _mark(rng), _season(rng)
    unit, f = Unit("season disagrees"), f"{t} ({y})"
    unit.put(*(f"{f}/{season(1)}/{t} - {m(1, n)}.{e}" for n in (1, 2, 3)))
    unit.put(*(f"{f}/{season(2)}/{t} - {m(2, n)}.{e}" for n in (1, 2)))
    bad = f"{f}/{season(1)}/{t} - {m(2, 3)}.{e}"
    unit.put(bad)
    unit.say("season-folder-disagrees", bad)
    return unit


@_in("series")
def special_astray(rng: random.Random, names: Names) -> Unit:
    t, y, e, season = names.title(), names.year(), _ext(rng), _season(rng)
    unit, f = Unit("special misplaced"), f"{t} ({y})"
    unit.put(*(f"{f}/{season(1)}/{t} - S01E{n:02d}.{e}" for n in (1, 2, 3)))
    if rng.random() < 0.6:
        bad = f"{f}/{season(1)}/{t} - S00E0{rng.randint(1, 9)} - {names.song()}.{e}"
    else:
        home = rng.choice(("Specials", "Season 00", "Season 0", "Extras S00"[:8]))
        bad = f"{f}/{'Specials' if home == 'Extras S' else home}/{t} - S01E04.{e}"
    unit.put(bad)
    unit.say("special-misplaced", bad)
    return unit


@_in("series")
def hole(rng: random.Random, names: Names) -> Unit:
    t, y, e, m, season = names.title(), names.year(), _ext(rng), _mark(rng), _season(rng)
    unit, f = Unit("episode missing"), f"{t} ({y})"
    form = rng.randrange(3)
    if form == 0:
        unit.put(*(f"{f}/{season(1)}/{t} - {m(1, n)}.{e}" for n in (1, 2, 4, 5)))
        unit.say("episode-missing", f"{f}/{season(1)}/")
    elif form == 1:
        unit.put(*(f"{f}/{season(3)}/{n:02d} {names.song()}.{e}" for n in (2, 3, 6)))
        unit.say("episode-missing", f"{f}/{season(3)}/")
    else:
        unit.put(*(f"{f}/{t} - E{n:02d}.{e}" for n in (1, 2, 5)))
        unit.say("episode-missing", f"{f}/")
    return unit


@_in("series")
def twice(rng: random.Random, names: Names) -> Unit:
    t, y, season = names.title(), names.year(), _season(rng)
    unit, f = Unit("episode twice"), f"{t} ({y})"
    unit.put(*(f"{f}/{season(1)}/{t} - S01E{n:02d}.mkv" for n in (1, 2, 3)))
    bad = f"{f}/{season(1)}/" + rng.choice((f"{t} - S01E02.mp4", f"{t} - s01e02.avi", f"{t} - 1x02.mkv"))
    unit.put(bad)
    pair = sorted((bad, f"{f}/{season(1)}/{t} - S01E02.mkv"))
    unit.say("episode-twice", pair[1])
    return unit


@_in("series")
def split(rng: random.Random, names: Names) -> Unit:
    n, y, e = rng.choice(_NOUNS), names.year(), _ext(rng)
    h = rng.choice(_HEADS)
    t = names.title()
    one, two = rng.choice(
        (
            (t, t.lower()),
            (t, t.upper()),
            (f"The {h} {n} {y}x"[:-5].strip() + f" Tale {len(names.used)}", f"{h} {n} Tale {len(names.used)}"),
            (f"{t} é Ligne", f"{t} e Ligne"),
            (f"{t} Brønd", f"{t} Brond"),
            (f"{t} Häuser", f"{t} Haeuser"),
            (f"{t}: It's Here".replace(":", ""), f"{t} Its Here"),
            (f"{t} - Home", f"{t} Home"),
            (f"{t}", f"{t}!"),
            (f"{t} & Co", f"{t} & Co."[:-1] + ","),
        )
    )
    unit = Unit("series split")
    unit.put(*(f"{one} ({y})/Season 01/{one} - S01E{k:02d}.{e}" for k in (1, 2)))
    unit.put(*(f"{two} ({y})/Season 02/{two} - S02E{k:02d}.{e}" for k in (1, 2)))
    folded = f"{one} ({y})".casefold() == f"{two} ({y})".casefold()
    unit.say("case-clash" if folded else "series-split", sorted((f"{one} ({y})/", f"{two} ({y})/"))[1])
    return unit


@_in("series")
def split_over_sorts(rng: random.Random, names: Names) -> Unit:
    t, y, e = names.title(), names.year(), _ext(rng)
    unit = Unit("series split over sort folders")
    unit.put(*(f"Kids/{t} ({y})/Season 01/{t} - S01E{k:02d}.{e}" for k in (1, 2)))
    unit.put(*(f"Drama/{t} ({y})/Season 02/{t} - S02E{k:02d}.{e}" for k in (1, 2)))
    unit.say("series-split", f"Kids/{t} ({y})/")
    return unit


@_in("series")
def episode_parts(rng: random.Random, names: Names) -> Unit:
    t, y, e = names.title(), names.year(), _ext(rng)
    unit, f = Unit("episode's part missing"), f"{t} ({y})/Season 01"
    word = rng.choice((" - part ", " pt", " - cd", "-part"))
    unit.put(f"{f}/{t} - S01E01{word}1.{e}", f"{f}/{t} - S01E01{word}3.{e}", f"{f}/{t} - S01E02.{e}")
    unit.say("part-missing")
    return unit


@_in("series")
def other_series(rng: random.Random, names: Names) -> Unit:
    t, y, e = names.title(), names.year(), _ext(rng)
    unit, f = Unit("series' folder disagrees"), f"{t} ({y})/Season 01"
    unit.put(*(f"{f}/{t} - S01E{n:02d}.{e}" for n in (1, 2)))
    bad = f"{f}/" + rng.choice((f"{names.title()} - S01E03.{e}", f"{t} ({y + 2}) - S01E03.{e}"))
    unit.put(bad)
    unit.say("folder-disagrees", bad)
    return unit


@_in("series")
def cluttered_season(rng: random.Random, names: Names) -> Unit:
    t, y, e = names.title(), names.year(), _ext(rng)
    unit, f = Unit("season's release words"), f"{t} ({y})/Season 01"
    dots = t.replace(" ", ".")
    if rng.random() < 0.5:
        unit.put(*(f"{f}/{dots}.S01E{n:02d}.1080p.WEB.h264-NIRO.{e}" for n in (1, 2, 3)))
        unit.say("release-words", f"{f}/")
    else:
        unit.put(*(f"{f}/{t} - S01E{n:02d}.{e}" for n in (1, 2)), bad := f"{f}/{dots}.S01E03.HDTV.XviD.{e}")
        unit.say("release-words", bad)
    return unit


@_in("series")
def yearless_series(rng: random.Random, names: Names) -> Unit:
    t, e = names.title(), _ext(rng)
    unit = Unit("series without a year")
    unit.put(*(f"{t}/Season 01/{t} - S01E{n:02d}.{e}" for n in (1, 2)))
    unit.say("year-missing", f"{t}/")
    return unit


@_in("movies")
def film_subtitles(rng: random.Random, names: Names) -> Unit:
    return _subtitles(rng, names, series=False)


@_in("series")
def episode_subtitles(rng: random.Random, names: Names) -> Unit:
    return _subtitles(rng, names, series=True)


def _subtitles(rng: random.Random, names: Names, *, series: bool) -> Unit:
    t, y = names.title(), names.year()
    f = f"{t} ({y})"
    unit = Unit("subtitles")
    main = f"{f}/Season 01/{t} - S01E01" if series else f"{f}/{t} ({y})"
    unit.name += " of an episode" if series else " of a film"
    unit.put(f"{main}.mkv")
    if series:
        unit.put(f"{f}/Season 01/{t} - S01E02.mkv")
    if rng.random() < 0.5:
        bad = f"{main}.srt"
        unit.say("subtitle-language-missing", bad)
    else:
        bad = f"{f}/Season 01/{t} - S01E07.en.srt" if series else f"{f}/{names.title()} ({y - 3}).en.srt"
        unit.say("subtitle-stray", bad)
    unit.put(bad)
    return unit


# Music --------------------------------------------------------------------------------------------------------------


def _album(
    unit: Unit,
    names: Names,
    folder: str,
    artist: str,
    album: str,
    numbers: list[int],
    *,
    cover: bool = True,
    ext: str = "flac",
) -> list[str]:
    style = names.rng.choice(("{n:02d} - {t}", "{n:02d} {t}", "{n:02d}. {t}", "{n}. {t}"))
    paths: list[str] = []
    for n in numbers:
        song = names.song()
        path = f"{folder}/{style.format(n=n, t=song)}.{ext}"
        unit.files[path] = {"artist": artist, "album": album, "title": song, "tracknumber": str(n)}
        paths.append(path)
    if cover:
        unit.put(f"{folder}/{names.rng.choice(('cover.jpg', 'folder.jpg', 'front.png', 'Cover.jpg', 'album.webp'))}")
    return paths


def _home(rng: random.Random, artist: str, album: str, year: int) -> str:
    return rng.choice(
        (f"{artist}/{album} ({year})", f"{artist}/{album}", f"{artist}/{year} - {album}", f"{artist} - {album}")
    )


@_in("music")
def albums_in_order(rng: random.Random, names: Names) -> Unit:
    a, t, y = names.person(), names.title(), names.year()
    unit, f, ext = Unit("healthy album"), _home(rng, a, t, y), rng.choice(("flac", "mp3", "m4a", "ogg"))
    form = rng.randrange(10)
    if form < 3:
        _album(unit, names, f, a, t, list(range(1, rng.randint(5, 12))), ext=ext)
    elif form == 3:
        for disc in (1, 2):
            _album(unit, names, f"{f}/{rng.choice(('CD', 'Disc ', 'Disk '))}{disc}", a, t, [1, 2, 3, 4], ext=ext)
            for path, tags in unit.files.items():
                if isinstance(tags, dict) and f"{disc}/" in path and "title" in tags:
                    tags["discnumber"] = str(disc)
    elif form == 4:
        for n in range(1, 6):
            song = names.song()
            unit.files[f"{f}/{n:02d} - {song}.{ext}"] = {
                "artist": a, "album": t, "title": f"{song} (feat. {names.person()})", "tracknumber": str(n), "cover": True,
            }  # fmt: skip
    elif form == 5:
        f = f"Various Artists/{t} ({y})"
        for n in range(1, 6):
            who, song = names.person(), names.song()
            unit.files[f"{f}/{n:02d} - {who} - {song}.{ext}"] = {
                "artist": who, "albumartist": "Various Artists", "album": t, "title": song, "tracknumber": str(n),
            }  # fmt: skip
        unit.put(f"{f}/cover.jpg")
    elif form == 6:
        song = names.song()
        unit.files[f"{a}/{a} - {song}.{ext}"] = {"artist": a, "title": song, "album": song, "cover": True}
    elif form == 7:
        _album(unit, names, f, a, t, [1, 2], ext=ext)
    elif form == 8:
        for side in "AB":
            for n in (1, 2, 3):
                song = names.song()
                unit.files[f"{f}/{side}{n} {song}.{ext}"] = {"artist": a, "album": t, "title": song}
        unit.put(f"{f}/cover.jpg")
    else:
        for n in (101, 102, 103, 201, 202):
            song = names.song()
            unit.files[f"{f}/{n} - {song}.{ext}"] = {
                "artist": a, "album": f"{t} ({rng.choice(('Deluxe Edition', 'Remastered', 'Disc 1'))})", "title": song,
                "tracknumber": str(n % 100), "discnumber": str(n // 100),
            }  # fmt: skip
        unit.put(f"{f}/folder.jpg")
    return unit


@_in("music")
def flawed_album(rng: random.Random, names: Names) -> Unit:
    a, t, y = names.person(), names.title(), names.year()
    f, ext = _home(rng, a, t, y), rng.choice(("flac", "mp3", "m4a", "ogg"))
    form = rng.randrange(11)
    unit = Unit(f"flawed album {form}")
    if form == 0:
        numbers = rng.choice(([1, 2, 4, 5], [2, 3, 4, 5], [1, 2, 3, 7], [3, 4, 5]))
        _album(unit, names, f, a, t, numbers, ext=ext)
        unit.say("track-missing", f"{f}/")
    elif form == 1:
        _album(unit, names, f, a, t, [1, 2, 3, 4], ext=ext)
        song = names.song()
        bad = f"{f}/03 - {song}.{ext}"
        other = next(p for p in unit.files if p.startswith((f"{f}/03", f"{f}/3.")))
        if bad == other:
            return albums_in_order(rng, names)
        unit.files[bad] = {"artist": a, "album": t, "title": song, "tracknumber": "3"}
        unit.say("track-twice", sorted((bad, other))[1])
    elif form == 2:
        _album(unit, names, f, a, t, [1, 2, 3], ext=ext)
        bad = f"{f}/{(song := names.song() + ' Reprise')}.{ext}"
        unit.files[bad] = {"artist": a, "album": t, "title": song}
        unit.say("track-number-missing", bad)
    elif form == 3:
        paths = _album(unit, names, f, a, t, [1, 2, 3, 4], ext=ext)
        tags = unit.files[paths[1]]
        assert isinstance(tags, dict)
        what = rng.choice(("title", "artist", "album", "tracknumber"))
        tags[what] = {
            "title": names.song() + " Coda",
            "artist": "Vilma Strand",
            "album": names.title(),
            "tracknumber": "9",
        }[what]
        unit.say("tags-disagree", paths[1])
    elif form == 4:
        paths = _album(unit, names, f, a, t, [1, 2, 3, 4], ext=ext)
        tags = unit.files[paths[2]]
        assert isinstance(tags, dict)
        del tags[rng.choice(("title", "artist", "album"))]
        unit.say("tags-missing", paths[2])
    elif form == 5:
        paths = _album(unit, names, f, a, t, [1, 2, 3, 4, 5, 6], ext=ext)
        other = names.title()
        for path in paths[rng.choice((2, 3, 4)) :]:
            tags = unit.files[path]
            assert isinstance(tags, dict)
            tags["album"] = other
        unit.say("albums-mixed", f"{f}/")
    elif form == 6:
        _album(unit, names, f, a, t, [1, 2, 3], cover=False, ext=ext)
        unit.say("cover-missing", f"{f}/")
    elif form == 7:
        paths = _album(unit, names, f, a, t, [1, 2, 3], ext=ext)
        unit.put(bad := f"{f}/{rng.choice(('09 - ', ''))}{names.song()} Lost.lrc", paths[0].rpartition(".")[0] + ".lrc")
        unit.say("lyrics-stray", bad)
    elif form == 8:
        _album(unit, names, f, a, t, [1, 2, 3], ext=ext)
        unit.put(bad := f"{f}/{names.song()}.mkv")
        unit.say("kind-unexpected", bad)
    elif form == 9:
        paths = _album(unit, names, f, a, t, [1, 2, 3, 4], ext=ext)
        for path in paths:
            tags = unit.files[path]
            assert isinstance(tags, dict)
            tags.clear()
            tags["bare"] = True
        unit.say("tags-missing", f"{f}/")
    else:
        paths = _album(unit, names, f, a, t, [1, 2, 3], ext=ext)
        for path in paths:
            tags = unit.files[path]
            assert isinstance(tags, dict)
            tags["album"] = names.title() if path == paths[0] else unit.files[paths[0]]["album"]  # type: ignore[index]
        unit.say("tags-disagree", f"{f}/")
    return unit


# Photos -------------------------------------------------------------------------------------------------------------


@_in("photos", "home-videos")
def pictures(rng: random.Random, names: Names) -> Unit:
    y, m, d = rng.randint(2004, 2023), rng.randint(1, 12), rng.randint(1, 27)
    day = f"{y}-{m:02d}-{d:02d}"
    at = f"{y}:{m:02d}:{d:02d} 12:%02d:00"
    tag = len(names.used)
    names.used.add(f"pictures {tag}")
    unit = Unit("pictures in order")
    form = rng.randrange(6)
    stem = rng.choice(("IMG_{:04d}", "DSC{:05d}", "P10{:05d}", "{:04d}"))
    if form == 0:
        f = f"{y}/{day} {rng.choice(('Harbour walk', 'Hochzeit Ahlen', 'Picnic', 'Lake Orla'))} {tag}"
    elif form == 1:
        f = (
            f"{y}/{m:02d}/{d:02d}-{tag}"
            if rng.random() < 0.1
            else f"{rng.choice(('Wedding', 'Urlaub', 'Trip to'))} Orlen {tag}"
        )
    elif form == 2:
        f = f"{day}"
    elif form == 3:
        f = f"{y}/{y}-{m:02d}/{rng.choice(('Birthday', 'Market', 'Anniversaire'))} {tag}"
    elif form == 4:
        f = f"Scans {tag}"
        unit.files[f"{f}/{y}-{m:02d} garden.jpg"] = {}
        unit.files[f"{f}/{day} porch.jpg"] = {"taken": "2023:01:02 10:00:00"} if rng.random() < 0.5 else {}
        return unit
    else:
        f = f"{y}"
        for n in range(3):
            unit.files[f"{f}/{y}{m:02d}{d:02d}_1{n}1500_{tag}.jpg"] = {"taken": at % n}
        return unit
    for n in range(1, rng.choice((4, 12))):
        unit.files[f"{f}/{stem.format(n + tag)}.jpg"] = {"taken": at % n}
    return unit


@_in("photos", "home-videos")
def flawed_pictures(rng: random.Random, names: Names) -> Unit:
    y, m, d = rng.randint(2004, 2023), rng.randint(1, 12), rng.randint(1, 27)
    day = f"{y}-{m:02d}-{d:02d}"
    at = f"{y}:{m:02d}:{d:02d} 12:%02d:00"
    tag = len(names.used)
    names.used.add(f"pictures {tag}")
    form = rng.randrange(4)
    unit = Unit(f"flawed pictures {form}")
    if form == 0:
        f = rng.choice((f"Old things {tag}", f"Box {tag}", f"{y}/Old things {tag}"))
        unit.files[bad := f"{f}/{rng.choice(('garden', 'IMG_0042', 'P1010077', f'{y} garden'))}.jpg"] = {}
        unit.say("date-unknown", bad)
    elif form == 1:
        other = f"{y}:{m:02d}:{d + 1:02d} 12:00:00" if rng.random() < 0.001 else f"{y - 1}:{m:02d}:{d:02d} 12:00:00"
        f = f"{day} Picnic {tag}"
        unit.files[f"{f}/IMG_0001.jpg"] = {"taken": at % 1}
        bad = f"{f}/IMG_0002.jpg" if rng.random() < 0.5 else f"Picnic {tag}/{day} 12.30.00.jpg"
        unit.files[bad] = {"taken": other}
        unit.say("date-disagrees", bad)
    elif form == 2:
        f = rng.choice(
            (f"{100 + tag % 800}CANON", f"New folder ({tag})", f"{tag}", f"DCIM/{100 + tag % 800}MEDIA", f"Neuer Ordner {tag}",
             f"{y}/{100 + tag % 800}APPLE", f"New folder {tag}/{100 + tag % 800}_PANA")
        )  # fmt: skip
        for n in range(1, 13):
            unit.files[f"{f}/IMG_{n:04d}.jpg"] = {"taken": at % n}
        unit.say("event-unnamed", f"{f}/")
    else:
        f = f"{day} Picnic {tag}"
        unit.files[f"{f}/IMG_0001.jpg"] = {"taken": at % 1}
        bad = f"{f}/IMG_0001{rng.choice((' (1)', ' - Copy', ' - Kopie', ' copy', '(2)', ' - copia'))}.jpg"
        unit.files[bad] = {"taken": at % 1}
        unit.say("copy-marked", bad)
    return unit


# All kinds ----------------------------------------------------------------------------------------------------------


@_in("movies", "series", "music")
def bad_names(rng: random.Random, names: Names) -> Unit:
    t, y = names.title(), names.year()
    form = rng.randrange(9)
    unit = Unit(f"bad name {form}")
    f = f"{t} ({y})"
    if form == 0:
        bad = f"{f}/{rng.choice(('What?', 'Notes: two', 'a|b', 'star*', ' lead', 'trail '))}.pdf"
        unit.put(bad)
        unit.say("character-unsafe", bad)
    elif form == 1:
        bad = f"{f}/{rng.choice(('CON', 'nul', 'Aux', 'COM1', 'lpt9'))}.{rng.choice(('pdf', 'nfo', 'md'))}"
        unit.put(bad)
        unit.say("name-reserved", bad)
    elif form == 2:
        bad = f"{f}/{'Long ' * 46}end.pdf"
        unit.put(bad)
        unit.say("name-too-long", bad)
    elif form == 3:
        bad = f"{f}/caf" + "e\u0301" + ".pdf"
        unit.put(bad)
        unit.say("name-encoding", bad)
    elif form == 4:
        unit.put(f"{f}/Booklet.pdf", bad := f"{f}/booklet.pdf")
        unit.say("case-clash", bad)
    elif form == 5:
        unit.files[bad := f"{f}/notes.pdf"] = b""
        unit.files[f"{f}/.nomedia"] = b""
        unit.say("file-empty", bad)
    elif form == 6:
        bad = f"{f}/{t}.{rng.choice(('mkv.part', 'mp4.crdownload', 'avi.!qb', 'mkv.download'))}"
        unit.put(bad)
        unit.say("file-unfinished", bad)
    elif form == 7:
        unit.folders.append(f"{t} ({y + 1})/Inner/Deep")
        unit.say("folder-empty", f"{t} ({y + 1})/")
    else:
        bad = f"{f}/{rng.choice(('Thumbs.db', '.DS_Store', 'desktop.ini', 'setup.exe', 'pack.rar', 'more.zip'))}"
        unit.put(bad)
        unit.say("junk", bad)
    unit.put(f"{f}/keep.md")
    return unit


_MAGIC = {
    "mkv": b"\x1aE\xdf\xa3\x9fB\x86\x81\x01B\xf7\x81\x01" + b"\0" * 400,
    "mp4": b"\0\0\0\x18ftypisom\0\0\2\0isomiso2" + b"\0" * 400,
    "m4v": b"\0\0\0\x18ftypM4V \0\0\2\0isomiso2" + b"\0" * 400,
    "avi": b"RIFF\0\x10\0\0AVI LIST" + b"\0" * 400,
    "wav": b"RIFF\0\x10\0\0WAVEfmt " + b"\0" * 400,
    "png": b"\x89PNG\r\n\x1a\n\0\0\0\rIHDR" + b"\0" * 400,
    "gif": b"GIF89a" + b"\0" * 400,
    "webp": b"RIFF\0\x10\0\0WEBPVP8 " + b"\0" * 400,
    "vob": b"\0\0\x01\xba" + b"\0" * 400,
    "pdf": b"%PDF-1.4\n" + b"\0" * 400,
}


@_in("movies")
def disguised_film(rng: random.Random, names: Names) -> Unit:
    return _disguised(rng, names, _VIDEO + _PICTURE)


@_in("music")
def disguised_sound(rng: random.Random, names: Names) -> Unit:
    return _disguised(rng, names, _SOUND)


@_in("photos")
def disguised_picture(rng: random.Random, names: Names) -> Unit:
    return _disguised(rng, names, _PICTURE)


_VIDEO = (("avi", "mkv"), ("mkv", "mp4"), ("mp4", "avi"), ("mp4", "mkv"))
_PICTURE = (("png", "jpg"), ("webp", "jpg"), ("gif", "png"))
_SOUND = (
    ("mp3", "flac"), ("flac", "mp3"), ("mp3", "m4a"), ("wav", "mp3"), ("ogg", "mp3"), ("mp3", "wav"), ("aac", "mp3"),
)  # fmt: skip


def _disguised(rng: random.Random, names: Names, pairs: tuple[tuple[str, str], ...]) -> Unit:
    y = names.year()
    t = names.title()
    unit = Unit("wrong extension")
    is_, named = rng.choice(pairs)
    unit.name += f" {is_} as {named}"
    if named in ("mkv", "mp4", "avi"):
        path = f"{t} ({y})/Extras/{names.song()}.{named}"
    elif named in ("jpg", "png"):
        path = f"{t} ({y})/poster.{named}"
    else:
        path = f"{t} ({y})/Extras/theme.{named}"
    unit.files[path] = _template(is_) if is_ in ("mp3", "flac", "ogg", "aac") else _MAGIC[is_]
    unit.say("extension-wrong", path)
    return unit


@cache
def _template(kind: str) -> bytes:
    """A tenth of a second of silence in a format, the MP3 with a tag before it."""
    codec, shape = {
        "mp3": ("libmp3lame", "mp3"), "flac": ("flac", "flac"), "m4a": ("aac", "ipod"), "ogg": ("libopus", "ogg"),
        "aac": ("aac", "adts"),
    }[kind]  # fmt: skip
    buffer = io.BytesIO()
    with av.open(buffer, "w", format=shape) as container:
        stream = container.add_stream(codec, rate=48000)
        assert isinstance(stream, av.AudioStream)
        stream.layout = "stereo"
        planar = codec in ("libmp3lame", "aac")
        samples = np.zeros((2, 4608), np.float32) if planar else np.zeros((1, 9216), np.int16)
        frame = av.AudioFrame.from_ndarray(
            samples if codec != "libmp3lame" else samples.astype(np.float32),
            format="fltp" if planar else "s16",
            layout="stereo",
        )
        frame.sample_rate = 48000
        container.mux(stream.encode(frame))
        container.mux(stream.encode(None))
    return buffer.getvalue()


@cache
def _cover() -> bytes:
    buffer = io.BytesIO()
    Image.new("RGB", (16, 16), (90, 120, 160)).save(buffer, "JPEG")
    return buffer.getvalue()


def _write_sound(path: Path, kind: str, tags: dict[str, object]) -> None:
    path.write_bytes(_template(kind))
    wanted = {name: str(value) for name, value in tags.items() if name not in ("cover", "bare")}
    if kind == "mp3":
        if wanted:
            easy = EasyID3()
            for name, value in wanted.items():
                easy[name] = value
            easy.save(path)
        if tags.get("cover"):
            full = ID3(path)
            full.add(APIC(mime="image/jpeg", type=3, data=_cover()))
            full.save(path)
        return
    easy = TagFile(path, easy=True)
    assert easy is not None
    for name, value in wanted.items():
        easy[name] = value
    easy.save()
    if tags.get("cover"):
        full = TagFile(path)
        assert full is not None
        if kind == "flac":
            picture = Picture()
            picture.data, picture.type, picture.mime = _cover(), 3, "image/jpeg"
            full.add_picture(picture)
        elif kind == "m4a":
            full["covr"] = [_cover()]
        else:
            import base64

            picture = Picture()
            picture.data, picture.type, picture.mime = _cover(), 3, "image/jpeg"
            full["metadata_block_picture"] = [base64.b64encode(picture.write()).decode()]
        full.save()


def _write(path: Path, content: bytes | dict[str, object]) -> None:
    path.parent.mkdir(parents=True, exist_ok=True)
    kind = path.suffix[1:].lower()
    if isinstance(content, bytes):
        path.write_bytes(content)
    elif kind in ("mp3", "flac", "m4a", "ogg"):
        _write_sound(path, kind, content)
    elif kind in ("jpg", "jpeg"):
        picture = Image.new("RGB", (16, 12), (60, 90, 60))
        exif = Image.Exif()
        if content.get("taken"):
            exif.get_ifd(0x8769)[0x9003] = str(content["taken"])
        picture.save(path, "JPEG", exif=exif)
    else:
        path.write_bytes(_MAGIC.get(kind, b"words of no format\n"))


def _plant(root: Path, library: str, seed: int, count: int) -> list[Unit]:
    rng = random.Random(f"{library} {seed}")
    names = Names(rng)
    units: list[Unit] = []
    taken: set[str] = set()
    while len(units) < count:
        maker = _UNITS[library][len(units) % len(_UNITS[library])] if len(units) < count * 0.7 else _UNITS[library][0]
        unit = maker(rng, names)
        tops = {"/".join(path.split("/")[:2]).casefold() for path in (*unit.files, *unit.folders)}
        if tops & taken:
            continue
        taken |= tops
        units.append(unit)
    for unit in units:
        for path, content in unit.files.items():
            _write(root / path, content)
        for folder in unit.folders:
            (root / folder).mkdir(parents=True, exist_ok=True)
    return units


def _owner(units: list[Unit], path: str) -> Unit | None:
    bare = path.rstrip("/")
    best: tuple[int, Unit] | None = None
    for unit in units:
        for own in (*unit.files, *unit.folders):
            if own == bare or own.startswith(bare + "/") or bare.startswith(own + "/"):
                return unit
            head = own.rpartition("/")[0]
            if head and bare.startswith(head + "/") and (best is None or len(head) > best[0]):
                best = (len(head), unit)
    return best[1] if best else None


def _judge(
    units: list[Unit], findings: list[dict[str, object]], show: bool
) -> tuple[Counter[str], Counter[str], Counter[str]]:
    hit, missed, false = Counter[str](), Counter[str](), Counter[str]()
    left = [(str(found["check"]), str(found["path"])) for found in findings]
    for unit in units:
        for slug, path in unit.expects:
            fits = [
                said
                for said in left
                if said[0] == slug and (said[1] == path if path is not None else _owner(units, said[1]) is unit)
            ]
            if fits:
                hit[slug] += 1
                left.remove(fits[0])
            else:
                missed[slug] += 1
                if show:
                    print(f"MISSED {slug:24} {path}  [{unit.name}] {sorted(unit.files)[:6]}")
    for slug, path in left:
        unit = _owner(units, path)
        if unit is not None and slug == "release-words" and ("release-words", None) in unit.expects:
            continue  # the folder and the file are cluttered alike: the contract does not say which is meant
        false[slug] += 1
        if show:
            print(f"FALSE  {slug:24} {path}  [{unit.name if unit else ''}] {sorted(unit.files)[:8] if unit else ''}")
    return hit, missed, false


def _promises(root: Path, findings: list[dict[str, object]]) -> int:
    """How many fixes would land on something that is there, or on each other."""
    bad, seen = 0, set[str]()
    for found in findings:
        fix = found.get("fix")
        if isinstance(fix, str) and not fix.endswith("/"):
            bad += (root / fix).exists() and fix.casefold() != str(found["path"]).casefold()
            bad += fix.casefold() in seen
            seen.add(fix.casefold())
    return bad


def main() -> None:
    """Plant, check, count, and print the table."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--seeds", type=int, default=10)
    parser.add_argument("--first", type=int, default=1)
    parser.add_argument("--units", type=int, default=120)
    parser.add_argument("--library", choices=sorted(_UNITS))
    parser.add_argument("--show", action="store_true")
    options = parser.parse_args()
    hit, missed, false = Counter[str](), Counter[str](), Counter[str]()
    taken = 0
    for seed in range(options.first, options.first + options.seeds):
        for library in (options.library,) if options.library else sorted(_UNITS):
            root = Path(tempfile.mkdtemp(prefix="planted-"))
            try:
                units = _plant(root, library, seed, options.units)
                done = subprocess.run(
                    [str(Path(__file__).parents[1] / "indice"), "check", str(root), "--library", library, "--jsonl"],
                    capture_output=True,
                    text=True,
                    check=False,
                )
                findings = [json.loads(line) for line in done.stdout.splitlines() if line]
                if done.returncode > 1:
                    print(done.stderr)
                for total, more in zip((hit, missed, false), _judge(units, findings, options.show), strict=True):
                    total.update(more)
                taken += _promises(root, findings)
            finally:
                shutil.rmtree(root)
    print(f"{'check':28} planted  found  false")
    for slug in sorted({*hit, *missed, *false}):
        print(f"{slug:28} {hit[slug] + missed[slug]:7} {hit[slug]:6} {false[slug]:6}")
    all_hit, all_missed, all_false = sum(hit.values()), sum(missed.values()), sum(false.values())
    print(
        f"found {all_hit / (all_hit + all_missed):.2%}, right {all_hit / (all_hit + all_false):.2%}, fixes "
        f"onto taken paths {taken}"
    )


if __name__ == "__main__":
    main()
