"""An upgrade loses nothing: what was before is kept, and put back when it fails."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import psycopg
import pytest
from alembic import command
from alembic.config import Config
from sqlalchemy import text

import indice.store.database as database_module
import indice.upgrading as upgrading
from indice.errors import IndiceError
from indice.settings import Settings
from indice.store.cluster import Cluster
from indice.store.database import Database, head_version, version_of
from indice.store.models import Base
from indice.upgrading import KEPT, upgrade

OLD = "0019"
STEPPED = "0038"
"""From here on each step is taken back as well."""


@pytest.fixture
def old(cluster: Cluster, settings: Settings) -> Iterator[tuple[Settings, Database]]:
    """A database of an earlier version, with something in it."""
    server = cluster.url.replace("postgresql+psycopg", "postgresql").rsplit("/", 1)[0]
    with psycopg.connect(f"{server}/postgres", autocommit=True) as link:
        link.execute("drop database if exists upgraded with (force)")
        link.execute("create database upgraded")
    database = Database(f"{server}/upgraded")
    database.migrate(OLD)
    with database.engine.begin() as link:
        link.execute(text("insert into setting (name, value) values ('door', '{\"v\": \"green\"}')"))
    settings.home.mkdir(parents=True, exist_ok=True)
    yield replace(settings, database_url=database.plain_url), database
    database.engine.dispose()


def colour(database: Database) -> str:
    """What was written before."""
    with database.engine.connect() as link:
        return str(link.execute(text("select value ->> 'v' from setting where name = 'door'")).scalar())


def test_records_come_to_this_version_and_what_was_is_kept(old: tuple[Settings, Database]) -> None:
    settings, database = old
    said: list[str] = []
    upgrade(settings, said.append)
    assert version_of(database) == head_version() and colour(database) == "green"
    (kept,) = (settings.home / "before-upgrades").iterdir()
    assert kept.name.startswith(f"{OLD}-") and kept.read_bytes()[:5] == b"PGDMP"
    assert str(kept) in said[0] and OLD in said[-1]
    said.clear()
    upgrade(settings, said.append)
    assert "of this version" in said[0] and len(said) == 1


def indexes(database: Database) -> dict[str, str]:
    """Name → definition of every index."""
    with database.engine.connect() as link:
        query = "select indexname, indexdef from pg_indexes where schemaname = 'public'"
        return {str(name): str(made) for name, made in link.execute(text(query))}


def test_the_tables_have_the_indexes_that_the_program_names(old: tuple[Settings, Database]) -> None:
    _, database = old
    database.migrate()
    named = {str(index.name) for table in Base.metadata.tables.values() for index in table.indexes}
    assert named and named <= indexes(database).keys()


def test_the_last_steps_can_be_taken_back_and_taken_again(old: tuple[Settings, Database]) -> None:
    _, database = old
    database.migrate()
    before = indexes(database)
    config = Config()
    config.set_main_option("script_location", str(Path(database_module.__file__).parent / "migrations"))
    with database.engine.begin() as link:
        config.attributes["connection"] = link
        command.downgrade(config, STEPPED)
    assert version_of(database) == STEPPED and colour(database) == "green"
    database.migrate()
    assert indexes(database) == before and colour(database) == "green"


@pytest.mark.parametrize("how", ["raises", "loses rows"])
def test_what_fails_is_put_back(old: tuple[Settings, Database], monkeypatch: pytest.MonkeyPatch, how: str) -> None:
    settings, database = old
    monkeypatch.setattr(upgrading, "_COUNTED", ("setting",))

    def spoil(self: Database, to: str = "") -> None:
        with self.engine.begin() as link:
            link.execute(text("delete from setting"))
            link.execute(text("alter table library drop column name"))
        if how == "raises":
            raise RuntimeError("it broke")

    monkeypatch.setattr(Database, "migrate", spoil)
    with pytest.raises(IndiceError) as raised:
        upgrade(settings, lambda _: None)
    assert "They are as they were" in raised.value.hint
    assert version_of(database) == OLD and colour(database) == "green"
    with database.engine.connect() as link:
        assert link.execute(text("select count(name) from library")).scalar() == 0, "the column is there again"
    monkeypatch.undo()
    upgrade(settings, lambda _: None)
    assert version_of(database) == head_version()


def test_only_the_last_states_are_kept(old: tuple[Settings, Database]) -> None:
    settings, _ = old
    folder = settings.home / "before-upgrades"
    folder.mkdir()
    for number in range(5):
        (folder / f"001{number}-x.dump").write_bytes(b"PGDMP")
    upgrade(settings, lambda _: None)
    assert len(list(folder.iterdir())) == KEPT


def test_where_nothing_can_be_kept_nothing_is_changed(
    old: tuple[Settings, Database], monkeypatch: pytest.MonkeyPatch
) -> None:
    settings, database = old
    monkeypatch.setattr(upgrading, "_program", lambda _: "/bin/false")
    with pytest.raises(IndiceError, match="could not be kept"):
        upgrade(settings, lambda _: None)
    assert version_of(database) == OLD and list((settings.home / "before-upgrades").iterdir()) == []
