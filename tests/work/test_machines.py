"""Machines that work along: what they see, what they take, whom they help, and that one that dies holds nothing up."""

from __future__ import annotations

import contextlib
import json
import os
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from PIL import Image
from sqlalchemy import func, select, text

import indice.work.inside as inside
from indice.disk.probe import Probe
from indice.errors import IndiceError
from indice.settings import Settings
from indice.store.cluster import Cluster
from indice.store.database import Database
from indice.store.libraries import add_library
from indice.store.machines import LOOKS_INSIDE, join, machines_now
from indice.store.models import Artwork, File, Folder, Job, Machine
from indice.store.seen import here_of, see_as, there_of
from indice.work.lease import INSIDE, Lease
from indice.work.machines import Along, Here, read_can, read_sees
from indice.work.queue import perform, run_worker
from indice.work.requests import Queue, ensure_queue, request_job


@pytest.fixture(autouse=True)
def _as_it_is() -> Iterator[None]:
    yield
    see_as(())


def library(database: Database, folder: Path, name: str = "Days", kind: str = "photos") -> int:
    """A library of one folder."""
    with database.begin() as db:
        made = add_library(
            db, name=name, kind=kind, folders=[os.fsencode(folder)], language="en", country="", sources=[]
        )
        return made.id


def pictures(folder: Path, count: int) -> None:
    """So many small pictures by name."""
    folder.mkdir(parents=True)
    first = folder / "IMG_10000.jpg"
    Image.new("RGB", (64, 48), (90, 120, 30)).save(first)
    for number in range(1, count):
        shutil.copyfile(first, folder / f"IMG_{10000 + number}.jpg")


@pytest.mark.parametrize(
    ("path", "here"),
    [
        (b"/media/films", b"/mnt/f"),
        (b"/media/films/Old", b"/mnt/f/Old"),
        (b"/media/films/kept/a", b"/kept/a"),
        (b"/media/filmstrip", b"/media/filmstrip"),
        (b"/media", b"/media"),
        (b"/media/films/\xff", b"/mnt/f/\xff"),
    ],
)
def test_a_folder_of_the_catalog_lies_elsewhere(path: bytes, here: bytes) -> None:
    see_as((("/media/films/", "/mnt/f"), ("/media/films/kept", "/kept/")))
    assert here_of(path) == here
    assert there_of(here) == path


def test_records_hold_the_catalogs_path_whoever_writes_it(database: Database, tmp_path: Path) -> None:
    (tmp_path / "here").mkdir()
    see_as((("/media/there", str(tmp_path / "here")),))
    library(database, tmp_path / "here")
    with database.begin() as db:
        assert bytes(db.scalar(text("select path from folder"))) == b"/media/there"
        assert db.scalar(select(Folder.path)) == os.fsencode(tmp_path / "here")
        assert db.scalar(select(func.count()).where(Folder.path == os.fsencode(tmp_path / "here"))) == 1


@pytest.mark.parametrize("typed", ["", "scan,cook", " , "])
def test_what_a_machine_cannot_be_given_is_said(typed: str) -> None:
    with pytest.raises(IndiceError) as raised:
        read_can(typed)
    assert "inside" in raised.value.hint


def test_where_folders_lie_is_read_as_typed(tmp_path: Path) -> None:
    assert read_can("inside, scan,inside") == ("inside", "scan")
    assert read_sees([f"/media/a={tmp_path}", str(tmp_path)]) == (
        ("/media/a", str(tmp_path)),
        (str(tmp_path), str(tmp_path)),
    )
    for wrong in ("films", "/media=films", f"/media={tmp_path}/none"):
        with pytest.raises(IndiceError):
            read_sees([wrong])


def test_a_machine_hands_back_what_it_does_not_see(database: Database, settings: Settings, tmp_path: Path) -> None:
    pictures(tmp_path / "home" / "days", 2)
    empty = tmp_path / "not mounted"
    empty.mkdir()
    number = library(database, tmp_path / "home" / "days")
    job_id = request_job(database, "scan", number)
    Queue(database).defer(job_id)
    for sees in ((), ((str(tmp_path / "home"), str(empty)),)):
        run_worker(database, settings, wait=False, along=Along(can=("scan",), name="attic", sees=sees))
        with database.begin() as db:
            job = db.get_one(Job, job_id)
            assert (job.state, job.tries, job.subject["at_home"]) == ("queued", 0, True)
            assert db.scalar(select(Folder.state)) == "present", "what is not seen from there is not away"
    see_as(())
    run_worker(database, settings, wait=False)
    with database.begin() as db:
        assert db.get_one(Job, job_id).state == "done"
        assert db.scalar(select(func.count()).select_from(Machine)) == 0, "who goes says so"


def test_a_machine_scans_what_it_sees_elsewhere(database: Database, settings: Settings, tmp_path: Path) -> None:
    """Then home finds nothing changed: the same paths, and no file away, gone or new."""
    pictures(tmp_path / "there" / "days", 3)
    shutil.copytree(tmp_path / "there", tmp_path / "here", copy_function=os.link)
    number = library(database, tmp_path / "there" / "days")
    job_id = request_job(database, "scan", number)
    Queue(database).defer(job_id)
    along = Along(can=("scan",), name="attic", sees=((str(tmp_path / "there"), str(tmp_path / "here")),))
    run_worker(database, settings, wait=False, along=along)
    with database.begin() as db:
        assert db.get_one(Job, job_id).subject["counts"]["new"] == 3
        assert db.scalar(select(func.count()).select_from(File).where(File.media.is_not(None))) == 3
    see_as(())
    again = request_job(database, "scan", number)
    assert perform(database, settings, again) == "done"
    with database.begin() as db:
        counts = db.get_one(Job, again).subject["counts"]
    assert counts["unchanged"] == 3 and not any(counts[name] for name in ("new", "gone", "away", "moved", "changed"))


Looked = Counter[bytes]


@pytest.fixture
def waiting(
    database: Database, settings: Settings, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> tuple[int, Looked]:
    """A library of 200 files that were recorded and not looked into, and which are from now on."""
    pictures(tmp_path / "days", 200)
    number = library(database, tmp_path / "days")
    real = inside.look_inside
    monkeypatch.setattr("indice.work.scan.look_inside", lambda *_: [])
    assert perform(database, settings, request_job(database, "scan", number)) == "done"
    monkeypatch.setattr("indice.work.scan.look_inside", real)
    looked: Looked = Counter()

    def probe(path: bytes, kind: str) -> Probe:
        looked[path] += 1
        return Probe(media={"seconds": 1.0})

    monkeypatch.setattr(inside, "probe_apart", probe)
    return number, looked


def test_helpers_take_what_nobody_is_at(database: Database, waiting: tuple[int, Looked]) -> None:
    number, looked = waiting
    with database.begin() as db:
        ids = sorted(db.scalars(select(File.id)))
    other = Lease(database)
    held = ids[len(ids) // 2] // inside.BUNCH
    assert other.take(INSIDE, held)
    told: list[int] = []
    count = inside.help_inside(database, number, told.append)
    left = {id_ for id_ in ids if id_ // inside.BUNCH == held}
    assert count == sum(told) == len(looked) == 200 - len(left)
    other.end()  # it died: what it was at is free
    assert inside.help_inside(database, number, told.append) == len(left)
    assert set(looked.values()) == {1}, "none is looked into twice"
    assert inside.help_inside(database, number, told.append) == 0


def test_a_scan_waits_for_what_a_helper_is_at_and_does_it_when_that_dies(
    database: Database, settings: Settings, waiting: tuple[int, Looked]
) -> None:
    number, looked = waiting
    with database.begin() as db:
        first = min(db.scalars(select(File.id))) // inside.BUNCH
    helper = Lease(database)
    assert helper.take(INSIDE, first)
    real = inside._one
    tried: list[bool] = []

    def one(*arguments: Any) -> bool:
        tried.append(real(*arguments))
        if tried == [False]:
            helper.end()
        return tried[-1]

    inside._one = one  # type: ignore[assignment]
    try:
        assert perform(database, settings, request_job(database, "scan", number)) == "done"
    finally:
        inside._one = real
    assert tried[0] is False and len(looked) == 200 and set(looked.values()) == {1}


def test_who_does_not_reach_the_files_leaves_them_alone(
    database: Database, waiting: tuple[int, Looked], monkeypatch: pytest.MonkeyPatch
) -> None:
    number, _ = waiting
    monkeypatch.setattr(inside, "probe_apart", lambda *_: Probe(problem="The drive went away.", out_of_reach=True))
    assert inside.help_inside(database, number, lambda _: None) == 0
    with database.begin() as db:
        assert db.scalar(select(func.count()).select_from(File).where(File.problem != "")) == 0


def test_one_helps_other_machines_only(database: Database, tmp_path: Path) -> None:
    pictures(tmp_path / "days", 1)
    number = library(database, tmp_path / "days")
    with database.begin() as db:
        home = join(db, name="home", pid=1, is_home=True, can=["scan"], sees=[])
        db.add(
            Job(kind="scan", title="Scan Days", library_id=number, state="running", machine_id=home, step=LOOKS_INSIDE)
        )
    folder = str(tmp_path)
    for name, sees, helps in (
        ("home", ((folder, folder),), False),
        ("attic", ((folder, folder),), True),
        ("cellar", (("/elsewhere", folder),), False),
    ):
        here = Here(database, Along(can=("inside",), name=name, sees=sees))
        asked: list[int] = []
        here._help_with = lambda job_id, _, asked=asked: asked.append(job_id)  # type: ignore[method-assign]
        here._help()
        assert bool(asked) == helps, name
        here.leave()
    with database.begin() as db:
        ((machine, job),) = machines_now(db)
    assert machine.name == "home" and job is not None and job.title == "Scan Days"


def test_who_comes_again_takes_the_place_of_who_fell_silent(database: Database) -> None:
    def come(name: str) -> int:
        with database.begin() as db:
            return join(db, name=name, pid=1, is_home=True, can=["scan"], sees=[])

    died, other = come("shelf"), come("attic")
    with database.begin() as db:
        db.execute(text("update machine set beat_at = now() - interval '1 minute'"))
    beside, again = come("shelf"), come("shelf")
    with database.begin() as db:
        assert {machine.id for machine, _ in machines_now(db)} == {other, beside, again}, died


# What follows runs on two hosts: namespaces of the system with a network between them,
# of which one sees the folder elsewhere.

SOURCE = str(Path(inside.__file__).parents[2])
_NET = f"10.213.{os.getpid() % 250 + 1}"
HOME, ATTIC = f"{_NET}.1", f"{_NET}.2"
"""Apart for each process: two that test at once, or one that was killed, are not in each other's way."""


def system(*command: str) -> None:
    """Run a command of the system; a machine that does not let us skips the test."""
    done = subprocess.run(command, capture_output=True, text=True, check=False)
    if done.returncode:
        pytest.skip(f"{' '.join(command)}: {done.stderr.strip()}")


@pytest.fixture
def two_hosts() -> Iterator[str]:
    """A second host; returns its name."""
    if os.geteuid() or not shutil.which("ip"):
        pytest.skip("only root can make a second host here")
    name = f"attic{os.getpid()}"
    link = f"v{os.getpid()}"
    system("ip", "netns", "add", name)
    try:
        system("ip", "link", "add", f"{link}a", "type", "veth", "peer", "name", f"{link}b", "netns", name)
        system("ip", "address", "add", f"{HOME}/24", "dev", f"{link}a")
        system("ip", "link", "set", f"{link}a", "up")
        system("ip", "-n", name, "address", "add", f"{ATTIC}/24", "dev", f"{link}b")
        system("ip", "-n", name, "link", "set", f"{link}b", "up")
        yield name
    finally:
        subprocess.run(["ip", "netns", "delete", name], check=False, capture_output=True)
        subprocess.run(["ip", "link", "delete", f"{link}a"], check=False, capture_output=True)


@pytest.fixture
def house() -> Iterator[tuple[Path, Cluster, Database]]:
    """A data folder whose database the other host may reach."""
    folder = Path(tempfile.mkdtemp(prefix="indice-two-", dir="/tmp"))
    folder.chmod(0o755)
    cluster = Cluster(folder / "home", f"{HOME}/24")
    database = Database(cluster.start())
    database.migrate()
    ensure_queue(database)
    yield folder, cluster, database
    database.engine.dispose()
    cluster.stop("immediate")
    shutil.rmtree(folder, ignore_errors=True)


def until(what: Callable[[], Any], seconds: float = 60, *, moving: Callable[[], Any] = lambda: None) -> Any:
    """Wait until something is so; as long as something else is `moving`, the time begins anew."""
    end, seen = time.monotonic() + seconds, moving()
    while not (found := what()):
        if (now := moving()) != seen:
            end, seen = time.monotonic() + seconds, now
        assert time.monotonic() < end, "it did not come to that"
        time.sleep(0.1)
    return found


def count_inside(database: Database) -> int:
    """Files that were looked into."""
    with database.begin() as db:
        return int(db.scalar(select(func.count()).select_from(File).where(File.media.is_not(None))) or 0)


@contextlib.contextmanager
def on_attic(host: str, folder: Path, url: str, *more: str) -> Iterator[subprocess.Popen[bytes]]:
    """A worker on the second host, which has the pictures at another place and nothing at the first."""
    (folder / "elsewhere").mkdir(exist_ok=True)
    (folder / "nothing").mkdir(exist_ok=True)
    mount = f"mount --bind {folder}/days {folder}/elsewhere && mount --bind {folder}/nothing {folder}/days"
    own = [sys.executable, "-m", "indice.cli", "worker", "--database", url, "--name", "attic"]
    own += ["--sees", f"{folder}/days={folder}/elsewhere", *more]
    command = ["ip", "netns", "exec", host, "unshare", "-m", "sh", "-c", f'{mount} && exec "$@"', "sh", *own]
    with (folder / "attic.log").open("wb") as log:
        worker = subprocess.Popen(command, stdout=log, stderr=log, env=_env(folder), start_new_session=True)
    try:
        yield worker
    finally:
        with contextlib.suppress(ProcessLookupError):
            os.killpg(worker.pid, signal.SIGKILL)
        worker.wait()


def _env(folder: Path) -> dict[str, str]:
    return {**os.environ, "PYTHONPATH": SOURCE, "INDICE_HOME": str(folder / "home"), "INDICE_STILL_SECONDS": "0"}


def test_a_second_host_helps_and_is_killed_in_the_middle(two_hosts: str, house: tuple[Path, Cluster, Database]) -> None:
    folder, cluster, database = house
    count = 2500
    pictures(folder / "days", count)
    number = library(database, folder / "days")
    (url,) = cluster.urls_from_outside()
    assert HOME in url
    with on_attic(two_hosts, folder, url, "--can", "inside") as attic:
        until(lambda: _named(database, "attic"))
        with (folder / "home.log").open("wb") as log:
            home = subprocess.Popen(
                [sys.executable, "-m", "indice.cli", "worker"], stdout=log, stderr=log, env=_env(folder)
            )
        try:
            job_id = request_job(database, "scan", number)
            Queue(database).defer(job_id)
            until(lambda: (found := _named(database, "attic")) and found.done > 0)
            assert count_inside(database) < count, "it was killed too late to tell anything"
            os.killpg(attic.pid, signal.SIGKILL)
            until(lambda: _state(database, job_id) == "done", 240, moving=lambda: _done(database, job_id))
            assert count_inside(database) == count
        finally:
            home.terminate()
            home.wait()
    with database.begin() as db:
        assert db.scalar(select(func.count()).select_from(File).where(File.state != "present")) == 0
        assert db.scalar(select(func.count()).select_from(File).where(File.problem != "")) == 0


def test_a_second_host_scans_and_its_job_goes_on_at_home_when_it_dies(
    two_hosts: str, house: tuple[Path, Cluster, Database]
) -> None:
    folder, cluster, database = house
    count = 1500
    pictures(folder / "days", count)
    number = library(database, folder / "days")
    (url,) = cluster.urls_from_outside()
    job_id = request_job(database, "scan", number)
    Queue(database).defer(job_id)
    with on_attic(two_hosts, folder, url, "--can", "scan,inside", "--data", str(folder / "home")) as attic:
        until(lambda: count_inside(database) > 100)
        os.killpg(attic.pid, signal.SIGKILL)
    with (folder / "home.log").open("wb") as log:
        home = subprocess.Popen(
            [sys.executable, "-m", "indice.cli", "worker"], stdout=log, stderr=log, env=_env(folder)
        )
    try:
        until(lambda: _state(database, job_id) == "done", 240, moving=lambda: _done(database, job_id))
    finally:
        home.terminate()
        home.wait()
    assert count_inside(database) == count
    with database.begin() as db:
        assert db.scalar(select(func.count()).select_from(File)) == count
        assert bytes(db.scalar(text("select path from folder"))) == os.fsencode(folder / "days")


def _named(database: Database, name: str) -> Machine | None:
    with database.begin() as db:
        return db.scalars(select(Machine).where(Machine.name == name)).first()


def _state(database: Database, job_id: int) -> str:
    with database.begin() as db:
        return db.get_one(Job, job_id).state


def _done(database: Database, job_id: int) -> tuple[int, int, int]:
    """How far a job is: the worker stands back for everybody, and on a busy machine it takes its time."""
    with database.begin() as db:
        pictures = db.scalar(select(func.count()).select_from(Artwork)) or 0
        return db.get_one(Job, job_id).done, pictures, count_inside(database)


def test_the_command_says_what_is_wrong(tmp_path: Path) -> None:
    for arguments, said in (
        (["--database", "postgresql://a:b@127.0.0.1:1/x", "--sees", "films"], "does not say where"),
        (["--database", "postgresql://a:b@127.0.0.1:1/x", "--can", "scan"], "--data"),
        (["--database", "postgresql://a:b@127.0.0.1:1/x"], "cannot be reached"),
        (["--database", "somewhere"], "no address"),
        (["--sees", f"/a={tmp_path}"], "--database"),
    ):
        done = subprocess.run(
            [sys.executable, "-m", "indice.cli", "worker", *arguments],
            capture_output=True,
            text=True,
            check=False,
            env={**os.environ, "PYTHONPATH": SOURCE, "INDICE_HOME": str(tmp_path / "home"), "INDICE_DATABASE_URL": ""},
        )
        assert done.returncode == 2 and said in done.stderr + json.dumps(done.stdout), done.stderr
        assert "Traceback" not in done.stderr
