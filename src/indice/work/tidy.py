"""Drafts plans, carries them out and takes them back; the catalog follows the files."""

from __future__ import annotations

import os
from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path

import structlog
from sqlalchemy import select
from sqlalchemy.orm import Session

from ..core.naming.plan import Conflict, as_it_should_be, make_plan, same_name
from ..core.phrase import Phrase, joined, phrase
from ..core.reading.siblings import read_listing
from ..disk.journal import Identity, Journal, PlannedMove
from ..disk.moves import Outcome, carry_out, left_alone, mend_all, undo
from ..disk.walk import Seen, shown
from ..errors import IndiceError
from ..phrases import kept
from ..settings import Settings
from ..store.among import among, among_words
from ..store.database import Database
from ..store.files import NewFile
from ..store.jobs import announce
from ..store.models import File, Finding, Folder, Library, Plan, now
from ..store.paths import ancestors, exact_path, kept_path
from ..store.plans import follow_moves, plan_at
from ..store.tallies import files_of_directories, freshen
from ..store.taught import corrections_of
from .check_changed import check_changed
from .grouping import regroup
from .items import listing_around, listing_of
from .progress import Progress, Stopped
from .scan import new_file

log = structlog.get_logger()
_Tell = Callable[[int, int, bytes], None]
_Stop = Callable[[], bool]
_Work = Callable[[_Tell, _Stop], Outcome]

__all__ = ["Wish", "apply_plan", "draft_plan", "follow", "journal_folder", "mend_plans", "undo_plan"]


def journal_folder(settings: Settings) -> Path:
    """Where journals are kept."""
    return settings.home / "journal"


@dataclass(slots=True)
class Wish:
    """What a plan shall be made of."""

    findings: Sequence[int] = ()
    edits: Mapping[str, str] = field(default_factory=dict)
    """Before → after, where a person wrote another name than was proposed."""
    below: str | None = None
    """A library's folder or file: everything in it as it should be; empty for the whole library."""


def draft_plan(db: Session, library_id: int, wish: Wish) -> Plan:
    """A plan from findings, or for all that lies at a path, shown before anything is done."""
    library = db.get(Library, library_id)
    if library is None:
        raise IndiceError(phrase("There is no such library."), reference="library-unknown", status=404)
    moves: list[tuple[int, str, str]] = []
    conflicts: list[Conflict] = []
    others = [(bytes(f.path).rstrip(b"/") + b"/", f.library_id) for f in db.scalars(select(Folder))]
    for folder in db.scalars(select(Folder).where(Folder.library_id == library_id).order_by(Folder.id)):
        wanted = _wanted(db, library, folder, wish)
        if not wanted:
            continue
        allowed, foreign = _own(bytes(folder.path), library_id, wanted, others)
        around = _files_around(db, folder, allowed)
        plan = make_plan(allowed, around.files, around.folders)
        conflicts += [*foreign, *plan.conflicts]
        moves += [(folder.id, before, after) for before, after in plan.moves]
    made = Plan(
        library_id=library_id,
        title=library.name,
        moves=[[folder_id, kept_path(before), kept_path(after)] for folder_id, before, after in moves],
        conflicts=[[kept_path(c.before), kept_path(c.after), kept_path(kept(c.why))] for c in conflicts],
        left=[],
    )
    db.add(made)
    db.flush()
    return made


def _wanted(db: Session, library: Library, folder: Folder, wish: Wish) -> list[tuple[str, str]]:
    if wish.below is not None:
        below = exact_path(wish.below).rstrip("/")
        if not below:
            return list(as_it_should_be(listing_of(db, library, folder)))
        listing = listing_around(db, library, folder, below)
        paths = {item.path for item in listing.items if item.path == below or item.path.startswith(below + "/")}
        return list(as_it_should_be(listing, paths=paths))
    wanted: dict[str, str] = {}
    query = select(Finding).where(among(Finding.id, wish.findings), Finding.folder_id == folder.id).order_by(Finding.id)
    for finding in db.scalars(query):
        for move in finding.also:
            if move["after"] is not None:
                before = exact_path(move["before"])
                wanted.setdefault(before, exact_path(wish.edits.get(move["before"], move["after"])))
    return list(wanted.items())


def _own(
    root: bytes, library_id: int, wanted: Iterable[tuple[str, str]], others: Sequence[tuple[bytes, int]]
) -> tuple[list[tuple[str, str]], list[Conflict]]:
    """Moves within the library, and those that reach into a folder of another one, which are left out."""
    inner = [path for path, owner in others if owner != library_id and path.startswith(root.rstrip(b"/") + b"/")]
    allowed: list[tuple[str, str]] = []
    foreign: list[Conflict] = []
    for before, after in wanted:
        ends = [os.path.join(root, os.fsencode(path)) for path in (before, after)]
        if any(end.startswith(folder) for end in ends for folder in inner):
            foreign.append(Conflict(before, after, phrase("It lies in a folder of another library.")))
        else:
            allowed.append((before, after))
    return allowed, foreign


def apply_plan(database: Database, settings: Settings, plan_id: int, progress: Progress) -> str:
    """Carry a plan out, or go on with one that was stopped; the catalog follows. Returns what came of it, in words."""
    with database.begin() as db:
        plan = plan_at(db, plan_id)
        journal = _journal_of(db, settings, plan)
        plan.state, plan.applied_at, plan.journal = "running", now(), journal.id
    outcome = _watched(
        progress, "Moving files", journal, lambda tell, stop: carry_out(journal, tell=tell, should_stop=stop)
    )
    follow(database, journal.moves(), progress)
    _keep(database, plan_id, "stopped" if outcome.stopped else "done", outcome)
    return _said(outcome, phrase("{n:file|files} moved.", n=outcome.done))


def undo_plan(
    database: Database, settings: Settings, plan_id: int, progress: Progress, *, only: Collection[str] | None = None
) -> str:
    """Take a plan back, whole or for the files that lie at these paths now. Returns what came of it, in words."""
    with database.begin() as db:
        plan = plan_at(db, plan_id)
        path = journal_folder(settings) / f"{plan.journal}.jsonl"
    journal = Journal.read(path)
    chosen = None if only is None else {os.fsencode(exact_path(name)) for name in only}
    box: list[Journal] = []

    def work(tell: _Tell, stop: _Stop) -> Outcome:
        back, outcome = undo(journal, path.parent, only=chosen, tell=tell, should_stop=stop)
        box.append(back)
        return outcome

    outcome = _watched(progress, "Moving files back", journal, work)
    follow(database, box[0].moves(), progress)
    left = Journal.read(path).moves()
    _keep(database, plan_id, "done" if left else "undone", outcome)
    return _said(outcome, phrase("{n:file|files} moved back.", n=outcome.done))


def _journal_of(db: Session, settings: Settings, plan: Plan) -> Journal:
    if plan.journal:
        return Journal.read(journal_folder(settings) / f"{plan.journal}.jsonl")
    folders = {folder.id: folder for folder in db.scalars(select(Folder))}
    steps: list[PlannedMove] = []
    for folder_id in dict.fromkeys(row[0] for row in plan.moves):
        if folder_id not in folders:
            continue
        root = bytes(folders[folder_id].path)
        moves = [(exact_path(before), exact_path(after)) for owner, before, after in plan.moves if owner == folder_id]
        around = _files_around(db, folders[folder_id], moves)
        for step in make_plan(moves, around.files, around.folders).steps:
            before, after = (os.path.join(root, os.fsencode(path)) for path in (step.before, step.after))
            steps.append(PlannedMove(before, after, around.files.get(step.before)))
    if not steps:
        raise IndiceError(phrase("There is nothing to move in this plan."), reference="plan-empty")
    return Journal.create(
        journal_folder(settings),
        steps,
        title=plan.title,
        roots=sorted(bytes(folder.path) for folder in folders.values()),
    )


@dataclass(frozen=True, slots=True)
class _Around:
    """What may be in the way of moves."""

    files: Mapping[str, Identity]
    """Files in the directories that moves begin or end in, by any spelling, and in those above."""
    folders: Collection[str]
    """All folders, by the records."""


def _files_around(db: Session, folder: Folder, moves: Sequence[tuple[str, str]]) -> _Around:
    """What lies where files move from and to: a plan needs to know no more of a library, however large it is."""
    freshen(db, exactly=True)
    directories = files_of_directories(db, folder.id)
    ends = {path.rpartition("/")[0] for move in moves for path in move}
    near = {same_name(shown(os.fsencode(up))) for end in ends for up in ancestors(end)}
    query = select(File.path, File.size_bytes, File.mtime_ns).where(
        File.folder_id == folder.id,
        File.state != "missing",
        among_words(File.directory, [one for one in directories if same_name(one) in near]),
    )
    files = {os.fsdecode(bytes(path)): Identity(size, mtime) for path, size, mtime in db.execute(query)}
    return _Around(files, {up for directory in directories for up in ancestors(directory) if up})


def _watched(progress: Progress, step: str, journal: Journal, work: _Work) -> Outcome:
    """Run with progress told; a wish to stop is heard between two moves, never inside one."""
    progress.step(step, len(journal.steps))
    wish: list[bool] = []
    last = [0]

    def tell(done: int, total: int, path: bytes) -> None:
        try:
            progress.advance(done - last[0], shown(path))
        except Stopped:
            wish.append(True)
        last[0] = done

    outcome = work(tell, lambda: bool(wish))
    for path, why in outcome.left:
        progress.log(why, path=shown(path), level="warning")
    return outcome


def _keep(database: Database, plan_id: int, state: str, outcome: Outcome) -> None:
    with database.begin() as db:
        plan = plan_at(db, plan_id)
        plan.state = state
        plan.left = [[kept_path(os.fsdecode(path)), kept_path(kept(why))] for path, why in outcome.left]
        announce(db, "plans")


def _said(outcome: Outcome, done: Phrase) -> str:
    left = phrase("{n} left alone; the log says why.", n=len(outcome.left)) if outcome.left else ""
    stopped = phrase("Stopped by hand; you can go on or undo it.") if outcome.stopped else ""
    return joined(done, left, outcome.why or stopped)


def follow(database: Database, moves: Mapping[bytes, bytes], progress: Progress | None = None) -> None:
    """The catalog follows files that were moved: same entries, same decisions, new names, read and checked anew."""
    if not moves:
        return
    if progress is not None:
        progress.step(phrase("Following the files"))
    with database.begin() as db:
        libraries = follow_moves(db, moves)
    for library_id in sorted(libraries):
        _read_moved(database, library_id)
        regroup(database, library_id)
        check_changed(database, library_id)
    with database.begin() as db:
        for topic in ("catalog", "findings", "plans"):
            announce(db, topic)


def _read_moved(database: Database, library_id: int) -> None:
    """Read the names anew in every folder that something was moved into or out
    of; what was found inside files stays."""
    with database.begin() as db:
        library = db.get_one(Library, library_id)
        for folder in db.scalars(select(Folder).where(Folder.library_id == library_id)):
            here = select(File).where(File.folder_id == folder.id, File.state != "missing")
            moved = db.scalars(here.where(File.grouped_by == 0).with_only_columns(File.directory).distinct())
            corrections = corrections_of(db, folder.id)
            by_directory: dict[str, list[File]] = {}
            for file in db.scalars(here.where(among_words(File.directory, {*moved, *map(str, folder.stirred)}))):
                by_directory.setdefault(file.directory, []).append(file)
            for files in by_directory.values():
                readings = read_listing([os.fsdecode(bytes(file.path)) for file in files], library.kind)
                for file in files:
                    seen = Seen(bytes(file.path), file.size_bytes, file.mtime_ns, file.inode)
                    made: NewFile = new_file(seen, readings[os.fsdecode(seen.path)], corrections)
                    if (file.kind, file.reading) != (made.kind, made.reading) or file.marks != made.marks:
                        file.kind, file.reading, file.marks = made.kind, made.reading, made.marks
                        file.grouped_by = file.checked_by = 0


def mend_plans(database: Database, settings: Settings) -> list[str]:
    """After a crash: finish or take back the step each journal was in, and let
    the catalog follow. Says what was done."""
    said: list[str] = []
    for journal, words in mend_all(journal_folder(settings)):
        left = [[kept_path(os.fsdecode(path)), kept_path(why)] for path, why in left_alone(journal)]
        with database.begin() as db:
            plan = db.scalars(select(Plan).where(Plan.journal == (journal.undoes or journal.id))).first()
            if plan is not None:
                plan.state, plan.left = "stopped", left
            announce(db, "plans")
        said.append(f"A plan for {journal.title} was broken off. {words or phrase('No file was on its way.')}")
        try:
            follow(database, journal.moves())
        except Exception as error:  # what cannot be followed now is found by the next scan; the start goes on
            log.error("plan_not_followed", journal=journal.id, error=repr(error))
    return said
