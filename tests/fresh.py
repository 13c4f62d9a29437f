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

from indice.settings import Settings
from indice.store.cluster import Cluster
from indice.store.database import Database

OWNER = {"language": "en", "name": "Odile", "password": "tidewrack 9"}
"""Who keeps the catalog of tests."""
_numbers = itertools.count(1)


@contextmanager
def made_of(cluster: Cluster, template: str = "indice") -> Iterator[Database]:
    """A database that is as the template is, to which nobody may be connected."""
    name = f"test_{os.getpid()}_{next(_numbers)}"
    server = cluster.url.replace("postgresql+psycopg", "postgresql")
    with psycopg.connect(server.rsplit("/", 1)[0] + "/postgres", autocommit=True) as link:
        link.execute(f"create database {name} template {template}")
    made = Database(cluster.url.rsplit("/", 1)[0] + f"/{name}")
    yield made
    made.engine.dispose()


def own_settings(home: Path) -> Settings:
    """Settings with this data folder; what was just written is not waited for."""
    return replace(Settings.load({"INDICE_HOME": str(home)}), browse_roots="/", still_seconds=0.0)


def carry_token(client: FlaskClient) -> FlaskClient:
    """The same client, which sends the token that its session was given."""
    client.environ_base["HTTP_X_INDICE_TOKEN"] = client.get("/api/status").get_json()["csrf"]
    return client
