"""Pictures and media. Files are reached by their number only, never by a path
from outside; HTTP ranges are answered."""

from __future__ import annotations

import contextlib
import os
import re
import stat
from collections.abc import Generator
from pathlib import Path

from apiflask import APIBlueprint
from flask import Response, current_app, request, send_file
from werkzeug.exceptions import HTTPException

from ..core.phrase import phrase
from ..core.playing.sheets import Sheet
from ..disk.apart import frame_picture_apart, frame_thumbnails
from ..disk.thumbnails import SIZES, Thumbnail, thumbnail_path
from ..errors import IndiceError
from ..store.catalog import shows_picture
from ..store.files import located, may_download
from ..store.models import File
from ..work.playback import path_below
from ..work.sheets import Sheets
from .common import begin, settings, viewer
from .schemas_playing import ContentQuery, FrameQuery, SheetOut

__all__ = ["bp", "frame_at"]

bp = APIBlueprint("media", __name__, url_prefix="/api", tag="Media")
_MIMES = {
    "mp4": "video/mp4",
    "m4v": "video/mp4",
    "mov": "video/mp4",
    "mkv": "video/x-matroska",
    "webm": "video/webm",
    "avi": "video/x-msvideo",
    "ts": "video/mp2t",
    "mpg": "video/mpeg",
    "flac": "audio/flac",
    "mp3": "audio/mpeg",
    "m4a": "audio/mp4",
    "m4b": "audio/mp4",
    "ogg": "audio/ogg",
    "opus": "audio/ogg",
    "wav": "audio/wav",
    "jpg": "image/jpeg",
    "jpeg": "image/jpeg",
    "png": "image/png",
    "webp": "image/webp",
    "gif": "image/gif",
    "avif": "image/avif",
}


def mime_of(name: str) -> str:
    """Media type by a file's extension."""
    return _MIMES.get(name.rpartition(".")[2].lower(), "application/octet-stream")


def _located(file_id: int) -> tuple[File, bytes]:
    """A file of the catalog, and where it lies; raises IndiceError when it lies outside its library's folder."""
    with begin() as db:
        file, folder = located(db, file_id)
    return file, path_below(file, folder)


@bp.get("/files/<int:file_id>/content")
@bp.input(ContentQuery, location="query", arg_name="query")
@bp.doc(
    responses={
        200: {"description": "The file", "content": {"application/octet-stream": {}}},
        206: {"description": "A range of it"},
    }
)
def read_content(file_id: int, query: ContentQuery) -> Response:
    """A file's content, whole or a range of it."""
    file, path = _located(file_id)
    try:
        opened = os.open(path, os.O_RDONLY | os.O_CLOEXEC | os.O_NOFOLLOW)
    except OSError as error:
        raise _unreadable(file, error) from error
    content = os.fdopen(opened, "rb")
    status = os.fstat(opened)
    if not stat.S_ISREG(status.st_mode):
        content.close()
        raise IndiceError(phrase("{path} is no plain file.", path=file.shown), reference="file-unreadable", status=403)
    response = send_file(
        content,
        mimetype=mime_of(file.shown),
        conditional=False,
        etag=f"{status.st_size:x}-{status.st_mtime_ns:x}",
        last_modified=status.st_mtime,
    )
    response.content_length = status.st_size
    try:
        response.make_conditional(request.environ, accept_ranges=True, complete_length=status.st_size)
    except HTTPException:
        content.close()
        raise
    response.headers["Accept-Ranges"] = "bytes"
    if query.download:
        with begin() as db:
            may = may_download(db, viewer(), file)
        if not may:
            content.close()
            raise IndiceError(
                "This may be watched here, not saved.", hint="Ask the owner.", reference="not-allowed", status=403
            )
        response.headers.set("Content-Disposition", "attachment", filename=_file_name(file.shown))
    response.headers["Content-Security-Policy"] = "default-src 'none'; sandbox"
    return response


def _file_name(shown: str) -> str:
    """A file's name as a header can hold it."""
    name = "".join(letter if letter.isprintable() else "_" for letter in shown.rpartition("/")[2])
    return name.encode("utf-8", "replace").decode()


def _unreadable(file: File, error: OSError) -> IndiceError:
    """Why a file cannot be had, in words."""
    if isinstance(error, PermissionError):
        return IndiceError(
            phrase("{path} cannot be read.", path=file.shown),
            hint="Give the account that runs Indice read access to it.",
            reference="file-unreadable",
            status=403,
        )
    return IndiceError(
        phrase("{path} is not there.", path=file.shown),
        hint="Plug its drive in, or scan again.",
        reference="file-away",
        status=404,
    )


@bp.get("/files/<int:file_id>/frame")
@bp.input(FrameQuery, location="query", arg_name="query")
@bp.doc(responses={200: {"description": "A frame", "content": {"image/webp": {}}}})
def read_frame(file_id: int, query: FrameQuery) -> Response:
    """A frame of a video at a moment, for looking at."""
    path = _located(file_id)[1]
    with _words_of_frames():
        picture = frame_picture_apart(path, query.at)
    if picture is None:
        raise _no_frame()
    answer = Response(picture, mimetype="image/webp")
    answer.headers["Cache-Control"] = "private, max-age=3600"
    return answer


@bp.get("/files/<int:file_id>/sheet")
@bp.output(SheetOut)
def read_sheet(file_id: int) -> SheetOut:
    """Pictures of all moments of a film on one sheet, for its time line; it is drawn when it is first asked for."""
    planned, kept = _sheet(file_id)
    return SheetOut(
        is_there=kept is not None,
        url=f"{request.path}.webp",
        step_seconds=planned.step_seconds,
        count=planned.count,
        columns=planned.columns,
        width=planned.width,
        height=planned.height,
    )


@bp.get("/files/<int:file_id>/sheet.webp")
@bp.doc(responses={200: {"description": "The sheet", "content": {"image/webp": {}}}})
def read_sheet_picture(file_id: int) -> Response:
    """The sheet itself."""
    _, kept = _sheet(file_id)
    if kept is None:
        raise _no_frame()
    answer = send_file(kept, mimetype="image/webp", conditional=True)
    answer.headers["Cache-Control"] = "private, max-age=3600"
    return answer


def _sheet(file_id: int) -> tuple[Sheet, Path | None]:
    path = _located(file_id)[1]
    sheets: Sheets = current_app.extensions["indice-sheets"]
    with _words_of_frames():
        found = sheets.sheet(path)
    if found is None:
        raise _no_frame()
    return found


def frame_at(file_id: int, seconds: float) -> Thumbnail:
    """Thumbnails of a frame of a file of the catalog; raises IndiceError when there is none."""
    path = _located(file_id)[1]
    with _words_of_frames():
        made = frame_thumbnails(settings().home, path, seconds, sizes=SIZES)
    if made is None:
        raise _no_frame()
    return made


@contextlib.contextmanager
def _words_of_frames() -> Generator[None]:
    try:
        yield
    except (ValueError, OSError) as error:
        raise _no_frame() from error


def _no_frame() -> IndiceError:
    return IndiceError(
        "No picture can be taken from this file.", hint="Is its drive there, and is it a video?", reference="no-frame"
    )


@bp.get("/pictures/<digest>/<int:width>")
@bp.doc(responses={200: {"description": "The thumbnail", "content": {"image/webp": {}}}})
def read_picture(digest: str, width: int) -> Response:
    """A thumbnail; the nearest size that there is."""
    with begin() as db:
        is_seen = viewer().manages or shows_picture(db, digest)
    if not is_seen or not re.fullmatch(r"[0-9a-f]{32}", digest):
        raise IndiceError("There is no such picture.", reference="picture-unknown", status=404)
    for size in sorted(SIZES, key=lambda size: (size < width, abs(size - width))):
        path = thumbnail_path(settings().home, digest, size)
        if path.is_file():
            response = send_file(path, mimetype="image/webp", conditional=True)
            response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
            return response
    raise IndiceError("There is no such picture.", reference="picture-unknown", status=404)
