"""A library checked in parts, however small, and in one look: the same is found, with the same fixes."""

from __future__ import annotations

import json
import os
import random
from collections.abc import Mapping, Sequence
from pathlib import Path

import pytest
from sqlalchemy import select

from indice.core.naming.checks import Finding, run_checks, settle
from indice.disk.names import names_on_disk
from indice.settings import Settings
from indice.store.database import Database
from indice.store.libraries import add_library
from indice.store.models import Folder, Library
from indice.work import check_parts
from indice.work.check_parts import hits_of_folder
from indice.work.items import listing_of
from indice.work.queue import perform
from indice.work.requests import request_job

MESSY = Path(__file__).parents[1] / "core" / "data" / "unseen-forms.jsonl"
ROWS = [json.loads(line) for line in MESSY.read_text("utf-8").splitlines()]
ABOVE = ("", "", "Drama/", "drama/", "Kids/", "2020/", "Rock/", "Drama/Subs/", "Extras/", "Camera/", "A/B/")
ODD = (
    b"Caf\xe9 Weir (1999)/Caf\xe9 Weir (1999).mkv",
    b"Caf\xe8 Weir (1999)/Caf\xe8 Weir (1999).mkv",
    b"Drama/Old/Thumbs.db",
    b"Attic/Orla Fenn - Kites (2004)/01 - Ebb.flac",
    b"Attic/Orla Fenn - Kites (2004)/02 - Fen.flac",
    b"A/Salt Row (1991)/Season 01/Salt Row - S01E01.mkv",
    b"S/Salt Row (1991)/Season 01/Salt Row - S01E02.mkv",
    b"loose/notes.txt",
    b"Drama/Subs/Pale Rook (2014).de.srt",
    b"Drama/Pale Rook (2014).mkv",
)
IN_OTHERS = ("Drama/Subs/", "Extras/")
EMPTY = ("Drama/Empty/Emptier", "Void", "Camera/nothing")


def write(root: Path, kind: str, seed: int) -> None:
    """Files of many forms, with what concerns several units among them."""
    dice = random.Random(f"{kind} {seed}")
    names = [str(row["path"]).lstrip("/") for row in ROWS if kind in ("mixed", row["library"])]
    for name in dice.sample(names, 70):
        path = root / (dice.choice(ABOVE) + name)
        if not path.exists() and not any(up.is_file() for up in path.parents):
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_bytes(name.encode())
    for odd in ODD:
        path = Path(os.fsdecode(os.path.join(os.fsencode(root), odd)))
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(odd)
    for folder in EMPTY:
        (root / folder).mkdir(parents=True, exist_ok=True)


def told(findings: Sequence[Finding]) -> Mapping[tuple[str, str], tuple[object, ...]]:
    """What is said of each path, and how it is mended.

    What goes along with a film that lies in a folder of subtitles or extras is not told: it may be all that lies there.
    """
    found: dict[tuple[str, str], tuple[object, ...]] = {}
    for f in findings:
        moves = [] if f.path.startswith(IN_OTHERS) else sorted(f.moves)
        found[f.check, f.path] = (f.message, f.fix, f.wanted, sorted(f.also), moves)
    assert len(found) == len(findings), "each once"
    return found


@pytest.mark.parametrize("kind", ["movies", "series", "music", "photos", "home-videos", "mixed"])
@pytest.mark.parametrize("seed", range(6))
def test_parts_find_what_one_look_finds(
    database: Database, settings: Settings, tmp_path: Path, kind: str, seed: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    root = tmp_path / "library"
    root.mkdir()
    write(root, "photos" if kind == "home-videos" else kind, seed)
    with database.begin() as db:
        add_library(db, name="L", kind=kind, folders=[os.fsencode(root)], language="en", country="", sources=[])
        number = db.scalars(select(Library.id)).one()
    assert perform(database, settings, request_job(database, "scan", number)) == "done"
    with database.begin() as db:
        library, folder = db.get_one(Library, number), db.scalars(select(Folder)).one()
        whole = run_checks(listing_of(db, library, folder))
        assert len({finding.check for finding in whole}) > 5
        for files in (10_000, 40, 7, 1):
            monkeypatch.setattr(check_parts, "FILES_OF_A_PART", files)
            hits = hits_of_folder(db, library, folder, off=frozenset())
            assert told(list(settle(hits, names_on_disk(os.fsencode(root))))) == told(whole), files
            off = frozenset(("folder-empty", "kind-unexpected", "series-split", "case-clash"))
            hits = hits_of_folder(db, library, folder, off=off)
            found = list(settle(hits, names_on_disk(os.fsencode(root))))
            assert told(found) == told(run_checks(listing_of(db, library, folder), off=off))


def test_films_that_lie_loose_below_a_folder_tell_that_it_sorts(
    database: Database, settings: Settings, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    names = (
        "Extras/Weir House 1983 DVDRip.avi",
        "Extras/Moth Row 1987 DVDRip.avi",
        "Extras/Kids/Pip and the Buoy (2001).mkv",
        "Extras/Lamp Black (1999)/Lamp Black (1999).mkv",
    )
    for name in names:
        (tmp_path / "library" / name).parent.mkdir(parents=True, exist_ok=True)
        (tmp_path / "library" / name).write_bytes(name.encode())
    root = os.fsencode(tmp_path / "library")
    with database.begin() as db:
        number = add_library(db, name="L", kind="movies", folders=[root], language="en", country="", sources=[]).id
    assert perform(database, settings, request_job(database, "scan", number)) == "done"
    with database.begin() as db:
        library, folder = db.get_one(Library, number), db.scalars(select(Folder)).one()
        for files in (100, 1):
            monkeypatch.setattr(check_parts, "FILES_OF_A_PART", files)
            found = list(settle(hits_of_folder(db, library, folder, off=frozenset()), names_on_disk(root)))
            said = sorted(finding.path for finding in found if finding.check == "release-words")
            assert said == ["Extras/Moth Row 1987 DVDRip.avi", "Extras/Weir House 1983 DVDRip.avi"], files
