"""Conventions: shown, edited, previewed on the library's own files, brought in and taken out as TOML."""

from __future__ import annotations

import json
from collections.abc import Sequence
from typing import Any

from apiflask import APIBlueprint
from flask import Response
from sqlalchemy.orm import Session

from ..core.naming.checks import CHECKS
from ..core.naming.convention import (
    FILE_SYSTEMS,
    FILTERS,
    SLOTS,
    Convention,
    ConventionError,
    shipped,
    slot_of,
    write_convention,
)
from ..core.naming.values import SAMPLES, VALUES
from ..core.phrase import phrase
from ..disk.workshop import TooMuch, workshop
from ..errors import IndiceError
from ..store.catalog import facts_for_names
from ..store.conventions import convention_of, delete_convention, followers_of, list_conventions, save_convention
from ..store.files import named_files
from ..store.found import find
from ..store.models import Library
from ..work.checks import check_library
from .common import begin, database, say
from .schemas import Done
from .schemas_names import (
    CheckLoudness,
    ConventionBody,
    ConventionOut,
    ConventionsOut,
    ConventionText,
    NamingIn,
    PreviewError,
    PreviewIn,
    PreviewOut,
    PreviewSample,
)

__all__ = ["bp"]

bp = APIBlueprint("conventions", __name__, url_prefix="/api", tag="House")
_KINDS = {"special": "episode", "dated": "episode", "running": "episode", "compilation": "track"}
_ENDINGS = {
    "track": "flac",
    "compilation": "flac",
    "photo": "jpg",
    "clip": "mp4",
    "subtitle": "srt",
    "lyrics": "lrc",
    "artwork": "jpg",
}
SECONDS = 5.0
"""How long templates may take to be compiled."""
PER_SLOT = 2


def _out(convention: Convention, own: bool, libraries: Sequence[str]) -> ConventionOut:
    return ConventionOut(
        name=convention.name,
        about=say(convention.about),
        file_system=convention.file_system,
        templates=dict(convention.templates),
        own=own,
        libraries=list(libraries),
    )


@bp.get("/conventions")
@bp.output(ConventionsOut)
def read_conventions() -> ConventionsOut:
    """Every convention, and what templates are made of."""
    with begin() as db:
        return ConventionsOut(
            conventions=[_out(*row) for row in list_conventions(db)],
            values=list(VALUES),
            filters=list(FILTERS),
            slots=list(SLOTS),
            file_systems=list(FILE_SYSTEMS),
        )


def _text_of(body: ConventionBody) -> str:
    """The TOML of what the editor sends; only the writer needs it to be sound, and it is checked when it is read."""
    rows = "\n".join(f"{slot} = {json.dumps(source)}" for slot, source in body.templates.items())
    head = "\n".join(
        f"{k} = {json.dumps(v)}"
        for k, v in (("name", body.name), ("about", body.about), ("file_system", body.file_system))
    )
    return f"{head}\n[templates]\n{rows}\n"


def _tried(text: str) -> str:
    """A convention's text, after it was compiled where it can do no harm; what is
    wrong with it is said by who reads it."""
    try:
        workshop().run("convention", text, seconds=SECONDS)
    except TooMuch as error:
        raise IndiceError(
            "These templates take too long to be understood.",
            hint="Write them with fewer filters and conditions.",
            reference="convention-wrong",
        ) from error
    except ValueError:
        pass
    return text


@bp.put("/conventions/<name>")
@bp.input(ConventionBody, arg_name="body")
@bp.output(ConventionOut)
def write_own(name: str, body: ConventionBody) -> ConventionOut:
    """Save one's own convention; libraries that follow it are checked anew."""
    with begin() as db:
        saved = save_convention(db, _tried(_text_of(body)), was=name)
        followers = followers_of(db, saved.name)
    for library_id in followers:
        check_library(database(), library_id)
    with begin() as db:
        return _out(*next(row for row in list_conventions(db) if row[0].name == saved.name))


@bp.post("/conventions")
@bp.input(ConventionText, arg_name="body")
@bp.output(ConventionOut)
def bring_in(body: ConventionText) -> ConventionOut:
    """Bring in a convention from TOML."""
    text = _tried(body.text)
    with begin() as db:
        return _out(save_convention(db, text), True, [])


@bp.get("/conventions/<name>/toml")
def take_out(name: str) -> Response:
    """A convention as TOML, to keep or to pass on."""
    with begin() as db:
        text = write_convention(convention_of(db, name))
    safe = "".join(c for c in name if c.isalnum() or c in "-_") or "convention"
    headers = {
        "Content-Disposition": f'attachment; filename="{safe.encode("ascii", "ignore").decode() or "convention"}.toml"'
    }
    return Response(text, mimetype="application/toml", headers=headers)


@bp.delete("/conventions/<name>")
@bp.output(Done)
def forget(name: str) -> Done:
    """Forget one's own convention."""
    with begin() as db:
        delete_convention(db, name)
    return Done()


@bp.post("/conventions/preview")
@bp.input(PreviewIn, arg_name="body")
@bp.output(PreviewOut)
def preview(body: PreviewIn) -> PreviewOut:
    """What the templates make of a library's own files, or of examples; errors with template and line."""
    _tried(_text_of(ConventionBody(name="Preview", about="", file_system=body.file_system, templates=body.templates)))
    errors: list[PreviewError] = []
    sound = dict(shipped("Roomy").templates)
    for slot, source in body.templates.items():
        try:
            Convention("Preview", "", body.file_system if body.file_system in FILE_SYSTEMS else "any", {slot: source})
            sound[slot] = source
        except ConventionError as error:
            errors.append(PreviewError(slot=slot, message=say(error.message), line=error.line))
    broken = {error.slot for error in errors}
    convention = Convention("Preview", "", body.file_system, sound)
    with begin() as db:
        own = _own_samples(db, body.library_id, convention) if body.library_id else []
    covered = {sample.slot for sample in own}
    samples = own + [s for s in _examples(convention) if s.slot not in covered]
    return PreviewOut(errors=errors, samples=[sample for sample in samples if sample.slot not in broken])


def _examples(convention: Convention) -> list[PreviewSample]:
    found: list[PreviewSample] = []
    for slot, facts in SAMPLES.items():
        kind = _KINDS.get(slot, slot)
        main = convention.path(
            "track" if slot == "lyrics" else "movie", SAMPLES["track" if slot == "lyrics" else "movie"], ""
        )
        known: dict[str, Any] = {**facts, "main": main} if kind in ("extra", "subtitle", "artwork", "lyrics") else facts
        after = convention.path(kind, known, _ENDINGS.get(slot, "mkv"), original="IMG_0481")
        found.append(PreviewSample(slot=slot, before="", after=after or ""))
    return found


def _own_samples(db: Session, library_id: int, convention: Convention) -> list[PreviewSample]:
    files = named_files(db, library_id, ("movie", "episode", "track", "photo", "clip"), limit=4000)
    known = facts_for_names(db, files)
    counts: dict[str, int] = {}
    found: list[PreviewSample] = []
    for file in files:
        facts = {**file.reading, **known.get(file.entry_id or 0, {})}
        slot = slot_of(file.kind, facts)
        if slot is None or counts.get(slot, 0) >= PER_SLOT:
            continue
        stem, _, extension = file.shown.rpartition("/")[2].rpartition(".")
        after = convention.path(file.kind, facts, extension, original=stem)
        if after is not None:
            counts[slot] = counts.get(slot, 0) + 1
            found.append(PreviewSample(slot=slot, before=file.shown, after=after))
    return found


@bp.put("/libraries/<int:library_id>/naming")
@bp.input(NamingIn, arg_name="body")
@bp.output(Done)
def choose(library_id: int, body: NamingIn) -> Done:
    """Choose the convention of a library; its names are checked anew."""
    with begin() as db:
        library = find(db, Library, library_id)
        if body.convention not in {row[0].name for row in list_conventions(db)}:
            raise IndiceError(
                phrase("No convention is called {convention}.", convention=body.convention),
                reference="convention-unknown",
            )
        library.convention = body.convention
    check_library(database(), library_id)
    return Done()


@bp.put("/libraries/<int:library_id>/checks/<slug>")
@bp.input(CheckLoudness, arg_name="body")
@bp.output(Done)
def set_check(library_id: int, slug: str, body: CheckLoudness) -> Done:
    """Switch a check off for a library, lower it, or let it speak as it does by itself."""
    if slug not in {rule.slug for rule in CHECKS}:
        raise IndiceError(phrase("There is no check called {slug}.", slug=slug), reference="check-unknown", status=404)
    with begin() as db:
        library = find(db, Library, library_id)
        wanted = {**library.checks, slug: body.loudness}
        library.checks = {name: value for name, value in wanted.items() if value is not None}
    check_library(database(), library_id)
    return Done()
