"""Libraries, and the chooser that shows the server's folders."""

from __future__ import annotations

import os
import time
from itertools import islice
from typing import cast

from apiflask import APIBlueprint

from ..core.naming.kinds import HOLDS
from ..core.phrase import counted, phrase, term
from ..core.reading.reader import family_of
from ..disk.walk import shown, walk
from ..errors import IndiceError
from ..store.files import settle_away
from ..store.jobs import announce
from ..store.libraries import add_library, all_folders, edit_library, remove_library
from ..store.tallies import library_states
from ..store.viewer import keeps
from ..work.requests import Queue, request_job
from .common import begin, database, iso, say, settings, viewer
from .schemas import Done, JobRef, Kind
from .schemas_libraries import (
    Browsed,
    BrowsedFolder,
    BrowseQuery,
    FolderOut,
    FolderPreview,
    LibrariesOut,
    LibraryEdit,
    LibraryIn,
    LibraryOut,
    SettleIn,
)

__all__ = ["allowed", "bp"]

bp = APIBlueprint("libraries", __name__, url_prefix="/api", tag="Libraries")
LOOK_AT_MOST = 400
"""Directories that a preview looks into."""
LOOK_SECONDS = 1.2
"""How long it looks at most."""


def allowed(path: str) -> str:
    if "\0" in path:
        raise IndiceError("That is no path.", reference="folder-missing")
    real = os.path.realpath(path)
    roots = [os.path.realpath(root) for root in settings().browse_roots.split(":") if root]
    if not any(real == root or real.startswith(root.rstrip("/") + "/") for root in roots):
        raise IndiceError(
            phrase("{path} lies outside the folders that may be shown.", path=path),
            hint="The setting browse_roots names those.",
            reference="folder-outside",
            status=403,
        )
    if not os.path.isdir(real):
        raise IndiceError(
            phrase("{path} does not exist, or is no folder.", path=path),
            hint="Is the drive plugged in? Check the spelling.",
            reference="folder-missing",
            status=404,
        )
    return real


@bp.get("/browse")
@bp.input(BrowseQuery, location="query", arg_name="query")
@bp.output(Browsed)
def browse(query: BrowseQuery) -> Browsed:
    """Folders of the server below a path."""
    path = allowed(query.path)
    try:
        names = sorted(
            (
                entry.name
                for entry in os.scandir(path)
                if entry.is_dir(follow_symlinks=False) and not entry.name.startswith(".")
            ),
            key=str.casefold,
        )
    except PermissionError as error:
        raise IndiceError(
            phrase("{path} cannot be read.", path=path),
            hint="Give the account that runs Indice read access to it.",
            reference="folder-unreadable",
            status=403,
        ) from error
    except OSError as error:
        raise IndiceError(
            phrase("{path} cannot be listed: {why}.", path=path, why=error.strerror or error),
            hint="Is the drive well, and the share there?",
            reference="folder-unreadable",
            status=409,
        ) from error
    whole = [(name, os.path.join(path, name)) for name in names]
    return Browsed(
        path=path,
        parent=os.path.dirname(path) if path != "/" else None,
        folders=[
            BrowsedFolder(name=shown(os.fsencode(name)), path=full, readable=os.access(full, os.R_OK | os.X_OK))
            for name, full in whole
            if name.encode("utf-8", "surrogateescape").decode("utf-8", "replace") == name
        ],
    )


def suggest(counts: dict[str, int]) -> Kind:
    """The kind that Indice would declare a folder of such files."""
    videos, songs, pictures = (
        counts.get("films", 0) + counts.get("episodes", 0),
        counts.get("songs", 0),
        counts.get("photos", 0),
    )
    clips = counts.get("clips", 0)
    most = max(videos, songs, pictures, clips)
    if most == 0:
        return "mixed"
    total = videos + songs + pictures + clips
    if pictures == most and (pictures > 3 * (videos + songs + clips)):
        return "photos"
    if most < 0.7 * total and not (videos and pictures and not songs):
        return "mixed"
    if songs == most:
        return "music"
    if pictures == most and clips >= videos:
        return "photos"
    if clips > videos:
        return "home-videos"
    return "series" if counts.get("episodes", 0) > counts.get("films", 0) else "movies"


def _count(path: str) -> tuple[dict[str, int], bool]:
    from ..core.reading.reader import read_path

    counts = {"films": 0, "episodes": 0, "clips": 0, "songs": 0, "photos": 0, "others": 0}
    names = {"movie": "films", "episode": "episodes", "clip": "clips", "track": "songs", "photo": "photos"}
    complete = True
    directories = walk(os.fsencode(path))
    dated = 0
    until = time.monotonic() + LOOK_SECONDS
    for directory in islice(directories, LOOK_AT_MOST):
        for seen in directory.files:
            if time.monotonic() > until:
                return counts, False
            text = os.fsdecode(seen.path)
            if family_of(text.rpartition("/")[2]) == "other":
                continue
            reading = read_path(text, "mixed")
            kind = reading.kind
            if (
                kind == "movie"
                and reading.get("year") is None
                and os.path.basename(os.path.dirname(text))[:4].isdigit()
            ):
                dated += 1
                kind = "clip"
            counts[names.get(kind, "others")] += 1
    complete = next(directories, None) is None
    return counts, complete


@bp.get("/browse/preview")
@bp.input(BrowseQuery, location="query", arg_name="query")
@bp.output(FolderPreview)
def preview(query: BrowseQuery) -> FolderPreview:
    """What lies in a folder, counted, and the kind that Indice would declare it."""
    path = allowed(query.path)
    counts, complete = _count(path)
    return FolderPreview(
        path=path,
        counts={name: count for name, count in counts.items() if count},
        suggestion=suggest(counts),
        complete=complete,
    )


@bp.get("/libraries")
@bp.output(LibrariesOut)
def list_libraries() -> LibrariesOut:
    """All libraries."""
    asking = viewer()
    return LibrariesOut(libraries=[one for one in library_rows() if keeps(asking, one.id)])


@bp.post("/libraries")
@bp.input(LibraryIn, arg_name="body")
@bp.output(JobRef)
def declare(body: LibraryIn) -> JobRef:
    """Declare a library and begin to scan it. An unlikely kind is questioned, unless `sure`."""
    if not body.sure:
        _question(body)
    with begin() as db:
        library = add_library(
            db,
            name=body.name,
            kind=body.kind,
            folders=[os.fsencode(allowed(path)) for path in body.folders],
            language=body.language,
            country=body.country,
            sources=[],
        )
        library_id = library.id
    job_id = request_job(database(), "scan", library_id)
    Queue(database()).defer(job_id)
    return JobRef(job_id=job_id)


_COUNTED = {
    "films": term("{n:film|films}"),
    "episodes": term("{n:episode|episodes}"),
    "clips": term("{n:clip|clips}"),
    "songs": term("{n:song|songs}"),
    "photos": term("{n:photo|photos}"),
    "others": term("{n:other|others}"),
}


def _question(body: LibraryIn) -> None:
    counts: dict[str, int] = {}
    for path in body.folders:
        for name, count in _count(allowed(path))[0].items():
            counts[name] = counts.get(name, 0) + count
    likely = suggest(counts)
    alike = ({"movies", "series"}, {"photos", "home-videos"})
    if (
        likely in (body.kind, "mixed")
        or body.kind == "mixed"
        or any({likely, body.kind} == pair and counts.get("episodes", 0) * counts.get("films", 0) > 0 for pair in alike)
    ):
        return
    if any({likely, body.kind} == pair for pair in alike[1:]):
        return
    found = counted(_COUNTED, counts)
    raise IndiceError(
        phrase(
            "These folders look like {likely}, not {kind}: {found}.",
            likely=HOLDS[likely],
            kind=HOLDS[body.kind],
            found=found,
        ),
        hint="Declare it as that, or confirm that you are sure.",
        reference="kind-unlikely",
        status=409,
    )


@bp.put("/libraries/<int:library_id>")
@bp.input(LibraryEdit, arg_name="body")
@bp.output(Done)
def edit(library_id: int, body: LibraryEdit) -> Done:
    """Change a library's settings: what it is called, its language and country, what
    it believes first, what may be written."""
    with begin() as db:
        edit_library(
            db,
            library_id,
            name=body.name,
            language=body.language,
            country=body.country,
            sources=body.sources,
            own_first=body.own_first,
            writes=list(body.writes),
        )
        announce(db, "libraries")
        announce(db, "catalog")
    return Done()


@bp.delete("/libraries/<int:library_id>")
@bp.output(Done)
def forget(library_id: int) -> Done:
    """Forget a library; nothing on disk is touched."""
    with begin() as db:
        remove_library(db, library_id)
    return Done()


@bp.post("/libraries/<int:library_id>/scan")
@bp.output(JobRef)
def scan(library_id: int) -> JobRef:
    """Scan a library."""
    job_id = request_job(database(), "scan", library_id)
    Queue(database()).defer(job_id)
    return JobRef(job_id=job_id)


@bp.post("/libraries/<int:library_id>/match")
@bp.output(JobRef)
def match(library_id: int) -> JobRef:
    """Ask the sources again about what waits or was not found."""
    job_id = request_job(database(), "match-again", library_id)
    Queue(database()).defer(job_id)
    return JobRef(job_id=job_id)


def library_rows() -> list[LibraryOut]:
    """All libraries with their folders and states."""
    with begin() as db:
        folders = all_folders(db)
        return [
            LibraryOut(
                id=library.id,
                name=library.name,
                kind=cast(Kind, library.kind),
                language=library.language,
                country=library.country,
                sources=[str(name) for name in library.sources],
                own_first=[str(field) for field in library.own_first],
                schedule=library.schedule,
                writes=[str(what) for what in library.writes],
                convention=library.convention,
                checks={slug: str(loudness) for slug, loudness in library.checks.items()},
                folders=[
                    FolderOut(id=f.id, path=f.shown, state=f.state, problem=say(f.problem))
                    for f in folders
                    if f.library_id == library.id
                ],
                scanned_at=iso(library.scanned_at),
                states=states,
                size_bytes=size,
            )
            for library, states, size in library_states(db)
        ]


@bp.post("/libraries/<int:library_id>/away")
@bp.input(SettleIn, arg_name="body")
@bp.output(Done)
def settle(library_id: int, body: SettleIn) -> Done:
    """Say of what is away that it is gone for good, or that it stays away until its drive is back."""
    with begin() as db:
        settle_away(db, library_id, gone=body.gone)
        announce(db, "catalog")
    if body.gone:
        Queue(database()).defer(request_job(database(), "scan", library_id))
    return Done()
