"""The household that the walks and the shares are tried in."""

from __future__ import annotations

import os
import shutil
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import pytest
from argon2 import PasswordHasher
from flask.testing import FlaskClient
from sqlalchemy import delete, select

from indice.settings import Settings
from indice.store.ages import limit_directory
from indice.store.cluster import Cluster
from indice.store.database import Database
from indice.store.household import Change, add_person
from indice.store.libraries import add_library
from indice.store.models import Artwork, Entry, Fact, File, Folder, PersonSession
from indice.web.app import create_app
from indice.work.queue import perform
from indice.work.requests import request_job

from ..fresh import OWNER, carry_token, made_of, own_settings
from ..playing.zoo import make
from .kettle import FILM, NAMES, RATED, Sign


@dataclass(frozen=True, slots=True)
class Made:
    """A household as it was made once: each test gets a copy of it."""

    name: str
    """Of its database."""
    root: Path
    """Where its libraries lie."""
    home: Path


def _fill(database: Database, settings: Settings, root: Path) -> None:
    """Libraries with films for several ages, and people of every role."""
    made = make(FILM, root, seconds=2)
    for name, files in NAMES.items():
        folder = root / name
        for file in files:
            (folder / file).parent.mkdir(parents=True)
            (folder / file).write_bytes(made.read_bytes())
        kind = "series" if name == "Series" else "movies"
        with database.begin() as db:
            library = add_library(
                db, name=name, kind=kind, folders=[bytes(folder)], language="en", country="DE", sources=[]
            ).id
        perform(database, settings, request_job(database, "scan", library))
    with database.begin() as db:
        for entry in db.scalars(select(Entry)):
            if entry.title in RATED:
                db.add(
                    Fact(
                        entry_id=entry.id,
                        field="certificates",
                        origin="hand",
                        value={"v": [f"DE: {RATED[entry.title]}"]},
                    )
                )
                db.add(Fact(entry_id=entry.id, field="directors", origin="hand", value={"v": ["Odo Farrow"]}))
            if entry.parent_id is None:
                picture = {"digest": f"{entry.id:032x}", "width": 9, "height": 9, "blur": ""}
                db.add(Artwork(entry_id=entry.id, role="poster", origin="hand", **picture))
        films = db.scalars(select(Folder).where(Folder.shown.like("%/Films"))).one()
        limit_directory(db, films, "Cellar", 18)
        password = PasswordHasher(1, 8, 1).hash("tidewrack 9")
        for name, change in (
            ("librarian", Change(role="librarian", age=10)),
            ("member", Change(libraries=["Films", "Series"])),
            ("child", Change(libraries=["Films", "Series"], age=10, downloads=False)),
            ("guest", Change(role="guest", libraries=[])),
        ):
            add_person(db, name, change).password_hash = password


@pytest.fixture(scope="session")
def household_made(cluster: Cluster, tmp_path_factory: pytest.TempPathFactory) -> Made:
    """The household of which copies are made."""
    place = tmp_path_factory.mktemp("household")
    root, home = place / "libraries", place / "home"
    root.mkdir()
    settings = own_settings(home)
    with made_of(cluster, stays=True) as database:
        client = carry_token(create_app(settings, database).test_client())
        assert client.post("/api/setup", json=OWNER).status_code == 200
        _fill(database, settings, root)
        with database.begin() as db:
            db.execute(delete(PersonSession))
        name = database.engine.url.database
        assert name is not None
    return Made(name, root, home)


def _wants_household(request: pytest.FixtureRequest) -> bool:
    return "household" in request.fixturenames


@pytest.fixture
def settings(request: pytest.FixtureRequest, tmp_path: Path) -> Settings:
    """Settings with a data folder of their own; that of the household, for a test that asks for it."""
    home = tmp_path / "home"
    if _wants_household(request):
        shutil.copytree(request.getfixturevalue("household_made").home, home, ignore=shutil.ignore_patterns("*.lock"))
    return own_settings(home)


@pytest.fixture
def database(request: pytest.FixtureRequest, cluster: Cluster, tmp_path: Path) -> Iterator[Database]:
    """A fresh, migrated database; that of the household, for a test that asks for it."""
    if not _wants_household(request):
        with made_of(cluster) as fresh:
            yield fresh
        return
    kept: Made = request.getfixturevalue("household_made")
    shutil.copytree(kept.root, tmp_path, dirs_exist_ok=True)
    with made_of(cluster, kept.name) as copy:
        with copy.begin() as db:
            for folder in db.scalars(select(Folder)):
                here = tmp_path / Path(os.fsdecode(folder.path)).relative_to(kept.root)
                folder.path, folder.shown = bytes(here), str(here)
            db.flush()
            for file, folder in db.execute(select(File, Folder).join(Folder)):
                file.inode = os.stat(os.path.join(folder.path, file.path)).st_ino
        yield copy


@pytest.fixture
def owner(request: pytest.FixtureRequest, client: FlaskClient) -> FlaskClient:
    """Who keeps the catalog, signed in; in the household they are there already."""
    if _wants_household(request):
        said = client.post("/api/session", json={key: OWNER[key] for key in ("name", "password")})
    else:
        said = client.post("/api/setup", json=OWNER)
    assert said.status_code == 200, said.get_json()
    return carry_token(client)


@pytest.fixture
def household(database: Database, owner: FlaskClient) -> Database:
    """Libraries with films for several ages, and people of every role; the child may see what is for ten."""
    return database


@pytest.fixture
def sign(household: Database, settings: Settings, owner: FlaskClient) -> Sign:
    """Signs somebody in, in a browser of their own."""

    def signed(name: str) -> FlaskClient:
        if name == "owner":
            return owner
        client = create_app(settings, household).test_client()
        for _ in range(2):
            client.environ_base["HTTP_X_INDICE_TOKEN"] = client.get("/api/status").get_json()["csrf"]
            said = client.post("/api/session", json={"name": name, "password": "tidewrack 9"})
            assert said.status_code == 200, said.get_json()
        client.environ_base["HTTP_X_INDICE_TOKEN"] = client.get("/api/status").get_json()["csrf"]
        return client

    return signed
