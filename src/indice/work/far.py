"""A conversion that another machine carries: as home sees it, and as the machine does it.

Segments lie in the data folder that both see. What is said of one goes through the
database: what is wanted, how far it is.
"""

from __future__ import annotations

import contextlib
import os
import threading
import time
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path

import structlog
from sqlalchemy.exc import SQLAlchemyError

from ..core.playing.timeline import Timeline
from ..disk.encoder import HEAD, Run
from ..store.database import Database
from ..store.encodings import (
    SILENT_SECONDS,
    Asked,
    State,
    ask_for,
    drop,
    far_room,
    move_on,
    state_of,
    take_encoding,
    want,
)
from ..store.seen import here_of, is_told
from .playing_plan import Plan

__all__ = ["Carrier", "FarRun"]

log = structlog.get_logger()
ASK_SECONDS = 0.2
TAKEN_SECONDS = 3.0
"""What nobody takes for so long is done at home."""


class FarRun:
    """A track's encoder that works elsewhere; to who delivers it looks as :class:`Run` does."""

    def __init__(self, database: Database, key: str, track: str, first: int, folder: Path, root: Path) -> None:
        self._database, self._key, self._track, self._folder = database, key, track, folder
        self._below = str(folder.relative_to(root))
        self.first = self.place = self.wanted = first
        self.is_ended = False
        self.speed = 0.0
        self._id = 0
        self._stopped = threading.Event()

    @classmethod
    def has_room(cls, database: Database, ffmpeg: str, key: str) -> bool:
        """Whether another machine can carry one more for a playing, or go on
        elsewhere with the one it carries for it."""
        with database.begin() as db:
            return far_room(db, ffmpeg, key) > 0

    def start(self) -> None:
        """Ask for it."""
        self._folder.mkdir(parents=True, exist_ok=True)
        with self._database.begin() as db:
            self._id = ask_for(db, self._key, self._track, self.first, self._below)
        threading.Thread(target=self._watch, daemon=True, name="far").start()

    def _watch(self) -> None:
        while not self._stopped.wait(ASK_SECONDS):
            state: State | None = None
            with contextlib.suppress(SQLAlchemyError), self._database.begin() as db:
                state = state_of(db, self._id)
                if state is None:
                    self.is_ended = True
                    return
            if state is None:
                continue
            self.place, self.speed = max(state.place, self.place), state.speed
            lost = state.silent_seconds > (SILENT_SECONDS if state.is_taken else TAKEN_SECONDS)
            if state.is_ended or lost:
                self.is_ended = True
                return

    def stop(self) -> None:
        """Nobody needs it any more."""
        self._stopped.set()
        with contextlib.suppress(SQLAlchemyError), self._database.begin() as db:
            drop(db, self._id)

    @property
    def is_over(self) -> bool:
        """Whether nothing more comes of it."""
        return self.is_ended or self._stopped.is_set()

    def is_near(self, number: int) -> bool:
        """Whether a segment comes soon enough to be waited for."""
        return self.first <= number <= self.place + 1 and not self.is_ended

    def want(self, number: int) -> None:
        """Somebody asks for a segment: go on behind it."""
        if self.wanted < number <= self.place + 1:
            self.wanted = number
            with contextlib.suppress(SQLAlchemyError), self._database.begin() as db:
                want(db, self._id, number)

    def wait_for_head(self, seconds: float) -> bool:
        """Whether the head is there, after so long at most."""
        return self._await((self._folder / HEAD).is_file, seconds)

    def pieces(self, number: int, seconds: float) -> Iterator[bytes] | None:
        """A segment when it is whole; None when it does not come within so long."""
        path = self._folder / f"{number}.m4s"
        if not self._await(path.is_file, seconds):
            return None
        self.place = max(self.place, number + 1)  # seen before the machine says so
        try:
            return iter((path.read_bytes(),))
        except FileNotFoundError:
            return None

    def _await(self, is_there: Callable[[], bool], seconds: float) -> bool:
        until = time.monotonic() + seconds
        while not is_there():
            if self.is_ended or self._stopped.is_set() or time.monotonic() > until:
                return is_there()
            time.sleep(0.05)
        return True


class Carrier:
    """The side of the machine: takes conversions, as many at a time as it may, and does them."""

    def __init__(self, database: Database, machine_id: int, home: Path, most: int) -> None:
        self._database, self._machine_id = database, machine_id
        self._root = home / "segments"
        self._most = most
        self._refused: list[int] = []
        self._ended = threading.Event()
        self._runs: set[threading.Thread] = set()

    def live(self) -> None:
        """Take and do, until told to leave."""
        while not self._ended.wait(ASK_SECONDS):
            self._runs = {one for one in self._runs if one.is_alive()}
            if len(self._runs) >= self._most:
                continue
            with contextlib.suppress(SQLAlchemyError):
                self._take()

    def leave(self) -> None:
        """It does no more."""
        self._ended.set()
        for one in self._runs:
            one.join(3)

    def _take(self) -> None:
        with self._database.begin() as db:
            asked = take_encoding(db, self._machine_id, self._refused)
            if asked is None:
                return
            plan = Plan.from_told(asked.plan)
            here = here_of(plan.path)
            if not is_told(plan.path) or not os.path.isfile(here):
                db.rollback()  # another machine may see it
                self._refused = [*self._refused[-200:], asked.id]
                return
        work = threading.Thread(target=self._carry, args=(asked, replace(plan, path=here)), daemon=True, name="carry")
        self._runs.add(work)
        work.start()

    def _carry(self, asked: Asked, plan: Plan) -> None:
        folder = self._root / asked.folder
        if self._root.resolve() not in folder.resolve().parents:
            return
        timeline: Timeline = plan.timeline(asked.track)
        run = Run(plan.order(asked.track, timeline, asked.first), plan.path, timeline, folder)
        try:
            run.start()
        except OSError as error:
            log.error("encoder_missing", error=str(error))
            return
        log.info("carries", encoding_id=asked.id, first=asked.first)
        try:
            failed = 0.0
            while not self._ended.wait(ASK_SECONDS):
                try:
                    with self._database.begin() as db:
                        wanted = move_on(
                            db, asked.id, place=run.place, speed=round(run.speed, 2), is_ended=run.is_ended
                        )
                    failed = 0.0
                except SQLAlchemyError:
                    failed = failed or time.monotonic()
                    if time.monotonic() - failed > SILENT_SECONDS:
                        return  # home does it by itself by now
                    continue
                if wanted is None or run.is_ended:
                    return
                run.want(wanted)
        finally:
            run.stop()
