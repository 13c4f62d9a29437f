"""Walks a library's folder and compares it with the records: what is new, changed, back and lost.

A directory that looks as it did when the records last agreed with it is counted and passed by. Others
are compared file by file, some together, so that memory does not grow with the folder. A file that
was written to a moment ago is looked at
twice: what still grows waits for the next scan.
"""

from __future__ import annotations

import os
import time
from collections import deque
from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass, field, replace

from ..core.identity import Record, Stamp
from ..core.phrase import phrase
from ..disk.digest import digest_of, sample_of
from ..disk.outline import Outline, outline
from ..disk.walk import Directory, Seen, list_directory, shown, walk
from ..store.database import Database
from ..store.files import Known, known_in, lost_in, note_stamps, stir
from ..store.listings import BARE, forget_listings, keep_listings, kept_listings
from ..store.models import Folder
from ..store.stages import READ
from ..store.tallies import known_directories
from .progress import Progress

__all__ = ["Found", "Survey", "as_lost", "holds_the_same", "survey"]

AT_ONCE = 400
"""So many files, or directories, are compared together at first, so that something is seen soon …"""
MOST_AT_ONCE = 3000
"""… and so many in the long run."""
WHOLE_BYTES = 256 << 20
"""A file whose time alone has changed is read whole up to this size; of a larger one some bytes must do."""


@dataclass(slots=True)
class Survey:
    """What the walk of one folder has found."""

    back: int = 0
    unchanged: int = 0
    """Counts of media files and of what belongs to them."""
    lost: list[Known] = field(default_factory=list)
    """Present by the records, and not there."""
    hidden: list[Known] = field(default_factory=list)
    """Present by the records, in a directory that cannot be listed."""
    displaced: dict[int, Record] = field(default_factory=dict)
    """Id → record as it was before something else was found at its path."""
    counted: set[int] = field(default_factory=set)
    """Which of the displaced count."""
    returned: list[int] = field(default_factory=list)
    unreadable: list[bytes] = field(default_factory=list)
    present: int = 0
    """How many files were present before."""


@dataclass(frozen=True, slots=True)
class Found:
    """Directories whose names are to be read, and what to note when that is done."""

    to_read: list[Directory]
    signatures: dict[bytes, bytes]
    is_unknown: bool
    """Whether no file of theirs is recorded, not even one that is gone."""


def survey(
    database: Database,
    folder: Folder,
    kind: str,
    result: Survey,
    progress: Progress,
    *,
    still_seconds: float,
    only: Collection[bytes] | None = None,
) -> Iterator[Found]:
    """Walk a folder; what is found is noted in `result`, and what must be read is given out in batches.

    With `only` just these directories are looked at, and what is new or gone below them: something has changed there.
    """
    walker = _Walker(database, folder, f"{READ.version} {kind} ".encode(), result, progress)
    yield from walker.run(still_seconds, only)


class _Walker:
    def __init__(self, database: Database, folder: Folder, salt: bytes, result: Survey, progress: Progress) -> None:
        self._database = database
        self._folder = folder
        self._root = bytes(folder.path)
        self._salt = salt
        self._result = result
        self._progress = progress
        with database.begin() as db:
            self._kept = kept_listings(db, folder.id)
            self._held = known_directories(db, folder.id)
        self._was_bare = {path for path, signature in self._kept.items() if signature == BARE}
        for path in self._was_bare:
            del self._kept[path]
        self._visited: set[bytes] = set()
        self._without_files: set[bytes] = set()
        self._directories: set[str] = set()
        result.present = sum(count for count, _ in self._held.values())

    def run(self, still_seconds: float, only: Collection[bytes] | None) -> Iterator[Found]:
        batch: list[Directory] = []
        count, most = 0, AT_ONCE
        source = self._whole() if only is None else self._only(only)
        for directory in self._settled(source, still_seconds):
            self._kept.pop(directory.path, None)
            batch.append(directory)
            count += max(1, len(directory.files))
            if count >= most:
                yield self._compare(batch)
                batch, count, most = [], 0, min(most + AT_ONCE // 2, MOST_AT_ONCE)
        if batch:
            yield self._compare(batch)
        self._find_lost()
        self._note_bare(is_whole=only is None)

    def _whole(self) -> Iterator[Directory]:
        """The directories of a folder that may look otherwise than they did; all
        of them where nothing is known of it."""
        seen = outline(self._root, self._at) if self._kept else None
        if seen is None:
            yield from walk(self._root)
            return
        for path in sorted(seen):
            if not self._is_passed_by(path, seen[path]):
                here, _ = list_directory(self._root, path)
                yield here

    def _at(self, path: bytes) -> None:
        self._progress.advance(0, shown(path))

    def _is_passed_by(self, path: bytes, seen: Outline) -> bool:
        """Whether a directory looks from afar as it did, so that nobody has to look closer."""
        if not seen.is_plain or not seen.entries:
            return False
        readable = shown(path)
        count, counted = self._held.get(readable, (0, 0))
        if seen.count != count or (count and self._kept.get(path) != seen.signature(self._salt)):
            return False
        self._kept.pop(path, None)
        self._visited.add(path)
        self._directories.add(readable)
        self._result.unchanged += counted
        self._progress.advance(count, readable)
        return True

    def _only(self, wanted: Collection[bytes]) -> Iterator[Directory]:
        """Some directories, and all that is new below them; what is not below them is as it was."""
        seen: set[bytes] = set()
        vanished: set[bytes] = set()
        known = list(self._kept)
        for path in sorted(wanted):
            if path in seen or not os.path.isdir(os.path.join(self._root, path)):
                vanished.add(path)
                continue
            here, below = list_directory(self._root, path)
            seen.add(path)
            yield here
            prefix = path + b"/" if path else b""
            children = {
                prefix + one[len(prefix) :].split(b"/", 1)[0] for one in known if one.startswith(prefix) and one != path
            }
            vanished |= children - set(below)
            for child in below:
                if child not in children:
                    for directory in walk(self._root, below=child):
                        if directory.path not in seen:
                            seen.add(directory.path)
                            yield directory
        vanished -= seen
        self._kept = {
            path: made
            for path, made in self._kept.items()
            if any(path == one or path.startswith(one + b"/") for one in vanished)
        }
        self._directories |= set(self._held) - {shown(path) for path in self._kept}

    def _settled(self, source: Iterator[Directory], still_seconds: float) -> Iterator[Directory]:
        """Directories that do not look as they did; one in which something was
        just written comes again a little later."""
        later: deque[tuple[float, Directory]] = deque()
        for directory in source:
            self._say(directory)
            if self._is_as_it_was(directory):
                continue
            if still_seconds and (wait := _settles_in(directory, still_seconds)) > 0:
                later.append((time.monotonic() + wait, directory))
            else:
                yield directory
            while later and later[0][0] <= time.monotonic():
                yield self._again(later.popleft()[1])
        while later:
            at, directory = later.popleft()
            while (left := at - time.monotonic()) > 0:
                self._progress.advance(0)
                time.sleep(min(left, 0.3))
            yield self._again(directory)

    def _again(self, before: Directory) -> Directory:
        """The same directory a little later, without what grows; what was left out is not part of any signature."""
        now, _ = list_directory(self._root, before.path)
        stamps = {seen.path: (seen.size_bytes, seen.mtime_ns) for seen in before.files}
        still = [seen for seen in now.files if stamps.get(seen.path) == (seen.size_bytes, seen.mtime_ns)]
        if len(still) != len(now.files):
            now.grows = frozenset(seen.path for seen in now.files) - {seen.path for seen in still}
        return now

    def _say(self, directory: Directory) -> None:
        where = f"{self._folder.shown}/{shown(directory.path)}"
        self._visited.add(directory.path)
        if directory.path and not directory.files and not directory.problem:
            self._without_files.add(directory.path)
        self._directories.add(shown(directory.path))
        if directory.problem:
            self._result.unreadable.append(directory.path)
            self._progress.log(directory.problem, path=where, level="error")
        if directory.outside:
            self._progress.log(
                phrase(
                    "{n} links here lead out of the library and are not followed, {name} among them.",
                    n=len(directory.outside),
                    name=shown(os.path.basename(directory.outside[0])),
                ),
                path=where,
                level="warning",
            )
        self._progress.advance(len(directory.files), shown(directory.path) or self._folder.shown)

    def _is_as_it_was(self, directory: Directory) -> bool:
        """Whether the records agree with a directory; they must also hold as many files of it as there are."""
        count, counted = self._held.get(shown(directory.path), (0, 0))
        if not directory.files and not count and not directory.problem:
            return True
        kept = self._kept.get(directory.path)
        if kept is None or directory.problem or count != len(directory.files):
            return False
        if kept != directory.signature(self._salt):
            return False
        self._kept.pop(directory.path)
        self._result.unchanged += counted
        return True

    def _compare(self, batch: Sequence[Directory]) -> Found:
        known: dict[bytes, Known] = {}
        with self._database.begin() as db:
            known = known_in(db, self._folder.id, {shown(directory.path) for directory in batch})
        is_unknown = not known
        of: dict[bytes, dict[bytes, Known]] = {}
        for path, row in known.items():
            of.setdefault(os.path.dirname(path), {})[path] = row
        stamps: list[tuple[int, int, int]] = []
        to_read = [d for d in batch if self._compare_one(d, of.get(d.path, {}), stamps)]
        with self._database.begin() as db:
            note_stamps(db, stamps)
        settled = {d.path: d.signature(self._salt) for d in batch if not d.problem and not d.grows}
        return Found(to_read, settled, is_unknown)

    def _compare_one(self, directory: Directory, known: dict[bytes, Known], stamps: list[tuple[int, int, int]]) -> bool:
        """Compare one directory; returns whether its names must be read, all of them,
        since each is read beside the others."""
        result, touched = self._result, False
        for seen in directory.files:
            row = known.pop(seen.path, None)
            if seen.path in directory.grows:
                continue
            if row is None:
                touched = True
                continue
            same = self._is_same(row, seen, stamps)
            if row.state != "present" and same:
                result.returned.append(row.id)
                result.back += row.counts
                touched = True
            elif not same:
                result.displaced[row.id] = _as_record(row, is_lost=False)
                result.counted |= {row.id} if row.counts else set()
                touched = True
            else:
                result.unchanged += row.counts
                touched = touched or row.read_by != READ.version
        lost = [row for row in known.values() if row.state == "present"]
        if directory.problem:
            result.hidden += lost
        else:
            result.lost += lost
            touched = touched or bool(lost)
        return touched

    def _is_same(self, row: Known, seen: Seen, stamps: list[tuple[int, int, int]]) -> bool:
        """Whether a file is what the records say; where only its time or its
        inode is another, what it holds decides."""
        if row.size_bytes != seen.size_bytes:
            return False
        if (row.mtime_ns, row.inode) == (seen.mtime_ns, seen.inode):
            return True
        if not holds_the_same(row.sample, row.digest, os.path.join(self._root, seen.path), seen.size_bytes):
            return False
        stamps.append((row.id, seen.mtime_ns, seen.inode))
        return True

    def _find_lost(self) -> None:
        """What lay in directories that are not there any more."""
        vanished = (set(self._held) - self._directories) | {shown(path) for path in self._kept}
        unreadable = [shown(path) for path in self._result.unreadable]
        with self._database.begin() as db:
            lost = lost_in(db, self._folder.id, vanished)
        for row in lost:
            directory = shown(os.path.dirname(row.path))
            if directory in self._directories and os.path.dirname(row.path) not in self._kept:
                continue
            is_hidden = any(
                not above or directory == above or directory.startswith(above + "/") for above in unreadable
            )
            (self._result.hidden if is_hidden else self._result.lost).append(row)

    def _note_bare(self, *, is_whole: bool) -> None:
        """Directories in which nothing lies, and such as were: no file tells of
        them, and their names are to be checked."""
        held = {os.path.dirname(path) for path in self._visited}
        if not is_whole:
            held |= {os.path.dirname(os.fsencode(path)) for path in self._held} | {
                os.fsencode(path) for path in self._held
            }
        bare = self._without_files - held
        ended = {
            path
            for path in self._was_bare - bare
            if is_whole or path in self._visited or not os.path.isdir(os.path.join(self._root, path))
        }
        new = bare - self._was_bare
        if new or ended:
            with self._database.begin() as db:
                stir(db, self._folder.id, map(shown, new | ended))
                forget_listings(db, self._folder.id, ended)
                keep_listings(db, self._folder.id, dict.fromkeys(sorted(new), BARE))


def _as_record(row: Known, *, is_lost: bool) -> Record:
    stamp = Stamp(row.inode, row.size_bytes, row.mtime_ns)
    return Record(row.id, stamp, shown(row.path), is_lost, row.sample)


def as_lost(rows: Collection[Known], floor: int) -> list[Record]:
    """Records of files that are not there; those above the floor only a scan that was broken off has seen."""
    return [replace(_as_record(row, is_lost=True), is_passing=row.id > floor) for row in rows]


def holds_the_same(sample: bytes | None, digest: bytes | None, path: bytes, size_bytes: int) -> bool:
    """Whether a file holds what was once found in it; no when nobody has ever looked, or it cannot be read."""
    if sample is None:
        return False
    try:
        if sample_of(path) != sample:
            return False
        return digest is None or size_bytes > WHOLE_BYTES or digest_of(path) == digest
    except OSError:
        return False


def _settles_in(directory: Directory, seconds: float) -> float:
    """In how many seconds nothing in a directory was written to for so long; nought when that is so already."""
    moment = time.time_ns()
    ages = [(moment - seen.mtime_ns) / 1e9 for seen in directory.files if seen.mtime_ns <= moment]
    return max(0.0, seconds - min(ages, default=seconds))
