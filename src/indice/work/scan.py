"""Scans a library: walk, read the names, show entries at once, then look inside, make thumbnails and check."""

from __future__ import annotations

import os
from collections import deque
from collections.abc import Collection, Mapping, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from typing import Any

from sqlalchemy import select

from ..core.facts.clean import clean_value
from ..core.grouping import Grouped
from ..core.identity import Body, Record, recognise, same_as_found
from ..core.phrase import counted, phrase, term
from ..core.presence import is_away_by_loss
from ..core.reading.corrections import Correction, apply_corrections
from ..core.reading.model import Reading
from ..core.reading.siblings import read_listing
from ..disk.walk import Directory, Seen, is_away, shown
from ..errors import IndiceError
from ..phrases import kept
from ..settings import Settings
from ..store.database import Database
from ..store.files import (
    NewFile,
    Recorded,
    count_away,
    has_files,
    is_to_check,
    lower_floor,
    mark_state,
    more_to_probe_than,
    raise_floor,
    reserve_numbers,
    save_files,
)
from ..store.gone import forget_gone, remove_empty
from ..store.jobs import announce, fewer_gone
from ..store.listings import keep_listings
from ..store.models import Folder, Library, now
from ..store.moved import (
    Followed,
    count_fresh,
    count_moved,
    digests_of,
    displaced_bodies,
    forget_files,
    fresh_bodies,
    known_elsewhere,
    libraries_of,
    places_of,
    settle_moves,
    sizes_of,
)
from ..store.seen import is_elsewhere
from ..store.served import add_serving
from ..store.stages import GROUPED, is_due
from ..store.tallies import freshen
from ..store.taught import corrections_of
from .artwork import local_artwork
from .check_changed import check_changed
from .digests import take_digests, verify_library
from .drives import device_of, mark_folder_away
from .grouping import group_new, regroup, show_new, view_of_new
from .inside import look_inside, sample_or_none
from .progress import Progress
from .survey import Found, Survey, as_lost, holds_the_same, survey

__all__ = ["NOTHING_CHANGED", "new_file", "scan_library"]

_Row = tuple[int, bytes, bytes, str]
"""A file to be looked into: its id, its folder, its path, its kind."""
BATCH = 400
AHEAD = 2
"""So many batches are being put together and recorded while the next is read."""
PROBERS = 4


def marks_of(reading: Reading, values: Mapping[str, Any]) -> list[dict[str, Any]]:
    """Facts with their spans and rules, as they are kept, with their `values` as they are kept."""
    marks = [
        {"field": name, "value": values[name], "spans": [list(span) for span in fact.spans], "rule": kept(fact.rule)}
        for name, fact in reading.facts.items()
    ]
    return [
        *marks,
        *(
            {"field": "", "value": None, "spans": [list(span)], "rule": kept(term("left out"))}
            for span in reading.ignored
        ),
    ]


def new_file(seen: Seen, reading: Reading, corrections: Sequence[Correction]) -> NewFile:
    """What is recorded of a file that the walk saw; its reading is mended as people have taught."""
    readable = shown(seen.path)
    reading = apply_corrections(readable, reading, corrections)
    values = {name: clean_value(fact.value) for name, fact in reading.facts.items()}
    return NewFile(
        path=seen.path,
        shown=readable,
        directory=readable.rpartition("/")[0],
        size_bytes=seen.size_bytes,
        mtime_ns=seen.mtime_ns,
        inode=seen.inode,
        kind=reading.kind,
        reading=values,
        marks=marks_of(reading, values),
    )


def scan_library(
    database: Database,
    settings: Settings,
    library_id: int,
    progress: Progress,
    *,
    verify: bool = False,
    only: Mapping[int, Collection[bytes]] | None = None,
) -> str:
    """Scan all folders of a library, or `only` some directories of some of them; returns what came of it, in words.

    Each stage takes up what it has not done yet, also of a scan that was broken off. With `verify` every byte is read
    and compared with what it was. Raises :class:`IndiceError` when a drive went away in the middle: what lies on it
    is away, and the rest is done all the same.
    """
    with database.begin() as db:
        library = db.get_one(Library, library_id)
        folders = list(db.scalars(select(Folder).where(Folder.library_id == library_id).order_by(Folder.id)))
    scan = _Scan(database, library, settings.still_seconds, progress)
    progress.step(phrase("Reading names"))
    if only is not None:
        folders = [folder for folder in folders if folder.id in only]
    vanished = [folder.shown for folder in folders if not scan.walk(folder, None if only is None else only[folder.id])]
    scan.settle(settings.gone_days)
    counts: dict[str, Any] = scan.counts()
    progress.keep(counts)
    with database.begin() as db:
        takes_long = more_to_probe_than(db, library_id, SOON_LOOKED_INTO)
    if takes_long:
        _put_together(database, library_id, progress)
    vanished += look_inside(database, library_id, progress)
    _put_together(database, library_id, progress)
    scan.tidy_others()
    if not vanished:
        local_artwork(database, settings, library_id, progress)
    _check_what_changed(database, library_id, progress)
    if verify and not vanished:
        counts |= verify_library(database, library_id, progress)
        progress.keep(counts)
    elif not vanished:
        take_digests(database, library_id, progress, most_bytes=DIGEST_BYTES)
    if vanished:
        raise IndiceError(
            phrase(
                "{vanished} went away while it was looked at. What lies there is away; nothing is forgotten.",
                vanished=", ".join(vanished),
            ),
            hint=phrase("Plug the drive in, or check the share, and scan again."),
            reference="drive-gone",
        )
    _end(database, library_id)
    return _summary(counts)


def _check_what_changed(database: Database, library_id: int, progress: Progress) -> None:
    with database.begin() as db:
        is_due = is_to_check(db, library_id)
    if is_due:
        progress.step(phrase("Checking names"))
        check_changed(database, library_id)
        progress.changed("findings")


def _end(database: Database, library_id: int) -> None:
    """Leave the folders counted, so that whoever looks next need not wait for it, and note when all this was."""
    with database.begin() as db:
        freshen(db, exactly=True)
    with database.begin() as db:
        db.get_one(Library, library_id).scanned_at = now()


DIGEST_BYTES = 1 << 30
"""So many bytes are read whole by a scan; the rest waits for a job of its own."""


def _put_together(database: Database, library_id: int, progress: Progress) -> None:
    with database.begin() as db:
        due = is_due(db, GROUPED, library_id)
    if due:
        progress.step(phrase("Putting entries together"))
        regroup(database, library_id)


SOON_LOOKED_INTO = 200
"""So few files are looked into at once: entries are put together after it, and not before as well."""
SOON_SHOWN = 20
"""So few new names are shown when they have been looked into."""
NOTHING_CHANGED = phrase("Nothing has changed.")


def _summary(counts: Mapping[str, Any]) -> str:
    return counted(_SAID, counts) or NOTHING_CHANGED


_SAID = {
    "new": term("{n} new"),
    "changed": term("{n} changed"),
    "moved": term("{n} moved"),
    "back": term("{n} back"),
    "gone": term("{n} gone"),
    "away": term("{n} away"),
    "rotten": term("{n} rotten"),
}


class _Scan:
    """One scan of the folders of a library: what each walk has found, and what came of it."""

    def __init__(self, database: Database, library: Library, still_seconds: float, progress: Progress) -> None:
        self._database = database
        self._library = library
        self._still_seconds = still_seconds
        self._progress = progress
        self._walked: list[tuple[Folder, int, int, Survey]] = []
        """Folder, the disk it lies on, its floor, what was found."""
        self._followed = Followed()
        self._passing: set[int] = set()
        """Records that only a scan that was broken off has seen."""
        self._counts: dict[str, int] = dict.fromkeys(
            ("new", "changed", "moved", "back", "gone", "away", "unchanged"), 0
        )

    def counts(self) -> dict[str, int]:
        """How many are new, changed, and so on."""
        return dict(self._counts)

    def walk(self, folder: Folder, only: Collection[bytes] | None) -> bool:
        """Walk a folder, or some of its directories, read the names that need it and record them;
        False when its drive went away meanwhile."""
        root = bytes(folder.path)
        device = device_of(root)
        with self._database.begin() as db:
            had = has_files(db, folder.id)
        if (device is None or is_away(root)) and (had or not os.path.isdir(root)):
            self._mark_away(folder)
            return True
        with self._database.begin() as db:
            corrections = corrections_of(db, folder.id)
            floor = lower_floor(db, folder.id)
        found = Survey()
        pending = survey(
            self._database,
            folder,
            self._library.kind,
            found,
            self._progress,
            still_seconds=self._still_seconds,
            only=only,
        )
        # While one batch is read, the one before is put together and the one before
        # that recorded: mostly the database's work.
        with ThreadPoolExecutor(1) as grouper, ThreadPoolExecutor(1) as recorder:
            under_way: deque[Future[None]] = deque()
            batch, count = next(pending, None), 0
            while batch is not None:
                files = [file for directory in batch.to_read for file in self._read(directory, corrections)]
                count += len(files)
                after = next(pending, None)
                is_long = count >= BATCH and (after is not None or count > len(files))
                if len(under_way) >= AHEAD:
                    under_way.popleft().result()
                    self._progress.tell()
                is_shown = bool(files) and (is_long or count > SOON_SHOWN)
                if is_shown and batch.is_unknown:
                    grouped = grouper.submit(self._group, files)
                    under_way.append(recorder.submit(self._record_serving, folder.id, grouped, batch))
                else:
                    under_way.append(recorder.submit(self._record, folder.id, files, batch, is_shown=is_shown))
                batch = after
            for last in under_way:
                last.result()
        if device_of(root) != device or (is_away(root) and had):
            self._mark_away(folder)
            return False
        self._walked.append((folder, device or 0, floor, found))
        return True

    def _group(self, files: Sequence[NewFile]) -> tuple[dict[int, NewFile], Grouped]:
        """The files of a batch of which none is recorded, by numbers of their own, and the entries they make."""
        with self._database.begin() as db:
            numbers = reserve_numbers(db, len(files))
        numbered = dict(zip(numbers, files, strict=True))
        return numbered, group_new(numbered)

    def _record_serving(
        self, folder_id: int, pending: Future[tuple[dict[int, NewFile], Grouped]], found: Found
    ) -> None:
        """Record a batch of names with its entries, which are seen long before all is put together."""
        numbered, grouped = pending.result()
        with self._database.begin() as db:
            add_serving(db, self._library.id, folder_id, numbered, grouped)
            announce(db, "catalog")
        self._note_read(folder_id, found)

    def _record(self, folder_id: int, files: Sequence[NewFile], found: Found, *, is_shown: bool) -> None:
        """Record a batch of names, some of which may be known by their paths, and show the entries of what is new."""
        recorded: list[Recorded] = []
        if files:
            with self._database.begin() as db:
                recorded = save_files(db, folder_id, files)
        self._note_read(folder_id, found)
        if recorded and is_shown:
            self._show(files, recorded)

    def _note_read(self, folder_id: int, found: Found) -> None:
        """Note that directories are as the records say: not before these do."""
        with self._database.begin() as db:
            keep_listings(db, folder_id, found.signatures)

    def _show(self, files: Sequence[NewFile], recorded: Sequence[Recorded]) -> None:
        new = {one.path: one.id for one in recorded if one.is_new}
        known = [one.id for one in recorded if not one.is_new]
        views = [view_of_new(file, new[file.path]) for file in files if file.path in new]
        with self._database.begin() as db:
            show_new(db, self._library.id, views, known=known)
            announce(db, "catalog")

    def _read(self, directory: Directory, corrections: Sequence[Correction]) -> list[NewFile]:
        readings = read_listing([os.fsdecode(seen.path) for seen in directory.files], self._library.kind)
        return [
            new_file(seen, readings[os.fsdecode(seen.path)], corrections)
            for seen in directory.files
            if seen.path not in directory.grows
        ]

    def _mark_away(self, folder: Folder) -> None:
        self._counts["away"] += mark_folder_away(self._database, folder, self._progress)

    def settle(self, gone_days: int) -> None:
        """The walks are through: what was not found was moved, is gone or is away."""
        self._follow()
        for folder, device, floor, found in self._walked:
            self._settle_folder(folder, device, floor, found)
        with self._database.begin() as db:
            forget_gone(db, self._library.id, days=gone_days)
            for library_id, count in self._followed.gone_since.items():
                fewer_gone(db, library_id, count)

    def _follow(self) -> None:
        """Find out which of what is new and of what was lost are the same, and let their records follow."""
        records: list[Record] = []
        displaced: dict[int, Record] = {}
        not_there: set[int] = set()
        for _, _, floor, found in self._walked:
            lost = as_lost(found.lost, floor)
            records += [*lost, *found.displaced.values()]
            displaced |= found.displaced
            not_there |= {record.id for record in lost} | {row.id for row in found.hidden}
            self._passing |= {record.id for record in lost if record.is_passing}
        bodies = self._bodies({record.stamp.size_bytes for record in records}, displaced, not_there)
        records += self._known_elsewhere(records, bodies)
        if records and bodies:
            self._settle_known(self._recognise(records, bodies), records, displaced)

    def _bodies(self, missed: Collection[int], displaced: Collection[int], not_there: Collection[int]) -> list[Body]:
        """What is new where it lies, and may be what is missed, of these sizes, or what was known elsewhere."""
        bodies: list[Body] = []
        with self._database.begin() as db:
            for folder, _, floor, _ in self._walked:
                bodies += [body for body in fresh_bodies(db, folder, floor, missed) if body.id not in not_there]
            return [*bodies, *displaced_bodies(db, list(displaced))]

    def _known_elsewhere(self, records: Sequence[Record], bodies: Sequence[Body]) -> list[Record]:
        """Records of what was lost before, or lies in another library, that these files may be."""
        beside = {record.id for record in records} | {body.id for body in bodies}
        with self._database.begin() as db:
            elsewhere = known_elsewhere(db, self._library.id, sizes_of(bodies), beside=beside)
        stamps = {body.stamp for body in bodies}
        found: list[Record] = []
        for record, root, path, state in elsewhere:
            if state == "present" and (record.stamp.inode == 0 or os.path.lexists(os.path.join(root, path))):
                continue
            if record.content is not None or record.stamp in stamps:
                found.append(record)
        return found

    def _recognise(self, records: Sequence[Record], bodies: Sequence[Body]) -> dict[int, int]:
        """Body → the record that it is, as their stamps and what they hold tell."""
        with self._database.begin() as db:
            places = places_of(db, [body.id for body in bodies])
            digests = digests_of(db, [record.id for record in records])
        return recognise(
            records,
            bodies,
            lambda body: sample_or_none(places.get(body.id)),
            lambda record, body: holds_the_same(
                record.content if isinstance(record.content, bytes) else None,
                digests.get(record.id),
                places[body.id],
                body.stamp.size_bytes,
            ),
        )

    def _settle_known(
        self, found_again: dict[int, int], records: Sequence[Record], displaced: dict[int, Record]
    ) -> None:
        """Let records follow their files, but for those of libraries that somebody else is at."""
        with self._database.begin() as db:
            owners = libraries_of(db, list(found_again.values()))
            others = set(owners.values()) - {self._library.id}
            busy = {other for other in others if not self._progress.may_change(other)}
            found_again = {body: record for body, record in found_again.items() if owners[record] not in busy}
            self._followed = settle_moves(db, self._library.id, found_again, displaced)
            passed = same_as_found(records, set(found_again.values()))
            forget_files(db, self._library.id, passed)
            self._followed.records |= passed

    def _settle_folder(self, folder: Folder, device: int, floor: int, found: Survey) -> None:
        moved = self._followed.records
        gone = [row for row in found.lost if row.id not in moved]
        hidden = [row for row in found.hidden if row.id not in moved]
        counts = self._counts
        with self._database.begin() as db:
            here = db.get_one(Folder, folder.id)
            # The numbers of devices are those of the machine where Indice is at home.
            is_ours = not is_elsewhere(bytes(folder.path))
            same_device = not is_ours or here.device in (None, device)
            away = is_away_by_loss(found.present, len(gone), same_device=same_device)
            mark_state(db, [row.id for row in hidden], "away")
            mark_state(db, [row.id for row in gone], "away" if away else "missing")
            mark_state(db, found.returned, "present")
            here.state = "present"
            waiting = count_away(db, folder.id)
            here.problem = _problem(waiting, found.unreadable)
            keeps_number = not is_ours or (waiting and here.device is not None)
            raise_floor(db, here, here.device if keeps_number else device)
            told = moved - self._passing  # what was seen on its way was never told of: it is new
            counts["new"] += count_fresh(db, folder.id, newer_than=floor, moved=told)
            counts["moved"] += count_moved(db, folder.id, told)
        if away:
            self._progress.log(here.problem, path=folder.shown, level="warning")
        lost = sum(row.counts for row in gone)
        counts["away"] += sum(row.counts for row in hidden) + (lost if away else 0)
        counts["gone"] += 0 if away else lost
        counts["changed"] += len(found.counted - moved - self._followed.overwritten)
        counts["gone"] += len(found.counted & self._followed.overwritten)
        counts["back"] += found.back
        counts["unchanged"] += found.unchanged

    def tidy_others(self) -> None:
        """Put those libraries in order that files were taken from."""
        for library_id, entries in self._followed.libraries.items():
            with self._database.begin() as db:
                remove_empty(db, library_id, entries)
            regroup(self._database, library_id)
            check_changed(self._database, library_id)


def _problem(away: int, unreadable: Sequence[bytes]) -> str:
    if unreadable:
        return phrase("{n} folders could not be read in full; the job's log names them.", n=len(unreadable))
    if away:
        return phrase(
            "{away} files are not there, more than half of all. Is a drive or a share missing? "
            "They are away until it is back, or until you say that they are gone.",
            away=away,
        )
    return ""
