"""Files of directories are counted anew only where something has changed: always the same as counting all of them."""

from __future__ import annotations

import random
from collections import Counter, defaultdict
from collections.abc import Callable

import pytest
from sqlalchemy import delete, select, text, update
from sqlalchemy.orm import Session

from indice.store.database import Database
from indice.store.models import Entry, File, Finding, Folder, Library
from indice.store.tallies import (
    count_files,
    directories_of,
    files_of_directories,
    freshen,
    known_directories,
    library_states,
    tree_level,
)

DIRECTORIES = ("", "Ashlar", "Ashlar/Season 1", "Ash", "Ash%/B_c", "Ärger/夜市", "Ashlar/Season 1/Extras")
KINDS = ("episode", "photo", "other", "subtitle")


@pytest.fixture
def shelf(database: Database) -> Database:
    """Two libraries with a folder each, an artist's tree of entries, and files all over."""
    with database.begin() as db:
        for number in (1, 2):
            db.add(Library(id=number, name=f"Shelf {number}", kind="mixed"))
            db.flush()
            db.add(Folder(id=number, library_id=number, path=b"/none/%d" % number, shown=f"/none/{number}"))
        db.flush()
        above: int | None = None
        for number, kind in enumerate(("series", "season", "episode", "episode", "photo"), 1):
            db.add(_entry(number, kind, above if kind != "photo" else None))
            db.flush()
            above = number if kind in ("series", "season") else above
        for number in range(60):
            db.add(_file(number + 1, 1 + number % 2, DIRECTORIES[number % len(DIRECTORIES)], KINDS[number % 3]))
    return database


def _entry(number: int, kind: str, parent_id: int | None) -> Entry:
    title = f"{kind} {number}"
    return Entry(
        id=number, library_id=1, key=title, kind=kind, title=title, sort_title=title, search=title, parent_id=parent_id
    )


def _file(number: int, folder_id: int, directory: str, kind: str) -> File:
    name = f"{directory}/{number}.mkv" if directory else f"{number}.mkv"
    return File(
        id=number,
        folder_id=folder_id,
        path=name.encode(),
        shown=name,
        directory=directory,
        size_bytes=number,
        mtime_ns=1,
        kind=kind,
        reading={},
        marks=[],
        entry_id=number % 6 or None,
    )


def _plainly(db: Session) -> dict[tuple[int, str, str], tuple[int, int, int]]:
    """Folder, directory, state → files, those of no kind, bytes: told file by file, as the words of each state say."""
    entries = {entry.id: entry for entry in db.scalars(select(Entry))}
    told = {(finding.folder_id, finding.path) for finding in db.scalars(select(Finding))}
    found: dict[tuple[int, str, str], list[int]] = defaultdict(lambda: [0, 0, 0])
    for file in db.scalars(select(File)):
        if file.state == "missing":
            continue
        chain = []
        entry = entries.get(file.entry_id or 0)
        while entry is not None:
            chain.append(entry.state)
            entry = entries.get(entry.parent_id or 0)
        if file.state == "away":
            state = "away"
        elif (file.folder_id, file.shown) in told:
            state = "name"
        elif not chain:
            state = "other"
        elif file.kind == "photo" or "settled" in chain:
            state = "settled"
        else:
            state = "waiting" if "waiting" in chain else "unseen"
        counts = found[file.folder_id, file.directory, state]
        counts[0] += 1
        counts[1] += file.kind == "other"
        counts[2] += file.size_bytes
    return {place: (files, others, size) for place, (files, others, size) in found.items()}


def _counted(db: Session) -> dict[tuple[int, str, str], tuple[int, int, int]]:
    rows = db.execute(text("select folder_id, directory, state, files, others, bytes from tally"))
    return {(folder, directory, state): (files, others, size) for folder, directory, state, files, others, size in rows}


def _summed(db: Session) -> dict[tuple[int, str], tuple[int, int]]:
    """What is kept of whole folders."""
    rows = db.execute(text("select folder_id, state, files, bytes from tally_sum where files <> 0 or bytes <> 0"))
    return {(folder, state): (int(files), int(size)) for folder, state, files, size in rows}


def _added_up(counted: dict[tuple[int, str, str], tuple[int, int, int]]) -> dict[tuple[int, str], tuple[int, int]]:
    """The same, by adding up all directories."""
    found: dict[tuple[int, str], tuple[int, int]] = {}
    for (folder, _, state), (files, _, size) in counted.items():
        known = found.get((folder, state), (0, 0))
        found[folder, state] = known[0] + files, known[1] + size
    return found


def _some(db: Session, pick: random.Random) -> list[int]:
    ids = list(db.scalars(select(File.id)))
    return pick.sample(ids, min(len(ids), pick.randint(1, 5)))


def _add(db: Session, pick: random.Random) -> None:
    number = 1000 + pick.randrange(10**6)
    file = _file(number, pick.choice((1, 2)), pick.choice(DIRECTORIES), pick.choice(KINDS))
    file.entry_id = None
    db.add(file)


def _drop(db: Session, pick: random.Random) -> None:
    db.execute(delete(File).where(File.id.in_(_some(db, pick))))


def _lose(db: Session, pick: random.Random) -> None:
    state = pick.choice(("missing", "away", "present"))
    db.execute(update(File).where(File.id.in_(_some(db, pick))).values(state=state))


def _move(db: Session, pick: random.Random) -> None:
    for file in db.scalars(select(File).where(File.id.in_(_some(db, pick)))).all():
        file.directory, file.folder_id = pick.choice(DIRECTORIES), pick.choice((1, 2))
        name = f"{file.id}.mkv"
        file.shown = f"{file.directory}/{name}" if file.directory else name
        file.path = file.shown.encode()


def _rename(db: Session, pick: random.Random) -> None:
    for file in db.scalars(select(File).where(File.id.in_(_some(db, pick)))).all():
        file.shown = f"{file.shown[:-4]}+.mkv"
        file.path = file.shown.encode()


def _grow(db: Session, pick: random.Random) -> None:
    db.execute(update(File).where(File.id.in_(_some(db, pick))).values(size_bytes=pick.randrange(99)))


def _serve(db: Session, pick: random.Random) -> None:
    wanted = {"entry_id": pick.choice((None, *db.scalars(select(Entry.id)))), "kind": pick.choice(KINDS)}
    db.execute(update(File).where(File.id.in_(_some(db, pick))).values(wanted))


def _decide(db: Session, pick: random.Random) -> None:
    ids = list(db.scalars(select(Entry.id)))
    state = pick.choice(("settled", "waiting", "unseen", "none"))
    if ids:
        db.execute(update(Entry).where(Entry.id == pick.choice(ids)).values(state=state))


def _part(db: Session, pick: random.Random) -> None:
    """An entry goes elsewhere, or away: what it served serves another, or none."""
    if pick.random() < 0.5:
        db.execute(delete(Entry).where(Entry.id == pick.choice((3, 4, 5))))
    else:
        db.execute(update(Entry).where(Entry.id.in_((3, 4))).values(parent_id=pick.choice((None, 1, 2))))


def _find(db: Session, pick: random.Random) -> None:
    for file in db.scalars(select(File).where(File.id.in_(_some(db, pick)))).all():
        about = file.shown if pick.random() < 0.8 else f"{file.directory}/"
        db.add(
            Finding(
                library_id=file.folder_id, folder_id=file.folder_id, check="year-missing", severity="hint",
                path=about, message="", also=[], missing=[],
            )
        )  # fmt: skip


def _mend(db: Session, pick: random.Random) -> None:
    if pick.random() < 0.5:
        db.execute(delete(Finding).where(Finding.id.in_(select(Finding.id).limit(3))))
    else:
        db.execute(update(Finding).values(path=pick.choice(list(db.scalars(select(File.shown))) or [""])))


_CHANGES: tuple[Callable[[Session, random.Random], None], ...] = (
    _add, _drop, _lose, _move, _rename, _grow, _serve, _decide, _part, _find, _mend,
)  # fmt: skip


@pytest.mark.parametrize("seed", range(6))
def test_what_changed_is_counted_as_all_would_be(shelf: Database, seed: int) -> None:
    pick = random.Random(seed)
    done: Counter[str] = Counter()
    with shelf.begin() as db:
        freshen(db)
        assert _counted(db) == _plainly(db)
        assert _summed(db) == _added_up(_plainly(db))
    for step in range(40):
        with shelf.begin() as db:
            change = pick.choice(_CHANGES)
            done[change.__name__] += 1
            change(db, pick)
        if pick.random() < 0.6:
            with shelf.begin() as db:
                freshen(db, exactly=pick.random() < 0.5)
                assert _counted(db) == _plainly(db), (seed, step, change.__name__)
                assert _summed(db) == _added_up(_plainly(db)), (seed, step, change.__name__)
    assert len(done) > 6


def test_only_what_changed_is_counted(shelf: Database) -> None:
    with shelf.begin() as db:
        freshen(db)
        db.execute(text("update tally set bytes = bytes + 1000000"))
    with shelf.begin() as db:
        db.execute(update(File).where(File.directory == "Ashlar", File.folder_id == 1).values(state="away"))
        freshen(db)
        untouched = {place: size for place, (_, _, size) in _counted(db).items()}
    assert all(size < 1000000 for (folder, name, _), size in untouched.items() if (folder, name) == (1, "Ashlar"))
    assert all(size >= 1000000 for (folder, name, _), size in untouched.items() if (folder, name) != (1, "Ashlar"))


def test_a_file_that_is_checked_or_looked_into_changes_no_count(shelf: Database) -> None:
    with shelf.begin() as db:
        freshen(db)
    with shelf.begin() as db:
        db.execute(update(File).values(checked_by=1, media={}, problem="The file is empty."))
        db.execute(update(Entry).values(title="Another"))
        assert db.scalar(text("select count(*) from tally_change")) == 0


def test_a_change_on_its_way_is_counted_when_it_has_come(shelf: Database) -> None:
    with shelf.begin() as db:
        freshen(db)
        before = _counted(db)
    with shelf.begin() as slow:
        slow.execute(update(File).where(File.folder_id == 1).values(state="away"))
        with shelf.begin() as db:
            freshen(db, exactly=True)
            assert _counted(db) == before
    with shelf.begin() as db:
        freshen(db, exactly=True)
        assert _counted(db) == _plainly(db) != before


def test_what_asks_for_the_counts(shelf: Database) -> None:
    with shelf.begin() as db:
        db.execute(update(File).where(File.directory == "Ash").values(state="missing"))
        db.execute(update(File).where(File.directory == "Ashlar").values(state="away"))
    with shelf.begin() as db:
        known = known_directories(db, 1)
        held = files_of_directories(db, 1)
        named = directories_of(db, 1)
        count = count_files(db, 1)
        files = list(db.scalars(select(File).where(File.folder_id == 1)))
    assert count == len(files)
    assert named == sorted({file.directory for file in files})
    assert held == Counter(file.directory for file in files if file.state != "missing")
    present = [file for file in files if file.state == "present"]
    counted = Counter(file.directory for file in present if file.kind != "other")
    assert known == {
        directory: (held, counted[directory]) for directory, held in Counter(f.directory for f in present).items()
    }


def test_a_library_that_is_taken_out_leaves_no_count(shelf: Database) -> None:
    with shelf.begin() as db:
        freshen(db)
    with shelf.begin() as db:
        db.execute(delete(Library).where(Library.id == 1))
    with shelf.begin() as db:
        assert [library.id for library, _, _ in library_states(db)] == [2]
        assert {node.folder_id for node in tree_level(db, None)} == {2}
        assert {folder for folder, _, _ in _counted(db)} == {2}
