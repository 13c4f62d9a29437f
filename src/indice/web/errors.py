"""What goes wrong becomes JSON with words: a reference, a message, a hint; never a stack trace."""

from __future__ import annotations

from typing import Any

import structlog
from apiflask import APIFlask, HTTPError
from flask import Response, jsonify, request
from sqlalchemy.exc import DataError, InterfaceError, OperationalError

from ..core.phrase import phrase
from ..errors import IndiceError
from .common import say

__all__ = ["PROBLEM", "set_up_errors"]

log = structlog.get_logger()
PROBLEM = {
    "type": "object",
    "required": ["reference", "message", "hint"],
    "properties": {name: {"type": "string"} for name in ("reference", "message", "hint")},
}
"""The shape of an error, as the description of the API has it (JSON Schema)."""
_Answer = tuple[Response, int]


def set_up_errors(app: APIFlask) -> None:
    """Let the application answer with words whatever goes wrong. An address that
    is no API's is left to the front end."""
    app.config["VALIDATION_ERROR_SCHEMA"] = app.config["HTTP_ERROR_SCHEMA"] = PROBLEM
    app.error_processor(_invalid)
    app.register_error_handler(IndiceError, _told)
    for kind in (DataError, UnicodeError, RecursionError):
        app.register_error_handler(kind, _not_held)
    for kind in (OperationalError, InterfaceError):
        app.register_error_handler(kind, _database_gone)
    app.register_error_handler(
        405, lambda _: _answer("method-wrong", phrase("This address does not take that."), "", 405)
    )
    app.register_error_handler(413, lambda _: _answer("too-large", phrase("That is too large."), "", 413))
    app.register_error_handler(500, _failed)


def _answer(reference: str, message: str, hint: str, status: int) -> _Answer:
    return jsonify(reference=reference, message=say(message), hint=say(hint)), status


def _told(error: IndiceError) -> _Answer:
    response, status = _answer(error.reference, error.message, error.hint, error.status)
    if error.download is not None:
        response = jsonify(**response.get_json(), download=error.download)
    if error.retry_after is not None:
        response.headers["Retry-After"] = str(error.retry_after)
    return response, status


def _not_held(error: Exception) -> _Answer:
    log.warning("request_wrong", path=request.path, error=type(error).__name__)
    return _answer("request-wrong", phrase("The request holds something that cannot be kept."), "", 400)


def _invalid(error: HTTPError) -> tuple[dict[str, Any], int, Any]:
    detail: Any = error.detail
    told = {
        "reference": "request-wrong" if error.status_code < 500 else "failed",
        "message": say(error.message or phrase("The request is not understood.")),
        "hint": _first_problem(detail) if detail else "",
    }
    return told, error.status_code, dict(error.headers or {})


def _database_gone(error: OperationalError | InterfaceError) -> _Answer:
    log.error("database_gone", error=str(error.orig))
    hint = phrase("Wait a moment and try again; `./indice doctor` says more.")
    return _answer("database-down", phrase("The database does not answer."), hint, 503)


def _failed(error: Any) -> _Answer:
    log.error("request_failed", path=request.path, exc_info=getattr(error, "original_exception", None) or error)
    hint = phrase("The log in the data folder has the details.")
    return _answer("failed", phrase("Something went wrong that should not."), hint, 500)


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
