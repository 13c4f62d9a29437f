"""The data folder moves whole, every start finds it, and a move that cannot be made leaves all as it was."""

from __future__ import annotations

import os
import shutil
import stat
import tempfile
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import pytest
from sqlalchemy import select

import indice.moving as moving
from indice.errors import IndiceError
from indice.held import HeldFile
from indice.moving import move_data
from indice.settings import Settings
from indice.store.cluster import Cluster
from indice.store.database import Database
from indice.store.models import Setting


@pytest.fixture
def place() -> Iterator[Path]:
    """A folder that the database's own user can reach."""
    made = Path(tempfile.mkdtemp(prefix="indice-move-", dir="/tmp"))
    made.chmod(0o755)
    yield made
    for home in made.iterdir():
        if home.is_dir():
            Cluster(home).stop("immediate")
    shutil.rmtree(made, ignore_errors=True)


@pytest.fixture
def lived_in(place: Path) -> Settings:
    """A data folder with records and a picture."""
    settings = Settings.load({"INDICE_HOME": str(place / "old")})
    database = Database(Cluster(settings.home).start())
    database.migrate()
    with database.begin() as db:
        db.add(Setting(name="colour of the door", value={"v": "green"}))
    database.engine.dispose()
    Cluster(settings.home).stop()
    picture = settings.home / "thumbnails" / "ab" / "abc.webp"
    picture.parent.mkdir(parents=True)
    picture.write_bytes(b"RIFF")
    key = settings.home / "session-key"
    key.write_text("secret")
    key.chmod(0o600)
    (settings.home / "indice.toml").write_text("port = 7811\n")
    return settings


def test_it_moves_whole_and_every_start_finds_it(place: Path, lived_in: Settings) -> None:
    said: list[str] = []
    move_data(lived_in, place / "new", said.append)
    assert said[0].startswith("Copying") and "Trying the copy" in said
    assert sorted(os.listdir(place / "old")) == ["indice.lock", "moved-to"]
    found = Settings.load({"INDICE_HOME": str(place / "old")})
    assert (found.home, found.port) == (place / "new", 7811)
    assert (found.home / "thumbnails" / "ab" / "abc.webp").read_bytes() == b"RIFF"
    assert stat.S_IMODE((found.home / "session-key").stat().st_mode) == 0o600
    database = Database(Cluster(found.home).start())
    database.must_be_current()
    with database.begin() as db:
        assert db.scalars(select(Setting.name)).all() == ["colour of the door"]
    database.engine.dispose()
    Cluster(found.home).stop()
    # Once more, from where it is now; the first line is still followed.
    move_data(found, place / "third", said.append)
    assert Settings.load({"INDICE_HOME": str(place / "old")}).home == place / "third"


@pytest.mark.parametrize(
    ("where", "said"),
    [("old/inside", "lies in the data folder"), (".", "lies in the data folder"), ("full", "not empty")],
)
def test_a_place_that_does_not_do_is_refused(place: Path, lived_in: Settings, where: str, said: str) -> None:
    (place / "full").mkdir()
    (place / "full" / "letter").write_text("dear")
    before = sorted(path.relative_to(place) for path in place.rglob("*") if "database" not in path.parts)
    with pytest.raises(IndiceError, match=said):
        move_data(lived_in, place / where, print)
    assert before == sorted(path.relative_to(place) for path in place.rglob("*") if "database" not in path.parts)


def test_nothing_moves_while_indice_runs_or_without_room(
    place: Path, lived_in: Settings, monkeypatch: pytest.MonkeyPatch
) -> None:
    lock = HeldFile(lived_in.home / "indice.lock")
    assert lock.take()
    with pytest.raises(IndiceError, match="runs"):
        move_data(lived_in, place / "new", print)
    lock.release()
    monkeypatch.setattr(moving.shutil, "disk_usage", lambda _: shutil._ntuple_diskusage(10**9, 10**9, 1000))
    with pytest.raises(IndiceError, match="are free"):
        move_data(lived_in, place / "new", print)
    assert not (place / "new").exists()


def test_a_copy_that_lacks_something_takes_nothing_away(
    place: Path, lived_in: Settings, monkeypatch: pytest.MonkeyPatch
) -> None:
    real = moving._copy

    def forgetful(source: Path, target: Path, *, without: Path | None = None) -> None:
        real(source, target, without=without)
        (target / "thumbnails" / "ab" / "abc.webp").unlink(missing_ok=True)

    monkeypatch.setattr(moving, "_copy", forgetful)
    with pytest.raises(IndiceError, match="missing in the copy"):
        move_data(lived_in, place / "new", print)
    assert (lived_in.home / "session-key").read_text() == "secret"
    assert Settings.load({"INDICE_HOME": str(place / "old")}).home == place / "old"


def test_a_folder_that_moved_to_a_drive_that_is_not_there_is_told(place: Path) -> None:
    home = place / "old"
    home.mkdir()
    (home / "moved-to").write_text(f"{place}/drive\n")
    with pytest.raises(ValueError, match="Plug its drive in"):
        Settings.load({"INDICE_HOME": str(home)})
    (home / "moved-to").write_text(f"{home}\n")
    with pytest.raises(ValueError, match="circle"):
        Settings.load({"INDICE_HOME": str(home)})
    assert replace(Settings(home=home)).home == home
