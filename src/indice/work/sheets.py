"""Sheets of pictures for time lines: made in the background when something is played, kept by the file as it is."""

from __future__ import annotations

import contextlib
import hashlib
import os
import threading
from pathlib import Path

import structlog

from ..core.playing.sheets import Sheet, plan_sheet
from ..disk.apart import sheet_apart
from .playing_plan import look_inside

__all__ = ["Sheets"]

log = structlog.get_logger()
MOST_KEPT = 1000
"""So many sheets are kept; the oldest go."""
RECIPE = 1


class Sheets:
    """The sheets of all that is played from this server; one is drawn at a time."""

    def __init__(self, home: Path) -> None:
        self._folder = home / "segments" / "sheets"
        self._lock = threading.Lock()
        self._waiting: dict[str, tuple[bytes, Sheet, int]] = {}
        self._failed: set[str] = set()
        self._thread: threading.Thread | None = None

    def sheet(self, path: bytes) -> tuple[Sheet, Path | None] | None:
        """The sheet of a film, and where it lies: None while it is drawn. None where there can be none.

        Who asks for one that is not there has it drawn. Raises OSError when the file cannot be reached.
        """
        status = os.stat(path)
        try:
            video = look_inside(path)
        except ValueError:
            return None
        picture = video.video
        planned = plan_sheet(video.seconds, *picture.upright) if picture is not None else None
        if picture is None or planned is None:
            return None
        about = repr((RECIPE, path, status.st_size, status.st_mtime_ns, planned))
        name = hashlib.sha256(about.encode()).hexdigest()[:32]
        kept = self._folder / f"{name}.webp"
        if kept.is_file():
            return planned, kept
        with self._lock:
            if name in self._failed:
                return None
            self._waiting.setdefault(name, (path, planned, picture.turn))
            if self._thread is None:
                self._thread = threading.Thread(target=self._work, daemon=True, name="sheets")
                self._thread.start()
        return planned, None

    def _work(self) -> None:
        while True:
            with self._lock:
                name = next(reversed(self._waiting), None)  # who asked last is looking now
                if name is None:
                    self._thread = None
                    return
                path, planned, turn = self._waiting[name]
            try:
                self._keep(name, sheet_apart(path, planned, turn))
            except (ValueError, OSError) as error:
                log.warning("sheet_not_drawn", path=os.fsdecode(path), error=str(error))
                with self._lock:
                    self._failed.add(name)
            with self._lock:
                self._waiting.pop(name, None)

    def _keep(self, name: str, content: bytes) -> None:
        self._folder.mkdir(parents=True, exist_ok=True)
        part = self._folder / f".{name}.part"
        part.write_bytes(content)
        part.replace(self._folder / f"{name}.webp")
        kept = sorted(self._folder.glob("*.webp"), key=lambda one: one.stat().st_mtime)
        for old in kept[: max(len(kept) - MOST_KEPT, 0)]:
            with contextlib.suppress(OSError):
                old.unlink()
