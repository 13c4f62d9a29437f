"""The household's folders, as real people leave them: most of it tidy, about a quarter named badly.

Built the same every time. Nothing outside the given folder is touched.
"""

from __future__ import annotations

import os
import random
import shutil
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from datetime import datetime, timedelta
from functools import partial
from pathlib import Path

from PIL import Image

from . import VERSION, is_built
from .media import write_moments, write_photo, write_subtitle, write_track, write_video
from .photographs import SCENES, render
from .posters import backdrop, cover, poster
from .verses import verses
from .world import Album, Episode, Film, Series, albums, films, series_list

__all__ = ["build_household"]


Task = Callable[[], None]

_DOUBTFUL = {
    "Dust Opera": "Dust Oprea (1971)/Dust Oprea (1971).mkv",
    "Postcards from the Breakwater": "Postcards (2007)/Postcards (2007).mp4",
    "Old Ropes": "Old Rope (1995)/Old Rope (1995).mp4",
    "The Oyster Parliament": "Oyster Parlament/oyster parlament.mp4",
    "Fog Signals": "Fog Signals (1987)/Fog Signals (1987).mp4",
}
"""Films whose names are so far off that nobody should decide on them alone."""

_EVENTS = (
    ("2009-08-14", "Regatta Day", "sea", 16),
    ("2011-12-24", "Christmas at the mill", "room", 12),
    ("2013-05-19", "Low water walk", "sea", 18),
    ("2014-10-03", "Kite day", "meadow", 14),
    ("2015-02-07", "Snow week", "snow", 20),
    ("2016-06-21", "Midsummer", "night", 12),
    ("2017-09-30", "Orchard", "wood", 18),
    ("2018-04-02", "Averley", "street", 16),
    ("2018-07-28", "Above the quarry", "hills", 20),
    ("2019-08-11", "Ferry to Sundry Isle", "sea", 20),
    ("2020-11-05", "Fog on the moor", "hills", 14),
    ("2021-05-15", "Petra's fortieth", "room", 14),
    ("2022-01-22", "First snow", "snow", 14),
    ("2022-10-16", "Wood fair", "wood", 16),
    ("2023-06-10", "Street party", "street", 20),
    ("2024-07-06", "Meadow camp", "meadow", 20),
)
_CAMERAS = (("Brask", "FieldMaster 3"), ("Ruun Optics", "R-20"), ("Pell", "Pocket 7"), ("Handl", "Phone 11 Pro"))
_PLACES: tuple[tuple[tuple[float, float], str, str], ...] = (
    ((54.49, -0.64), "Saltmere", "Norrow"),
    ((54.26, -0.44), "Kettle Quay", "Norrow"),
    ((53.96, -1.08), "Averley", "Norrow"),
    ((57.62, -6.25), "Sundry Isle", "Norrow"),
    ((46.32, 8.91), "Marrowgate", "Tavland"),
    ((54.53, -0.75), "Low Thimble", "Norrow"),
    ((37.98, 13.71), "Vellaspin", "Lisera"),
    ((68.11, 13.52), "Oddfell", "Tavland"),
    ((-36.72, 174.61), "Quillhorn", "Austerre"),
)
"""Where photos were taken, with what the household calls it: the town and the country."""
_WHERE = (0, 0, 1, 8, 4, 7, 5, 2, 6, 3, 5, 0, 0, 2, 0, 4)
"""The place of each event."""


def _touch(path: Path, content: bytes = b"") -> None:
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_bytes(content)


def _save(image_of: Callable[[], Image.Image], path: Path) -> None:
    path.parent.mkdir(parents=True, exist_ok=True)
    image_of().convert("RGB").save(path, quality=84)


def _messy_film(film: Film, place: int, root: Path) -> Path:
    """One of the ways in which films are named badly."""
    dotted = film.title.replace(" ", ".").replace("'", "")
    ways = (
        root / f"{dotted}.{film.year}.1080p.WEB.x264-TERN.mkv",
        root / film.title / f"{film.title}.mp4",
        root / f"{film.title} ({film.year})" / f"{film.title} ({film.year + 1}).mkv",
        root / "unsorted" / f"{film.title.lower().replace(' ', '_')}_{film.year}_dvdrip.avi",
        root / f"{dotted}.{film.year}.BluRay.720p.DTS.x264-KELP" / "klp-film720.mkv",
        root / "New Folder" / f"{film.title.upper()} {film.year}.mp4",
        root / f"{film.title}" / f"{film.title} [{film.year}] [1080p].mkv",
    )
    return ways[place % len(ways)]


def _film_tasks(root: Path) -> list[Task]:
    tasks: list[Task] = []
    messy = 0
    for place, film in enumerate(films()):
        rng = random.Random(f"place {film.id}")
        name = f"{film.title} ({film.year})".replace("?", "").replace(":", " -")
        folder = root / name
        path = folder / f"{name}.{rng.choice(('mp4', 'mp4', 'mkv', 'm4v'))}"
        if film.title in _DOUBTFUL:
            path = root / _DOUBTFUL[film.title]
            folder = path.parent
        elif place % 4 == 3:
            path = _messy_film(film, messy, root)
            messy += 1
            folder = path.parent
        minutes = film.minutes + rng.choice((-1, 0, 0, 1))
        tasks += _main_tasks(film, path, folder / name, minutes, ("eng", "deu") if place % 7 == 0 else ("eng",))
        tasks += _beside_a_film(film, place, path, folder if folder != root else None)
    tasks += [
        partial(_touch, root / "Thumbs.db", b"\xd0\xcf\x11\xe0"),
        partial(_touch, root / "Harbour Glass (1987)" / ".DS_Store", b"\0\0\0\1Bud1"),
        partial(_touch, root / "old stuff.zip", b"PK\5\6" + bytes(18)),
        partial(_touch, root / "Copper Wick (2012)" / "Copper Wick (2012).mkv"),
        partial(_touch, root / "Downloads" / "the.unfinished.pier.2020.mkv.part", b"\x1a\x45\xdf\xa3" + bytes(400)),
    ]
    return tasks


def _main_tasks(film: Film, path: Path, tidy: Path, minutes: float, languages: tuple[str, ...]) -> list[Task]:
    """The film itself: one is in two parts, one there in several versions."""
    make = partial(write_video, title=film.title, year=film.year, minutes=minutes)
    if film.title == "Signal Fires":
        return [partial(make, Path(f"{tidy} - part {n}.mp4"), minutes=film.minutes / 2) for n in (1, 2)]
    if film.title == "Ember Atlas":
        return [
            partial(make, Path(f"{tidy} - 1080p.mp4"), height=360),
            partial(make, Path(f"{tidy} - 480p.mp4"), height=180),
            partial(make, Path(f"{tidy} - Director's Cut.mp4"), minutes=film.minutes + 12),
        ]
    return [partial(make, path, languages=languages)]


def _beside_a_film(film: Film, place: int, path: Path, folder: Path | None) -> list[Task]:
    """Subtitles, and in a folder of its own pictures and a trailer, for some of them."""
    tasks: list[Task] = []
    if place % 4 == 0:
        lines = ("The tide is late tonight.", "It is we who are early.")
        tasks.append(partial(write_subtitle, path.with_suffix(".en.srt"), lines))
    if place % 9 == 0:
        tasks.append(partial(write_subtitle, path.with_suffix(".srt"), ("No language in this name.",)))
    if folder is None:
        return tasks
    if place % 3 == 0:
        tasks.append(partial(_save, partial(poster, film.title, film.year, film.director), folder / "poster.jpg"))
    if place % 5 == 0:
        tasks.append(partial(_save, partial(backdrop, film.title, film.year), folder / "backdrop.jpg"))
    if place % 12 == 0:
        trailer = folder / "Trailers" / f"{film.title} trailer.mp4"
        tasks.append(partial(write_video, trailer, title=film.title, year=film.year, minutes=0.5))
    return tasks


def _series_tasks(root: Path) -> list[Task]:
    tasks: list[Task] = []
    for place, series in enumerate(series_list()):
        named = "Gannet Row" if series.title == "Gannet Row" else f"{series.title} ({series.year})"
        for episode in series.episodes:
            tasks += _episode_tasks(series, episode, root / named, place)
        if place % 2 == 0:
            tasks.append(partial(_save, partial(poster, series.title, series.year), root / named / "poster.jpg"))
    again = root / "The Lampwrights (2014)" / "Season 02" / "The Lampwrights - S02E03 - 480p.mp4"
    tasks.append(partial(write_video, again, title="The Lampwrights", year=2015, minutes=44, height=180))
    tasks.append(partial(_touch, root / "Undercroft (2022)" / "desktop.ini", b"[.ShellClassInfo]"))
    return tasks


def _episode_tasks(series: Series, episode: Episode, folder: Path, place: int) -> list[Task]:
    """An episode that the household has, and the subtitle beside some."""
    running = episode.absolute or 0
    path = _episode_path(series, folder, episode.season, episode.number, episode.title, episode.date, running, place)
    if path is None:
        return []
    languages = ("jpn", "eng") if series.style == "running" else ("eng",)
    if series.title == "Die Fährleute":
        languages = ("deu",)
    year = series.year + episode.season
    make = partial(write_video, title=series.title, year=year, minutes=series.minutes, languages=languages, height=216)
    tasks: list[Task] = [partial(make, path)]
    if place == 0 and episode.season == 1:
        lines = ("Who lit that?", "Nobody. That is the trouble.")
        tasks.append(partial(write_subtitle, path.with_suffix(".en.srt"), lines))
    return tasks


def _episode_path(
    series: Series, folder: Path, season: int, number: int, title: str, date: str, running: int, place: int
) -> Path | None:
    """Where an episode lies; None for those that the household never got."""
    safe = title.replace("/", "-")
    mark = f"S{season:02d}E{number:02d}"
    inside = folder / ("Specials" if season == 0 else f"Season {season:02d}")
    if (series.title, season, number) in (
        ("The Lampwrights", 2, 6),
        ("The Lampwrights", 2, 7),
        ("Kessel & Daughters", 2, 4),
        ("Undercroft", 1, 9),
    ):
        return None
    match series.title:
        case "The Saltmere Evening":
            return folder / f"{series.title} - {date} - {safe}.mp4"
        case "灯台守の猫":
            return folder / f"[Shiokaze] {series.title} - {running:02d} [720p].mkv"
        case "Gannet Row":
            return folder / f"Gannet Row {season}x{number:02d} {safe}.mp4"
        case "Tollgate Nights":
            return inside / f"tollgate.nights.s{season:02d}e{number:02d}.720p.web.h264-kelp.mkv"
        case "Die Fährleute":
            return folder / "Staffel 1" / f"Folge {number} - {safe}.mp4"
        case "Kessel & Daughters" if season == 2:
            wrong = inside if number != 5 else folder / "Season 01"
            return wrong / f"Kessel & Daughters - {mark} - {safe}.mp4"
        case "Bramblewick Lane":
            return root_of(folder) / "Bramblewick Lane (2005)" / f"{number:02d}. {safe}.m4v"
        case _:
            return inside / f"{series.title} - {mark} - {safe}.mp4"


def root_of(folder: Path) -> Path:
    """The library's folder that a series' folder lies in."""
    return folder.parent


def _album_tasks(root: Path) -> list[Task]:
    tasks: list[Task] = []
    for place, album in enumerate(albums()):
        rng = random.Random(f"place {album.id}")
        folder = root / album.artist / f"{album.title} ({album.year})"
        extension = ("flac", "flac", "mp3", "flac", "m4a")[place % 5]
        style = "tidy"
        if place % 4 == 2:
            style = ("no numbers", "dotted", "no tags", "artist first", "year first")[place // 4 % 5]
            folder = {
                "dotted": root
                / f"{album.artist.replace(' ', '.')}.-.{album.title.replace(' ', '.')}.({album.year}).[FLAC]",
                "artist first": root / f"{album.artist} - {album.title}",
                "year first": root / album.artist / f"{album.year} - {album.title}",
            }.get(style, folder)
        tasks += _track_tasks(album, folder, extension, style, embedded=place % 6 == 1, sings=place % 8 == 0)
        if place % 6 != 1 and place % 7 != 5:
            tasks.append(
                partial(
                    _save,
                    partial(cover, album.title, album.artist, album.year),
                    folder / rng.choice(("cover.jpg", "cover.jpg", "folder.jpg", "front.png")),
                )
            )
    tasks.append(partial(_touch, root / "Mothwing" / "Thumbs.db", b"\xd0\xcf\x11\xe0"))
    return tasks


def _track_tasks(album: Album, folder: Path, extension: str, style: str, *, embedded: bool, sings: bool) -> list[Task]:
    tasks: list[Task] = []
    number, last_disc = 0, 1
    discs = max(disc for *_, disc in album.tracks)
    for title, seconds, artist, disc in album.tracks:
        number = number + 1 if disc == last_disc else 1
        last_disc = disc
        guest = f"{artist} - " if album.artist == "Various Artists" else ""
        name = {
            "no numbers": f"{title}",
            "dotted": f"{number:02d}.{title.replace(' ', '.')}",
            "artist first": f"{number:02d} - {album.artist} - {title}",
        }.get(style, f"{number:02d} - {guest}{title}")
        place = folder / f"Disc {disc}" if discs > 1 else folder
        tags = {
            "title": title,
            "artist": artist,
            "album": album.title,
            "date": str(album.year),
            "genre": album.genres[0],
            "albumartist": album.artist,
        }
        if style != "no numbers":
            tags["tracknumber"] = str(number)
        if discs > 1 and extension != "m4a":
            tags["discnumber"] = str(disc)
        picture = cover(album.title, album.artist, album.year) if embedded else None
        tasks.append(
            partial(
                write_track,
                place / f"{name}.{extension}",
                title=title,
                seconds=seconds,
                artist=artist,
                tags=None if style == "no tags" else tags,
                picture=picture,
            )
        )
        if sings:
            tasks.append(partial(_touch, place / f"{name}.lrc", verses(title, seconds).encode()))
    return tasks


def _event_photos(root: Path, index: int) -> None:
    """All pictures of one occasion: a few scenes, several shots of each."""
    day, event, scene, count = _EVENTS[index]
    rng = random.Random(f"event {index}")
    start = datetime.fromisoformat(day) + timedelta(hours=9)
    camera = _CAMERAS[index % len(_CAMERAS)]
    place, town, country = _PLACES[_WHERE[index]]
    is_known = index % 3 > 0
    folder = root / day[:4] / f"{day} {event}"
    if index % 5 == 2:
        folder = root / f"{event} {day[:4]}"
    elif index % 5 == 4:
        folder = root / "DCIM" / f"{100 + index}PELLP"
    scenes = [
        render(scene if shot < 4 else rng.choice(SCENES), 1000 * index + shot, (960, 640))
        for shot in range((count + 3) // 4 + 1)
    ]
    for shot in range(count):
        moment = start + timedelta(minutes=shot * rng.randint(2, 9), seconds=rng.randint(0, 59))
        base = scenes[shot * len(scenes) // count]
        zoom = rng.uniform(0.76, 1.0)
        width, height = int(960 * zoom), int(640 * zoom)
        left, top = rng.randint(0, 960 - width), rng.randint(0, 640 - height)
        picture = base.crop((left, top, left + width, top + height)).resize((900, 600), Image.Resampling.BILINEAR)
        if shot % 6 == 5:
            picture = picture.crop((200, 0, 600, 600))
        name = {
            0: f"IMG_{2400 + index * 40 + shot:04d}.JPG",
            1: f"{moment:%Y%m%d_%H%M%S}.jpg",
            2: f"DSC{index * 60 + shot:05d}.JPG",
            3: f"IMG-{moment:%Y%m%d}-WA{shot:04d}.jpg",
        }[index % 4]
        if shot == 3 and index % 3 == 0:
            name = f"{event} {('at first light', 'everybody', 'before the rain')[index // 3 % 3]}.jpg"
        known = None if index % 4 == 3 else moment
        write_photo(
            folder / name,
            picture,
            moment=known,
            camera=camera if index % 4 != 3 else None,
            place=(place[0] + rng.uniform(-0.02, 0.02), place[1] + rng.uniform(-0.02, 0.02)) if is_known else None,
            called={"town": town, "country": country} if is_known else None,
        )
        if shot == 4 and index % 2 == 0:
            stem, _, extension = name.rpartition(".")
            write_photo(folder / f"{stem} (1).{extension}", picture, moment=known, camera=camera, place=None)


def _photo_tasks(root: Path) -> list[Task]:
    tasks: list[Task] = [partial(_event_photos, root, index) for index in range(len(_EVENTS))]
    for index in range(22):
        moment = datetime(2023, 1, 10, 12) + timedelta(days=index * 17, hours=index % 9)
        tasks.append(partial(_loose_photo, root / "Phone" / f"PXL_{moment:%Y%m%d_%H%M%S}123.jpg", index, moment))
    for index in range(8):
        tasks.append(partial(_scanned, root / "Scans" / f"Scan_{index + 1:04d}.jpg", index))
    tasks.append(
        partial(_touch, root / "Phone" / "not really a picture.jpg", b"This file only says that it is a picture.\n")
    )
    return tasks


def _loose_photo(path: Path, index: int, moment: datetime) -> None:
    picture = render(SCENES[index % len(SCENES)], 77000 + index, (900, 600))
    if index % 4 == 1:
        write_moments(path.with_suffix(".mov"), picture)
    write_photo(
        path,
        picture,
        moment=moment,
        camera=_CAMERAS[3],
        place=_PLACES[index % len(_PLACES)][0],
        called=dict(zip(("town", "country"), _PLACES[index % len(_PLACES)][1:], strict=True)),
    )


def _scanned(path: Path, index: int) -> None:
    picture = render(SCENES[(index * 3) % len(SCENES)], 88000 + index, (720, 520)).convert("L").convert("RGB")
    sepia = Image.merge(
        "RGB",
        [
            band.point([min(255, int(v * gain + add)) for v in range(256)])
            for band, gain, add in zip(picture.split(), (1.0, 0.93, 0.78), (18, 10, 0), strict=True)
        ],
    )
    frame = Image.new("RGB", (760, 560), (244, 238, 222))
    frame.paste(sepia, (20, 20))
    write_photo(path, frame, moment=None, camera=None, place=None)


def _clip_tasks(root: Path) -> list[Task]:
    tasks: list[Task] = []
    for index in range(20):
        day, event, _, _ = _EVENTS[index % len(_EVENTS)]
        moment = datetime.fromisoformat(day) + timedelta(hours=10 + index % 8, minutes=index * 3)
        name = (
            f"VID_{moment:%Y%m%d_%H%M%S}.mp4",
            f"MVI_{300 + index:04d}.mov",
            f"{day} {event}.mp4",
            f"GX01{index:04d}.mp4",
        )[index % 4]
        folder = root / (f"{day} {event}" if index % 4 != 2 else day[:4])
        tasks.append(
            partial(
                write_video,
                folder / name,
                title=f"{event} {index}",
                year=int(day[:4]),
                minutes=0.4 + index % 5 * 0.5,
                moment=moment,
            )
        )
    return tasks


def _odd_files(root: Path) -> None:
    """What every grown collection has: a copy that was cut off, and a name in no known encoding."""
    whole = root / "Films" / "Harbour Glass (1987)"
    source = next(path for path in sorted(whole.iterdir()) if path.suffix in (".mp4", ".mkv", ".m4v"))
    cut = root / "Films" / "The Drowned Bell (1983)" / "The Drowned Bell (1983).mp4"
    cut.parent.mkdir(parents=True, exist_ok=True)
    cut.write_bytes(source.read_bytes()[:9000])
    odd = os.fsencode(root / "Music" / "Los Faroles") + b"/Cami\xf3n (1991)"
    os.makedirs(odd, exist_ok=True)
    track = next((root / "Music" / "Los Faroles").rglob("*.*"))
    songs = sorted((root / "Music").rglob("*.flac"))
    shutil.copyfile(songs[0] if songs else track, odd + b"/01 - Pe\xf1a.flac")


def _run(task: Task) -> None:
    task()


def build_household(root: Path) -> bool:
    """Build the folders below `root`; False when they stand there already."""
    if is_built(root):
        return False
    if root.exists():
        shutil.rmtree(root)
    root.mkdir(parents=True)
    tasks = [
        *_photo_tasks(root / "Photos"),
        *_film_tasks(root / "Films"),
        *_series_tasks(root / "Series"),
        *_album_tasks(root / "Music"),
        *_clip_tasks(root / "Home videos"),
    ]
    with ProcessPoolExecutor(max_workers=max(2, os.cpu_count() or 2)) as pool:
        for _ in pool.map(_run, tasks, chunksize=4):
            pass
    _odd_files(root)
    (root / ".built").write_text(VERSION)
    return True
