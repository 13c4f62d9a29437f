"""Files of a library: what is known, what is new, what is gone."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, NamedTuple

from sqlalchemy import ColumnElement, exists, func, select, text, update
from sqlalchemy.orm import Session

from ..core.phrase import phrase
from ..errors import IndiceError
from .among import among, among_words
from .bulk import insert_rows, update_rows
from .found import find
from .listings import forget_listings
from .models import File, Folder, now
from .stages import CHECKED, GROUPED, LOOKED, READ, is_due
from .viewer import Viewer

__all__ = [
    "Inside",
    "Known",
    "NewFile",
    "Recorded",
    "absences",
    "bunches_to_probe",
    "count_away",
    "files_to_probe",
    "folder_at",
    "has_files",
    "known_in",
    "library_files",
    "located",
    "lost_in",
    "lower_floor",
    "mark_away",
    "mark_state",
    "may_download",
    "more_to_probe_than",
    "named_files",
    "note_stamps",
    "raise_floor",
    "reserve_numbers",
    "save_digests",
    "save_files",
    "save_probe",
    "save_serving",
    "settle_away",
    "settle_stirred",
    "stir",
    "stirred",
    "unlike_told",
    "unreadable_files",
]


@dataclass(frozen=True, slots=True)
class Known:
    """What the records say of a path."""

    id: int
    path: bytes
    size_bytes: int
    mtime_ns: int
    inode: int
    state: str
    kind: str
    read_by: int
    sample: bytes | None
    digest: bytes | None

    @property
    def counts(self) -> bool:
        """Whether it is media, or belongs to some: only these are counted in what a scan says."""
        return self.kind != "other"


@dataclass(frozen=True, slots=True, kw_only=True)
class NewFile:
    """A file to be recorded."""

    path: bytes
    shown: str
    directory: str
    size_bytes: int
    mtime_ns: int
    inode: int
    kind: str
    reading: dict[str, Any]
    marks: list[Any]


_KNOWN = (
    File.id,
    File.path,
    File.size_bytes,
    File.mtime_ns,
    File.inode,
    File.state,
    File.kind,
    File.read_by,
    File.sample,
    File.digest,
)


def known_in(db: Session, folder_id: int, directories: Collection[str]) -> dict[bytes, Known]:
    """Every recorded path directly in some directories of a folder."""
    query = select(*_KNOWN).where(File.folder_id == folder_id, among_words(File.directory, directories))
    return {row.path: Known(*row) for row in db.execute(query)}


def lost_in(db: Session, folder_id: int, directories: Collection[str]) -> list[Known]:
    """Files that are recorded as present in directories."""
    return [known for known in known_in(db, folder_id, directories).values() if known.state == "present"]


def has_files(db: Session, folder_id: int) -> bool:
    """Whether any file of a folder is present by the records."""
    return bool(db.scalar(select(exists().where(File.folder_id == folder_id, File.state == "present"))))


def may_download(db: Session, viewer: Viewer, file: File) -> bool:
    """Whether somebody may save a file that they may see."""
    library_id = db.scalar(select(Folder.library_id).where(Folder.id == file.folder_id))
    return viewer.manages or library_id in viewer.downloads


def lower_floor(db: Session, folder_id: int) -> int:
    """A scan of a folder begins: files with greater numbers than the one returned are new in it.

    A scan that was broken off has left its floor; the one that takes it up goes by that.
    """
    folder = db.get_one(Folder, folder_id)
    if folder.floor is None:
        folder.floor = db.scalar(select(func.max(File.id)).where(File.folder_id == folder_id)) or 0
    return folder.floor


def raise_floor(db: Session, folder: Folder, device: int | None) -> None:
    """A scan of a folder is through: what is new has become known. Notes the disk that it lies on."""
    folder.floor, folder.device = None, device


class Recorded(NamedTuple):
    """A file that was recorded."""

    id: int
    path: bytes
    is_new: bool
    """Whether its path was not known before."""


def save_files(db: Session, folder_id: int, files: Sequence[NewFile]) -> list[Recorded]:
    """Record new files, changed ones, and what their names say now.

    What was found inside a file stays while its content is the same; later
    stages are due again where something changed.
    """
    rows = {file.path: _row(file) for file in files}
    fixed = {"serves": "", **_begun(folder_id)}
    return [Recorded(*row) for row in insert_rows(db, File, list(rows.values()), fixed=fixed, tail=_AS_IT_IS_NOW)]


def reserve_numbers(db: Session, count: int) -> list[int]:
    """Numbers for so many files that are not recorded yet, rising; nobody else gets them."""
    return sorted(db.scalars(_NUMBERS, {"count": count}))


_NUMBERS = text("select nextval(pg_get_serial_sequence('file', 'id')) from generate_series(1, :count)")


def save_serving(
    db: Session, folder_id: int, files: Mapping[int, NewFile], serving: Mapping[int, tuple[int, str]]
) -> None:
    """Record files of which none was known, by their numbers, with the entry that each serves, and as what."""
    rows = [
        {**_row(file), "id": id_, "entry_id": entry_id, "serves": serves}
        for id_, file in files.items()
        for entry_id, serves in (serving.get(id_, (None, "")),)
    ]
    insert_rows(db, File, rows, fixed=_begun(folder_id), tail=_AS_IT_IS_NOW)


def _row(file: NewFile) -> dict[str, Any]:
    return {name: getattr(file, name) for name in NewFile.__slots__}


def _begun(folder_id: int) -> dict[str, Any]:
    """What is so of every file of a folder that was just read, and that no later stage has looked at."""
    return {
        "problem": "",
        **dict.fromkeys(("looked_by", "pictured_by", "grouped_by", "checked_by"), 0),
        "folder_id": folder_id,
        "state": "present",
        "read_by": READ.version,
        "added_at": now(),
    }


def _kept_where(condition: str, **columns: str) -> list[str]:
    return [f"{name} = case when {condition} then known.{name} else {other} end" for name, other in columns.items()]


_SAME_CONTENT = (
    "known.size_bytes = excluded.size_bytes and known.mtime_ns = excluded.mtime_ns and known.kind = excluded.kind"
)
_SAME = f"{_SAME_CONTENT} and known.reading = excluded.reading and known.state = excluded.state"
_NEWEST = ("size_bytes", "mtime_ns", "inode", "kind", "reading", "marks", "state", "read_by", "gone_at")
_CHANGES = [
    *(f"{name} = excluded.{name}" for name in _NEWEST),
    *_kept_where(
        _SAME_CONTENT,
        media="null",
        sample="null",
        digest="null",
        rotten_at="null",
        problem="''",
        looked_by="0",
        pictured_by="0",
    ),
    *_kept_where(_SAME, grouped_by="0", checked_by="0"),
]
_AS_IT_IS_NOW = f"on conflict (folder_id, path) do update set {', '.join(_CHANGES)} returning id, path, xmax = 0"
"""A row that is inserted, and not changed, has no transaction that has locked it (`xmax`)."""


def mark_state(db: Session, ids: Iterable[int], state: str) -> None:
    """Set the state of files."""
    chosen = list(ids)
    for start in range(0, len(chosen), 5000):
        db.execute(
            update(File)
            .where(File.id.in_(chosen[start : start + 5000]))
            .values(state=state, gone_at=now() if state == "missing" else None, grouped_by=0, checked_by=0)
            .execution_options(synchronize_session=False)
        )


def note_stamps(db: Session, stamps: Sequence[tuple[int, int, int]]) -> None:
    """The same files with another time or another inode: id, time of change, inode of each."""
    update_rows(db, File, [{"id": id_, "mtime_ns": mtime, "inode": inode} for id_, mtime, inode in stamps])


def mark_away(db: Session, folder: Folder) -> None:
    """The folder's drive is not there: its files are away, and nothing is forgotten."""
    folder.state = "away"
    forget_listings(db, folder.id)
    db.execute(
        update(File)
        .where(File.folder_id == folder.id, File.state == "present")
        .values(state="away", grouped_by=0, checked_by=0)
        .execution_options(synchronize_session=False)
    )


@dataclass(frozen=True, slots=True)
class Unreadable:
    """A file of which the content cannot be read."""

    path: str
    """Whole, as it can be shown."""
    problem: str
    added_at: datetime


def unreadable_files(db: Session, *, limit: int) -> list[Unreadable]:
    """Files that are there and cannot be read, the newest first."""
    query = (
        select(Folder.shown, File.shown, File.problem, File.added_at)
        .join(Folder, Folder.id == File.folder_id)
        .where(File.problem != "", File.state == "present")
        .order_by(File.id.desc())
        .limit(limit)
    )
    return [
        Unreadable(f"{folder.rstrip('/')}/{name}", problem, added) for folder, name, problem, added in db.execute(query)
    ]


def unlike_told(db: Session, paths: Iterable[str]) -> set[str]:
    """Those of the whole paths, as they are shown, of which the file is gone, or can be read and is whole."""
    folders = list(db.scalars(select(Folder)))
    changed: set[str] = set()
    for path in paths:
        folder = next((one for one in folders if path.startswith(f"{one.shown.rstrip('/')}/")), None)
        if folder is None or folder.state != "present":
            continue
        name = path[len(folder.shown.rstrip("/")) + 1 :]
        of = (File.folder_id == folder.id, File.directory == name.rpartition("/")[0], File.shown == name)
        rows = db.execute(select(File.state, File.problem, File.rotten_at).where(*of)).all()
        if rows and not any(state == "present" and (problem or rotten) for state, problem, rotten in rows):
            changed.add(path)
    return changed


def absences(db: Session) -> list[tuple[Folder, int]]:
    """Folders that are there but have lost so much at once that a person must say what it means, and how many files."""
    query = (
        select(Folder, func.count(File.id))
        .join(File, File.folder_id == Folder.id)
        .where(Folder.state == "present", Folder.problem != "", File.state == "away")
        .group_by(Folder.id)
        .order_by(Folder.id)
    )
    return [(folder, count) for folder, count in db.execute(query)]


def count_away(db: Session, folder_id: int) -> int:
    """How many files of a folder are away."""
    return db.scalar(select(func.count()).where(File.folder_id == folder_id, File.state == "away")) or 0


def stir(db: Session, folder_id: int, directories: Iterable[str]) -> None:
    """Files were moved out of these directories: what is left in them is to be looked at again."""
    folder = db.get_one(Folder, folder_id)
    folder.stirred = sorted({*folder.stirred, *directories})


def stirred(db: Session, library_id: int) -> list[str]:
    """Directories of a library that files were moved out of since its names were checked."""
    told = db.scalars(select(Folder.stirred).where(Folder.library_id == library_id))
    return sorted({str(directory) for directories in told for directory in directories})


def is_to_check(db: Session, library_id: int) -> bool:
    """Whether names of a library are to be checked again."""
    return is_due(db, CHECKED, library_id) or bool(stirred(db, library_id))


def settle_stirred(db: Session, library_id: int) -> None:
    """What was left behind has been checked; unless it waits to be put together first."""
    if not is_due(db, GROUPED, library_id):
        db.execute(
            update(Folder)
            .where(Folder.library_id == library_id)
            .values(stirred=[])
            .execution_options(synchronize_session=False)
        )


def settle_away(db: Session, library_id: int, *, gone: bool) -> int:
    """A person says of the files of a library that are away that they are gone for good, or that they stay away.

    Returns how many files it is about.
    """
    folders = list(db.scalars(select(Folder).where(Folder.library_id == library_id)))
    away = list(
        db.scalars(select(File.id).where(File.folder_id.in_([folder.id for folder in folders]), File.state == "away"))
    )
    if gone:
        mark_state(db, away, "missing")
    for folder in folders:
        if folder.state == "present":
            folder.problem = ""
            if gone:
                folder.floor, folder.device = None, None
    return len(away)


def _to_probe(library_id: int) -> tuple[ColumnElement[bool], ...]:
    """Files, joined with their folders, that nobody has looked into as they are."""
    return Folder.library_id == library_id, LOOKED.is_due(), File.state == "present"


def bunches_to_probe(db: Session, library_id: int, size: int) -> list[tuple[int, int]]:
    """Files that nobody has looked into, in bunches of so many neighbouring numbers:
    that of the bunch, and how many are due.

    They come in the order in which the first path of each stands.
    """
    number = (File.id // size).label("bunch")
    query = select(number, func.count()).join(Folder).where(*_to_probe(library_id))
    query = query.group_by(text("bunch")).order_by(func.min(File.shown))
    return list(db.execute(query))


def files_to_probe(db: Session, library_id: int, bunch: int, size: int) -> list[tuple[int, bytes, bytes, str]]:
    """Id, folder, path and kind of the files of a bunch that nobody has looked
    into as they are, in the order of paths."""
    query = select(File.id, Folder.path, File.path, File.kind).join(Folder)
    query = query.where(*_to_probe(library_id), File.id.between(bunch * size, bunch * size + size - 1))
    rows = db.execute(query.order_by(File.shown))
    return [(id_, bytes(root), bytes(path), kind) for id_, root, path, kind in rows]


def more_to_probe_than(db: Session, library_id: int, count: int) -> bool:
    """Whether nobody has looked into more than so many files of a library."""
    waiting = (
        select(File.id).join(Folder).where(Folder.library_id == library_id, LOOKED.is_due(), File.state == "present")
    )
    return len(list(db.scalars(waiting.limit(count + 1)))) > count


def save_digests(db: Session, found: Sequence[tuple[int, bytes | None, bytes | None]]) -> None:
    """Record fingerprints of files: id, of some of its bytes, of all; None leaves what was known."""
    update_rows(db, File, [{"id": id_, "sample": sample} for id_, sample, _ in found if sample is not None])
    update_rows(db, File, [{"id": id_, "digest": digest} for id_, _, digest in found if digest is not None])


GROUPED_BY = ("tags", "taken", "facts", "own", "about", "seconds")
"""What stands inside a file that entries are put together by."""


class Inside(NamedTuple):
    """What was found inside a file."""

    id: int
    media: dict[str, Any] | None
    """None when nobody could look: what is wrong is noted, and the next scan tries again."""
    problem: str = ""
    sample: bytes | None = None
    """Fingerprints, of some of its bytes and of all; None leaves what was known."""
    digest: bytes | None = None


def save_probe(db: Session, results: Sequence[Inside]) -> None:
    """Record what was found inside files."""
    if not results:
        return
    seen = [one for one in results if one.media is not None]
    tells = {one.id for one in seen if one.media and any(one.media.get(name) for name in GROUPED_BY)}
    telling = [one._asdict() for one in seen if one.id in tells]
    silent = [one._asdict() for one in seen if one.id not in tells]
    looked, fingerprints = f"looked_by = {LOOKED.version}, checked_by = 0", ("sample", "digest")
    update_rows(db, File, telling, also=f"{looked}, grouped_by = 0", kept=fingerprints)
    update_rows(
        db,
        File,
        silent,
        also=f"{looked}, grouped_by = case when known.media is null then known.grouped_by else 0 end",
        kept=fingerprints,
    )
    unseen = [{"id": one.id, "problem": one.problem} for one in results if one.media is None]
    update_rows(
        db, File, unseen, also="media = null, grouped_by = 0, checked_by = 0", where="known.problem <> told.problem"
    )


def library_files(db: Session, library_id: int, *, ids: Sequence[int] | None = None) -> list[File]:
    """Files of a library that are not missing."""
    query = select(File).join(Folder).where(Folder.library_id == library_id, File.state != "missing")
    if ids is not None:
        query = query.where(among(File.id, ids))
    return list(db.scalars(query.order_by(File.shown)))


def located(db: Session, file_id: int) -> tuple[File, Folder]:
    """A file and the folder of its library; raises :class:`IndiceError` (404) when there is none of this number."""
    file = find(db, File, file_id)
    return file, db.get_one(Folder, file.folder_id)


def folder_at(db: Session, path: str) -> tuple[Folder, str]:
    """The folder of a library that a path lies in, and the path below it; raises
    :class:`IndiceError` (404) outside of all."""
    wanted = path.rstrip("/") or "/"
    for folder in db.scalars(select(Folder).order_by(func.length(Folder.shown).desc())):
        root = folder.shown.rstrip("/")
        if wanted == root or wanted.startswith(root + "/"):
            return folder, wanted[len(root) + 1 :]
    raise IndiceError(
        phrase("{path} lies in no library.", path=path),
        hint="Give the path of a library's folder, or one below.",
        reference="folder-unknown",
        status=404,
    )


def named_files(db: Session, library_id: int, kinds: Sequence[str], *, limit: int) -> list[File]:
    """The first files of a library that are there and of these kinds."""
    query = (
        select(File).join(Folder).where(Folder.library_id == library_id, File.state == "present", File.kind.in_(kinds))
    )
    return list(db.scalars(query.order_by(File.id).limit(limit)))
