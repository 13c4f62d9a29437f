"""Makes the Flask application of its subjects: everything but the first page needs a sign-in."""

from __future__ import annotations

import os
import threading
import time
from pathlib import Path
from typing import Any

import structlog
from apiflask import APIFlask
from flask import Response, g, jsonify, request, send_from_directory

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
from .answers import add_headers, pack
from .common import say
from .description import in_sentences
from .doors import set_up_doors
from .errors import set_up_errors
from .gateway import TrustedProxies, read_networks
from .session import guard

__all__ = ["create_app", "create_served_app"]

log = structlog.get_logger()
FRONTEND = Path(__file__).resolve().parents[3] / "frontend" / "dist"


def create_app(settings: Settings | None, database: Database | None) -> APIFlask:
    """The application; without settings only its description can be asked."""
    app = APIFlask("indice", title="Indice", version="0.1", spec_path="/api/openapi.json", docs_path=None)
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
        _serve_from_here(app, settings, database)
    set_up_doors(app)
    for module in _SUBJECTS:
        app.register_blueprint(module.bp)
    set_up_errors(app)
    app.before_request(_note_time)
    app.before_request(guard)
    app.after_request(pack)
    app.after_request(add_headers)
    app.spec_processor(in_sentences)
    _pages(app)
    return app


_SUBJECTS = (
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
)


def _serve_from_here(app: APIFlask, settings: Settings, database: Database | None) -> None:
    """What an application needs that serves a household on this machine."""
    app.extensions["indice-delivery"] = Delivery(
        settings.home,
        settings.segment_cache_mb << 20,
        hardware=settings.hardware != "off",
        database=database,
        most_here=settings.conversions or os.cpu_count() or 1,
    )
    app.extensions["indice-sheets"] = Sheets(settings.home)
    key = settings.home / "session-key"
    app.secret_key = key.read_text() if key.is_file() else os.urandom(32)
    app.wsgi_app = TrustedProxies(app.wsgi_app, read_networks("trusted_proxies", settings.trusted_proxies))


def _note_time() -> None:
    """When a question came, for who compares clocks."""
    g.came_at = time.time()


def _page() -> Response:
    if not (FRONTEND / "index.html").is_file():
        return Response("The front end is not built. Run ./indice start again.", status=503, mimetype="text/plain")
    response = send_from_directory(FRONTEND, "index.html")
    response.headers["Cache-Control"] = "no-cache"
    return response


def _unknown(_: Exception) -> Any:
    if request.path.startswith("/api/"):
        return jsonify(reference="unknown", message=say("There is nothing at this address."), hint=""), 404
    return _page()


def _pages(app: APIFlask) -> None:
    app.register_error_handler(404, _unknown)

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
