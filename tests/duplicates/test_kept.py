"""What is kept of pictures is given out again as it is asked for, and of what is there only."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path

from sqlalchemy import select

from indice.core.duplicates import Picture
from indice.demo.media import write_photo
from indice.settings import Settings
from indice.store.database import Database
from indice.store.duplicates import count_likenesses, likenesses, sketches_of
from indice.store.files import mark_state
from indice.store.models import File
from indice.work.duplicates import make_likenesses

from .scenes import scene
from .test_duplicates import declare


def test_sketches_come_one_after_another_and_in_the_order_in_which_they_are_asked_for(
    database: Database, settings: Settings, tmp_path: Path
) -> None:
    names = ("quay.jpg", "pier.jpg", "mole.jpg")
    for number, name in enumerate(names):
        moment = datetime(2014, 5, number) if number else None
        write_photo(tmp_path / "Prints" / name, scene(number), moment=moment, camera=None, place=None)
    library = declare(database, settings, tmp_path / "Prints", "photos")
    assert make_likenesses(database, [library]) == 3
    assert make_likenesses(database, [library]) == 0, "once is enough"
    with database.begin() as db:
        told = list(likenesses(db, [library], "photo"))
        assert count_likenesses(db, [library], "photo") == 3 and count_likenesses(db, [library], "track") == 0
    assert [file.shown for file, _ in told] == [file.shown for file, _ in sorted(told, key=lambda one: one[0].id)]
    moments = {file.shown: file.moment for file, _ in told}
    assert moments["quay.jpg"] is None and moments["pier.jpg"] != moments["mole.jpg"]
    ids = [file.id for file, _ in told]
    with database.begin() as db:
        asked = [ids[2], 10**6, ids[0]]
        assert sketches_of(db, asked) == [told[2][1], b"", told[0][1]]
        assert Picture.unpacked(told[0][1]).grey.shape[1] <= 96
        mark_state(db, [ids[1]], "missing")
        assert db.scalars(select(File.state).where(File.id == ids[1])).one() == "missing"
    with database.begin() as db:
        assert count_likenesses(db, [library], "photo") == 2
        assert [file.id for file, _ in likenesses(db, [library], "photo")] == [ids[0], ids[2]]
