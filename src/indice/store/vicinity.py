"""What a change of some files reaches: the files that grouping must see again, so that the rest can be let be.

An entry comes of the files that share its key, of the years that its folder votes for, and of what
lies beside; a side file looks at its folder, at those above and, a sidecar, at all below.
:class:`Vicinity` grows by these until nothing is added.
"""

from __future__ import annotations

from bisect import bisect_left
from collections import defaultdict
from collections.abc import Collection, Iterable, Iterator, Sequence
from typing import Any

from sqlalchemy import or_, select, text
from sqlalchemy.orm import Session

from ..core.grouping import EntryDraft, Grouped, folder_of_shot, home_of
from ..core.reading.scan import without_accents
from .among import among, among_words
from .models import Entry, File, Folder
from .paths import ancestors

__all__ = ["TooWide", "Vicinity"]

SHARED = ("artist", "event")
"""Kinds that hold works of many folders; a work's change does not reach the other works in them."""
SIDE = ("extra", "subtitle", "lyrics", "artwork", "sidecar")
_MAINS = ("movie", "episode", "track", "photo", "clip")
SMALL_HOME = 50
"""In a home of so few folders all are looked at; in a larger one those of seasons, discs and the like."""
_NAMING = ("title", "series", "album", "artist")
_NAMED = ("movie", "series", "album", "artist")
_FAMILY = text(
    """
    with recursive above as (
        select id, parent_id from entry where id = any(:ids) and kind not in ('artist', 'event')
        union
        select entry.id, entry.parent_id from entry join above on entry.id = above.parent_id
        where entry.kind not in ('artist', 'event')
    ), below as (
        select id from above
        union
        select entry.id from entry join below on entry.parent_id = below.id
    )
    select id from below
    """
)
_EMPTIED = text(
    """
    select distinct parent.id from entry parent join entry child on child.parent_id = parent.id
    where child.id = any(:ids) and parent.kind in ('artist', 'event')
      and not exists (select 1 from entry other where other.parent_id = parent.id and not other.id = any(:ids))
    """
)


class TooWide(Exception):
    """The change reaches so much that it is cheaper to see everything."""


class Vicinity:
    """The files that a change reaches, and the entries that they may have served."""

    def __init__(self, db: Session, library_id: int, directories: Sequence[str], *, most: int) -> None:
        """`directories` are all of the library, as :func:`~.tallies.directories_of`
        tells them; `most` files are looked at."""
        self._db = db
        self._library_id = library_id
        self._most = most
        self._folder_ids = list(db.scalars(select(Folder.id).where(Folder.library_id == library_id)))
        self._all = directories
        self.files: set[int] = set()
        self.entries: set[int] = set()
        self.elsewhere: frozenset[str] = frozenset()
        """Keys of artists that side files here ask for and that have works elsewhere."""
        self.spoken_of: set[int] = set()
        """Artists and events of which all side files are among these files, though not all that they hold."""
        self._directories: set[str] = set()
        self._pending: set[str] = set()
        self._served: set[int] = set()

    def start(self, files: Iterable[int], directories: Iterable[str], *, with_unserved: bool = True) -> None:
        """Begin with files that changed, and with folders that something was taken out of.

        `with_unserved` takes in what has lost its entry, wherever it lies.
        """
        self._pending |= set(directories)
        self._take(self._rows(among(File.id, files)))
        if with_unserved:
            self._take(self._rows(File.entry_id.is_(None), File.kind.in_(_MAINS), File.state != "missing"))
        self._grow()
        self._take_unserved()

    def widen(self, grouped: Grouped) -> bool:
        """Take in what the entries of a grouping reach that is not seen yet; returns whether there was any."""
        before = len(self.files), self.elsewhere
        keys = [*grouped.entries, *grouped.asked]
        of_keys = select(Entry.key, Entry.id, Entry.kind).where(
            Entry.library_id == self._library_id, among_words(Entry.key, keys)
        )
        known = {key: (id_, kind) for key, id_, kind in self._db.execute(of_keys)}
        works = {id_ for id_, kind in known.values() if kind not in SHARED}
        told_of = {known[key][0] for key, draft in grouped.entries.items() if key in known and _is_told_of(draft)}
        self._served |= {*works, *self._parts_of(grouped), *(told_of - self.spoken_of)} - self.entries
        self._take_named(
            [draft for draft in grouped.entries.values() if draft.kind in _NAMED and draft.key not in known]
        )
        self._grow()
        own = set(self.emptied())
        asked = grouped.asked & known.keys()
        self.elsewhere = frozenset(key for key in asked if known[key][1] == "artist" and known[key][0] not in own)
        return (len(self.files), self.elsewhere) != before

    def _parts_of(self, grouped: Grouped) -> list[int]:
        """Entries of films that were told apart from one of these by their length."""
        bases = {key.rpartition(":")[0] if key.endswith(" min") else key for key in grouped.entries}
        films = [key for key in bases if key.startswith("movie:")]
        if not films:
            return []
        rows = self._db.execute(
            text(
                "select id from entry where library_id = :library and kind = 'movie' and key like '% min' "
                "and regexp_replace(key, ':[0-9]+ min$', '') = any(:films)"
            ),
            {"library": self._library_id, "films": films},
        )
        return [id_ for (id_,) in rows]

    def emptied(self) -> list[int]:
        """Artists and events that hold nothing but what is seen here."""
        return list(self._db.scalars(_EMPTIED, {"ids": sorted(self.entries)}))

    def _rows(self, *conditions: Any) -> Sequence[Any]:
        query = select(File.id, File.directory, File.entry_id, File.kind, File.state).where(
            File.folder_id.in_(self._folder_ids), *conditions
        )
        return self._db.execute(query).all()

    def _take(self, rows: Iterable[Any]) -> None:
        for id_, directory, entry_id, *_ in rows:
            if id_ not in self.files:
                self.files.add(id_)
                self._pending.add(directory)
                if entry_id is not None and entry_id not in self.entries:
                    self._served.add(entry_id)
        if len(self.files) > self._most:
            raise TooWide

    def _grow(self) -> None:
        while self._pending - self._directories or self._served - self.entries:
            served, self._served = self._served - self.entries, set()
            if served:
                self._grow_by_entries(served)
            pending, self._pending = self._pending - self._directories, set()
            if pending:
                self._grow_by_directories(pending)

    def _grow_by_entries(self, ids: Collection[int]) -> None:
        family = set(self._db.scalars(_FAMILY, {"ids": sorted(ids)}))
        shared = set(ids) - family
        self.spoken_of |= shared
        self.entries |= family
        self._take(self._rows(among(File.entry_id, family)))
        lone = set(self.emptied()) if family else set()
        self._take(self._rows(among(File.entry_id, lone | shared), File.kind.in_(SIDE)))

    def _grow_by_directories(self, pending: Collection[str]) -> None:
        wanted: set[str] = set()
        for home in {home_of(directory) for directory in pending}:
            below = self._below(home)
            wanted |= set(below) if len(below) <= SMALL_HOME else {d for d in below if home_of(d) == home}
        wanted |= set(pending) | self._under_sidecars(pending)
        for shots in {folder_of_shot(directory) for directory in pending}:
            below = self._below(shots) if shots else [directory for directory in self._all if "/" not in directory]
            wanted |= {directory for directory in below if folder_of_shot(directory) == shots}
        wanted -= self._directories
        self._directories |= wanted
        rows = self._rows(among_words(File.directory, wanted))
        self._take(rows)
        self._pending |= set(_lonely(rows))

    def _below(self, directory: str) -> list[str]:
        """A folder and all below it that hold files."""
        if not directory:
            return [""]
        first = bisect_left(self._all, directory)
        last = bisect_left(self._all, directory + "0")  # the sign that follows the slash
        return [d for d in self._all[first:last] if d == directory or d.startswith(directory + "/")]

    def _under_sidecars(self, directories: Iterable[str]) -> set[str]:
        """All below those folders above these in which a sidecar speaks of what
        lies there, and of no file beside it."""
        above = {up for directory in directories for up in ancestors(directory)} - self._directories
        found: set[str] = set()
        query = select(File.shown, File.directory).where(
            File.folder_id.in_(self._folder_ids),
            among_words(File.directory, above),
            File.kind == "sidecar",
            File.state != "missing",
            _HAS_FACTS,
        )
        for path, directory in self._db.execute(query):
            stem = path.rpartition(".")[0]
            beside = select(File.id).where(
                File.folder_id.in_(self._folder_ids), File.directory == directory, File.kind.not_in(SIDE)
            )
            if self._db.scalar(
                beside.where(or_(File.shown == stem, File.shown.startswith(stem + ".", autoescape=True)))
            ):
                continue
            if not directory:
                raise TooWide
            found |= set(self._below(directory))
        return found

    def _take_unserved(self) -> None:
        """Side files that belong to nothing yet and lie near: what is new may be theirs."""
        rows = self._rows(File.entry_id.is_(None), File.kind.in_(SIDE), File.state != "missing")
        near = [row for row in rows if any(up in self._directories for up in _ups(row.directory))]
        self._take(near)
        self._grow()

    def _take_named(self, fresh: Sequence[EntryDraft]) -> None:
        """Side files that name a work which is new, wherever they lie."""
        titles = {without_accents(draft.title) for draft in fresh}
        if not titles:
            return
        named = [File.reading[name].as_string() for name in _NAMING]
        query = select(File.id, File.directory, File.entry_id, File.kind, *named).where(
            File.folder_id.in_(self._folder_ids),
            File.kind.in_(SIDE),
            File.state != "missing",
            or_(*(name.is_not(None) for name in named)),
        )
        rows = self._db.execute(query).all()
        self._take(row[:4] for row in rows if any(name and without_accents(name) in titles for name in row[4:]))


def _is_told_of(draft: EntryDraft) -> bool:
    """Whether a sidecar speaks of an artist or an event."""
    return draft.kind in SHARED and any(draft.facts.get(origin) for origin in ("sidecar", "echo"))


_HAS_FACTS = text("coalesce(file.media -> 'facts', '{}') <> '{}'")


def _lonely(rows: Iterable[Any]) -> Iterator[str]:
    """Folders above those in which side files lie without anything that they could belong to."""
    kinds: dict[str, set[str]] = defaultdict(set)
    for _, directory, _, kind, state in rows:
        if state != "missing":
            kinds[directory].add(kind)
    for directory, here in kinds.items():
        if directory and here & set(SIDE) and here <= {*SIDE, "other"}:
            yield directory.rpartition("/")[0]


def _ups(directory: str) -> list[str]:
    """A folder and the two above it."""
    parent = directory.rpartition("/")[0]
    return [directory, parent, parent.rpartition("/")[0]]
