"""How the processes log: a line an event, in words and facts, never with what somebody sent or what a function held.

A traceback names places only. Values of local variables are never in it, and neither are the bodies of requests: a
password that was being checked must not stand in a file.
"""

from __future__ import annotations

import logging
import os
import re
import sys
import traceback
from collections.abc import MutableMapping
from pathlib import Path
from typing import Any

import structlog

__all__ = ["LARGEST_LOG_BYTES", "open_log", "set_up_logs", "turn_log"]

LARGEST_LOG_BYTES = 5_000_000
KEPT = 3
"""So many older logs are kept beside the one that is written."""
MOST_FRAMES = 30
_SECRET = re.compile(r"pass(?:word|phrase)?|secret|token|key|cookie|authorization|csrf", re.IGNORECASE)
_IN_TEXT = re.compile(
    r"(?P<before>(?:pass(?:word|phrase)?|secret|token|api[-_]?key|key|authorization|cookie)[\"']?\s*[=:]\s*[\"']?)"
    r"(?P<secret>[^\s\"'&,;}]+)",
    re.IGNORECASE,
)
_IN_ADDRESS = re.compile(r"(?P<before>[a-z][a-z0-9+.-]*://[^\s:/@]*:)[^\s@/]+(?=@)", re.IGNORECASE)
_CONTROL = re.compile(r"[\x00-\x1f\x7f-\x9f]")

Event = MutableMapping[str, Any]


def _masked(text: str) -> str:
    text = _IN_ADDRESS.sub(r"\g<before>***", text)
    return _IN_TEXT.sub(r"\g<before>***", text)


def _hide_secrets(_: Any, __: str, event: Event) -> Event:
    """Values that are secrets by their name, or that look like one in a text, are masked."""
    for name, value in list(event.items()):
        if _SECRET.search(name) and name not in ("event", "error_key"):
            event[name] = "***"
        elif isinstance(value, str):
            event[name] = _masked(value)
    return event


def _plain_trace(_: Any, __: str, event: Event) -> Event:
    """The places of an error, the innermost last; its own text masked and cut."""
    error = event.pop("exc_info", None)
    if error is True:
        error = sys.exc_info()[1]
    if isinstance(error, tuple):
        error = error[1]
    if isinstance(error, BaseException):
        frames = traceback.extract_tb(error.__traceback__)[-MOST_FRAMES:]
        event["trace"] = " < ".join(
            f"{Path(frame.filename).name}:{frame.lineno}:{frame.name}" for frame in reversed(frames)
        )
        event["error"] = _masked(f"{type(error).__name__}: {_first_line(error)}")
    return event


def _first_line(error: BaseException) -> str:
    """An error's first line: what follows may be a statement with its values."""
    lines = str(error).strip().splitlines()
    return lines[0][:400] if lines else ""


def _one_line(_: Any, __: str, event: Event) -> Event:
    """Nothing that somebody named makes a second line, or steers a terminal."""
    for name, value in event.items():
        if isinstance(value, str):
            event[name] = _CONTROL.sub(" ", value)
    return event


class _Masking(logging.Formatter):
    """Lines of libraries, in the same manner."""

    def format(self, record: logging.LogRecord) -> str:
        """One line."""
        text = _masked(record.getMessage())
        if record.exc_info and record.exc_info[1] is not None:
            shown = _plain_trace(None, "", {"exc_info": record.exc_info[1]})
            text += f" {shown['error']} [{shown['trace']}]"
        return f"{self.formatTime(record)} {record.levelname.lower()} {record.name}: {_CONTROL.sub(' ', text)}"


def set_up_logs() -> None:
    """Set up how this process logs: to standard error, which the supervisor leads into a file."""
    structlog.configure(
        processors=[
            structlog.processors.add_log_level,
            structlog.processors.TimeStamper(fmt="iso", utc=True),
            _plain_trace,
            _hide_secrets,
            _one_line,
            structlog.processors.KeyValueRenderer(key_order=["timestamp", "level", "event"]),
        ],
        wrapper_class=structlog.make_filtering_bound_logger(logging.INFO),
        logger_factory=lambda *_: structlog.PrintLogger(sys.stderr),
        cache_logger_on_first_use=False,
    )
    handler = logging.StreamHandler(sys.stderr)
    handler.setFormatter(_Masking())
    root = logging.getLogger()
    root.handlers[:] = [handler]
    root.setLevel(logging.WARNING)


def open_log(folder: Path, name: str) -> int:
    """A log file that only the account may read, to be appended to; returns its handle."""
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    path = folder / f"{name}.log"
    turn_log(path)
    handle = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_APPEND | os.O_CLOEXEC, 0o600)
    os.fchmod(handle, 0o600)
    return handle


def turn_log(path: Path) -> None:
    """Put a log that has grown large aside. Who writes to it goes on at its beginning: all append."""
    try:
        if path.stat().st_size < LARGEST_LOG_BYTES:
            return
        for number in range(KEPT, 1, -1):
            older = path.with_suffix(f".log.{number - 1}")
            if older.exists():
                older.replace(path.with_suffix(f".log.{number}"))
        aside = path.with_suffix(".log.1")
        with path.open("rb") as reader, open(os.open(aside, os.O_WRONLY | os.O_CREAT, 0o600), "wb") as writer:
            writer.truncate()
            while chunk := reader.read(1 << 20):
                writer.write(chunk)
        os.truncate(path, 0)
    except OSError:
        return  # a log that cannot be turned must not stop what it tells of
