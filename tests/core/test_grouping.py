"""Files are put together into entries."""

from __future__ import annotations

import random

import pytest

from indice.core.grouping import FileView, group
from indice.core.reading.reader import read_path
from indice.core.titles import sort_title

PATHS = {
    "movies": [
        "Harbour Glass (1987)/Harbour Glass (1987).mkv",
        "Harbour Glass (1987)/Harbour Glass (1987).en.srt",
        "Harbour Glass (1987)/poster.jpg",
        "Harbour Glass (2019)/Harbour Glass (2019).mkv",
        "Ember Atlas (2021)/Ember Atlas (2021) - 1080p.mkv",
        "Ember Atlas (2021)/Ember Atlas (2021) - 480p.mkv",
        "Signal Fires (2010)/Signal Fires (2010) - cd1.avi",
        "Signal Fires (2010)/Signal Fires (2010) - cd2.avi",
    ],
    "series": [
        "Gannet Row/Season 1/Gannet Row - S01E01 - One.mkv",
        "Gannet Row/Season 1/Gannet Row - S01E02-E03.mkv",
        "Gannet Row/Season 1/Gannet Row - S01E01.de.srt",
        "Gannet Row/poster.jpg",
    ],
    "music": [
        "Mothwing/Porchlight (1991)/01 - Ash.flac",
        "Mothwing/Porchlight (1991)/02 - Wick.flac",
        "Mothwing/Porchlight (1991)/cover.jpg",
    ],
    "photos": ["2019/2019-08-11 Ferry day/IMG_2401.JPG", "2019/2019-08-11 Ferry day/IMG_2402.JPG", "loose.jpg"],
}


def views(library: str) -> list[FileView]:
    """The test's files as grouping sees them."""
    made: list[FileView] = []
    for number, path in enumerate(PATHS[library]):
        reading = read_path(path, library)
        made.append(
            FileView(
                id=number,
                path=path,
                kind=reading.kind,
                reading={k: v for k, v in reading.values().items() if k != "kind"},
            )
        )
    return made


def test_remakes_stay_apart_and_side_files_follow() -> None:
    grouped = group(views("movies"))
    glass = [entry for entry in grouped.entries.values() if entry.title == "Harbour Glass"]
    assert sorted(entry.year or 0 for entry in glass) == [1987, 2019]
    owner = grouped.serves[0][0]
    assert grouped.serves[1] == (owner, "subtitle")
    assert grouped.serves[2] == (owner, "artwork")


def test_versions_and_parts_are_told_apart() -> None:
    serves = group(views("movies")).serves
    assert [serves[n][1] for n in (4, 5)] == ["main", "version"]
    assert [serves[n][1] for n in (6, 7)] == ["part", "part"]


def test_a_double_episode_makes_two_entries() -> None:
    grouped = group(views("series"))
    episodes = sorted((e.season, e.number) for e in grouped.entries.values() if e.kind == "episode")
    assert episodes == [(1, 1), (1, 2), (1, 3)]
    assert grouped.serves[2][0] == grouped.serves[0][0]
    assert grouped.entries[grouped.serves[3][0]].kind == "series"


def test_music_makes_a_tree() -> None:
    grouped = group(views("music"))
    track = grouped.entries[grouped.serves[0][0]]
    album = grouped.entries[track.parent or ""]
    assert (album.kind, album.title, album.year) == ("album", "Porchlight", 1991)
    assert grouped.entries[album.parent or ""].title == "Mothwing"
    assert grouped.serves[2] == (album.key, "artwork")


def test_tags_are_believed_before_names() -> None:
    file = FileView(
        id=1,
        path="x/01.mp3",
        kind="track",
        reading={"track": 1, "artist": "x"},
        tags={"title": "Ash", "artist": "Mothwing", "album": "Porchlight", "track": 4},
    )
    grouped = group([file])
    track = grouped.entries[grouped.serves[1][0]]
    assert (track.title, track.number) == ("Ash", 4)


def test_photos_lie_in_their_event() -> None:
    grouped = group(views("photos"))
    photo = grouped.entries[grouped.serves[0][0]]
    assert grouped.entries[photo.parent or ""].title == "Ferry day"
    assert len([e for e in grouped.entries.values() if e.kind == "event"]) == 2


def test_order_does_not_matter() -> None:
    for library in PATHS:
        files = views(library)
        wanted = group(files)
        random.Random(7).shuffle(files)
        found = group(files)
        assert found.entries.keys() == wanted.entries.keys()
        assert found.serves == wanted.serves


def test_articles_are_left_out_of_sorting() -> None:
    assert [sort_title(title) for title in ("The Third Bell", "L'Étang", "Old Ropes")] == [
        "third bell",
        "étang",
        "old ropes",
    ]


def test_works_of_one_title_are_told_apart_by_the_year_of_their_folder() -> None:
    files = [
        ("series", "Harbour (1977)/Season 01/Harbour - S01E01.mkv"),
        ("series", "Harbour (2009)/Season 01/Harbour - S01E01.mkv"),
        ("series", "Harbour (2009)/Season 02/Harbour (2009) - S02E01.mkv"),
        ("music", "Orla Fenn/Kite (1990)/01 - Kite.flac"),
        ("music", "Orla Fenn/Kite (2005)/Disc 1/01 - Kite.flac"),
        ("music", "Orla Fenn/Kite (2005)/Disc 2/01 - Hem.flac"),
    ]
    views = [
        FileView(id=number, path=path, kind=reading.kind, reading={k: f.value for k, f in reading.facts.items()})
        for number, (library, path) in enumerate(files)
        for reading in [read_path(path, library)]
    ]
    entries = group(views).entries
    assert sorted(key for key, entry in entries.items() if entry.kind == "series") == [
        "series:harbour:1977",
        "series:harbour:2009",
    ]
    assert len([entry for entry in entries.values() if entry.kind == "album"]) == 2


def test_films_of_one_title_and_year_are_two_when_their_lengths_are_far_apart() -> None:
    paths = [
        ("Long/Harbour (1982)/Harbour (1982).mkv", 104 * 60.0),
        ("Long/Harbour (1982)/Harbour (1982) - Longer.mkv", 121 * 60.0),
        ("Short/Harbour (1982)/Harbour (1982).mkv", 7 * 60.0),
        ("Short/Harbour (1982)/poster.jpg", None),
        ("Long/Harbour (1982)/poster.jpg", None),
    ]
    views = [
        FileView(
            id=number,
            path=path,
            kind=reading.kind,
            reading={k: f.value for k, f in reading.facts.items()},
            seconds=seconds,
        )
        for number, (path, seconds) in enumerate(paths)
        for reading in [read_path(path, "movies")]
    ]
    grouped = group(views)
    key = "movie:harbour:1982"
    assert grouped.serves == {
        0: (key, "version"),
        1: (key, "main"),
        2: (f"{key}:7 min", "main"),
        3: (f"{key}:7 min", "artwork"),
        4: (key, "artwork"),
    }
    assert grouped.entries[f"{key}:7 min"].title == "Harbour"


@pytest.mark.parametrize(
    ("sidecar", "about", "kind"),
    [
        ("Films/Kite (1990)/Kite (1990).jsonld", "", "movie"),
        ("Films/Kite (1990)/about.jsonld", "movie", "movie"),
        ("Series/Harbour (1977)/about.jsonld", "series", "series"),
        ("Series/Harbour (1977)/Season 01/Harbour - S01E01.jsonld", "episode", "episode"),
        ("Series/Harbour (1977)/about.json", "", "series"),
        ("Series/about.jsonld", "movie", None),
    ],
)
def test_a_sidecar_speaks_of_what_it_lies_beside(sidecar: str, about: str, kind: str | None) -> None:
    paths = [
        ("movies", "Films/Kite (1990)/Kite (1990).mkv"),
        ("series", "Series/Harbour (1977)/Season 01/Harbour - S01E01.mkv"),
        ("series", "Series/Harbour (1977)/Season 01/Harbour - S01E02.mkv"),
    ]
    views = [
        FileView(id=number, path=path, kind=reading.kind, reading={k: f.value for k, f in reading.facts.items()})
        for number, (library, path) in enumerate(paths)
        for reading in [read_path(path, library)]
    ]
    views.append(FileView(id=9, path=sidecar, kind="sidecar", reading={}, facts={"plot": "A gale."}, about=about))
    grouped = group(views)
    if kind is None:
        assert 9 not in grouped.serves
        return
    entry = grouped.entries[grouped.serves[9][0]]
    assert (entry.kind, entry.facts["sidecar"]) == (kind, {"plot": "A gale."})


@pytest.mark.parametrize(
    ("last", "together"), [("2019-08-25", True), ("2019-09-01", True), ("2019-09-02", False), ("2020-08-11", False)]
)
def test_an_event_lasts_three_weeks_at_most(last: str, together: bool) -> None:
    days = ["2019-08-11", "2019-08-14", last]
    files = [
        FileView(
            id=n, path=f"Regatta/IMG_{n:04d}.jpg", kind="photo", reading={"event": "Regatta"}, taken=f"{day}T10:00:00"
        )
        for n, day in enumerate(days)
    ]
    events = {entry.title for entry in group(files).entries.values() if entry.kind == "event"}
    assert events == ({"Regatta"} if together else set(days))


def test_a_folder_of_undated_pictures_stays_an_event() -> None:
    files = [FileView(id=n, path=f"Regatta/{n}.jpg", kind="photo", reading={"event": "Regatta"}) for n in range(3)]
    assert [entry.title for entry in group(files).entries.values() if entry.kind == "event"] == ["Regatta"]


def shot_views(*paths: str, seconds: float | None = None) -> list[FileView]:
    """Files of a library of photos; `seconds`: how long the clips last, where it is known."""
    made: list[FileView] = []
    for number, path in enumerate(paths):
        values = read_path(path, "photos").values()
        kind = str(values.pop("kind"))
        made.append(
            FileView(id=number, path=path, kind=kind, reading=values, seconds=seconds if kind == "clip" else None)
        )
    return made


@pytest.mark.parametrize(
    ("names", "seconds", "told"),
    [
        pytest.param(("IMG_0411.HEIC", "IMG_0411.MOV"), 2.8, ["main", "live"], id="a phone's live picture"),
        pytest.param(("IMG_0411.MOV", "img_0411.jpg"), None, ["live", "main"], id="not looked into yet"),
        pytest.param(("IMG_0411.JPG", "IMG_0411.MP4"), 95.0, ["main", "main"], id="a film of some length"),
        pytest.param(("IMG_0411.JPG", "IMG_0412.MOV"), 2.0, ["main", "main"], id="another number"),
        pytest.param(("DSC04711.ARW", "DSC04711.JPG"), None, ["raw", "main"], id="raw and what was made of it"),
        pytest.param(("DSC04711.ARW",), None, ["main"], id="raw alone"),
        pytest.param(("P1010411.ORF", "P1010411.JPG", "P1010411.MOV"), 3.0, ["raw", "main", "live"], id="all three"),
        pytest.param(("DSC04711.ARW", "DSC04711.MOV"), 3.0, ["main", "live"], id="raw that moves"),
        pytest.param(("Boat race.jpg", "Boat race.mp4"), 3.0, ["main", "main"], id="a name somebody typed"),
        pytest.param(("IMG_0411.HEIC", "IMG_0411.MOV", "IMG_0411.MP4"), 2.0, ["main"] * 3, id="two films"),
    ],
)
def test_files_of_one_press_of_the_shutter_are_one_photo(
    names: tuple[str, ...], seconds: float | None, told: list[str]
) -> None:
    files = shot_views(*(f"2021/2021-05-01 Quay/{name}" for name in names), seconds=seconds)
    grouped = group(files)
    assert [grouped.serves[number][1] for number in range(len(names))] == told
    shots = {key for key, entry in grouped.entries.items() if entry.kind in ("photo", "clip")}
    assert len(shots) == told.count("main")
    owners = {grouped.serves[number][0] for number, role in enumerate(told) if role != "main"}
    assert owners <= {grouped.serves[number][0] for number, role in enumerate(told) if role == "main"}


@pytest.mark.parametrize(
    ("paths", "told"),
    [
        (("Quay/RAW/DSC04711.ARW", "Quay/DSC04711.JPG"), ["raw", "main"]),
        (("Quay/DSC04711.ARW", "Quay/JPG/DSC04711.JPG"), ["raw", "main"]),
        (("Quay/raw/DSC04711.ARW", "Quay/jpeg/dsc04711.jpg"), ["raw", "main"]),
        (("RAW/DSC04711.ARW", "DSC04711.JPG"), ["raw", "main"]),
        (("Quay/NEF/DSC_0411.NEF", "Quay/DSC_0411.JPG", "Quay/DSC_0412.JPG"), ["raw", "main", "main"]),
        (("Quay/JPG/DSC04711.JPG", "Quay/DSC04711.JPG"), ["main", "main"]),  # two pictures, whatever they show
        (("Quay/RAW/DSC04711.ARW", "Pier/DSC04711.JPG"), ["main", "main"]),  # another occasion
        (("Quay/RAW/DSC04711.ARW", "Quay/Best/DSC04711.JPG"), ["main", "main"]),  # what is there was chosen
        (("Quay/RAW/IMG_0411.DNG", "Quay/IMG_0411.MOV"), ["main", "main"]),  # moves with what lies beside it only
    ],
)
def test_raw_files_in_a_folder_of_their_own(paths: tuple[str, ...], told: list[str]) -> None:
    grouped = group(shot_views(*(f"2021/2021-05-01 Ferry/{path}" for path in paths), seconds=2.0))
    assert [grouped.serves[number][1] for number in range(len(paths))] == told
    owners = {grouped.serves[number][0] for number, role in enumerate(told) if role == "raw"}
    assert owners <= {grouped.serves[number][0] for number, role in enumerate(told) if role == "main"}


def test_files_of_one_name_in_two_folders_are_two_shots() -> None:
    grouped = group(shot_views("2021/Quay/IMG_0411.HEIC", "2021/Pier/IMG_0411.MOV", seconds=2.0))
    assert [grouped.serves[number][1] for number in (0, 1)] == ["main", "main"]


def test_recordings_of_one_title_are_told_apart_by_their_days() -> None:
    names = [f"Concerts/The Ash Choir - Town Hall ({day}).mkv" for day in ("2009-06-12", "2009-06-13")]
    made: list[FileView] = []
    for number, path in enumerate(names):
        values = read_path(path, "movies").values()
        made.append(FileView(id=number, path=path, kind=str(values.pop("kind")), reading=values))
    grouped = group(made)
    assert [(entry.title, entry.year) for entry in grouped.entries.values()] == [
        ("The Ash Choir - Town Hall", 2009),
        ("The Ash Choir - Town Hall", 2009),
    ]


@pytest.mark.parametrize(
    ("library", "names", "title"),
    [
        ("movies", ["a/harbour.glass.1987.mkv", "b/Harbour Glass (1987).mkv"], "Harbour Glass"),
        ("movies", ["a/AKERO LIGHT (2004).mkv", "b/Akero Light (2004).mkv", "c/Åkerö Light (2004).mkv"], "Åkerö Light"),
        (
            "music",
            ["bo lind/Kiln/04 - Salt.mp3", "BO LIND/Oar/04 - Tin.mp3", "Bo Lind/Anchor/04 - Rope.mp3"],
            "Bo Lind",
        ),
    ],
)
def test_what_several_names_spell_is_called_as_the_best_of_them_spells_it(
    library: str, names: list[str], title: str
) -> None:
    """Whichever comes first by its path."""
    readings = [read_path(name, library) for name in names]
    files = [
        FileView(id=place, path=name, kind=reading.kind, reading=reading.values())
        for place, (name, reading) in enumerate(zip(names, readings, strict=True))
    ]
    first = next(draft for draft in group(files).entries.values() if draft.kind in ("movie", "artist"))
    assert (first.title, first.facts["name"]["title"]) == (title, title)
