"""The household that the walks and the shares are tried in."""

from __future__ import annotations

from pathlib import Path

import pytest
from argon2 import PasswordHasher
from flask.testing import FlaskClient
from sqlalchemy import select

from indice.settings import Settings
from indice.store.ages import limit_directory
from indice.store.database import Database
from indice.store.household import Change, add_person
from indice.store.libraries import add_library
from indice.store.models import Artwork, Entry, Fact, Folder
from indice.web.app import create_app
from indice.work.queue import perform
from indice.work.requests import request_job

from ..playing.zoo import make
from .kettle import FILM, NAMES, RATED, Sign


@pytest.fixture
def household(owner: FlaskClient, database: Database, settings: Settings, tmp_path: Path) -> Database:
    """Libraries with films for several ages, and people of every role; the child may see what is for ten."""
    made = make(FILM, tmp_path, seconds=2)
    for name, files in NAMES.items():
        folder = tmp_path / name
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
