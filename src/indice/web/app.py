"""Makes the Flask application: errors become JSON with words, everything but the first page needs a sign-in."""

from __future__ import annotations

import gzip
import os
import threading
import time
from pathlib import Path
from typing import Any

import structlog
from apiflask import APIFlask, HTTPError
from flask import Response, current_app, g, jsonify, request, send_from_directory
from sqlalchemy.exc import DataError, InterfaceError, OperationalError

from ..errors import IndiceError
from ..settings import Settings
from ..store.database import Database
from ..work.delivery import Delivery
from ..work.sheets import Sheets
from . import (
    away,
    byhand,
    catalog,
    conventions,
    devices,
    duplicates,
    entry,
    events,
    files,
    findings,
    intake,
    invited,
    jobs,
    libraries,
    lists,
    lying,
    marks,
    matches,
    me,
    media,
    missing,
    passkeys,
    people,
    plans,
    playback,
    session,
    shared,
    sharing,
    shelves,
    songs,
    sources,
    storage,
    subtitles,
    taught,
    today,
    together,
    tokens,
)
from .doors import set_up_doors
from .gateway import TrustedProxies, read_networks
from .session import guard

__all__ = ["create_app", "create_served_app"]

log = structlog.get_logger()
FRONTEND = Path(__file__).resolve().parents[3] / "frontend" / "dist"


def create_app(settings: Settings | None, database: Database | None) -> APIFlask:
    """The application; without settings only its description can be asked."""
    app = APIFlask("indice", title="Indice", version="0.1", spec_path="/api/openapi.json", docs_path=None)
    problem = {
        "type": "object",
        "required": ["reference", "message", "hint"],
        "properties": {name: {"type": "string"} for name in ("reference", "message", "hint")},
    }
    app.config["VALIDATION_ERROR_SCHEMA"] = app.config["HTTP_ERROR_SCHEMA"] = problem
    app.config.update(
        MAX_CONTENT_LENGTH=4_000_000,
        SESSION_COOKIE_NAME="indice",
        SESSION_COOKIE_HTTPONLY=True,
        SESSION_COOKIE_SAMESITE="Strict",
        SESSION_COOKIE_SECURE=bool(settings and (settings.secure_cookie or settings.https not in ("", "off"))),
        PERMANENT_SESSION_LIFETIME=60 * 60 * 24 * 60,
        SESSION_REFRESH_EACH_REQUEST=False,  # or a late answer brings back the cookie of a session that has ended
        OPENAPI_VERSION="3.1.0",
    )
    app.extensions["indice"] = (settings, database)
    if settings is not None:
        app.extensions["indice-delivery"] = Delivery(
            settings.home,
            settings.segment_cache_mb << 20,
            hardware=settings.hardware != "off",
            database=database,
            most_here=settings.conversions or os.cpu_count() or 1,
        )
        app.extensions["indice-sheets"] = Sheets(settings.home)
    set_up_doors(app)
    if settings is not None:
        app.secret_key = (
            (settings.home / "session-key").read_text() if (settings.home / "session-key").is_file() else os.urandom(32)
        )
    for module in (
        session,
        libraries,
        jobs,
        events,
        today,
        files,
        findings,
        matches,
        catalog,
        lying,
        media,
        sources,
        storage,
        subtitles,
        songs,
        taught,
        together,
        plans,
        conventions,
        intake,
        byhand,
        marks,
        playback,
        people,
        duplicates,
        entry,
        invited,
        lists,
        sharing,
        shelves,
        shared,
        tokens,
        devices,
        missing,
        passkeys,
        away,
        me,
    ):
        app.register_blueprint(module.bp)
    if settings is not None:
        app.wsgi_app = TrustedProxies(app.wsgi_app, read_networks("trusted_proxies", settings.trusted_proxies))
    _errors(app)
    app.before_request(_note_time)
    app.before_request(guard)
    app.after_request(_pack)
    app.after_request(_headers)
    _pages(app)
    return app


def _headers(response: Response) -> Response:
    response.headers.setdefault("X-Content-Type-Options", "nosniff")
    response.headers.setdefault("Referrer-Policy", "no-referrer")
    response.headers.setdefault("X-Frame-Options", "DENY")
    response.headers.setdefault("Cross-Origin-Opener-Policy", "same-origin")
    response.headers.setdefault("Cross-Origin-Resource-Policy", "same-origin")
    response.headers.setdefault("Permissions-Policy", "camera=(), geolocation=(), microphone=()")
    if response.mimetype == "application/json":
        response.headers.setdefault("Cache-Control", "no-store")
    settings: Settings | None = current_app.extensions["indice"][0]
    if settings is not None and settings.https == "own":  # of a self-made one browsers have to be let ask
        response.headers.setdefault("Strict-Transport-Security", "max-age=31536000")
    response.headers.setdefault(
        "Content-Security-Policy",
        "default-src 'self'; img-src 'self' data: blob:; media-src 'self' blob:; style-src 'self' 'unsafe-inline'; font-src 'self' data:; connect-src 'self'; object-src 'none'; form-action 'self'; frame-ancestors 'none'; base-uri 'none'",
    )
    return response


_PACKED = ("application/json", "text/html", "text/css", "text/javascript", "application/javascript", "image/svg+xml")
LEAST_PACKED_BYTES = 1_000


def _pack(response: Response) -> Response:
    """Compress what is worth it, for who takes it. What is a range of a file, or a stream, goes as it is."""
    kind = (response.mimetype or "").lower()
    if (
        kind not in _PACKED
        or response.status_code != 200
        or "Content-Encoding" in response.headers
        or "gzip" not in request.headers.get("Accept-Encoding", "").lower()
    ):
        return response
    response.direct_passthrough = False
    content = response.get_data()
    response.vary.add("Accept-Encoding")
    if len(content) < LEAST_PACKED_BYTES:
        return response
    response.set_data(gzip.compress(content, 5, mtime=0))
    response.headers["Content-Encoding"] = "gzip"
    etag, is_weak = response.get_etag()
    if etag is not None and not is_weak:
        response.set_etag(etag, weak=True)  # the same thing, in other bytes
    return response


def _note_time() -> None:
    """When a question came, for who compares clocks."""
    g.came_at = time.time()


def _errors(app: APIFlask) -> None:
    def answer(reference: str, message: str, hint: str, status: int) -> tuple[Response, int]:
        return jsonify(reference=reference, message=message, hint=hint), status

    @app.errorhandler(IndiceError)
    def told(error: IndiceError) -> tuple[Response, int]:
        response, status = answer(error.reference, error.message, error.hint, error.status)
        if error.download is not None:
            response = jsonify(**response.get_json(), download=error.download)
        if error.retry_after is not None:
            response.headers["Retry-After"] = str(error.retry_after)
        return response, status

    @app.errorhandler(DataError)
    @app.errorhandler(UnicodeError)
    @app.errorhandler(RecursionError)
    def not_held(error: Exception) -> tuple[Response, int]:
        log.warning("request_wrong", path=request.path, error=type(error).__name__)
        return answer("request-wrong", "The request holds something that cannot be kept.", "", 400)

    @app.error_processor
    def invalid(error: HTTPError) -> tuple[dict[str, Any], int, Any]:
        detail: Any = error.detail
        hint = _first_problem(detail) if detail else ""
        return (
            {
                "reference": "request-wrong" if error.status_code < 500 else "failed",
                "message": error.message or "The request is not understood.",
                "hint": hint,
            },
            error.status_code,
            dict(error.headers or {}),
        )

    @app.errorhandler(OperationalError)
    @app.errorhandler(InterfaceError)
    def database_gone(error: OperationalError | InterfaceError) -> tuple[Response, int]:
        log.error("database_gone", error=str(error.orig))
        return answer(
            "database-down",
            "The database does not answer.",
            "Wait a moment and try again; `./indice doctor` says more.",
            503,
        )

    @app.errorhandler(404)
    def unknown(_: Exception) -> Any:
        if request.path.startswith("/api/"):
            return answer("unknown", "There is nothing at this address.", "", 404)
        return _page()

    @app.errorhandler(405)
    def wrong_method(_: Exception) -> tuple[Response, int]:
        return answer("method-wrong", "This address does not take that.", "", 405)

    @app.errorhandler(413)
    def too_large(_: Exception) -> tuple[Response, int]:
        return answer("too-large", "That is too large.", "", 413)

    @app.errorhandler(500)
    def failed(error: Any) -> tuple[Response, int]:
        log.error(
            "request_failed",
            path=request.path,
            exc_info=getattr(error, "original_exception", None) or error,
        )
        return answer(
            "failed", "Something went wrong that should not.", "The log in the data folder has the details.", 500
        )


def _first_problem(detail: Any) -> str:
    """The first thing that validation found, in words."""
    if isinstance(detail, dict):
        for name, value in detail.items():
            found = _first_problem(value)
            if found:
                return (
                    found
                    if name in ("json", "query", "body", "form") or not isinstance(name, str)
                    else f"{name}: {found}"
                )
    if isinstance(detail, list) and detail:
        first = detail[0]
        if isinstance(first, dict) and "msg" in first:
            place = ".".join(str(part) for part in first.get("loc", ()))
            return f"{place}: {first['msg']}" if place else str(first["msg"])
        return _first_problem(first)
    return str(detail) if isinstance(detail, str) else ""


def _page() -> Response:
    if not (FRONTEND / "index.html").is_file():
        return Response("The front end is not built. Run ./indice start again.", status=503, mimetype="text/plain")
    response = send_from_directory(FRONTEND, "index.html")
    response.headers["Cache-Control"] = "no-cache"
    return response


def _pages(app: APIFlask) -> None:
    @app.get("/assets/<path:name>")
    @app.doc(hide=True)
    def asset(name: str) -> Response:
        response = send_from_directory(FRONTEND / "assets", name)
        response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
        return response

    @app.get("/")
    @app.doc(hide=True)
    def index() -> Response:
        return _page()


def create_served_app() -> APIFlask:
    """The application as the web server runs it, from the environment."""
    settings = Settings.load()
    from ..disk.hardware import working_encoder
    from ..store.cluster import Cluster

    if settings.hardware != "off":  # tried at the start, so that the first film need not wait for it
        threading.Thread(target=working_encoder, daemon=True, name="hardware").start()

    return create_app(settings, Database(settings.database_url or Cluster(settings.home).url))
