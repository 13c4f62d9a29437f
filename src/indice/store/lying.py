"""Folders as they lie on the disk, level by level, with the songs or photos that lie in each; paged by key."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import ColumnElement, Integer, LargeBinary, and_, column, select, text, true, values
from sqlalchemy.orm import Session

from ..core.facts.clean import clean_text
from ..errors import IndiceError
from .family import entries_at
from .models import Entry, File, Folder, Library
from .orders import packed, page_unknown, unpacked
from .paths import ODD
from .tallies import freshen

__all__ = [
    "FOLDERS_A_PAGE",
    "KINDS",
    "PIECES_A_PAGE",
    "Lying",
    "folders_in",
    "name_of_root",
    "pieces_below",
    "pieces_in",
    "roots_of",
]

FOLDERS_A_PAGE = 200
PIECES_A_PAGE = 120
KINDS: dict[str, tuple[str, ...]] = {"music": ("track",), "photos": ("photo", "clip")}
"""Shelf → the kinds of files that lie in its folders."""
_LEVEL = text("""
with recursive step (directory, child) as (
  (select directory, :before || split_part(substr(directory, length(:before) + 1), '/', 1)
    from tally where folder_id = :folder and directory ~>=~ :first and directory ~<~ :last
    order by directory using ~<~ limit 1)
  union all
  select following.directory, :before || split_part(substr(following.directory, length(:before) + 1), '/', 1)
  from step, lateral (
    select tally.directory from tally
    where folder_id = :folder and tally.directory ~<~ :last
      and tally.directory ~>=~ (child || case when step.directory = child then chr(1) else '0' end)
    order by tally.directory using ~<~ limit 1) as following
)
select directory, child from step
where directory = child or not exists (select 1 from tally where folder_id = :folder and tally.directory = child)
limit :most
""")
"""One probe of the index for each folder of a level, however much lies below it: `0` follows the slash.

`Osk`, `Osk - live` and `Osk/CD 1` come in this order: what has been told as a folder with files is not told again.
"""


@dataclass(frozen=True, slots=True)
class Lying:
    """A folder in a list of them."""

    folder_id: int
    """The library's folder that it lies in."""
    path: str
    """Below that; empty for the library's folder itself."""
    name: str
    first: Entry
    """The first thing in it or below it that may be seen."""


def roots_of(db: Session, shelf: str) -> list[Lying]:
    """The libraries' folders in which something of a shelf lies."""
    found: list[Lying] = []
    for id_, name in _named_roots(db).items():
        first = _first_below(db, shelf, id_, [""]).get("")
        if first is not None:
            found.append(Lying(id_, "", name, first))
    return found


def name_of_root(db: Session, folder_id: int) -> str:
    """What a library's folder is called; raises :class:`IndiceError` where there is none that may be seen."""
    name = _named_roots(db).get(folder_id)
    if name is None:
        raise IndiceError("There is no such folder.", reference="folder-unknown", status=404)
    return name


def _named_roots(db: Session) -> dict[int, str]:
    """The folders of all libraries by their names: that of the library, with its own where that has several."""
    query = select(Folder.id, Folder.shown, Library.name).join(Library, Library.id == Folder.library_id)
    folders = db.execute(query.order_by(Library.name, Folder.id)).all()
    often = [library for _, _, library in folders]
    found: dict[int, str] = {}
    for id_, shown, library in folders:
        last = shown.rstrip("/").rpartition("/")[2]
        found[id_] = f"{library}: {last}" if often.count(library) > 1 and last else library
    return found


def folders_in(
    db: Session, shelf: str, folder_id: int, path: str = "", after: str = ""
) -> tuple[list[Lying], str | None]:
    """A page of the folders right below one that hold something of a shelf, and what the next page is asked with.

    They come by their names, numbers in them by their size where one page holds all. Raises :class:`IndiceError`
    where the page is none that was given out.
    """
    freshen(db)
    path = clean_text(path)
    before = f"{path}/" if path else ""
    first = clean_text(unpacked(after, str)[0]) if after else before or "\x01"
    if not first.startswith(before):
        raise page_unknown()
    last = f"{path}0" if path else "\U0010ffff"
    asked = {"folder": folder_id, "before": before, "first": first, "last": last, "most": FOLDERS_A_PAGE + 1}
    told = db.execute(_LEVEL, asked).all()
    children = [str(child) for _, child in told[:FOLDERS_A_PAGE]]
    known = _first_below(db, shelf, folder_id, children)
    found = [Lying(folder_id, one, one[len(before) :], known[one]) for one in children if one in known]
    if len(told) > FOLDERS_A_PAGE:
        return found, packed(told[FOLDERS_A_PAGE][0])
    if not after:
        found.sort(key=lambda one: _by_number(one.name))
    return found, None


def pieces_in(
    db: Session, shelf: str, folder_id: int, path: str = "", after: str = ""
) -> tuple[list[Entry], str | None]:
    """A page of the songs or photos that lie in a folder itself, by the names of their files."""
    here = File.directory == clean_text(path)
    if after:
        here = and_(here, File.path > _path_of(after))
    return _pieces(db, shelf, folder_id, here, PIECES_A_PAGE)


def pieces_below(db: Session, shelf: str, folder_id: int, path: str = "", *, limit: int) -> list[Entry]:
    """The first songs or photos in a folder and all below it."""
    return _pieces(db, shelf, folder_id, _within(clean_text(path)), limit)[0]


def _pieces(
    db: Session, shelf: str, folder_id: int, where: ColumnElement[bool], limit: int
) -> tuple[list[Entry], str | None]:
    query = (
        select(Entry, File.path)
        .join(File, File.entry_id == Entry.id)
        .where(File.folder_id == folder_id, where, *_of(shelf))
        .order_by(File.path)
    )
    rows = db.execute(query.limit(limit + 1)).all()
    shown = rows[:limit]
    entries = {entry.id: entry for entry, _ in shown}
    return list(entries.values()), packed(bytes(shown[-1][1]).hex()) if len(rows) > limit else None


def _of(shelf: str) -> tuple[ColumnElement[bool], ...]:
    """Files that are something on the shelf; the moments around a live picture are not."""
    return File.state != "missing", File.serves != "live", File.kind.in_(KINDS[shelf]), Entry.kind.in_(KINDS[shelf])


def _first_below(db: Session, shelf: str, folder_id: int, paths: Sequence[str]) -> dict[str, Entry]:
    """Of each folder the first thing of the shelf that lies in it or below it; none for those without any."""
    plain = [path for path in paths if ODD not in path]
    found = {
        path: entries[0]
        for path in paths
        if ODD in path and (entries := pieces_below(db, shelf, folder_id, path, limit=1))
    }
    if not plain:
        return found
    told = values(column("at", Integer), column("first", LargeBinary), column("last", LargeBinary), name="told")
    asked = told.data([(at, *_range(path)) for at, path in enumerate(plain)])
    first = (
        select(File.entry_id)
        .join(Entry, Entry.id == File.entry_id)
        .where(File.folder_id == folder_id, File.path >= asked.c.first, File.path < asked.c.last, *_of(shelf))
        .order_by(File.path)
        .limit(1)
        .lateral("above")
    )
    rows = db.execute(select(asked.c.at, first.c.entry_id).join_from(asked, first, true())).all()
    entries = {one.id: one for one in entries_at(db, [id_ for _, id_ in rows])}
    return found | {plain[at]: entries[id_] for at, id_ in rows if id_ in entries}


def _within(path: str) -> ColumnElement[bool]:
    """Whether a file lies in a folder or below it."""
    if ODD in path:
        return File.directory == path
    first, last = _range(path)
    return and_(File.path >= first, File.path < last)


def _range(path: str) -> tuple[bytes, bytes]:
    """Between which paths all lie that are below a folder: `0` follows the slash."""
    return (path.encode() + b"/", path.encode() + b"0") if path else (b"", b"\xff" * 8)


def _path_of(after: str) -> bytes:
    try:
        return bytes.fromhex(unpacked(after, str)[0])
    except ValueError as error:
        raise page_unknown() from error


def _by_number(name: str) -> list[tuple[int, int, str]]:
    """`CD 2` before `CD 10`, whatever the case of letters."""
    parts = re.split(r"(\d{1,18})", name.casefold())
    return [(0, int(part), "") if part.isdecimal() else (1, 0, part) for part in parts if part]
