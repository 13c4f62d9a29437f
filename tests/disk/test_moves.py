"""Moves on a real disk: nothing is overwritten, nothing is lost, everything can be taken back."""

from __future__ import annotations

import hashlib
import os
import random
import signal
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

from indice.core.naming.plan import make_plan
from indice.disk.journal import Identity, Journal, PlannedMove, journals
from indice.disk.moves import carry_out, find_journal, mend_all, plan_undo, undo
from indice.disk.rename import copy_verified, rename_without_replacing
from indice.errors import IndiceError


@pytest.fixture
def other_disk() -> Iterator[Path]:
    """A folder on another file system."""
    shm = Path("/dev/shm")
    if not shm.is_dir() or os.stat(shm).st_dev == os.stat("/tmp").st_dev:
        pytest.skip("there is no second file system here")
    folder = shm / f"indice-test-{os.getpid()}-{random.randrange(10**9)}"
    folder.mkdir()
    yield folder
    for path in sorted(folder.rglob("*"), reverse=True):
        path.rmdir() if path.is_dir() else path.unlink()
    folder.rmdir()


def fill(root: Path, names: list[str]) -> None:
    """Files of these names, each with its own name as content, and an old date."""
    for place, name in enumerate(names):
        path = root / name
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(name)
        os.utime(path, ns=(1_500_000_000_000_000_000 + place, 1_400_000_000_123_456_789 + place))


def picture(*roots: Path) -> dict[str, tuple[object, ...]]:
    """Everything below some folders: content, permissions and times of files, and of folders."""
    found: dict[str, tuple[object, ...]] = {}
    for root in roots:
        for path in [root, *sorted(root.rglob("*"))]:
            status = path.lstat()
            body = hashlib.sha256(path.read_bytes()).hexdigest() if path.is_file() else "folder"
            found[str(path)] = (body, status.st_mode, status.st_mtime_ns)
    return found


def planned(root: Path, moves: list[tuple[str, str]]) -> list[PlannedMove]:
    """Steps of a plan below a folder."""
    names = [str(path.relative_to(root)) for path in root.rglob("*") if path.is_file()]
    plan = make_plan(moves, names)
    assert not plan.conflicts
    return [PlannedMove(os.fsencode(root / step.before), os.fsencode(root / step.after)) for step in plan.steps]


def start(root: Path, home: Path, moves: list[tuple[str, str]]) -> Journal:
    """A journal for moves below a folder."""
    return Journal.create(home, planned(root, moves), title="Test", roots=[os.fsencode(root)])


def test_moves_and_back_with_folders_times_and_permissions(tmp_path: Path) -> None:
    root, home = tmp_path / "films", tmp_path / "journal"
    fill(root, ["Salt Row/Salt Row.mkv", "Salt Row/poster.jpg", "a.mkv", "b.mkv", "case.mkv"])
    (root / "waiting").mkdir()
    os.chmod(root / "Salt Row", 0o750)
    before = picture(root)
    journal = start(
        root,
        home,
        [
            ("Salt Row/Salt Row.mkv", "Salt Row (1991)/Salt Row (1991).mkv"),
            ("Salt Row/poster.jpg", "Salt Row (1991)/poster.jpg"),
            ("a.mkv", "b.mkv"),
            ("b.mkv", "a.mkv"),
            ("case.mkv", "waiting/Case.mkv"),
        ],
    )
    outcome = carry_out(journal)
    assert outcome.left == []
    assert not (root / "Salt Row").exists()
    assert (root / "Salt Row (1991)" / "Salt Row (1991).mkv").read_text() == "Salt Row/Salt Row.mkv"
    assert (root / "a.mkv").read_text() == "b.mkv"
    back, undone = undo(find_journal(home, None), home)
    assert undone.left == [] and back.undoes == journal.id
    assert picture(root) == before
    with pytest.raises(IndiceError, match="nothing to undo"):
        find_journal(home, None)


def test_a_name_that_is_taken_meanwhile_is_left_alone(tmp_path: Path) -> None:
    root, home = tmp_path / "films", tmp_path / "journal"
    fill(root, ["a.mkv", "b.mkv"])
    journal = start(root, home, [("a.mkv", "x.mkv"), ("b.mkv", "y.mkv")])
    (root / "x.mkv").write_text("somebody else's")
    outcome = carry_out(journal)
    assert outcome.done == 1
    assert [path for path, _ in outcome.left] == [os.fsencode(root / "a.mkv")]
    assert (root / "x.mkv").read_text() == "somebody else's"


def test_a_file_that_changed_meanwhile_is_left_alone(tmp_path: Path) -> None:
    root, home = tmp_path / "films", tmp_path / "journal"
    fill(root, ["a.mkv", "b.mkv"])
    seen = Identity.of(os.lstat(root / "a.mkv"))
    (root / "a.mkv").write_text("a new cut")
    move = PlannedMove(os.fsencode(root / "a.mkv"), os.fsencode(root / "c.mkv"), seen)
    outcome = carry_out(Journal.create(home, [move], title="", roots=[os.fsencode(root)]))
    assert outcome.left[0][1].startswith("It has changed")
    assert (root / "a.mkv").exists()


def test_a_ring_that_cannot_be_closed_is_put_back(tmp_path: Path) -> None:
    root, home = tmp_path / "films", tmp_path / "journal"
    fill(root, ["a", "b", "c", "d"])
    journal = start(root, home, [("a", "b"), ("b", "c"), ("c", "a"), ("d", "e")])
    victim = journal.steps[1].before
    os.utime(victim)
    outcome = carry_out(journal)
    assert outcome.done == 1
    assert sorted(path.name for path in root.iterdir()) == ["a", "b", "c", "e"]
    assert all((root / name).read_text() == name for name in "abc")


def test_undo_refuses_what_is_no_longer_as_it_was(tmp_path: Path) -> None:
    root, home = tmp_path / "films", tmp_path / "journal"
    fill(root, ["a", "b"])
    carry_out(start(root, home, [("a", "x/a"), ("b", "x/b")]))
    (root / "x" / "a").write_text("edited since")
    _, outcome = undo(find_journal(home, None), home)
    assert outcome.done == 1 and len(outcome.left) == 1
    assert (root / "b").exists() and (root / "x" / "a").read_text() == "edited since"


def test_single_files_can_be_taken_back(tmp_path: Path) -> None:
    root, home = tmp_path / "films", tmp_path / "journal"
    fill(root, ["a", "b"])
    journal = start(root, home, [("a", "x/a"), ("b", "x/b")])
    carry_out(journal)
    undo(Journal.read(journal.path), home, only={os.fsencode(root / "x/a")})
    assert (root / "a").exists() and (root / "x/b").exists()
    assert list(Journal.read(journal.path).moves()) == [os.fsencode(root / "b")]


def test_across_file_systems(tmp_path: Path, other_disk: Path) -> None:
    root, home = tmp_path / "films", tmp_path / "journal"
    fill(root, ["a.mkv"])
    os.chmod(root / "a.mkv", 0o640)
    before = picture(root, other_disk)
    move = PlannedMove(os.fsencode(root / "a.mkv"), os.fsencode(other_disk / "new" / "a.mkv"))
    roots = [os.fsencode(root), os.fsencode(other_disk)]
    assert carry_out(Journal.create(home, [move], title="", roots=roots)).left == []
    moved = other_disk / "new" / "a.mkv"
    assert (moved.stat().st_mode & 0o777, moved.stat().st_mtime_ns) == (0o640, before[str(root / "a.mkv")][2])
    assert [path.name for path in moved.parent.iterdir()] == ["a.mkv"]
    undo(find_journal(home, None), home)
    assert picture(root, other_disk) == before


def test_names_that_are_no_text_move_too(tmp_path: Path) -> None:
    root, home = os.fsencode(tmp_path / "films"), tmp_path / "journal"
    os.mkdir(root)
    with open(root + b"/Tin\xe9.mkv", "wb") as file:
        file.write(b"x")
    move = PlannedMove(root + b"/Tin\xe9.mkv", root + "/Tiné.mkv".encode())
    carry_out(Journal.create(home, [move], title="", roots=[root]))
    assert os.listdir(root) == ["Tiné.mkv".encode()]
    undo(find_journal(home, None), home)
    assert os.listdir(root) == [b"Tin\xe9.mkv"]


def test_no_rename_ever_replaces(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    fill(tmp_path, ["a", "b"])
    one, other = os.fsencode(tmp_path / "a"), os.fsencode(tmp_path / "b")
    with pytest.raises(FileExistsError):
        rename_without_replacing(one, other)
    monkeypatch.setattr("indice.disk.rename._renameat2", lambda: None)
    with pytest.raises(FileExistsError):
        rename_without_replacing(one, other)
    rename_without_replacing(one, os.fsencode(tmp_path / "c"))
    assert (tmp_path / "b").read_text() == "b" and (tmp_path / "c").read_text() == "a"


def test_a_copy_that_is_not_like_the_original_is_not_kept(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    fill(tmp_path, ["a"])
    monkeypatch.setattr("indice.disk.rename.digest_of", lambda path: b"other")
    with pytest.raises(OSError, match="not like"):
        copy_verified(os.fsencode(tmp_path / "a"), os.fsencode(tmp_path / "b"))
    assert not (tmp_path / "b").exists()


def test_a_journal_with_a_line_cut_off_is_read(tmp_path: Path) -> None:
    root, home = tmp_path / "films", tmp_path / "journal"
    fill(root, ["a", "b"])
    journal = start(root, home, [("a", "x"), ("b", "y")])
    carry_out(journal)
    text = journal.path.read_bytes()
    journal.path.write_bytes(text[: text.rindex(b'{"did": "done"') + 7])
    found = mend_all(home)
    assert [(j.id, bool(said)) for j, said in found] == [(journal.id, True)]
    assert sorted(Journal.read(journal.path).moves()) == [os.fsencode(root / "a"), os.fsencode(root / "b")]


MOVES = 2000
"""As many as the promise is about."""
KILLS = 200


def test_killed_again_and_again_nothing_is_lost(tmp_path: Path, other_disk: Path) -> None:
    """Renames, rings and copies to another disk, killed at 200 random moments, then taken back, killed as well."""
    dice = random.Random(20261123)
    root, home = tmp_path / "films", tmp_path / "journal"
    names = [f"{number % 40:02d}/{number:04d}.mkv" for number in range(MOVES)]
    fill(root, names)
    before = picture(root, other_disk)
    files = {path: seen[0] for path, seen in before.items() if seen[0] != "folder"}
    steps: list[PlannedMove] = []
    inside: list[tuple[str, str]] = []
    for number, name in enumerate(names):
        if number % 4 == 0:
            steps.append(
                PlannedMove(os.fsencode(root / name), os.fsencode(other_disk / f"{number % 9}" / f"{number}.mkv"))
            )
        elif number % 4 == 1:
            inside += [(name, names[number + 1]), (names[number + 1], name)]
        elif number % 4 == 3:
            inside.append((name, f"new {number % 30}/{number}.mkv"))
    steps += planned(root, inside)
    assert len(steps) >= MOVES
    roots = [os.fsencode(root), os.fsencode(other_disk)]
    journal = Journal.create(home, steps, title="Crash", roots=roots)
    kills = run_killed(journal.path, home, dice, lambda: check_whole(home, files, root, other_disk))
    assert Journal.read(journal.path).ended == "done"
    moved = Journal.read(journal.path).moves()
    assert len(moved) == MOVES
    back = Journal.create(
        home, plan_undo(Journal.read(journal.path)), title="Back", roots=roots, undoes=Journal.read(journal.path)
    )
    kills += run_killed(back.path, home, dice, lambda: check_whole(home, files, root, other_disk))
    assert kills >= KILLS
    assert picture(root, other_disk) == before


def run_killed(path: Path, home: Path, dice: random.Random, check: Callable[[], None]) -> int:
    """Carry a journal out in a process of its own that is killed at random moments, until it is done."""
    kills = 0
    while Journal.read(path).ended != "done":
        child = os.fork()
        if child == 0:
            try:
                carry_out(Journal.read(path))
                os._exit(0)
            except BaseException:
                os._exit(1)
        time.sleep(dice.random() * (0.03 if kills < KILLS else 3))
        os.kill(child, signal.SIGKILL)
        _, status = os.waitpid(child, 0)
        kills += os.WIFSIGNALED(status)
        assert os.WIFSIGNALED(status) or os.WEXITSTATUS(status) == 0
        mend_all(home)
        if kills % 10 == 0:
            check()
    check()
    return kills


def check_whole(home: Path, files: dict[str, object], *roots: Path) -> None:
    """Every file is there once, whole, where the journals say."""
    where = {os.fsencode(path): os.fsencode(path) for path in files}
    for journal in reversed(journals(home)):
        journal.taken_back.clear()  # the journal that took it back is counted for itself
        moved = journal.moves()
        where = {origin: moved.get(at, at) for origin, at in where.items()}
    found = {
        os.fsencode(path): hashlib.sha256(path.read_bytes()).hexdigest()
        for root in roots
        for path in root.rglob("*")
        if path.is_file()
    }
    assert found == {at: files[os.fsdecode(origin)] for origin, at in where.items()}
