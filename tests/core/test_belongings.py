"""What goes along when a main file moves: written by what somebody who keeps a
library would expect, nothing left behind."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from indice.core.naming.belongings import is_disc_folder, with_belongings

from .test_checks import listing_of

KILN = "Kiln (1988)"
CASES: dict[str, tuple[str, list[str], dict[str, str], dict[str, str]]] = {
    "subtitles carry the film's name and go on doing so": (
        "movies",
        ["kiln.mkv", "kiln.en.srt", "kiln.de.forced.srt", "kiln-poster.jpg", "other.srt"],
        {"kiln.mkv": f"{KILN}/{KILN}.mkv"},
        {
            "kiln.en.srt": f"{KILN}/{KILN}.en.srt",
            "kiln.de.forced.srt": f"{KILN}/{KILN}.de.forced.srt",
            "kiln-poster.jpg": f"{KILN}/{KILN}-poster.jpg",
        },
    ),
    "a name that only begins alike is another's": (
        "movies",
        ["kiln.mkv", "kiln2.srt", "kilnfire.nfo", "kiln 2.mkv", "kiln 2.en.srt"],
        {"kiln.mkv": f"{KILN}.mkv"},
        {},
    ),
    "of two names the longer one owns": (
        "movies",
        ["kiln.mkv", "kiln.part two.mkv", "kiln.part two.en.srt", "kiln.en.srt"],
        {"kiln.mkv": "A.mkv", "kiln.part two.mkv": "B.mkv"},
        {"kiln.part two.en.srt": "B.en.srt", "kiln.en.srt": "A.en.srt"},
    ),
    "all that lies in a film's folder goes with it, folders of extras whole": (
        "movies",
        [
            *("kiln 88/kiln.mkv", "kiln 88/poster.jpg", "kiln 88/Extras/The potter.mkv", "kiln 88/Subs/2_English.srt"),
            "kiln 88/notes.txt",
        ],
        {"kiln 88/kiln.mkv": f"{KILN}/{KILN}.mkv"},
        {
            "kiln 88/poster.jpg": f"{KILN}/poster.jpg",
            "kiln 88/Extras/The potter.mkv": f"{KILN}/Extras/The potter.mkv",
            "kiln 88/Subs/2_English.srt": f"{KILN}/Subs/2_English.srt",
            "kiln 88/notes.txt": f"{KILN}/notes.txt",
        },
    ),
    "what is not a film's alone stays while another film stays": (
        "movies",
        ["both/kiln.mkv", "both/glaze.mkv", "both/poster.jpg", "both/kiln.srt"],
        {"both/kiln.mkv": f"{KILN}/{KILN}.mkv"},
        {"both/kiln.srt": f"{KILN}/{KILN}.srt"},
    ),
    "where two films part the rest of their folder stays": (
        "movies",
        ["both/kiln.mkv", "both/glaze.mkv", "both/poster.jpg"],
        {"both/kiln.mkv": f"{KILN}/{KILN}.mkv", "both/glaze.mkv": "Glaze (1991)/Glaze (1991).mkv"},
        {},
    ),
    "a folder that only sorts does not follow anybody": (
        "movies",
        ["Downloads/kiln.mkv", "Downloads/list.txt", "Downloads/kiln.nfo"],
        {"Downloads/kiln.mkv": f"{KILN}/{KILN}.mkv"},
        {"Downloads/kiln.nfo": f"{KILN}/{KILN}.nfo"},
    ),
    "an album's cover and booklet follow its songs": (
        "music",
        ["Salt/01 a.mp3", "Salt/02 b.mp3", "Salt/cover.jpg", "Salt/Scans/back.jpg", "Salt/01 a.lrc"],
        {"Salt/01 a.mp3": "Wren/Salt (2003)/01 A.mp3", "Salt/02 b.mp3": "Wren/Salt (2003)/02 B.mp3"},
        {
            "Salt/cover.jpg": "Wren/Salt (2003)/cover.jpg",
            "Salt/Scans/back.jpg": "Wren/Salt (2003)/Scans/back.jpg",
            "Salt/01 a.lrc": "Wren/Salt (2003)/01 A.lrc",
        },
    ),
    "discs stay below their album, whose cover goes along": (
        "music",
        ["Salt/CD1/01.mp3", "Salt/CD2/01.mp3", "Salt/cover.jpg"],
        {"Salt/CD1/01.mp3": "Wren/Salt (2003)/1-01.mp3", "Salt/CD2/01.mp3": "Wren/Salt (2003)/2-01.mp3"},
        {"Salt/cover.jpg": "Wren/Salt (2003)/cover.jpg"},
    ),
    "a song that stays keeps the cover": (
        "music",
        ["Salt/01 a.mp3", "Salt/02 b.mp3", "Salt/cover.jpg"],
        {"Salt/01 a.mp3": "Wren/Salt (2003)/01 A.mp3"},
        {},
    ),
    "what is told to go elsewhere goes there": (
        "movies",
        ["kiln 88/kiln.mkv", "kiln 88/kiln.srt", "kiln 88/poster.jpg"],
        {"kiln 88/kiln.mkv": f"{KILN}/{KILN}.mkv", "kiln 88/poster.jpg": "Pictures/kiln.jpg"},
        {"kiln 88/kiln.srt": f"{KILN}/{KILN}.srt"},
    ),
    "a file that is only called otherwise takes its own along and leaves the rest": (
        "movies",
        [f"{KILN}/kiln.mkv", f"{KILN}/kiln.srt", f"{KILN}/poster.jpg"],
        {f"{KILN}/kiln.mkv": f"{KILN}/{KILN}.mkv"},
        {f"{KILN}/kiln.srt": f"{KILN}/{KILN}.srt"},
    ),
}


@pytest.mark.parametrize(("library", "paths", "moves", "along"), CASES.values(), ids=CASES)
def test_what_goes_along(library: str, paths: list[str], moves: dict[str, str], along: dict[str, str]) -> None:
    assert dict(with_belongings(listing_of(library, paths), moves.items())) == moves | along


@pytest.mark.parametrize(
    ("folder", "is_disc"),
    [
        *(
            (name, True)
            for name in ("CD1", "Salt/CD 2", "Disc 1 - Live", "disk-3", "Side A", "DVD_2", "LP 1", "Vinyl 2")
        ),
        *((name, False) for name in ("CDs", "Discography", "Salt", "1", "Discs/Salt", "Side", "LP")),
    ],
)
def test_folders_of_discs(folder: str, is_disc: bool) -> None:
    assert is_disc_folder(folder) is is_disc


_FOLDERS = st.sampled_from(["", "A/", "A/Extras/", "A/CD1/", "A/CD2/", "B/", "B/C/", "Downloads/"])
_NAMES = st.sampled_from(["kiln.mkv", "kiln.srt", "kiln.en.srt", "glaze.mkv", "poster.jpg", "notes.txt", "kiln 2.mkv"])
_PATHS = st.lists(st.tuples(_FOLDERS, _NAMES).map("".join), unique=True, min_size=1, max_size=14)


@given(_PATHS, st.data())
def test_whatever_moves_only_what_is_there_goes_along_and_none_twice(paths: list[str], data: st.DataObject) -> None:
    films = [path for path in paths if path.endswith(".mkv")]
    chosen = data.draw(st.lists(st.sampled_from(films), unique=True)) if films else []
    moves = [(path, f"Tidy {place}/film {place}.mkv") for place, path in enumerate(chosen)]
    found = with_belongings(listing_of("movies", paths), moves)
    assert found[: len(moves)] == tuple(moves), "what was asked for comes first, in its order"
    befores = [before for before, _ in found]
    assert len(set(befores)) == len(befores) and set(befores) <= set(paths)
    assert not {before for before, _ in found[len(moves) :]} & set(films) - set(chosen) or all(
        "Extras/" in before for before, _ in found[len(moves) :] if before in films
    ), "a film goes nowhere by itself"
    if not moves:
        assert found == ()
