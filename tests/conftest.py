"""A real PostgreSQL cluster for the whole run, and a fresh database for each test that asks for one."""

from __future__ import annotations

import os
import shutil
import tempfile
from collections.abc import Iterator
from pathlib import Path

import pytest
from argon2 import PasswordHasher
from flask.testing import FlaskClient
from hypothesis import HealthCheck, settings

from indice.settings import Settings
from indice.store import tallies
from indice.store.cluster import Cluster
from indice.store.database import Database
from indice.web import session
from indice.web.app import create_app
from indice.work.requests import ensure_queue

from .fresh import OWNER, carry_token, made_of, own_settings

# A machine that is busy with something else is no fault of what is tested.
settings.register_profile("unhurried", deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("unhurried")
os.environ.setdefault("INDICE_STILL_SECONDS", "0")
"""Tests scan what they have just written; those that are about files that grow say so."""


# Nor is that counting took long on it: what changed is counted at once, but in tests about letting it be.
tallies.SLOW_SECONDS = 1e9
session.hasher = PasswordHasher(1, 8, 1)
"""Nobody guesses the passwords of tests."""


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Files with a browser are spread among the others: side by side they would starve each
    other, at the end nothing is beside them."""
    files: dict[Path, list[pytest.Item]] = {}
    for item in items:
        files.setdefault(item.path, []).append(item)
    browsers = [path for path in files if path.parent.name == "browser"]
    others = [path for path in files if path.parent.name != "browser"]
    step = len(others) / max(len(browsers), 1)
    place = {path: at * step for at, path in enumerate(browsers)} | {path: at + 0.5 for at, path in enumerate(others)}
    items[:] = [item for path in sorted(files, key=place.__getitem__) for item in files[path]]


@pytest.fixture(scope="session")
def cluster() -> Iterator[Cluster]:
    """A private cluster in a folder that the database's own user can reach."""
    home = Path(tempfile.mkdtemp(prefix="indice-test-", dir="/tmp"))
    home.chmod(0o755)
    made = Cluster(home, is_durable=False)
    made.start()
    template = Database(made.url)
    template.migrate()
    ensure_queue(template)
    template.engine.dispose()
    yield made
    made.stop("immediate")
    shutil.rmtree(home, ignore_errors=True)


@pytest.fixture
def database(cluster: Cluster) -> Iterator[Database]:
    """A fresh, migrated database."""
    with made_of(cluster) as made:
        yield made


@pytest.fixture
def settings(tmp_path: Path) -> Settings:
    """Settings with a data folder of their own."""
    return own_settings(tmp_path / "home")


@pytest.fixture
def client(settings: Settings, database: Database) -> FlaskClient:
    """A browser that has opened the first page: it has the session's token."""
    settings.home.mkdir(parents=True, exist_ok=True)
    return carry_token(create_app(settings, database).test_client())


@pytest.fixture
def owner(client: FlaskClient) -> FlaskClient:
    """The same, signed in as the owner."""
    assert client.post("/api/setup", json=OWNER).status_code == 200
    return carry_token(client)
