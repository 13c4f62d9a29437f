"""What goes with every answer: headers, and compression where it is worth it."""

from __future__ import annotations

import gzip

from flask import Response, current_app, request

from ..settings import Settings

__all__ = ["add_headers", "pack"]

_POLICY = "; ".join(
    (
        "default-src 'self'",
        "img-src 'self' data: blob:",
        "media-src 'self' blob:",
        "style-src 'self' 'unsafe-inline'",
        "font-src 'self' data:",
        "connect-src 'self'",
        "object-src 'none'",
        "form-action 'self'",
        "frame-ancestors 'none'",
        "base-uri 'none'",
    )
)
"""Content Security Policy Level 3: all of a page comes from here."""


def add_headers(response: Response) -> Response:
    """Say what browsers may do with an answer: nothing from outside, in no frame, kept only where that is said."""
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
    response.headers.setdefault("Content-Security-Policy", _POLICY)
    return response


_PACKED = ("application/json", "text/html", "text/css", "text/javascript", "application/javascript", "image/svg+xml")
LEAST_PACKED_BYTES = 1_000


def pack(response: Response) -> Response:
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
