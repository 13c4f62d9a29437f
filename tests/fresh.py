"""What each test gets for itself: a database made of another one, settings, a browser that may ask."""

from __future__ import annotations

import itertools
import os
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path

import psycopg
from flask.testing import FlaskClient
from psycopg.rows import TupleRow

from indice.settings import Settings
from indice.store.cluster import Cluster
from indice.store.database import Database

OWNER = {"language": "en", "name": "Odile", "password": "tidewrack 9"}
"""Who keeps the catalog of tests."""
_numbers = itertools.count(1)


@contextmanager
def made_of(cluster: Cluster, template: str = "indice", *, stays: bool = False) -> Iterator[Database]:
    """A database that is as the template is, to which nobody may be connected.

    Removed at the end, unless it `stays`: hundreds of them take longer to be deleted in one go than each by itself.
    """
    name = f"test_{os.getpid()}_{next(_numbers)}"
    with _server(cluster) as link:
        link.execute(f"create database {name} template {template} strategy file_copy")
    made = Database(cluster.url.rsplit("/", 1)[0] + f"/{name}")
    yield made
    made.engine.dispose()
    if not stays:
        with _server(cluster) as link:
            link.execute(f"drop database if exists {name} with (force)")


def _server(cluster: Cluster) -> psycopg.Connection[TupleRow]:
    plain = cluster.url.replace("postgresql+psycopg", "postgresql")
    return psycopg.connect(plain.rsplit("/", 1)[0] + "/postgres", autocommit=True)


def own_settings(home: Path) -> Settings:
    """Settings with this data folder; what was just written is not waited for."""
    return replace(Settings.load({"INDICE_HOME": str(home)}), browse_roots="/", still_seconds=0.0)


def carry_token(client: FlaskClient) -> FlaskClient:
    """The same client, which sends the token that its session was given."""
    client.environ_base["HTTP_X_INDICE_TOKEN"] = client.get("/api/status").get_json()["csrf"]
    return client
