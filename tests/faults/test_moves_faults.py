"""Moves that are broken off at the worst moment, with foreign hands in between:
nothing is lost, nothing stops the rest."""

from __future__ import annotations

import errno
import os
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest

from indice.disk import ledger as ledgers
from indice.disk import moves as moving
from indice.disk.journal import Journal, PlannedMove, journals
from indice.disk.moves import carry_out, find_journal, left_alone, mend_all, undo
from indice.disk.writes import PlannedWrite, WriteJournal, carry_out_writes, mend_writes, undo_writes


@pytest.fixture
def other_disk() -> Iterator[Path]:
    """A folder on another file system."""
    shm = Path("/dev/shm")
    if not shm.is_dir() or os.stat(shm).st_dev == os.stat("/tmp").st_dev:
        pytest.skip("there is no second file system here")
    folder = shm / f"indice-fault-{os.getpid()}"
    folder.mkdir()
    yield folder
    for path in sorted(folder.rglob("*"), reverse=True):
        path.rmdir() if path.is_dir() and not path.is_symlink() else path.unlink()
    folder.rmdir()


@pytest.fixture
def die(monkeypatch: pytest.MonkeyPatch) -> Iterator[Callable[..., None]]:
    """Let a child process die at the n-th call of a function; what it left is on the disk."""

    def run(work: Callable[[], Any], where: Any, name: str, nth: int = 1, *, after: bool = False) -> None:
        child = os.fork()
        if child == 0:
            real, calls = getattr(where, name), [0]

            def counted(*args: Any, **more: Any) -> Any:
                calls[0] += 1
                if calls[0] == nth:
                    if after:
                        real(*args, **more)
                    os._exit(77)
                return real(*args, **more)

            setattr(where, name, counted)
            try:
                work()
            finally:
                os._exit(0)
        _, status = os.waitpid(child, 0)
        assert os.WEXITSTATUS(status) == 77, "it did not come so far"

    yield run


def journal_of(root: Path, home: Path, moves: list[tuple[Path | str, Path | str]], *more: Path) -> Journal:
    """A journal for moves below a folder."""
    steps = [PlannedMove(os.fsencode(root / before), os.fsencode(root / after)) for before, after in moves]
    return Journal.create(home, steps, title="Test", roots=[os.fsencode(root), *(os.fsencode(one) for one in more)])


@pytest.mark.parametrize("edit", ["in place", "same size and time", "replaced"])
def test_an_old_file_that_was_written_to_after_the_copy_is_never_removed(
    tmp_path: Path, other_disk: Path, die: Callable[..., None], edit: str
) -> None:
    root, home = tmp_path / "films", tmp_path / "journal"
    root.mkdir()
    old, new = root / "a.mkv", other_disk / "a.mkv"
    old.write_text("the first cut")
    journal = journal_of(root, home, [("a.mkv", new)], other_disk)
    die(lambda: carry_out(Journal.read(journal.path)), os, "unlink")
    assert old.exists() and new.exists()
    times = old.stat()
    if edit == "in place":
        old.write_text("the second cut, longer")
    elif edit == "same size and time":
        old.write_text("the other cut")
        os.utime(old, ns=(times.st_atime_ns, times.st_mtime_ns))
    else:
        (root / "b").write_text("the second cut")
        os.replace(root / "b", old)
    wanted = old.read_text()
    ((_, said),) = mend_all(home)
    assert old.read_text() == wanted and new.read_text() == "the first cut"
    assert "both files are kept" in said
    assert [path for path, _ in left_alone(Journal.read(journal.path))] == [os.fsencode(old)]


def test_an_old_file_that_is_untouched_goes_when_the_move_is_mended(
    tmp_path: Path, other_disk: Path, die: Callable[..., None]
) -> None:
    root, home = tmp_path / "films", tmp_path / "journal"
    root.mkdir()
    (root / "a.mkv").write_text("the first cut")
    journal = journal_of(root, home, [("a.mkv", other_disk / "a.mkv")], other_disk)
    die(lambda: carry_out(Journal.read(journal.path)), os, "unlink")
    mend_all(home)
    assert not (root / "a.mkv").exists() and (other_disk / "a.mkv").read_text() == "the first cut"


def test_a_file_written_to_just_before_it_would_go_stays(
    tmp_path: Path, other_disk: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    root, home = tmp_path / "films", tmp_path / "journal"
    root.mkdir()
    (root / "a.mkv").write_text("the first cut")
    journal = journal_of(root, home, [("a.mkv", other_disk / "a.mkv")], other_disk)
    real = moving._sync

    def write_meanwhile(folder: bytes) -> None:
        (root / "a.mkv").write_text("written meanwhile")
        real(folder)

    monkeypatch.setattr(moving, "_sync", write_meanwhile)
    outcome = carry_out(journal)
    assert (root / "a.mkv").read_text() == "written meanwhile"
    assert not (other_disk / "a.mkv").exists() and len(outcome.left) == 1


RING: list[tuple[Path | str, Path | str]] = [
    ("c", ".indice-aside-1"),
    ("b", "c"),
    ("a", "b"),
    (".indice-aside-1", "a"),
    ("d", "e"),
]


def test_a_ring_that_cannot_be_put_back_is_said_and_stops_nothing(tmp_path: Path, die: Callable[..., None]) -> None:
    root, home = tmp_path / "films", tmp_path / "journal"
    root.mkdir()
    for name in "abcd":
        (root / name).write_text(name)
    journal = journal_of(root, home, RING)
    die(lambda: carry_out(Journal.read(journal.path)), moving, "rename_without_replacing", 3)
    assert sorted(path.name for path in root.iterdir()) == [".indice-aside-1", "a", "c", "d"]
    (root / "b").write_text("somebody's")
    other = journal_of(root, home, [("d", "f")])
    assert {found.id for found, _ in mend_all(home)} == {journal.id, other.id}
    contents = {path.name: path.read_text() for path in root.iterdir()}
    assert contents == {"a": "a", "b": "somebody's", "c": "b", ".indice-aside-1": "c", "d": "d"}
    left = dict(left_alone(Journal.read(journal.path)))
    assert "b is there by now" in left[os.fsencode(root / "c")]
    assert carry_out(Journal.read(other.path)).done == 1
    outcome = carry_out(Journal.read(journal.path))
    assert outcome.left and {path.name for path in root.iterdir()} == {"a", "b", "c", ".indice-aside-1", "f"}
    (root / "b").rename(root / "mine")
    undo(Journal.read(journal.path), home)
    assert {path.name: path.read_text() for path in root.iterdir()} == {
        "a": "a", "b": "b", "c": "c", "f": "d", "mine": "somebody's"
    }  # fmt: skip


def fill_disk(monkeypatch: pytest.MonkeyPatch, room: int) -> Callable[[], None]:
    """Journals find so many bytes of room, and, when what was kept aside is given back, a little more."""
    left = [room]
    real = os.write

    def write(handle: int, data: Any) -> int:
        if not left[0]:
            raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))
        part = bytes(data)[: left[0]]
        left[0] -= len(part)
        return real(handle, part)

    real_unlink = Path.unlink

    def unlink(path: Path, missing_ok: bool = False) -> None:
        if path.name.endswith(".reserve") and path.exists():
            left[0] += 2000
        real_unlink(path, missing_ok)

    monkeypatch.setattr(ledgers.os, "write", write)
    monkeypatch.setattr(Path, "unlink", unlink)
    return lambda: left.__setitem__(0, 10**9)


def test_a_full_disk_stops_the_plan_between_two_whole_lines_and_it_can_be_undone(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    root, home = tmp_path / "films", tmp_path / "journal"
    root.mkdir()
    names = [f"{number:03d}" for number in range(300)]
    for name in names:
        (root / name).write_text(name)
    journal = journal_of(root, home, [(name, f"new/{name}") for name in names])
    free = fill_disk(monkeypatch, 1501)
    outcome = carry_out(journal)
    assert outcome.stopped and "full" in outcome.why and 0 < outcome.done < 300
    assert len(list((root / "new").iterdir())) == outcome.done
    text = journal.path.read_bytes()
    assert text.endswith(b"\n") and len(Journal.read(journal.path).moves()) == outcome.done
    free()
    _, undone = undo(find_journal(home, None), home)
    assert undone.done == outcome.done and sorted(path.name for path in root.iterdir()) == names


def test_nothing_moves_where_the_journal_has_no_room_at_all(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    root, home = tmp_path / "films", tmp_path / "journal"
    root.mkdir()
    (root / "a").write_text("a")
    journal = journal_of(root, home, [("a", "new/a")])

    def full(*_: object) -> None:
        raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))

    monkeypatch.setattr(ledgers.os, "posix_fallocate", full)
    with pytest.raises(ledgers.LedgerFull, match="full"):
        carry_out(journal)
    assert [path.name for path in root.iterdir()] == ["a"]


def test_undo_mends_first_so_that_the_last_step_is_taken_back_as_well(tmp_path: Path, die: Callable[..., None]) -> None:
    root, home = tmp_path / "films", tmp_path / "journal"
    root.mkdir()
    for name in "abc":
        (root / name).write_text(name)
    journal = journal_of(root, home, [(name, f"new/{name}") for name in "abc"])
    die(lambda: carry_out(Journal.read(journal.path)), moving, "rename_without_replacing", 2, after=True)
    assert sorted(path.name for path in (root / "new").iterdir()) == ["a", "b"]
    undo(Journal.read(journal.path), home)
    assert sorted(path.name for path in root.iterdir()) == ["a", "b", "c"]


def test_an_undo_that_is_killed_leaves_no_empty_folders(tmp_path: Path, die: Callable[..., None]) -> None:
    root, home = tmp_path / "films", tmp_path / "journal"
    root.mkdir()
    (root / "a").write_text("a")
    journal = journal_of(root, home, [("a", "deep/er/a")])
    carry_out(journal)
    die(lambda: undo(Journal.read(journal.path), home), moving, "_remove_empty_folders")
    mend_all(home)
    assert [path.name for path in root.iterdir()] == ["a"]


def test_a_folder_is_written_down_before_it_is_made(tmp_path: Path, die: Callable[..., None]) -> None:
    root, home = tmp_path / "films", tmp_path / "journal"
    root.mkdir()
    (root / "a").write_text("a")
    journal = journal_of(root, home, [("a", "deep/er/a")])
    die(lambda: carry_out(Journal.read(journal.path)), os, "mkdir", 2, after=True)
    assert (root / "deep" / "er").is_dir()
    mend_all(home)
    assert [path.name for path in root.iterdir()] == ["a"]


def test_the_newest_plan_is_the_one_with_the_highest_number_whatever_the_clock_says(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    from datetime import UTC, datetime

    from indice.disk import journal as journal_module

    root, home = tmp_path / "films", tmp_path / "journal"
    root.mkdir()
    (root / "a").write_text("a")
    first = journal_of(root, home, [("a", "b")])
    carry_out(first)

    class Earlier(datetime):
        @classmethod
        def now(cls, tz: Any = None) -> datetime:
            return datetime(2019, 1, 1, tzinfo=UTC)

    monkeypatch.setattr(journal_module, "datetime", Earlier)
    second = journal_of(root, home, [("b", "c")])
    carry_out(second)
    assert find_journal(home, None).id == second.id
    assert [journal.id for journal in journals(home)] == [second.id, first.id]


def test_journals_of_the_time_before_numbers_are_the_oldest(tmp_path: Path) -> None:
    root, home = tmp_path / "films", tmp_path / "journal"
    root.mkdir()
    (root / "a").write_text("a")
    old = journal_of(root, home, [("a", "b")])
    old.path.rename(home / "20991231-000000-abcdef.jsonl")
    new = journal_of(root, home, [("a", "c")])
    assert [journal.path.name for journal in journals(home)] == [new.path.name, "20991231-000000-abcdef.jsonl"]


LINKS = [
    # what a link says, where it moves, what it must say then
    ("film.mkv", "Salt Row/link", "film (1991).mkv"),
    ("film.mkv", "link", "Salt Row/film (1991).mkv"),
    ("../outside/none.mkv", "Salt Row/link", "../../outside/none.mkv"),
    ("/somewhere/else.mkv", "Salt Row/link", "/somewhere/else.mkv"),
    ("stays.mkv", "Salt Row/link", "../stays.mkv"),
]


@pytest.mark.parametrize(("said", "after", "wanted"), LINKS)
def test_links_are_moved_as_links_and_still_lead_there(tmp_path: Path, said: str, after: str, wanted: str) -> None:
    root, home = tmp_path / "films", tmp_path / "journal"
    root.mkdir()
    for name in ("film.mkv", "stays.mkv"):
        (root / name).write_text(name)
    link = root / "a link"
    link.symlink_to(said)
    moves: list[tuple[Path | str, Path | str]] = [("a link", after), ("film.mkv", "Salt Row/film (1991).mkv")]
    assert carry_out(journal_of(root, home, moves)).left == []
    assert os.readlink(root / after) == wanted
    assert (root / after).exists() == (said in ("film.mkv", "stays.mkv"))
    undo(find_journal(home, None), home)
    assert os.readlink(link) == said and (root / "film.mkv").read_text() == "film.mkv"


def test_a_link_beside_a_file_that_moves_goes_on_leading_to_it(tmp_path: Path) -> None:
    root, home = tmp_path / "films", tmp_path / "journal"
    root.mkdir()
    (root / "film.mkv").write_text("film")
    (root / "also").symlink_to("film.mkv")
    (root / "absolute").symlink_to(root / "film.mkv")
    carry_out(journal_of(root, home, [("film.mkv", "Salt Row/film.mkv")]))
    assert (root / "also").read_text() == (root / "absolute").read_text() == "film"
    undo(find_journal(home, None), home)
    assert os.readlink(root / "also") == "film.mkv" and os.readlink(root / "absolute") == str(root / "film.mkv")


def test_a_link_goes_to_another_disk_as_a_link_and_comes_back(tmp_path: Path, other_disk: Path) -> None:
    root, home = tmp_path / "films", tmp_path / "journal"
    root.mkdir()
    (root / "film.mkv").write_text("film")
    (root / "link").symlink_to("film.mkv")
    outcome = carry_out(journal_of(root, home, [("link", other_disk / "link")], other_disk))
    assert outcome.left == [] and (other_disk / "link").is_symlink()
    assert (other_disk / "link").read_text() == "film"
    _, undone = undo(find_journal(home, None), home)
    assert undone.left == [] and os.readlink(root / "link") == "film.mkv" and not (other_disk / "link").is_symlink()


def test_a_linked_folder_is_not_followed_out_of_the_library(tmp_path: Path) -> None:
    root, outside, home = tmp_path / "films", tmp_path / "outside", tmp_path / "journal"
    root.mkdir()
    outside.mkdir()
    (root / "a").write_text("a")
    (outside / "b").write_text("b")
    (root / "linked").symlink_to(outside)
    outcome = carry_out(journal_of(root, home, [("a", "linked/a"), ("linked/b", "b")]))
    assert outcome.done == 0 and all("is a link to another folder" in why for _, why in outcome.left)
    assert (root / "a").exists() and [path.name for path in outside.iterdir()] == ["b"]


def test_a_killed_relinking_is_mended(tmp_path: Path, die: Callable[..., None]) -> None:
    root, home = tmp_path / "films", tmp_path / "journal"
    root.mkdir()
    (root / "film.mkv").write_text("film")
    (root / "link").symlink_to("film.mkv")
    for moment in (("unlink", 1), ("symlink", 1)):
        journal = journal_of(root, home, [("link", "Salt Row/link")])
        die(lambda journal=journal: carry_out(Journal.read(journal.path)), os, *moment)
        mend_all(home)
        carry_out(Journal.read(journal.path))
        assert (root / "Salt Row" / "link").read_text() == "film"
        assert [path.name for path in (root / "Salt Row").iterdir()] == ["link"]
        undo(Journal.read(journal.path), home)
        assert sorted(path.name for path in root.iterdir()) == ["film.mkv", "link"]


def nothing(*_: object) -> None:
    """Nobody listens."""


def put(text: str) -> Callable[[Path], None]:
    """An edit that writes a text."""

    def edit(path: Path) -> None:
        path.write_text(text)

    return edit


def test_a_file_that_is_changed_in_the_last_moment_is_not_written_over(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    file, home = tmp_path / "a.json", tmp_path / "journal"
    file.write_text("old")
    seen = file.stat()
    real = WriteJournal.write

    def write(journal: WriteJournal, did: str, **more: Any) -> None:
        real(journal, did, **more)
        if did == "begun":
            file.write_text("somebody's")

    monkeypatch.setattr(WriteJournal, "write", write)
    journal = WriteJournal.create(home, "Test")
    planned = PlannedWrite(os.fsencode(file), put("new"), (seen.st_size, seen.st_mtime_ns))
    outcome = carry_out_writes(journal, [planned], tell=nothing)
    assert file.read_text() == "somebody's" and len(outcome.left) == 1
    assert not list(tmp_path.glob(".indice*"))


def test_writing_stops_in_words_on_a_full_disk_and_is_taken_back(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    home = tmp_path / "journal"
    files = [tmp_path / f"{number}.json" for number in range(30)]
    journal = WriteJournal.create(home, "Test")
    free = fill_disk(monkeypatch, 3001)
    planned = [PlannedWrite(os.fsencode(file), put("new"), None) for file in files]
    outcome = carry_out_writes(journal, planned, tell=nothing)
    assert outcome.stopped and "full" in outcome.why
    there = [file for file in files if file.exists()]
    assert 0 < len(there) < 30
    free()
    undo_writes(WriteJournal.read(journal.folder), tell=nothing)
    assert not any(file.exists() for file in files)


def test_taking_back_sees_a_step_that_was_done_and_not_written_down(tmp_path: Path, die: Callable[..., None]) -> None:
    import indice.disk.writes as writing

    file, home = tmp_path / "a.json", tmp_path / "journal"
    journal = WriteJournal.create(home, "Test")
    planned = [PlannedWrite(os.fsencode(file), put("new"), None)]
    die(lambda: carry_out_writes(journal, planned, tell=nothing), writing, "rename_without_replacing", after=True)
    assert undo_writes(WriteJournal.read(journal.folder), tell=nothing).done == 1
    assert not file.exists()
    assert mend_writes(home) == []
