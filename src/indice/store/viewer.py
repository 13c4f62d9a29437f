"""Who asks, and what they may see: the one place that decides it.

A session that is begun for a viewer brings up nothing that they may not see, whatever is asked in it: the condition
is put into each question by SQLAlchemy itself, so that no list, count, search or page can forget it. Questions in
plain SQL are not reached by it; they must not be asked in such a session but by what :func:`may_see` has let through.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any, Literal

from sqlalchemy import ColumnElement, and_, event, exists, literal_column, or_, select, true
from sqlalchemy.orm import ORMExecuteState, Session, with_loader_criteria

from .models import Artwork, Candidate, Entry, Fact, FactChange, File, Library, PlaylistItem

__all__ = ["Role", "Shared", "Viewer", "bind_viewer", "bound_viewer", "keeps", "may_see"]

Role = Literal["owner", "librarian", "member", "guest"]
_OF_AN_AGE = ("movie", "series", "season", "episode", "clip")
"""Kinds that have certificates; that one has none says something of them only."""
_KEY = "viewer"


@dataclass(frozen=True, slots=True)
class Shared:
    """What a link shows to somebody without an account: an entry with what is in it, or what stands in a playlist."""

    share_id: int
    by_id: int
    """Who shares."""
    by_role: Role
    entry_id: int | None
    playlist_id: int | None


@dataclass(frozen=True, slots=True)
class Viewer:
    """The person that a question is answered for."""

    person_id: int
    """0 for who comes by a link and is nobody of the household."""
    role: Role = "owner"
    libraries: frozenset[int] = field(default_factory=frozenset)
    """Libraries that are given to them."""
    age: int | None = None
    """What they see is for this age; None: for any."""
    sees_unrated: bool = True
    downloads: frozenset[int] = field(default_factory=frozenset)
    """Libraries whose files they may save."""
    shares: frozenset[int] = field(default_factory=frozenset)
    """Libraries of which they may share by a link."""
    tidies: frozenset[int] = field(default_factory=frozenset)
    """Libraries that they may keep; none for who is of an age, since names of files tell what they are."""
    shared: Shared | None = None
    """The link by which they come; all else is what who shares may see."""

    @property
    def is_owner(self) -> bool:
        """Whether they may do everything."""
        return self.role == "owner" and self.shared is None

    @property
    def manages(self) -> bool:
        """Whether they keep the catalog, and are bound by no list and no age."""
        return self.role in ("owner", "librarian") and self.shared is None

    @property
    def sees_all(self) -> bool:
        """Whether no list and no age binds them."""
        return self.manages or (self.shared is not None and self.shared.by_role in ("owner", "librarian"))


def keeps(viewer: Viewer, library_id: int) -> bool:
    """Whether somebody may mend and describe what is in a library."""
    return viewer.manages or library_id in viewer.tidies


def may_see(viewer: Viewer, entry: Any = Entry) -> ColumnElement[bool]:
    """The condition on entries that a viewer may see."""
    allowed = _allowed(viewer, entry)
    return allowed if viewer.shared is None else and_(_within(viewer.shared, entry), allowed)


def _within(shared: Shared, entry: Any) -> ColumnElement[bool]:
    """The condition on entries that a link leads to: a playlist's, or one with what is in it and in that."""
    if shared.playlist_id is not None:
        item = PlaylistItem.__table__
        return entry.id.in_(select(item.c.entry_id).where(item.c.playlist_id == shared.playlist_id))
    above = Entry.__table__.alias("shared_above")
    inside = select(above.c.id).where(above.c.parent_id == shared.entry_id)
    root = shared.entry_id
    return or_(entry.id == root, entry.parent_id == root, entry.parent_id.in_(inside))


def _allowed(viewer: Viewer, entry: Any) -> ColumnElement[bool]:
    """The condition on entries that the rights of a person let them see."""
    if viewer.sees_all:
        return true()
    given = entry.library_id.in_(sorted(viewer.libraries) or [0])
    if viewer.age is None:
        return given
    rated = entry.age <= viewer.age
    if viewer.sees_unrated:
        rated = or_(rated, entry.age.is_(None))
    else:
        rated = or_(rated, and_(entry.age.is_(None), entry.kind.not_in(_OF_AN_AGE)))
    return and_(given, entry.limit_age <= viewer.age, rated)


def bind_viewer(db: Session, viewer: Viewer) -> None:
    """From now on this session brings up only what a viewer may see."""
    if not viewer.manages:
        db.info[_KEY] = viewer


def bound_viewer(db: Session) -> Viewer | None:
    """Who a session is bound to; None where it brings up everything."""
    return db.info.get(_KEY)


def _conditions(viewer: Viewer) -> list[Any]:
    """Conditions for whatever tells something of an entry."""
    entries = Entry.__table__.alias("may_be_seen")
    libraries = true() if viewer.sees_all else Library.id.in_(sorted(viewer.libraries) or [0])
    seen = select(literal_column("1")).select_from(entries).where(may_see(viewer, entries.c))

    def of_entry(column: Any) -> ColumnElement[bool]:
        return exists(seen.where(entries.c.id == column).correlate_except(entries))

    told = (Fact, Candidate, FactChange)
    return [
        with_loader_criteria(Artwork, or_(of_entry(Artwork.entry_id), *_covers(viewer)), include_aliases=True),
        with_loader_criteria(Entry, may_see(viewer), include_aliases=True),
        with_loader_criteria(File, of_entry(File.entry_id), include_aliases=True),
        with_loader_criteria(Library, libraries, include_aliases=True),
        *(with_loader_criteria(one, of_entry(one.entry_id), include_aliases=True) for one in told),
    ]


def _covers(viewer: Viewer) -> list[ColumnElement[bool]]:
    """Pictures of albums of which a song stands in a shared list: a song has no
    other picture, and they tell nothing else."""
    if viewer.shared is None or viewer.shared.playlist_id is None:
        return []
    songs = Entry.__table__.alias("shared_songs")
    song = select(literal_column("1")).select_from(songs).where(songs.c.kind == "track", may_see(viewer, songs.c))
    return [exists(song.where(songs.c.parent_id == Artwork.entry_id).correlate_except(songs))]


@event.listens_for(Session, "do_orm_execute")
def _only_what_may_be_seen(state: ORMExecuteState) -> None:
    viewer = state.session.info.get(_KEY)
    if viewer is not None and state.is_select and not state.is_column_load and not state.is_relationship_load:
        state.statement = state.statement.options(*_conditions(viewer))
