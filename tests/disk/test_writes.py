"""Writing on a real disk: every file is whole at every moment, and everything can be taken back byte for byte."""

from __future__ import annotations

import hashlib
import os
import random
import signal
import time
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from indice.demo.media import write_track
from indice.disk.tags import write_tags
from indice.disk.writes import Edit, PlannedWrite, WriteJournal, carry_out_writes, mend_writes, undo_writes


def fill(content: bytes) -> Edit:
    """An edit that gives a file this content."""
    return lambda path: path.write_bytes(content) and None


def quiet(done: int, total: int, path: bytes) -> None:
    """Nobody listens."""


def planned(path: Path, content: bytes) -> PlannedWrite:
    """This content for a path, as it lies there now."""
    status = path.stat() if path.exists() else None
    return PlannedWrite(os.fsencode(path), fill(content), status and (status.st_size, status.st_mtime_ns))


def picture(root: Path) -> dict[str, tuple[str, int, int]]:
    """Content, permissions and times of every file."""
    return {
        str(path.relative_to(root)): (
            hashlib.sha256(path.read_bytes()).hexdigest(),
            path.stat().st_mode,
            path.stat().st_mtime_ns,
        )
        for path in sorted(root.rglob("*"))
        if path.is_file()
    }


def test_new_and_changed_files_are_written_and_taken_back(tmp_path: Path) -> None:
    root = tmp_path / "films"
    root.mkdir()
    old = root / "old.jsonld"
    old.write_bytes(b"before")
    old.chmod(0o640)
    os.utime(old, ns=(1_500_000_000_000_000_000, 1_400_000_000_123_456_789))
    before = picture(root)
    journal = WriteJournal.create(tmp_path / "journal", "Films")
    outcome = carry_out_writes(journal, [planned(old, b"after"), planned(root / "new.jsonld", b"new")], tell=quiet)
    assert (outcome.done, outcome.left) == (2, [])
    assert (old.read_bytes(), (root / "new.jsonld").read_bytes()) == (b"after", b"new")
    assert old.stat().st_mode & 0o777 == 0o640
    again = WriteJournal.read(journal.folder)
    assert undo_writes(again, tell=quiet).done == 2
    assert picture(root) == before


@pytest.mark.parametrize("what", ["changed", "appeared", "no permission", "edit fails"])
def test_what_is_not_as_it_was_is_left_alone(tmp_path: Path, what: str) -> None:
    target = tmp_path / "a" / "a.jsonld"
    target.parent.mkdir()
    if what != "appeared":
        target.write_bytes(b"mine")
    plan = planned(target, b"new")
    if what == "edit fails":

        def fails(path: Path) -> None:
            raise ValueError("It cannot be.")

        plan = PlannedWrite(plan.path, fails, plan.seen)
    elif what == "no permission":
        plan = PlannedWrite(os.fsencode(tmp_path / "none" / "b"), plan.edit, None)
    else:
        target.write_bytes(b"somebody else's")
    kept = target.read_bytes()
    journal = WriteJournal.create(tmp_path / "journal", "x")
    outcome = carry_out_writes(journal, [plan], tell=quiet)
    assert outcome.done == 0
    assert outcome.left[0][1].endswith(".")
    assert target.read_bytes() == kept
    assert [path.name for path in target.parent.iterdir()] == ["a.jsonld"]


def test_what_somebody_changed_since_is_not_taken_back(tmp_path: Path) -> None:
    target = tmp_path / "a.jsonld"
    target.write_bytes(b"one")
    journal = WriteJournal.create(tmp_path / "journal", "x")
    carry_out_writes(journal, [planned(target, b"two")], tell=quiet)
    target.write_bytes(b"three")
    outcome = undo_writes(WriteJournal.read(journal.folder), tell=quiet)
    assert outcome.left == [(os.fsencode(target), "It has changed since it was written.")]
    assert target.read_bytes() == b"three"


@given(st.binary(max_size=60), st.binary(max_size=60), st.binary(max_size=20), st.binary(max_size=20))
@settings(max_examples=60, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_any_change_can_be_taken_back(tmp_path: Path, one: bytes, other: bytes, head: bytes, tail: bytes) -> None:
    target = tmp_path / "a.bin"
    target.write_bytes(head + one + tail)
    journal = WriteJournal.create(tmp_path / "journal", "x")
    carry_out_writes(journal, [planned(target, head + other + tail)], tell=quiet)
    assert target.read_bytes() == head + other + tail
    undo_writes(WriteJournal.read(journal.folder), tell=quiet)
    assert target.read_bytes() == head + one + tail


@pytest.mark.parametrize("extension", ["flac", "mp3", "m4a"])
def test_tags_are_written_and_taken_back_byte_for_byte(tmp_path: Path, extension: str) -> None:
    track = tmp_path / f"01.{extension}"
    write_track(track, title="Ash", seconds=3, artist="Mothwing", tags={"title": "Ash"})
    before = picture(tmp_path)
    status = track.stat()
    journal = WriteJournal.create(tmp_path.parent / f"journal-{extension}", "x")
    change = {"title": "Ash and Ember", "album": "Porchlight", "album_artist": "Mothwing", "track": 3, "year": 1991}
    plan = PlannedWrite(os.fsencode(track), lambda path: write_tags(path, change), (status.st_size, status.st_mtime_ns))
    assert carry_out_writes(journal, [plan], tell=quiet).left == []
    from indice.disk.probe import probe

    assert probe(os.fsencode(track), "track").media["tags"].items() >= change.items()
    kept = sum(path.stat().st_size for path in journal.folder.glob("*.kept"))
    assert kept < before[track.name][2] and kept <= status.st_size
    undo_writes(WriteJournal.read(journal.folder), tell=quiet)
    assert picture(tmp_path) == before


def test_what_has_no_tags_is_refused(tmp_path: Path) -> None:
    (tmp_path / "a.mp3").write_bytes(b"no music")
    with pytest.raises(ValueError, match=r"not known|cannot be written"):
        write_tags(tmp_path / "a.mp3", {"title": "x"})


def test_killed_at_any_moment_every_file_is_whole(tmp_path: Path) -> None:
    root, home = tmp_path / "films", tmp_path / "journal"
    root.mkdir()
    rng = random.Random(3)
    contents: dict[str, bytes] = {}
    for number in range(60):
        name = f"{number:03d}.bin"
        contents[name] = rng.randbytes(4000)
        (root / name).write_bytes(contents[name])
        os.utime(root / name, ns=(10**18, 10**18 + number))
    before = picture(root)
    fresh = {name: body[:1000] + b"NEW" + body[1500:] for name, body in contents.items()} | {"added.bin": b"added"}
    kills = 0
    while True:
        waiting = [n for n, body in fresh.items() if not (root / n).exists() or (root / n).read_bytes() != body]
        if not waiting:
            break
        child = os.fork()
        if not child:
            writes = [planned(root / name, fresh[name]) for name in waiting]
            carry_out_writes(WriteJournal.create(home, "x"), writes, tell=quiet)
            os._exit(0)
        time.sleep(rng.uniform(0.001, 0.02) * (1 + kills / 40))  # a busy machine gets further, too
        os.kill(child, signal.SIGKILL)
        os.waitpid(child, 0)
        kills += 1
        mend_writes(home)
        for path in root.iterdir():
            assert path.read_bytes() in (contents.get(path.name), fresh[path.name]), path
        assert kills < 500
    assert kills > 3
    journals = [WriteJournal.read(folder) for folder in sorted(home.glob("*-w"), key=lambda f: f.stat().st_ctime_ns)]
    for journal in reversed(journals):
        undo_writes(journal, tell=quiet)
    assert picture(root) == before
