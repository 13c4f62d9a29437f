"""Delivers what is played: playlists, and segments that are made when they are asked for.

What a playing needs stands in its record, so that a server that was started anew goes on with it. Segments lie in a
cache in the data folder, named by the file as it is and by what is made of it; the oldest go first.
"""

from __future__ import annotations

import contextlib
import hashlib
import json
import os
import shutil
import threading
import time
from collections.abc import Callable, Iterator
from dataclasses import asdict
from pathlib import Path
from typing import Any

from sqlalchemy.exc import SQLAlchemyError

from ..core.phrase import phrase
from ..core.playing.orders import Encoder, text_order
from ..core.playing.words import as_webvtt, cues_between, decode_text
from ..disk.encoder import HEAD, Run, take_text
from ..disk.hardware import encoder_version, working_encoder
from ..errors import IndiceError
from ..store.database import Database
from .far import FarRun
from .playing_plan import Plan, PlannedText, unknown

__all__ = ["Delivery"]

WAIT_SECONDS = 25.0
"""So long is a segment waited for."""
TIDY_EVERY_SECONDS = 10.0
RECIPE = 3
"""Counts the ways in which segments were made: those of another way are not mixed with these."""
LOOK_BACK = (1, 3, 8)
"""So many segments before is the encoder started, one after the other, where a
picture has nothing at the wanted one."""


class Delivery:
    """The segments of all that is played by this server."""

    def __init__(
        self,
        home: Path,
        cache_bytes: int,
        *,
        hardware: bool = False,
        database: Database | None = None,
        most_here: int = 0,
    ) -> None:
        self._database, self._most_here = database, most_here
        """Where more than so many pictures are encoded, another machine is asked, if there is one; 0: it never is."""
        self._hardware = hardware
        """Whether an encoder of the machine is used, where one works."""
        self._root = home / "segments"
        self._cache_bytes = cache_bytes
        self._lock = threading.Lock()
        self._runs: dict[tuple[str, str], Run | FarRun] = {}
        self._not_far: set[str] = set()
        """Playings whose conversion another machine has lost: it stays at home."""
        self._tidied = 0.0
        for left in self._root.glob("*/*/*.part"):
            left.unlink(missing_ok=True)

    def head(self, key: str, plan: Plan, track: str) -> bytes:
        """What stands before the first segment of a track; raises :class:`IndiceError` when it cannot be made."""
        folder = self._folder(plan, track)
        path = folder / HEAD
        if not path.is_file():
            run = self._runs.get((key, track))
            if run is None or run.is_ended:
                start = plan.start_seconds
                run = self._run(key, plan, track, plan.timeline(track).at(start), folder, start)
            if not run.wait_for_head(WAIT_SECONDS) and isinstance(run, FarRun):
                run = self._run(key, plan, track, run.first, folder)  # who carried it is gone
                run.wait_for_head(WAIT_SECONDS)
        try:
            return path.read_bytes()
        except FileNotFoundError:
            raise _not_made() from None

    def segment(
        self,
        key: str,
        plan: Plan,
        track: str,
        number: int,
        moment: float | None = None,
        *,
        is_gone: Callable[[], bool] = lambda: False,
    ) -> Iterator[bytes]:
        """A segment of a track, as it is made; raises :class:`IndiceError` when there is none or it cannot be made.

        `moment`: what of it is waited for, in seconds of the file. `is_gone`:
        whether who asked does not listen any more.
        """
        timeline = plan.timeline(track)
        if number >= len(timeline.starts):
            raise unknown()
        folder = self._folder(plan, track)
        path = folder / f"{number}.m4s"
        content = _read(path)
        if content is None:
            run = self._run(key, plan, track, number, folder, moment)
            pieces = run.pieces(number, WAIT_SECONDS)
            if pieces is None and isinstance(run, FarRun):
                pieces = self._run(key, plan, track, number, folder).pieces(number, WAIT_SECONDS)
            if pieces is not None:
                return pieces
            content = _read(path)
            if content is None and not is_gone():
                if not run.is_over:
                    raise _busy()
                content = self._from_before(plan, track, number, folder)
        else:
            run = self._runs.get((key, track))
            if run is not None:
                run.want(number)
        if content is None:
            raise _not_made()
        return iter((content,))

    def _encoder(self) -> Encoder | None:
        return working_encoder() if self._hardware else None

    def _from_before(self, plan: Plan, track: str, number: int, folder: Path) -> bytes | None:
        """A segment in which nothing begins: what is shown in it began before."""
        timeline = plan.timeline(track)
        for back in LOOK_BACK:
            first = max(number - back, 0)
            run = Run(plan.order(track, timeline, first, self._encoder()), plan.path, timeline, folder)
            run.start()
            try:
                for place in range(first, number + 1):
                    run.want(place)
                    pieces = run.pieces(place, WAIT_SECONDS)
                    if pieces is not None:
                        list(pieces)
            finally:
                run.stop()
            content = _read(folder / f"{number}.m4s")
            if content or first == 0:
                return content
        return None

    def _run(
        self, key: str, plan: Plan, track: str, number: int, folder: Path, moment: float | None = None
    ) -> Run | FarRun:
        """The encoder that makes a segment, started anew where none comes by soon."""
        with self._lock:
            run = self._runs.get((key, track))
            if run is not None and run.is_near(number):
                run.want(number)
                return run
            if isinstance(run, FarRun) and run.is_ended and run.first <= number:
                self._not_far.add(key)
            made = self._new_run(key, plan, track, number, folder, moment)
            self._runs[key, track] = made
        if run is not None:
            run.stop()
        try:
            made.start()
        except OSError as error:
            raise IndiceError(
                "This film cannot be converted: ffmpeg does not start.",
                hint="`./indice doctor` says more.",
                reference="encoder-missing",
                status=500,
            ) from error
        self._tidy()
        return made

    def _new_run(
        self, key: str, plan: Plan, track: str, number: int, folder: Path, moment: float | None
    ) -> Run | FarRun:
        """An encoder here; where as many as may are at work here, one elsewhere."""
        if self._is_for_far(key, plan, track) and self._database is not None:
            return FarRun(self._database, key, track, number, folder, self._root)
        timeline = plan.timeline(track)
        order = plan.order(track, timeline, number, self._encoder(), moment)
        return Run(order, plan.path, timeline, folder)

    def _is_for_far(self, key: str, plan: Plan, track: str) -> bool:
        is_encoded = track == "picture" and plan.decision.picture is not None and plan.decision.picture.how == "encode"
        if not is_encoded or self._database is None or not self._most_here or key in self._not_far or self._encoder():
            return False
        here = {
            one
            for (one, name), run in self._runs.items()
            if name == "picture" and isinstance(run, Run) and run.is_picture_encoder and one != key and not run.is_ended
        }
        if len(here) < self._most_here:
            return False
        try:
            return FarRun.has_room(self._database, encoder_version(), key)
        except SQLAlchemyError:
            return False

    def webvtt(self, plan: Plan, text: PlannedText) -> str:
        """A text track as WebVTT; raises :class:`IndiceError` when none can be made of it."""
        folder = self._root / "texts"
        try:
            source = text.path if text.path is not None else plan.path
            status = os.stat(source)
            rate = plan.streams.video.frames if plan.streams.video is not None else 25
            name = hashlib.sha256(
                repr((source, status.st_size, status.st_mtime_ns, text.stream, text.language, float(rate))).encode()
            ).hexdigest()[:32]
            kept = folder / f"{name}.vtt"
            if kept.is_file():
                return kept.read_text("utf-8")
            if text.path is not None:
                with open(text.path, "rb") as file:
                    content, extension = file.read(20_000_000), os.fsdecode(text.path).rpartition(".")[2]
            else:
                content, extension = take_text(text_order(text.stream or 0), plan.path), "ass"
            made = as_webvtt(decode_text(content, text.language), extension, pictures_a_second=float(rate))
        except FileNotFoundError as error:
            raise IndiceError("This file is not there.", reference="file-away", status=404) from error
        except (ValueError, OSError) as error:
            raise IndiceError(
                phrase("This text cannot be shown: {error}", error=error), reference="text-unreadable", status=422
            ) from error
        folder.mkdir(parents=True, exist_ok=True)
        part = folder / f"{name}.{threading.get_ident()}.part"
        part.write_text(made, "utf-8")
        part.replace(kept)
        return made

    def text_segment(self, plan: Plan, track: str, number: int) -> str:
        """The cues of a text track in the span of a segment."""
        timeline = plan.timeline("picture" if plan.has_picture else f"sound-{plan.sound}")
        if number >= len(timeline.starts):
            raise unknown()
        start = timeline.starts[number]
        return cues_between(self.webvtt(plan, plan.text(track)), start, start + timeline.length(number))

    def speed(self, key: str) -> float:
        """Seconds of the film that are made a second, of the slowest track of a
        playing that is at work; 0 when none is."""
        speeds = [run.speed for (one, _), run in list(self._runs.items()) if one == key and not run.is_ended]
        return min((speed for speed in speeds if speed > 0), default=0.0)

    def keep_only(self, keys: set[str]) -> None:
        """End the encoders of playings that are over."""
        with self._lock:
            over = [name for name in self._runs if name[0] not in keys]
            ended = [self._runs.pop(name) for name in over]
            self._not_far &= keys
        for run in ended:
            run.stop()

    def _folder(self, plan: Plan, track: str) -> Path:
        status = _stat(plan.path)
        what: Any = asdict(plan.decision.picture) if track == "picture" and plan.decision.picture else None
        number = plan.streams.sounds[int(track.removeprefix("sound-"))].index if what is None else None
        sound = asdict(plan.decision.sounds[int(track.removeprefix("sound-"))]) if what is None else None
        encoder = self._encoder() if what else None
        about = [
            RECIPE,
            encoder.codec if encoder else None,
            plan.path.hex(),
            status.st_size,
            status.st_mtime_ns,
            what,
            number,
            sound,
            plan.words if what else None,
        ]
        return self._root / hashlib.sha256(json.dumps(about).encode()).hexdigest()[:32] / track.partition("-")[0]

    def _tidy(self) -> None:
        """Keep the cache within its limit: the oldest segments go."""
        with self._lock:
            if time.monotonic() - self._tidied < TIDY_EVERY_SECONDS:
                return
            self._tidied = time.monotonic()
        found: list[tuple[float, int, Path]] = []
        for path in self._root.glob("*/*/*.m4s"):
            with contextlib.suppress(OSError):
                status = path.stat()
                found.append((status.st_mtime, status.st_size, path))
        over = sum(size for _, size, _ in found) - self._cache_bytes
        for _, size, path in sorted(found):
            if over <= 0:
                break
            path.unlink(missing_ok=True)
            over -= size
        for folder in self._root.glob("*/*"):
            with contextlib.suppress(OSError):
                if folder.is_dir() and not any(folder.glob("*.m4s")) and time.time() - folder.stat().st_mtime > 3600:
                    shutil.rmtree(folder, ignore_errors=True)

    def close(self) -> None:
        """End everything."""
        self.keep_only(set())


def _stat(path: bytes) -> os.stat_result:
    try:
        return os.stat(path)
    except OSError as error:
        raise IndiceError(
            "This file is not there.", hint="Plug its drive in, or scan again.", reference="file-away", status=404
        ) from error


def _read(path: Path) -> bytes | None:
    try:
        return path.read_bytes()
    except FileNotFoundError:
        return None


def _busy() -> IndiceError:
    return IndiceError(
        "This moment takes long to be made: the machine has much to do.",
        hint="Choose a smaller picture, or go on a little later.",
        reference="encoder-busy",
        status=503,
    )


def _not_made() -> IndiceError:
    return IndiceError(
        "This moment of the film cannot be made.",
        hint="The file may be broken there. Go on a little later.",
        reference="segment-not-made",
        status=422,
    )
