"""Reaching the database: the engine, sessions, migrations."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import psycopg
from sqlalchemy import Connection, Engine, create_engine, event, text
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session, sessionmaker

from ..core.facts.clean import clean_value
from ..core.phrase import phrase
from ..errors import IndiceError
from ..settings import Settings
from .arrays import PlainListDumper
from .cluster import Cluster

__all__ = ["Database", "as_json", "head_version", "open_database", "version_of"]

_MIGRATIONS = Path(__file__).parent / "migrations"


def as_json(value: Any) -> str:
    """JSON as PostgreSQL takes it. What it does not take (NaN, NUL, half a surrogate
    pair) has mostly been left out before."""
    try:
        text = json.dumps(value, allow_nan=False, ensure_ascii=False)
        text.encode()
    except ValueError:
        return json.dumps(clean_value(value, most=10**9))
    return json.dumps(clean_value(value, most=10**9)) if "\\u0000" in text else text


class Database:
    """An engine with its sessions."""

    def __init__(self, url: str, *, pool: int = 10) -> None:
        self.url = url.replace("postgresql://", "postgresql+psycopg://", 1)
        self.engine: Engine = create_engine(
            self.url, pool_size=pool, max_overflow=20, pool_pre_ping=True, json_serializer=as_json
        )
        event.listen(self.engine, "connect", _with_plain_lists)
        self.sessions: sessionmaker[Session] = sessionmaker(self.engine, expire_on_commit=False)

    @property
    def plain_url(self) -> str:
        """The address as libpq understands it."""
        return self.url.replace("postgresql+psycopg://", "postgresql://", 1)

    def begin(self):
        """A session inside one transaction, committed at its end."""
        return self.sessions.begin()

    def migrate(self, to: str = "") -> None:
        """Bring the tables to this version, or to an older one that is asked for by its number.

        Raises IndiceError when the database cannot be reached, or when there is no such version.
        """
        wanted = to or head_version()
        if wanted > head_version() or not any((_MIGRATIONS / "versions").glob(f"{wanted}_*.py")):
            raise IndiceError(
                "The records are of a newer version of Indice.",
                hint="Bring Indice up to date first.",
                reference="too-old",
            )
        try:
            with self.engine.begin() as link:
                is_there = _revision(link)
                if is_there is None or is_there < wanted:
                    _upgrade(link, wanted)
        except OperationalError as error:
            hint = "Is the server of INDICE_DATABASE_URL up?"
            raise IndiceError(
                phrase("The database cannot be reached: {why}", why=error.orig), hint=hint, reference="database-down"
            ) from error

    def must_be_current(self) -> None:
        """Raises IndiceError when the records cannot be reached, or are of another version than this program."""
        try:
            with self.engine.connect() as link:
                found = _revision(link)
        except OperationalError as error:
            raise IndiceError(
                phrase("The database cannot be reached: {why}", why=error.orig),
                hint="`./indice machines` at home says its address.",
                reference="database-down",
            ) from error
        if found != head_version():
            raise IndiceError(
                "The machine where Indice is at home runs another version of it.",
                hint="Bring both to the same one.",
                reference="other-version",
            )


def _with_plain_lists(link: psycopg.Connection[Any], _: object) -> None:
    link.adapters.register_dumper(list, PlainListDumper)


def version_of(database: Database) -> str | None:
    """The version of the records; None where there are none."""
    with database.engine.connect() as link:
        return _revision(link)


def head_version() -> str:
    """The newest migration: their files begin with their numbers."""
    return max(path.name[:4] for path in (_MIGRATIONS / "versions").glob("[0-9]*.py"))


def _revision(link: Connection) -> str | None:
    if link.execute(text("select to_regclass('alembic_version')")).scalar() is None:
        return None
    return link.execute(text("select version_num from alembic_version")).scalar()


def _upgrade(link: Connection, wanted: str) -> None:
    # Loaded only when there is something to do: a start that finds all in place is half a second faster.
    from alembic import command
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(_MIGRATIONS))
    config.attributes["connection"] = link
    link.execute(text("create extension if not exists pg_trgm"))
    command.upgrade(config, wanted)


def open_database(settings: Settings) -> Database:
    """The database of these settings, started and migrated if need be."""
    url = settings.database_url or Cluster(settings.home, settings.database_networks).start()
    database = Database(url)
    database.migrate()
    return database
