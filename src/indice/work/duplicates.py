"""Finds what is there twice: the same bytes, the same work, the same shot, the same recording."""

from __future__ import annotations

import os
from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import lru_cache
from itertools import combinations, islice
from typing import Any

import numpy as np
from numpy.typing import NDArray
from sqlalchemy import select
from sqlalchemy.orm import Session

from ..core.duplicates import (
    SECONDS_APART,
    Copy,
    Held,
    Looks,
    Picture,
    Sound,
    alike_pairs,
    better_first,
    grouped,
    is_meant,
    pairs_of_shots,
    picture_of,
    quality_of,
    same_recording,
    why_better,
)
from ..core.grouping import RAW_ENDINGS
from ..core.phrase import phrase
from ..disk.apart import likeness_apart
from ..disk.digest import SMALL_BYTES, digest_of, sample_of
from ..errors import IndiceError
from ..store.database import Database
from ..store.duplicates import (
    Sketched,
    TwiceFile,
    count_likenesses,
    distinct_pairs,
    keep_twins,
    likenesses,
    of_one_size,
    of_one_work,
    save_likenesses,
    sketches_of,
    twice_files,
    twin_at,
    without_likeness,
)
from ..store.files import save_digests
from ..store.models import Folder, Library, Plan, now
from ..store.paths import kept_path
from .bins import bin_name
from .progress import Progress

__all__ = ["Group", "Member", "find_duplicates", "look_for_duplicates", "make_likenesses", "to_the_bin"]

Say = Callable[[str, int], None]
"""Is told what is done, and how many more things are done; may raise to stop it."""
LIKE_SOUNDS = 0.8
"""Least scalar product of vectors that is worth a closer listen."""
NOTHING = picture_of(np.zeros((8, 8), np.uint8))
"""A picture that is like none."""
AT_ONCE = 64
LOOKERS = 4


@dataclass(frozen=True, slots=True)
class Member:
    """A file of a group."""

    file_id: int
    library: str
    path: str
    size_bytes: int
    quality: str


@dataclass(frozen=True, slots=True)
class Group:
    """Files of which one is enough; the first is the one to keep."""

    kind: str
    """`same-bytes`, `same-work`, `near-picture` or `near-sound`."""
    files: tuple[Member, ...]
    why: str


def _silent(_what: str, _count: int) -> None:
    return


def find_duplicates(database: Database, library_ids: Collection[int], say: Say = _silent) -> Iterator[Group]:
    """Groups of files of some libraries that are there twice, kind by kind; what
    has no likeness yet is looked at first."""
    with database.begin() as db:
        apart = distinct_pairs(db)
    same = _same_bytes(database, library_ids, say)
    of = {id_: number for number, ids in enumerate(same) for id_ in ids}
    yield from _groups(database, "same-bytes", _without(same, apart))
    works = [pairs for ids in _works(database, library_ids) for pairs in [_unmeant(ids)] if pairs]
    joined = [[f.id for f in files] for pairs in works for files in grouped_files(pairs)]
    yield from _groups(database, "same-work", _without([ids for ids in joined if not _is_one(ids, of)], apart))
    make_likenesses(database, library_ids, say)
    for kind, near in (("near-picture", _near_pictures), ("near-sound", _near_sounds)):
        pairs = [pair for pair in near(database, library_ids, of, say) if pair not in apart]
        yield from _groups(database, kind, grouped(pairs))


def look_for_duplicates(database: Database, progress: Progress) -> str:
    """Look through all libraries, and keep what was found for people to decide; says how much it is."""
    with database.begin() as db:
        library_ids = list(db.scalars(select(Library.id)))

    def say(what: str, count: int) -> None:
        if what != said[0]:
            said[0] = what
            progress.step(what)
        progress.advance(count)

    said = [""]
    groups = list(find_duplicates(database, library_ids, say))
    with database.begin() as db:
        keep_twins(db, [(group.kind, group.why, [one.file_id for one in group.files]) for group in groups])
    progress.changed("duplicates")
    return (
        phrase("{n} groups of files are there twice.", n=len(groups)) if groups else phrase("Nothing is there twice.")
    )


def to_the_bin(db: Session, choices: Mapping[int, int]) -> list[Plan]:
    """Plans, one a library, that put all files of groups into the bin of their folder but the one to keep.

    `choices` is group → the file that stays. Raises :class:`IndiceError` when that is none of the group.
    """
    moves: dict[int, list[list[Any]]] = {}
    for twin_id, keep in choices.items():
        twin = twin_at(db, twin_id)
        if keep not in twin.files:
            raise IndiceError(phrase("The file to keep is none of the group."), reference="twin-unknown", status=404)
        files = twice_files(db, twin.files)
        if keep not in files or files[keep].state != "present":
            raise IndiceError(
                phrase("The file to keep is not there."), hint=phrase("Look again."), reference="twin-unknown"
            )
        for file in files.values():
            if file.id != keep and file.state == "present":
                target = f"{bin_name(twin_id, now())}/{os.fsdecode(file.path)}"
                before, after = kept_path(os.fsdecode(file.path)), kept_path(target)
                library_id = db.get_one(Folder, file.folder_id).library_id
                moves.setdefault(library_id, []).append([file.folder_id, before, after])
    made: list[Plan] = []
    for library_id, rows in moves.items():
        unique = {(row[0], row[1]): row for row in rows}
        name = db.get_one(Library, library_id).name
        made.append(
            Plan(
                library_id=library_id,
                title=phrase("{name}: duplicates", name=name),
                moves=list(unique.values()),
                left=[],
            )
        )
    db.add_all(made)
    db.flush()
    return made


def grouped_files(pairs: Sequence[tuple[TwiceFile, TwiceFile]]) -> list[list[TwiceFile]]:
    """Files that pairs join."""
    files = {file.id: file for pair in pairs for file in pair}
    return [[files[id_] for id_ in ids] for ids in grouped((one.id, other.id) for one, other in pairs)]


def _is_one(ids: Sequence[int], of: dict[int, int]) -> bool:
    """Whether all of these hold the same bytes."""
    return len({of.get(id_, -id_) for id_ in ids}) == 1


def _without(groups: Sequence[Sequence[int]], apart: set[tuple[int, int]]) -> list[list[int]]:
    """Groups without what a person told apart."""
    found: list[list[int]] = []
    for ids in groups:
        found += grouped(pair for pair in combinations(sorted(ids), 2) if pair not in apart)
    return found


def _place(file: TwiceFile) -> bytes:
    return os.path.join(file.root, file.path)


def _same_bytes(database: Database, library_ids: Collection[int], say: Say) -> list[list[int]]:
    """Files with the same bytes at other places; names of one file on the disk, and
    one that is declared twice, are none."""
    with database.begin() as db:
        sized = of_one_size(db, library_ids)
        files = twice_files(db, [id_ for ids in sized for id_ in ids])
    found: list[list[int]] = []
    for ids in sized:
        of_digest: dict[bytes, list[int]] = {}
        for id_, digest in _digests(database, [files[id_] for id_ in ids if id_ in files], say):
            of_digest.setdefault(digest, []).append(id_)
        found += [apart for alike in of_digest.values() if len(apart := _at_other_places(alike, files)) > 1]
    return found


def _at_other_places(ids: Sequence[int], files: dict[int, TwiceFile]) -> list[int]:
    places: dict[tuple[int, int] | bytes, int] = {}
    for id_ in ids:
        try:
            status = os.stat(_place(files[id_]))
        except OSError:
            continue
        places.setdefault((status.st_dev, status.st_ino), id_)
    return list(places.values())


def _digests(database: Database, files: Sequence[TwiceFile], say: Say) -> Iterator[tuple[int, bytes]]:
    """The digest of each file; where none is known some bytes are compared first, and all only where those agree."""
    samples: dict[bytes, list[TwiceFile]] = {}
    for file in files:
        try:
            samples.setdefault(sample_of(_place(file)), []).append(file)
        except OSError:
            continue
    taken: list[tuple[int, bytes | None, bytes | None]] = []
    for sample, alike in samples.items():
        if len(alike) < 2:
            continue
        for file in alike:
            digest = file.digest
            if digest is None:
                say("Reading files that may be the same", 1)
                try:
                    digest = digest_of(_place(file)) if file.size_bytes > SMALL_BYTES else sample
                except OSError:
                    continue
                if file.size_bytes > SMALL_BYTES:
                    taken.append((file.id, sample, digest))
            yield file.id, digest
    if taken:
        with database.begin() as db:
            save_digests(db, taken)


def _works(database: Database, library_ids: Collection[int]) -> list[list[TwiceFile]]:
    with database.begin() as db:
        groups = of_one_work(db, library_ids)
        files = twice_files(db, [id_ for ids in groups for id_ in ids])
    return [[files[id_] for id_ in ids if id_ in files] for ids in groups]


def _unmeant(files: Sequence[TwiceFile]) -> list[tuple[TwiceFile, TwiceFile]]:
    """Pairs of files of one work that nobody meant to keep side by side."""
    held = {file.id: Held(os.fsdecode(_place(file)), file.kind, file.reading) for file in files}
    return [
        (one, other)
        for one, other in combinations(files, 2)
        if _place(one) != _place(other) and not is_meant(held[one.id], held[other.id])
    ]


def make_likenesses(database: Database, library_ids: Collection[int], say: Say = _silent) -> int:
    """Look at all photos and tracks that have no likeness as they are; returns how many."""
    count = 0
    with ThreadPoolExecutor(LOOKERS) as pool:
        while True:
            with database.begin() as db:
                rows = without_likeness(db, library_ids, limit=AT_ONCE)
            if not rows:
                return count
            made = list(pool.map(_likeness, rows))
            with database.begin() as db:
                save_likenesses(db, [(row[0], data) for row, data in zip(rows, made, strict=True)])
            count += len(rows)
            say("Looking at pictures, listening to tracks", len(rows))


def _likeness(row: tuple[int, bytes, bytes, str]) -> bytes | None:
    try:
        return likeness_apart(os.path.join(row[1], row[2]), row[3])
    except OSError:
        return None


def _near_pictures(
    database: Database, library_ids: Collection[int], of: dict[int, int], say: Say
) -> Iterator[tuple[int, int]]:
    files: list[Sketched] = []
    with database.begin() as db:
        count = count_likenesses(db, library_ids, "photo")
        looks = Looks.of(_each_picture(likenesses(db, library_ids, "photo"), files, count), count)

    def fetch(numbers: Sequence[int]) -> list[Picture]:
        with database.begin() as db:
            sketches = sketches_of(db, [files[number].id for number in numbers])
        return [Picture.unpacked(data) if data else NOTHING for data in sketches]

    def may_be(one: int, other: int) -> bool:
        return not _is_one((files[one].id, files[other].id), of) and _may_be_one_shot(files[one], files[other])

    say("Comparing pictures", 0)
    for one, other in pairs_of_shots(looks, fetch, may_be=may_be, looked=lambda more: say("Comparing pictures", more)):
        yield files[one].id, files[other].id


def _each_picture(
    rows: Iterator[tuple[Sketched, bytes]], files: list[Sketched], most: int
) -> Iterator[tuple[Picture, str | None]]:
    for file, data in islice(rows, most):
        files.append(file)
        yield Picture.unpacked(data), file.moment


def _may_be_one_shot(one: Sketched, other: Sketched) -> bool:
    """Whether two photos may be the same shot: not a raw file and its picture."""
    stems = [file.shown.rpartition(".")[::2] for file in (one, other)]
    endings = {ending.lower() for _, ending in stems}
    return not (stems[0][0] == stems[1][0] and one.folder_id == other.folder_id and len(endings & RAW_ENDINGS) == 1)


def _near_sounds(
    database: Database, library_ids: Collection[int], of: dict[int, int], say: Say
) -> Iterator[tuple[int, int]]:
    ids: list[int] = []
    packed: list[bytes] = []
    lengths: list[float] = []
    vectors: list[NDArray[np.floating[Any]]] = []
    with database.begin() as db:
        for file, data in likenesses(db, library_ids, "track"):
            sound = Sound.unpacked(data)
            ids.append(file.id)
            packed.append(data)
            lengths.append(sound.seconds)
            vectors.append(sound.vector)
    if len(ids) < 2:
        return
    say("Comparing tracks", 0)
    as_long = alike_pairs(np.stack(vectors), np.array(lengths), least=LIKE_SOUNDS, within=SECONDS_APART)

    @lru_cache(maxsize=256)
    def unpacked(number: int) -> Sound:
        return Sound.unpacked(packed[number])

    for one, other in as_long:
        say("Comparing tracks", 0)
        pair = ids[one], ids[other]
        if not _is_one(pair, of) and same_recording(unpacked(one), unpacked(other)):
            yield pair


def _groups(database: Database, kind: str, groups: Sequence[Sequence[int]]) -> Iterator[Group]:
    with database.begin() as db:
        files = twice_files(db, [id_ for ids in groups for id_ in ids])
    for ids in groups:
        there = [files[id_] for id_ in ids if id_ in files]
        copies = better_first([_copy(file) for file in there], same_bytes=kind == "same-bytes")
        if len(copies) < 2:
            continue
        why = why_better(copies[0], copies[1], same_bytes=kind == "same-bytes")
        yield Group(kind, tuple(_member(files[copy.id], copy) for copy in copies), why)


def _copy(file: TwiceFile) -> Copy:
    return Copy(file.id, file.shown, file.kind, file.size_bytes, file.media, file.is_tidy, not file.problem)


def _member(file: TwiceFile, copy: Copy) -> Member:
    return Member(file.id, file.library, file.shown, file.size_bytes, quality_of(copy))
