"""A backup and what comes of it on another machine: the same export, byte for byte; damaged and hostile archives."""

from __future__ import annotations

import json
import os
import shutil
import struct
import zipfile
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import psycopg
import pytest
from PIL import Image
from sqlalchemy import func, select

from indice.disk.thumbnails import make_thumbnails, thumbnail_path
from indice.errors import IndiceError
from indice.settings import Settings
from indice.store.database import Database
from indice.store.export import export_entries
from indice.store.household import Change, add_person, viewer_named
from indice.store.models import Artwork, Entry, File, Gone, Library, Mark
from indice.store.pictures import choose_uploaded
from indice.work.backup import back_up, is_backup_due, restore, scheduled_backup
from indice.work.requests import ensure_queue

from .test_upkeep import House, film, keep, stock


@pytest.fixture
def house(database: Database, settings: Settings, tmp_path: Path) -> House:
    """A house with films, a series, people, something gone, something chosen, a name that is no UTF-8."""
    made = House(database, settings, tmp_path / "disk")
    films = stock(made)
    shutil.copy(made.put("odd", b"odd"), os.fsencode(made.root / "Films") + b"/Caf\xe9 (1999).mkv")
    series = made.declare("Series", "series")
    for number in (1, 2):
        made.put(f"Series/Wan Moor (2005)/Season 01/Wan Moor - S01E0{number} - \U0001f30a Tide \u8f9b\u5cb8.mkv")
    made.scan(films), made.scan(series)
    entry = keep(made, films, film("Salt Ferry"))
    keep(made, films, film("Grey Sexton"))
    shutil.rmtree((made.root / "Films" / film("Grey Sexton")).parent)
    made.scan(films)
    with database.begin() as db:
        add_person(db, "Nell", Change(role="member", libraries=["Films"], age=10))
        choose_uploaded(db, entry, "poster", make_thumbnails(settings.home, Image.new("RGB", (90, 60), "teal")))
    (settings.home / "indice.toml").write_text("gone_days = 40\n")
    return made


def exported(database: Database) -> str:
    """All that `export` puts out, for the owner."""
    with database.begin() as db:
        viewer = viewer_named(db, "Odile")
        lines = [
            json.dumps(row, ensure_ascii=False)
            for library in db.scalars(select(Library).order_by(Library.id))
            for row in export_entries(db, library, viewer)
        ]
    return "\n".join(lines)


@pytest.fixture
def elsewhere(database: Database, tmp_path: Path) -> Settings:
    """An empty data folder on another machine, whose database has no tables yet."""
    name = f"fresh_{os.getpid()}_{tmp_path.name[-20:].lower().replace('-', '_').replace('[', '_').replace(']', '_')}"
    plain = database.plain_url
    with psycopg.connect(plain.rsplit("/", 1)[0] + "/postgres", autocommit=True) as link:
        link.execute(f'create database "{name}" template template1')
    home = tmp_path / "elsewhere"
    return Settings(home=home, database_url=f"{database.url.rsplit('/', 1)[0]}/{name}")


def test_export_backup_restore_export(house: House, elsewhere: Settings, tmp_path: Path) -> None:
    before = exported(house.database)
    assert '"gone"' in before and "Tide" in before
    back_up(house.database, house.settings, tmp_path / "kept.zip")
    assert oct((tmp_path / "kept.zip").stat().st_mode)[-3:] == "600"
    counts = restore(elsewhere, tmp_path / "kept.zip")
    there = Database(elsewhere.database_url)
    assert exported(there) == before
    assert (counts["person"], counts["library"], counts["gone"]) == (2, 2, 1)
    assert (elsewhere.home / "indice.toml").read_text() == "gone_days = 40\n"
    with there.begin() as db:
        chosen = db.scalars(select(Artwork).where(Artwork.chosen)).one()
        assert thumbnail_path(elsewhere.home, chosen.digest, 240).is_file()
        assert db.scalars(select(File.path).where(File.path.like(b"Caf%"))).one() == b"Caf\xe9 (1999).mkv"
    back_up(there, elsewhere, tmp_path / "again.zip")
    with zipfile.ZipFile(tmp_path / "kept.zip") as one, zipfile.ZipFile(tmp_path / "again.zip") as other:
        assert one.read("records/entry.jsonl") == other.read("records/entry.jsonl")
        assert one.read("records/mark.jsonl") == other.read("records/mark.jsonl")
    there.engine.dispose()


def test_life_goes_on_after_a_restore(house: House, elsewhere: Settings, tmp_path: Path) -> None:
    back_up(house.database, house.settings, tmp_path / "kept.zip")
    restore(elsewhere, tmp_path / "kept.zip")
    there = House(Database(elsewhere.database_url), replace(elsewhere, still_seconds=0.0), house.root)
    ensure_queue(there.database)
    with there.database.begin() as db:
        films = db.scalars(select(Library.id).where(Library.name == "Films")).one()
    there.put(f"Films/{film('New Wharf')}")
    there.put(f"Films/{film('Grey Sexton')}")
    told = there.scan(films)
    assert (told["new"], told["back"], told["changed"], told["gone"]) == (1, 1, 0, 0)
    with there.database.begin() as db:
        assert db.scalar(select(func.count()).select_from(Gone)) == 0
        assert db.scalar(select(func.count()).select_from(Mark)) == 2
        assert db.scalars(select(Entry.title).where(Entry.title == "New Wharf")).one()
    there.database.engine.dispose()


def test_nothing_is_restored_into_a_house_that_is_lived_in(house: House, tmp_path: Path) -> None:
    back_up(house.database, house.settings, tmp_path / "kept.zip")
    before = exported(house.database)
    with pytest.raises(IndiceError, match="in use"):
        restore(replace(house.settings, database_url=house.database.url), tmp_path / "kept.zip")
    assert exported(house.database) == before


def _flip(archive: Path) -> None:
    """Another bit in the middle of what a member holds; its header says where that begins (APPNOTE 4.3.7)."""
    with zipfile.ZipFile(archive) as held:
        member = held.getinfo("records/entry.jsonl")
    raw = bytearray(archive.read_bytes())
    name, extra = struct.unpack_from("<HH", raw, member.header_offset + 26)
    raw[member.header_offset + 30 + name + extra + member.compress_size // 2] ^= 0x10
    archive.write_bytes(raw)


def _cut(archive: Path) -> None:
    archive.write_bytes(archive.read_bytes()[:-200])


def _rewritten(change: Callable[[dict[str, bytes]], None]) -> Callable[[Path], None]:
    def apply(archive: Path) -> None:
        with zipfile.ZipFile(archive) as held:
            members = {name: held.read(name) for name in held.namelist()}
        change(members)
        with zipfile.ZipFile(archive, "w") as out:
            for name, raw in members.items():
                out.writestr(name, raw)

    return apply


def _newer(members: dict[str, bytes]) -> None:
    members["manifest.toml"] = members["manifest.toml"].replace(b'records = "', b'records = "9')


def _unknown_form(members: dict[str, bytes]) -> None:
    members["manifest.toml"] = members["manifest.toml"].replace(b"format = 1", b"format = 7")


def _stranger(members: dict[str, bytes]) -> None:
    members["../../escaped.toml"] = b"x"
    members["manifest.toml"] += (
        b'"../../escaped.toml" = "2d711642b726b04401627ca9fbac32f5c8530fb1903cc4db02258717921a4881"\n'
    )


def _without(members: dict[str, bytes]) -> None:
    del members["records/entry.jsonl"]


def _other_records(members: dict[str, bytes]) -> None:
    members["records/entry.jsonl"] = b'{"id": 1}\n'


SPOILT: dict[str, Callable[[Path], None]] = {
    "a bit is another": _flip,
    "cut off": _cut,
    "no archive": lambda path: path.write_bytes(b"no archive at all") and None,
    "without a manifest": _rewritten(lambda members: members.pop("manifest.toml") and None),
    "of a newer version": _rewritten(_newer),
    "of another form": _rewritten(_unknown_form),
    "a name that leads out": _rewritten(_stranger),
    "something is missing": _rewritten(_without),
    "something was changed": _rewritten(_other_records),
}


@pytest.mark.parametrize("how", SPOILT)
def test_a_spoilt_archive_is_refused_in_words_and_leaves_nothing(
    house: House, elsewhere: Settings, tmp_path: Path, how: str
) -> None:
    archive = tmp_path / "kept.zip"
    back_up(house.database, house.settings, archive)
    SPOILT[how](archive)
    with pytest.raises(IndiceError) as told:
        restore(elsewhere, archive)
    assert told.value.message and told.value.hint
    assert not (tmp_path.parent / "escaped.toml").exists() and not (tmp_path / "escaped.toml").exists()
    with psycopg.connect(Database(elsewhere.database_url).plain_url) as link:
        made = link.execute("select to_regclass('library')").fetchone()
        assert made == (None,) or link.execute("select count(*) from library").fetchone() == (0,)


def test_a_place_that_cannot_be_written_to(house: House, tmp_path: Path) -> None:
    with pytest.raises(IndiceError, match="cannot be written"):
        back_up(house.database, house.settings, tmp_path / "not" / "there.zip")


def test_backups_by_themselves_keep_their_number(house: House, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    kept = tmp_path / "backups"
    settings = replace(house.settings, backup_folder=str(kept), backup_keep=2)
    assert not is_backup_due(house.settings)
    with pytest.raises(IndiceError, match="not there"):
        scheduled_backup(house.database, settings)
    kept.mkdir()
    (kept / "indice-mine.zip").write_bytes(b"of somebody else")
    for day in ("2020-01-01-000000", "2020-01-02-000000"):
        (kept / f"indice-{day}.zip").write_bytes(b"old")
        os.utime(kept / f"indice-{day}.zip", (1_577_836_800, 1_577_836_800))
    assert is_backup_due(settings)
    scheduled_backup(house.database, settings)
    assert not is_backup_due(settings)
    names = sorted(path.name for path in kept.iterdir())
    assert names[0] == "indice-2020-01-02-000000.zip" and names[-1] == "indice-mine.zip" and len(names) == 3
