"""Every check finds its defect and leaves the healthy twin alone."""

from __future__ import annotations

import pytest

from indice.core.naming.checks import CHECKS, Finding, Item, Listing, run_checks
from indice.core.naming.convention import safe_name, tidy_path
from indice.core.reading import read_path


def listing(library: str, *paths: str, size: int = 1, **more: object) -> Listing:
    """A library of these paths, each with one byte."""
    items: list[Item] = []
    for path in paths:
        reading = read_path(path, library)
        facts = {k: v for k, v in reading.values().items() if k != "kind"}
        items.append(Item(path=path, kind=reading.kind, reading=facts, size_bytes=size, **more))  # type: ignore[arg-type]
    return Listing(library, items)


def found(slug: str, seen: Listing) -> list[Finding]:
    """Findings of one check."""
    return [finding for finding in run_checks(seen) if finding.check == slug]


CASES: list[tuple[str, str, tuple[str, ...], tuple[str, ...], str]] = [
    (
        "year-missing",
        "movies",
        ("Harbour Glass/Harbour Glass.mkv",),
        ("Harbour Glass (1987)/Harbour Glass.mkv",),
        "Harbour Glass/",
    ),
    (
        "season-folder-missing",
        "series",
        ("Gannet Row (1998)/Gannet Row - S02E01.mkv", "Gannet Row (1998)/Gannet Row - S02E02.mkv"),
        ("Gannet Row (1998)/Season 02/Gannet Row - S02E01.mkv",),
        "Gannet Row (1998)/",
    ),
    (
        "folder-disagrees",
        "movies",
        ("Salt Meridian (1994)/Salt Meridian (1995).mkv",),
        ("Salt Meridian (1994)/Salt Meridian (1994).mkv",),
        "Salt Meridian (1994)/Salt Meridian (1995).mkv",
    ),
    (
        "release-words",
        "movies",
        ("Moth Season (2016)/moth.season.2016.1080p.web.x264-tern.mkv",),
        ("Moth Season (2016)/Moth Season (2016).mkv",),
        "Moth Season (2016)/moth.season.2016.1080p.web.x264-tern.mkv",
    ),
    (
        "track-number-missing",
        "music",
        ("Mothwing/Porchlight (1991)/Ash.flac", "Mothwing/Porchlight (1991)/02 - Wick.flac"),
        ("Mothwing/Porchlight (1991)/01 - Ash.flac", "Mothwing/Porchlight (1991)/02 - Wick.flac"),
        "Mothwing/Porchlight (1991)/Ash.flac",
    ),
    (
        "cover-missing",
        "music",
        ("Mothwing/Porchlight (1991)/01 - Ash.flac",),
        ("Mothwing/Porchlight (1991)/01 - Ash.flac", "Mothwing/Porchlight (1991)/cover.jpg"),
        "Mothwing/Porchlight (1991)/",
    ),
    (
        "junk",
        "movies",
        ("Moth Season (2016)/Thumbs.db",),
        ("Moth Season (2016)/Moth Season (2016).nfo",),
        "Moth Season (2016)/Thumbs.db",
    ),
    ("file-unfinished", "movies", ("moth.mkv.part",), ("Moth (2016)/Moth (2016).mkv",), "moth.mkv.part"),
]


@pytest.mark.parametrize(("slug", "library", "sick", "healthy", "place"), CASES, ids=[case[0] for case in CASES])
def test_both_sides(slug: str, library: str, sick: tuple[str, ...], healthy: tuple[str, ...], place: str) -> None:
    assert [finding.path for finding in found(slug, listing(library, *sick))] == [place]
    assert found(slug, listing(library, *healthy)) == []


def test_empty_files() -> None:
    assert len(found("file-empty", listing("movies", "Moth (2016)/Moth (2016).mkv", size=0))) == 1
    assert found("file-empty", listing("movies", "Moth (2016)/.nomedia", size=0)) == []


def test_an_embedded_picture_is_a_cover() -> None:
    assert found("cover-missing", listing("music", "Mothwing/Porchlight (1991)/01 - Ash.flac", has_picture=True)) == []


def test_dated_shows_need_no_season_folder() -> None:
    assert found("season-folder-missing", listing("series", "The Evening (2021)/The Evening - 2021-03-04.mp4")) == []


def test_one_missing_season_folder_is_one_finding_with_all_moves() -> None:
    finding = found(
        "season-folder-missing",
        listing("series", *(f"Gannet Row (1998)/Gannet Row - S02E0{n}.mkv" for n in range(1, 6))),
    )
    assert len(finding) == 1
    assert finding[0].moves[0] == (
        "Gannet Row (1998)/Gannet Row - S02E01.mkv",
        "Gannet Row (1998)/Season 02/Gannet Row - S02E01.mkv",
    )


def test_every_check_is_documented_once() -> None:
    assert len({rule.slug for rule in CHECKS}) == len(CHECKS)
    assert all(rule.why.endswith(".") and rule.before and rule.title for rule in CHECKS)


@pytest.mark.parametrize(
    ("kind", "facts", "path"),
    [
        ("movie", {"title": "Who: Me?", "year": 1987}, "Who - Me (1987)/Who - Me (1987).mkv"),
        (
            "movie",
            {"title": "Signal Fires", "year": 2010, "part": 2},
            "Signal Fires (2010)/Signal Fires (2010) - part 2.mkv",
        ),
        (
            "episode",
            {"series": "Gannet Row", "year": 1998, "season": 1, "episodes": [2, 3], "title": "Two"},
            "Gannet Row (1998)/Season 01/Gannet Row - S01E02-E03 - Two.mkv",
        ),
        ("episode", {"series": "The Evening", "date": "2021-03-04"}, "The Evening/The Evening - 2021-03-04.mkv"),
        (
            "track",
            {"artist": "Mothwing", "album": "Porchlight", "year": 1991, "track": 4, "title": "Ash"},
            "Mothwing/Porchlight (1991)/04 - Ash.mkv",
        ),
        ("track", {"artist": "Mothwing"}, None),
    ],
)
def test_tidy_paths(kind: str, facts: dict[str, object], path: str | None) -> None:
    assert tidy_path(kind, facts, "mkv") == path


def test_names_are_made_safe() -> None:
    assert safe_name('a<b>c:"d"/e|f?*. ') == "a(b)c -'d'-e-f"
    assert len(safe_name("ä" * 400).encode()) <= 240
    assert safe_name("...") == "Unnamed"
