"""Root and the account of the service see one catalog in a data folder, and root
leaves nothing there that it cannot use."""

from __future__ import annotations

import os
import pwd
import shutil
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import psycopg
import pytest

from indice.account import act_as_owner
from indice.errors import IndiceError
from indice.store import cluster as clusters
from indice.store.cluster import Cluster, hand_over

pytestmark = pytest.mark.skipif(os.geteuid() != 0, reason="it is about root")
SRC = Path(__file__).resolve().parents[1] / "src"
KEEPER = "games"
"""Any account of the system that owns nothing."""


@pytest.fixture
def place() -> Iterator[Path]:
    """A folder that every account can enter, unlike pytest's own."""
    made = Path("/var/tmp") / f"indice-account-{os.getpid()}"
    made.mkdir(mode=0o755)
    yield made
    for home in made.iterdir():
        Cluster(home).stop("immediate")
    shutil.rmtree(made)


def owned(home: Path, account: str = KEEPER) -> Path:
    """A closed data folder of an account."""
    home.mkdir()
    home.chmod(0o750)
    os.chown(home, pwd.getpwnam(account).pw_uid, pwd.getpwnam(account).pw_gid)
    return home


def test_the_server_runs_as_the_owner_of_the_folder(place: Path) -> None:
    cluster = Cluster(owned(place / "home"))
    cluster.start()
    keeper = pwd.getpwnam(KEEPER)
    assert cluster.folder == place / "home" / "database"
    for path in (cluster.data, cluster.password_file, cluster.port_file, cluster.data / "postmaster.pid"):
        assert path.stat().st_uid == keeper.pw_uid, path
    number = int((cluster.data / "postmaster.pid").read_text().split()[0])
    assert Path(f"/proc/{number}").stat().st_uid == keeper.pw_uid
    assert Cluster(place / "home").is_running(), "whoever asks finds the same"
    with psycopg.connect(Cluster(place / "home").url.replace("+psycopg", "")) as link:
        link.execute("create table kept (id int)")
    assert Cluster(place / "home").stop() and not cluster.is_running()
    with psycopg.connect(Cluster(place / "home").start().replace("+psycopg", "")) as link:
        assert link.execute("select count(*) from kept").fetchone() == (0,)


def test_what_root_made_aside_is_not_lost_when_the_folder_is_handed_over(
    place: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(clusters, "_ASIDE", place / "aside")
    home = place / "home"
    home.mkdir(0o700)
    made = Cluster(home)
    with psycopg.connect(made.start().replace("+psycopg", "")) as link:
        link.execute("create table kept (id int)")
    assert made.folder.parent == place / "aside"
    keeper = pwd.getpwnam(KEEPER)
    how = hand_over(home, KEEPER)
    made.stop()
    os.chown(home, keeper.pw_uid, keeper.pw_gid)
    with pytest.raises(IndiceError, match="were made by root") as told:
        Cluster(home).start()
    assert not (home / "database").exists(), "no empty database is made in its stead"
    assert f"mv {made.folder} {home / 'database'}" in how and told.value.hint.count(str(made.folder)) == 1
    shutil.move(made.folder, home / "database")
    subprocess.run(["chown", "-R", f"{KEEPER}:", str(home)], check=True)
    with psycopg.connect(Cluster(home).start().replace("+psycopg", "")) as link:
        assert link.execute("select count(*) from kept").fetchone() == (0,)


@pytest.mark.parametrize("command", ["install", "move-data", "test", "demo", "openapi"])
def test_some_commands_stay_roots(place: Path, command: str) -> None:
    assert act_as_owner(command, owned(place / "home")) is None
    assert os.geteuid() == 0


def test_a_folder_of_roots_or_none_changes_nobody(place: Path) -> None:
    (place / "home").mkdir()
    assert act_as_owner("export", place / "home") is None
    assert act_as_owner("export", place / "nowhere") is None
    assert os.geteuid() == 0


def test_what_root_types_leaves_files_of_the_accounts(place: Path) -> None:
    """In a process of its own: there is no way back."""
    code = """
import os, sys
from pathlib import Path
import indice.account as account
account.closed_to_others = lambda *_: None
home = Path(sys.argv[1])
print(account.act_as_owner("export", home).pw_name, os.geteuid(), os.getegid(), os.environ["INDICE_HOME"] == str(home))
(home / "made").write_text("here")
try:
    os.setuid(0)
except PermissionError:
    print("for good")
"""
    home = owned(place / "home")
    done = subprocess.run(
        [sys.executable, "-c", code, str(home)],
        env={"PYTHONPATH": str(SRC), "PYTHONDONTWRITEBYTECODE": "1"},
        capture_output=True, text=True, check=False,
    )  # fmt: skip
    keeper = pwd.getpwnam(KEEPER)
    assert done.stdout.split("\n")[0] == f"{KEEPER} {keeper.pw_uid} {keeper.pw_gid} True", done.stderr
    assert "for good" in done.stdout
    assert (home / "made").stat().st_uid == keeper.pw_uid
