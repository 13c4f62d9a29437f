"""Listens to the episodes of a library's seasons, and finds what they have in common: openings and closings."""

from __future__ import annotations

import os

from ..core.phrase import phrase
from ..core.playing.moments import Passage
from ..core.playing.passages import Print, passages_of
from ..disk.apart import prints_apart
from ..disk.walk import shown
from ..store.database import Database
from ..store.hearings import Unheard, keep_heard, keep_passages, prints_of, seasons_to_hear
from .progress import Progress

__all__ = ["has_unheard", "listen_to_library"]


def has_unheard(database: Database, library_id: int) -> bool:
    """Whether there are seasons with an episode that was not listened to."""
    with database.begin() as db:
        return bool(seasons_to_hear(db, library_id))


def listen_to_library(database: Database, library_id: int, progress: Progress) -> int:
    """Listen to what was not, and compare the episodes of each season that has such;
    returns how many passages are known there.

    It may be stopped between two episodes: the next time it goes on with what is left.
    """
    with database.begin() as db:
        seasons = seasons_to_hear(db, library_id)
    progress.step(
        phrase("Listening for openings"), sum(not file.is_heard for files in seasons.values() for file in files)
    )
    found = 0
    for files in seasons.values():
        for file in files:
            if not file.is_heard:
                _listen(database, file, progress)
        found += _compare(database, files)
    return found


def _listen(database: Database, file: Unheard, progress: Progress) -> None:
    path = os.path.join(file.root, file.path)
    try:
        last_from, first, last = prints_apart(path)
    except ValueError:
        last_from, first, last = 0.0, b"", b""  # nothing is heard in it: it need not be tried again
    except OSError as error:
        progress.log(
            phrase("It could not be read: {why}.", why=error.strerror or error), path=shown(file.path), level="warning"
        )
        return
    finally:
        progress.advance(1, shown(file.path))
    with database.begin() as db:
        keep_heard(db, file, last_from, first, last)


def _compare(database: Database, files: list[Unheard]) -> int:
    """The openings and closings of a season; returns how many there are."""
    with database.begin() as db:
        prints = prints_of(db, [file.file_id for file in files])
    ids = [file.file_id for file in files if file.file_id in prints]
    openings = passages_of([Print.unpacked(prints[one][0]) for one in ids])
    closings = passages_of([Print.unpacked(prints[one][1]) for one in ids])
    told: dict[int, list[Passage]] = {}
    for file_id, opening, closing in zip(ids, openings, closings, strict=True):
        told[file_id] = []
        if opening is not None:
            told[file_id].append(Passage("opening", opening.start_seconds, opening.end_seconds))
        if closing is not None:
            begin = prints[file_id][2]
            told[file_id].append(Passage("closing", begin + closing.start_seconds, begin + closing.end_seconds))
    with database.begin() as db:
        keep_passages(db, told)
    return sum(map(len, told.values()))
