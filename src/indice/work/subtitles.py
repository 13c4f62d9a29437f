"""Subtitles for a film or an episode: looked for at services, drafted beside it, their
times mended. Written by plan and journal.

What a plan will write is kept in the data folder, in `fetched/`, by its own
fingerprint, from the draft until it is written.
"""

from __future__ import annotations

import os
import re
import time
from collections.abc import Sequence
from dataclasses import dataclass, replace
from hashlib import blake2b
from pathlib import Path

from sqlalchemy.orm import Session

from ..core.phrase import phrase
from ..core.playing.offered import OfferedText, Ranked, Wanted, rank_offers
from ..core.playing.words import BadText, as_webvtt, decode_text, spans_of
from ..disk.apart import voice_apart
from ..disk.digest import sample_of
from ..disk.walk import shown
from ..disk.writes import PlannedWrite
from ..errors import IndiceError
from ..sources.text_profile import parse_text_profile
from ..sources.texts import TextServiceClient
from ..store.catalog import files_of
from ..store.database import Database
from ..store.facts import values_of
from ..store.family import parents_of
from ..store.models import Entry, File, Folder, Plan, TextService
from ..store.paths import exact_path, kept_path
from ..store.playings import media_of
from ..store.text_services import key_of_service, list_text_services, note_service
from .playback import path_of
from .playing_plan import look_inside

__all__ = [
    "TEXT_WRITE",
    "Draft",
    "Found",
    "Proposal",
    "beside_of",
    "draft_text",
    "draft_times",
    "propose_times",
    "search_texts",
    "try_service",
    "written_of_plan",
]

TEXT_WRITE = "text"
"""What stands in a plan's row before the fingerprint of what is written."""
LONGEST_KEPT_SECONDS = 86_400.0
_SHOWN_CUES = 4
_FORMS = (".srt", ".vtt", ".ass", ".ssa", ".sub")


@dataclass(frozen=True, slots=True)
class Found:
    """An offered text, who offers it, and how well it fits."""

    service_id: int
    service: str
    ranked: Ranked


@dataclass(frozen=True, slots=True)
class Draft:
    """A plan of one file, with a look into what will be written."""

    plan: Plan
    path: str
    """Where it will lie, below the library's folder."""
    replaces: bool
    lines: tuple[tuple[float, str], ...]
    """Some cues: when, and what is said."""


@dataclass(frozen=True, slots=True)
class Proposal:
    """How the times of a text would fit what is heard."""

    stretch: float
    offset_seconds: float
    is_sure: bool


def try_service(database: Database, service: TextService) -> str:
    """Say how it went, in words; raises IndiceError that says what is wrong, and notes it beside the service."""
    problem = ""
    try:
        with _client(database, service) as client:
            manifest = client.manifest()
            client.search(Wanted(titles=("Indice asks whether you are there",), languages=("en",)))
        return phrase("{name} answers.", name=manifest.get("name") or service.name)
    except IndiceError as error:
        problem = f"{error.message} {error.hint}".strip()
        raise
    finally:
        with database.begin() as db:
            note_service(db, service.name, problem)


def _client(database: Database, service: TextService) -> TextServiceClient:
    with database.begin() as db:
        key = key_of_service(db, service.name)
    return TextServiceClient(parse_text_profile(service.profile), key=key)


def _wanted(db: Session, entry: Entry, file: File, languages: Sequence[str]) -> Wanted:
    """What is known of a film or an episode, in the words of the protocol."""
    series = next((one for one in parents_of(db, entry) if one.kind == "series"), None)
    named = series if entry.kind == "episode" and series is not None else entry
    values = values_of(db, [named.id], fields=("title", "original_title", "aliases"))[named.id]
    titles = [named.title]
    for held in (value.value for field in values.values() for value in field):
        titles += [str(one) for one in held] if isinstance(held, list) else [str(held)]
    return Wanted(
        titles=tuple(dict.fromkeys(title for title in titles if title))[:12],
        year=named.year,
        season=entry.season if entry.kind == "episode" else None,
        number=entry.number if entry.kind == "episode" else None,
        seconds=float((file.media or {}).get("seconds") or 0) or None,
        file_name=file.shown.rpartition("/")[2],
        languages=tuple(languages),
    )


def search_texts(
    database: Database, entry: Entry, file_id: int | None, languages: Sequence[str]
) -> tuple[list[Found], list[str]]:
    """Texts that all services offer for a film or an episode, the likeliest first; and what went wrong, in words.

    Raises :class:`IndiceError` (404) when there is nothing to play or no service.
    """
    with database.begin() as db:
        services = list_text_services(db)
        media = media_of(db, entry, file_id)
        wanted = _wanted(db, entry, media.chosen, languages)
    if not services:
        raise IndiceError(
            phrase("There is no service of subtitles."),
            hint=phrase("Add one under House, Sources."),
            reference="no-text-service",
            status=404,
        )
    path = path_of(media.chosen, media.folder)
    size = os.stat(path).st_size
    wanted = replace(wanted, digest=sample_of(path).hex(), seconds=wanted.seconds or _seconds_of(path))
    found: list[Found] = []
    problems: list[str] = []
    for service in services:
        problem = ""
        try:
            with _client(database, service) as client:
                offers = client.search(wanted, size_bytes=size)
            found += [Found(service.id, service.name, one) for one in rank_offers(wanted, offers)]
        except IndiceError as error:
            problem = f"{error.message} {error.hint}".strip()
            problems.append(problem)
        with database.begin() as db:
            note_service(db, service.name, problem)
    order = [*languages]
    found.sort(key=lambda one: (_place(one.ranked.text.language, order), -one.ranked.weight))
    return found, problems


def _place(language: str, order: Sequence[str]) -> int:
    return next((n for n, one in enumerate(order) if one.partition("-")[0] == language.partition("-")[0]), len(order))


def _seconds_of(path: bytes) -> float | None:
    try:
        return look_inside(path).seconds or None
    except (ValueError, OSError):
        return None


def draft_text(
    database: Database,
    home: Path,
    entry: Entry,
    file_id: int | None,
    service: TextService,
    offer: OfferedText,
    *,
    stretch: float = 1.0,
) -> Draft:
    """Fetch a text and draft to lay it beside its film, in UTF-8; nothing is written yet.

    Raises :class:`IndiceError` when it cannot be had, or is no text.
    """
    with _client(database, service) as client:
        content = client.fetch(offer.id)
    try:
        text = decode_text(content, offer.language).replace("\r\n", "\n").lstrip("\ufeff")
        if stretch != 1.0:
            from ..core.playing.timing import retimed

            text = retimed(text, offer.form, offset_seconds=0.0, stretch=stretch)
        webvtt = as_webvtt(text, offer.form)
    except BadText as error:
        raise IndiceError(
            phrase("{name} sent something that is no text: {error}", name=service.name, error=error),
            hint=phrase("Take another."),
            reference="text-unreadable",
        ) from error
    with database.begin() as db:
        media = media_of(db, entry, file_id)
        chosen, folder = media.chosen, media.folder
        path_of(chosen, folder)
        return _draft(db, home, entry, chosen, folder, _name_beside(chosen, offer), text, webvtt)


def _name_beside(file: File, offer: OfferedText) -> str:
    """The film's own name, the language and the flags, as the convention has it for subtitles."""
    stem = os.fsdecode(bytes(file.path)).rpartition(".")[0]
    language = re.sub(r"[^a-z0-9-]", "", offer.language.lower()) or "und"
    flags = [flag for flag, holds in (("forced", offer.is_forced), ("sdh", offer.is_for_deaf)) if holds]
    return ".".join([stem, language, *flags, offer.form])


def _draft(
    db: Session, home: Path, entry: Entry, file: File, folder: Folder, path: str, text: str, webvtt: str
) -> Draft:
    whole = os.path.join(bytes(folder.path), os.fsencode(path))
    try:
        status = os.lstat(whole)
        seen: tuple[int, int] | None = (status.st_size, status.st_mtime_ns)
    except OSError:
        seen = None
    digest = _keep(home, text.encode("utf-8"))
    plan = Plan(
        library_id=folder.library_id,
        title=entry.title,
        kind="write",
        moves=[[folder.id, kept_path(path), f"{TEXT_WRITE} {digest}", entry.id, *(seen or (None, None))]],
        conflicts=[],
        left=[],
    )
    db.add(plan)
    db.flush()
    cues = [block.split("\n", 1) for block in webvtt.split("\n\n")[1:] if " --> " in block]
    times = [start for start, _ in spans_of(webvtt)]
    lines = tuple(
        (when, re.sub(r"</?i>", "", cue[1]).strip())
        for when, cue in zip(times, cues, strict=False)
        if len(cue) == 2
    )  # fmt: skip
    return Draft(plan, shown(os.fsencode(path)), seen is not None, lines[:_SHOWN_CUES])


def _kept(home: Path) -> Path:
    return home / "fetched"


def _keep(home: Path, content: bytes) -> str:
    """Keep what a plan will write; what no plan has taken within a day goes."""
    folder = _kept(home)
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    for old in folder.iterdir():
        if time.time() - old.stat().st_mtime > LONGEST_KEPT_SECONDS:
            old.unlink(missing_ok=True)
    digest = blake2b(content, digest_size=16).hexdigest()
    part = folder / f".{digest}.part"
    part.write_bytes(content)
    part.replace(folder / digest)
    return digest


def written_of_plan(home: Path, folders: dict[int, bytes], moves: Sequence[Sequence[object]]) -> list[PlannedWrite]:
    """The texts that a plan writes.

    Raises :class:`IndiceError` when what was drafted is not kept any more.
    """
    writes: list[PlannedWrite] = []
    for folder_id, path, what, _, size, changed in moves:
        word, _, digest = str(what).partition(" ")
        if word != TEXT_WRITE or not isinstance(folder_id, int) or folder_id not in folders:
            continue
        try:
            content = (_kept(home) / Path(digest).name).read_bytes()
        except OSError as error:
            raise IndiceError(
                phrase("What this plan would write is not kept any more."),
                hint=phrase("Draft it anew."),
                reference="plan-old",
            ) from error
        seen = (size, changed) if isinstance(size, int) and isinstance(changed, int) else None
        whole = os.path.join(folders[folder_id], os.fsencode(exact_path(str(path))))
        writes.append(PlannedWrite(whole, _Fill(content), seen))
    return writes


@dataclass(frozen=True, slots=True)
class _Fill:
    content: bytes

    def __call__(self, path: Path) -> None:
        path.write_bytes(self.content)


def beside_of(db: Session, entry: Entry) -> list[File]:
    """The texts that lie beside an entry's files and whose times can be changed."""
    rows = files_of(db, [entry.id]).get(entry.id, [])
    return [f for f, _ in rows if f.kind == "subtitle" and f.state == "present" and f.shown.lower().endswith(_FORMS)]


def _beside(db: Session, entry: Entry, text_file_id: int) -> tuple[File, Folder]:
    """A text file of an entry; raises :class:`IndiceError` (404) when there is none of this number."""
    for file, folder in files_of(db, [entry.id]).get(entry.id, []):
        if file.id == text_file_id and file.kind == "subtitle":
            return file, folder
    raise IndiceError(
        phrase("This text is not there."), hint=phrase("Load the page again."), reference="file-unknown", status=404
    )


def _read(file: File, folder: Folder) -> tuple[str, str, str]:
    """A text file's content, its form's extension and its cues; raises :class:`IndiceError` when it is none."""
    extension = "." + file.shown.rpartition(".")[2].lower()
    if extension not in _FORMS:
        raise IndiceError(
            phrase("The times of this text cannot be changed."), hint=phrase("Only those of texts can, not of pictures."),
            reference="text-unreadable", status=422,
        )  # fmt: skip
    try:
        with open(path_of(file, folder), "rb") as opened:
            content = opened.read(20_000_000)
        text = decode_text(content, str(file.reading.get("language") or "") or None)
        return text, extension, as_webvtt(text, extension)
    except (BadText, OSError) as error:
        raise IndiceError(
            phrase("This text cannot be read: {error}", error=error), reference="text-unreadable", status=422
        ) from error


def propose_times(database: Database, entry: Entry, text_file_id: int, file_id: int | None) -> Proposal:
    """How the times of a text must change so that its lines come where voices are heard in the film.

    Raises :class:`IndiceError` when the film cannot be listened to.
    """
    import numpy as np

    from ..core.playing.timing import fit

    with database.begin() as db:
        file, folder = _beside(db, entry, text_file_id)
        media = media_of(db, entry, file_id)
    _, _, webvtt = _read(file, folder)
    try:
        heard = np.frombuffer(voice_apart(path_of(media.chosen, media.folder), 0), np.float32)
    except ValueError as error:
        raise IndiceError(
            phrase("This film cannot be listened to: {error}", error=error), reference="not-heard", status=422
        ) from error
    found = fit(spans_of(webvtt), heard)
    return Proposal(round(found.stretch, 6), found.offset_seconds, found.is_sure)


def draft_times(
    database: Database, home: Path, entry: Entry, text_file_id: int, *, offset_seconds: float, stretch: float
) -> Draft:
    """Draft a text with its times multiplied and moved; the old one stays in the journal.

    Raises :class:`IndiceError` when it cannot be read.
    """
    from ..core.playing.timing import retimed

    with database.begin() as db:
        file, folder = _beside(db, entry, text_file_id)
        text, extension, _ = _read(file, folder)
        try:
            made = retimed(text, extension, offset_seconds=offset_seconds, stretch=stretch)
            webvtt = as_webvtt(made, extension)
        except ValueError as error:
            raise IndiceError(str(error), reference="text-unreadable", status=422) from error
        return _draft(db, home, entry, file, folder, os.fsdecode(bytes(file.path)), made, webvtt)
