"""Writes what is known back beside and into the files, where the owner allowed it:
drafted, shown, carried out, taken back."""

from __future__ import annotations

import io
import json
import os
from collections import defaultdict
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Any

from PIL import Image
from sqlalchemy import select
from sqlalchemy.orm import Session

from ..core.facts import best_value, linked_of_facts
from ..core.grouping import home_of
from ..core.phrase import Phrase, joined, phrase
from ..disk.moves import Outcome
from ..disk.tags import write_tags
from ..disk.thumbnails import SIZES, thumbnail_path
from ..disk.walk import shown
from ..disk.writes import PlannedWrite, WriteJournal, carry_out_writes, mend_writes, undo_writes
from ..disk.xmp import write_xmp
from ..errors import IndiceError
from ..phrases import kept
from ..settings import Settings
from ..sources.profile import parse_profile
from ..store.catalog import artwork_of
from ..store.database import Database
from ..store.facts import rankings, values_of
from ..store.jobs import announce
from ..store.models import Entry, File, Folder, Library, Plan, Source, now
from ..store.paths import kept_path
from ..store.plans import plan_at
from .progress import Progress, Stopped
from .subtitles import TEXT_WRITE, written_of_plan

__all__ = ["WRITES", "apply_writing", "draft_writing", "mend_writing", "undo_writing"]

WRITES = ("facts", "artwork", "photos", "tags")
"""What may be written: JSON-LD sidecars, pictures, XMP beside photos, tags of music."""
PUBLISHER = {"@type": "Organization", "name": "Indice"}
_PICTURES = {"movie": ("poster", "backdrop"), "series": ("poster", "backdrop"), "album": ("cover",)}
_PHOTO_FIELDS = {"title": "title", "plot": "plot", "keywords": "keywords", "people": "people", "date": "taken"}


def journal_home(settings: Settings) -> Path:
    """Where journals of writing are kept."""
    return settings.home / "journal"


@dataclass(slots=True)
class _Wish:
    """A file to be written."""

    folder: Folder
    path: str
    """Below the folder; bytes that are no UTF-8 are lone surrogates."""
    what: str
    entry_id: int
    edit: Callable[[Path], None]
    seen: tuple[int, int] | None = None


@dataclass(slots=True)
class _House:
    """What drafting needs to know of a library."""

    library: Library
    entries: dict[int, Entry]
    files: dict[int, list[File]]
    """Entry → the main files at it and below it, in the order of paths."""
    beside: dict[tuple[int, str], File]
    """Folder and path → record."""
    folders: dict[int, Folder]
    shown: dict[int, dict[str, Any]]
    """Entry → field → the value that is shown."""
    by_hand: dict[int, dict[str, Any]]
    schemes: dict[int, str]
    """Source → the name that its identifiers go by."""
    works: dict[tuple[int, str], set[int]]
    """Folder and directory → the films, series and albums of which main files lie in it or below."""


def _house(db: Session, library: Library) -> _House:
    entries = {e.id: e for e in db.scalars(select(Entry).where(Entry.library_id == library.id))}
    folders = {f.id: f for f in db.scalars(select(Folder).where(Folder.library_id == library.id))}
    files: dict[int, list[File]] = defaultdict(list)
    beside: dict[tuple[int, str], File] = {}
    works: dict[tuple[int, str], set[int]] = defaultdict(set)
    for file in db.scalars(
        select(File).where(File.folder_id.in_(folders), File.state == "present").order_by(File.shown)
    ):
        beside[file.folder_id, os.fsdecode(bytes(file.path))] = file
        walked = file.entry_id if file.serves in ("main", "version", "part") else None
        while walked is not None and walked in entries:
            files[walked].append(file)
            if entries[walked].kind in _PICTURES:
                for directory in _above(os.fsdecode(bytes(file.path))):
                    works[file.folder_id, directory].add(walked)
            walked = entries[walked].parent_id
    ranking = rankings(db)[library.id]
    shown_facts: dict[int, dict[str, Any]] = {}
    by_hand: dict[int, dict[str, Any]] = {}
    for entry_id, fields in values_of(db, list(entries)).items():
        told = {n: [v for v in values if v.origin not in ("sidecar", "echo")] for n, values in fields.items()}
        best = {n: found for n, values in told.items() if (found := best_value(values, n, ranking)) is not None}
        shown_facts[entry_id] = {n: value.value for n, value in best.items()}
        by_hand[entry_id] = {n: value.value for n, value in best.items() if value.origin == "hand"}
    schemes = {s.id: parse_profile(s.profile).scheme or s.name.lower() for s in db.scalars(select(Source))}
    return _House(library, entries, files, beside, folders, shown_facts, by_hand, schemes, works)


def _above(path: str) -> Iterator[str]:
    """Every directory that a path lies in."""
    while path := path.rpartition("/")[0]:
        yield path


_Left = tuple[str, str]
"""A path, and why nothing is written there."""


def _home(house: _House, entry: Entry) -> tuple[Folder, str] | None:
    """The folder that is an entry's own, or None when it has none."""
    mains = house.files.get(entry.id, [])
    if not mains or len({file.folder_id for file in mains}) != 1:
        return None
    directories = {os.path.dirname(os.fsdecode(bytes(file.path))) for file in mains}
    common = os.path.commonpath(directories) if all(directories) else ""
    home = home_of(common)
    if not home or house.works[mains[0].folder_id, home] != {entry.id}:
        return None
    return house.folders[mains[0].folder_id], home


def _sidecars(house: _House) -> Iterator[_Wish | _Left]:
    for entry in house.entries.values():
        if entry.kind not in ("movie", "series", "album") or not house.files.get(entry.id):
            continue
        if entry.state != "settled" and not house.by_hand.get(entry.id):
            continue
        first = house.files[entry.id][0]
        if entry.kind == "movie":
            folder, path = house.folders[first.folder_id], os.fsdecode(bytes(first.path)).rpartition(".")[0] + ".jsonld"
        else:
            home = _home(house, entry)
            if home is None:
                yield (
                    first.shown,
                    phrase("Its files lie in no folder of their own, so there is no place for a sidecar."),
                )
                continue
            folder, path = home[0], f"{home[1]}/about.jsonld"
        content = _document(house, entry)
        known = house.beside.get((folder.id, path))
        if known is not None:
            if not (known.media or {}).get("own"):
                yield known.shown, phrase("A sidecar that somebody else wrote lies there. It stays as it is.")
                continue
            if _content(folder, path) == content:
                continue
        yield _Wish(folder, path, "facts", entry.id, partial(_fill, content), _seen(folder, path))


def _document(house: _House, entry: Entry) -> bytes:
    scheme = house.schemes.get(entry.source_id or 0)
    ids = {scheme: entry.external_id} if scheme and entry.external_id else {}
    facts = {"title": entry.title, "year": entry.year, **house.shown.get(entry.id, {})}
    document = {**linked_of_facts(entry.kind, facts, ids), "sdPublisher": PUBLISHER}
    return (json.dumps(document, ensure_ascii=False, indent=2) + "\n").encode("utf-8", "replace")


def _pictures(db: Session, settings: Settings, house: _House) -> Iterator[_Wish | _Left]:
    wanted = [e for e in house.entries.values() if e.kind in _PICTURES and house.files.get(e.id)]
    pictures = artwork_of(db, [entry.id for entry in wanted])
    for entry in wanted:
        for role in _PICTURES[entry.kind]:
            chosen = next((p for p in pictures.get(entry.id, []) if p.role == role), None)
            if chosen is None or chosen.origin in ("file", "tags"):
                continue
            home = _home(house, entry)
            if home is None:
                yield house.files[entry.id][0].shown, phrase("It has no folder of its own for a {role}.", role=role)
                break
            path = f"{home[1]}/{role}.jpg"
            source = thumbnail_path(settings.home, chosen.digest, max(SIZES))
            if (home[0].id, path) not in house.beside and source.exists():
                yield _Wish(home[0], path, "artwork", entry.id, partial(_draw, source), _seen(home[0], path))


def _photos(house: _House) -> Iterator[_Wish | _Left]:
    for entry in house.entries.values():
        told = {ours: house.by_hand.get(entry.id, {}).get(field) for field, ours in _PHOTO_FIELDS.items()}
        facts = {name: value for name, value in told.items() if value}
        if entry.kind not in ("photo", "clip") or not facts or not house.files.get(entry.id):
            continue
        file = house.files[entry.id][0]
        folder, path = house.folders[file.folder_id], os.fsdecode(bytes(file.path))
        names = [f"{path}.xmp", f"{path.rpartition('.')[0]}.xmp"]
        target = next((name for name in names if (folder.id, name) in house.beside), names[0])
        old = _content(folder, target)
        try:
            content = write_xmp(facts, old)
        except ValueError as error:
            yield target, str(error)
            continue
        if content != old:
            yield _Wish(folder, target, "photos", entry.id, partial(_fill, content), _seen(folder, target))


def _tags(house: _House) -> Iterator[_Wish | _Left]:
    for entry in house.entries.values():
        album = house.entries.get(entry.parent_id or 0)
        if entry.kind != "track" or album is None or album.kind != "album" or album.state != "settled":
            continue
        artist = house.entries.get(album.parent_id or 0)
        names = house.shown.get(entry.id, {}).get("artists") or house.shown.get(entry.id, {}).get("artist")
        wanted = {
            "title": entry.title if entry.external_id or house.by_hand.get(entry.id) else None,
            "artist": ", ".join(names) if isinstance(names, list) else names,
            "album": album.title,
            "album_artist": artist.title if artist is not None else None,
            "year": album.year,
            "track": entry.number,
            "disc": entry.disc,
        }
        for file in house.files.get(entry.id, []):
            held = (file.media or {}).get("tags") or {}
            change = {n: v for n, v in wanted.items() if v not in (None, "") and str(held.get(n, "")) != str(v)}
            if change and file.media and not file.problem:
                folder, path = house.folders[file.folder_id], os.fsdecode(bytes(file.path))
                what = f"tags {' '.join(change)}"
                yield _Wish(
                    folder, path, what, entry.id, partial(_retag, change), (file.size_bytes, file.mtime_ns)
                )  # fmt: skip


def _fill(content: bytes, path: Path) -> None:
    path.write_bytes(content)


def _retag(change: dict[str, Any], path: Path) -> None:
    write_tags(path, change)


def _draw(source: Path, path: Path) -> None:
    out = io.BytesIO()
    Image.open(source).convert("RGB").save(out, "JPEG", quality=92)
    path.write_bytes(out.getvalue())


def _whole(folder: Folder, path: str) -> bytes:
    return os.path.join(bytes(folder.path), os.fsencode(path))


def _seen(folder: Folder, path: str) -> tuple[int, int] | None:
    try:
        status = os.lstat(_whole(folder, path))
    except OSError:
        return None
    return status.st_size, status.st_mtime_ns


def _content(folder: Folder, path: str) -> bytes | None:
    try:
        with open(_whole(folder, path), "rb") as file:
            return file.read()
    except OSError:
        return None


def _wishes(db: Session, settings: Settings, library: Library) -> Iterator[_Wish | _Left]:
    house = _house(db, library)
    writers: dict[str, Callable[[], Iterator[_Wish | _Left]]] = {
        "facts": lambda: _sidecars(house),
        "artwork": lambda: _pictures(db, settings, house),
        "photos": lambda: _photos(house),
        "tags": lambda: _tags(house),
    }
    for name in WRITES:
        if name in library.writes:
            yield from writers[name]()


def draft_writing(db: Session, settings: Settings, library_id: int) -> Plan:
    """A plan of everything that would be written for a library; nothing is written yet.

    Raises :class:`IndiceError` when the owner allowed nothing.
    """
    library = db.get(Library, library_id)
    if library is None:
        raise IndiceError(phrase("There is no such library."), reference="library-unknown", status=404)
    if not library.writes:
        raise IndiceError(
            phrase("Nothing may be written in {name}.", name=library.name),
            hint=phrase("Switch on what may be written, in the library's settings."),
            reference="writing-off",
        )
    moves: list[list[Any]] = []
    left: list[list[str]] = []
    for wish in _wishes(db, settings, library):
        if isinstance(wish, _Wish):
            moves.append([wish.folder.id, kept_path(wish.path), wish.what, wish.entry_id, *(wish.seen or (None, None))])
        else:
            left.append([kept_path(wish[0]), "", kept_path(kept(wish[1]))])
    plan = Plan(library_id=library_id, title=library.name, kind="write", moves=moves, conflicts=left, left=[])
    db.add(plan)
    db.flush()
    return plan


def _roots(db: Session, library: Library) -> dict[int, bytes]:
    return {f.id: bytes(f.path) for f in db.scalars(select(Folder).where(Folder.library_id == library.id))}


def _promised(db: Session, settings: Settings, library: Library, plan: Plan) -> list[PlannedWrite]:
    """What a plan shows of the facts, pictures and tags of a library, as it is known now."""
    promised = {
        (folder_id, path, what.partition(" ")[0]): None if size is None else (size, changed)
        for folder_id, path, what, _, size, changed in plan.moves
    }
    if all(what == TEXT_WRITE for _, _, what in promised):
        return []
    return [
        PlannedWrite(_whole(wish.folder, wish.path), wish.edit, promised[key])
        for wish in _wishes(db, settings, library)
        if isinstance(wish, _Wish)
        and (key := (wish.folder.id, kept_path(wish.path), wish.what.partition(" ")[0])) in promised
    ]


def apply_writing(database: Database, settings: Settings, plan_id: int, progress: Progress) -> str:
    """Write what a plan shows, as it is known now. Returns what came of it, in words."""
    with database.begin() as db:
        plan = plan_at(db, plan_id)
        library = db.get_one(Library, plan.library_id)
        writes = [
            *_promised(db, settings, library, plan),
            *written_of_plan(settings.home, _roots(db, library), plan.moves),
        ]
        journal = WriteJournal.create(journal_home(settings), plan.title)
        plan.state, plan.applied_at, plan.journal = "running", now(), journal.id
    outcome = _watched(progress, "Writing", len(writes), partial(carry_out_writes, journal, writes))
    _keep(database, plan_id, "stopped" if outcome.stopped else "done", outcome.left, progress)
    return _said(phrase("{n:file|files} written.", n=outcome.done), outcome)


def undo_writing(database: Database, settings: Settings, plan_id: int, progress: Progress) -> str:
    """Take everything back that a plan wrote. Returns what came of it, in words."""
    with database.begin() as db:
        journal = WriteJournal.read(journal_home(settings) / plan_at(db, plan_id).journal)
    outcome = _watched(progress, "Taking back", len(journal.steps), partial(undo_writes, journal))
    again = WriteJournal.read(journal.folder)
    state = "done" if any(step.state == "done" for step in again.steps) else "undone"
    _keep(database, plan_id, state, outcome.left, progress)
    return _said(phrase("{n:file|files} taken back.", n=outcome.done), outcome)


def _watched(progress: Progress, step: str, total: int, work: Callable[..., Any]) -> Any:
    """Run with progress told; a wish to stop is heard between two files."""
    progress.step(step, total)
    wish: list[bool] = []

    def tell(done: int, total: int, path: bytes) -> None:
        try:
            progress.advance(1, shown(path))
        except Stopped:
            wish.append(True)

    return work(tell=tell, should_stop=lambda: bool(wish))


def _keep(database: Database, plan_id: int, state: str, left: Sequence[tuple[bytes, str]], progress: Progress) -> None:
    for path, why in left:
        progress.log(why, path=shown(path), level="warning")
    with database.begin() as db:
        plan = plan_at(db, plan_id)
        plan.state = state
        plan.left = [[kept_path(os.fsdecode(path)), kept_path(kept(why))] for path, why in left]
        announce(db, "plans")


def _said(done: Phrase, outcome: Outcome) -> str:
    left = phrase("{n} left alone; the log says why.", n=len(outcome.left)) if outcome.left else ""
    return joined(done, left, outcome.why)


def mend_writing(database: Database, settings: Settings) -> list[str]:
    """After a crash: every file is whole, at its old or its new content; the plan is stopped. Says what was found."""
    said: list[str] = []
    mended = {journal.id: words for journal, words in mend_writes(journal_home(settings))}
    with database.begin() as db:
        for plan in db.scalars(select(Plan).where(Plan.kind == "write", Plan.state == "running")):
            plan.state = "stopped"
            said.append(
                f"Writing for {plan.title} was broken off. {mended.get(plan.journal, phrase('No file was on its way.'))}"
            )
        announce(db, "plans")
    return said
