"""Errors as problem details (RFC 9457): a title, a status and one sentence to act on. Never a traceback."""

from __future__ import annotations

import errno
from typing import Any

import pymysql
from apiflask import APIFlask
from apiflask.exceptions import HTTPError
from flask import Response, current_app, jsonify
from flask_wtf.csrf import CSRFError
from werkzeug.exceptions import HTTPException

from tracebench.core.errors import TraceBenchError
from tracebench.store.pool import is_full
from tracebench.usecases.errors import Conflict, NoRoom, NotAllowed, NotFound, TooSoon
from tracebench.web import request_log

_STATUS = (
    (NoRoom, 507, "No room"),
    (NotFound, 404, "Not found"),
    (NotAllowed, 403, "Not allowed"),
    (Conflict, 409, "Not possible now"),
)


DISTURBED = (1205, 1213)
"""MariaDB's errors for a lock waited for too long, and for two that waited for each other."""


def problem(status: int, title: str, detail: str, **more: Any) -> tuple[Response, int]:
    body = jsonify({"type": "about:blank", "title": title, "status": status, "detail": detail, **more})
    body.content_type = "application/problem+json"
    return body, status


def register(app: APIFlask) -> None:
    @app.errorhandler(TraceBenchError)
    def refused(error: TraceBenchError) -> tuple[Response, int]:
        for kind, status, title in _STATUS:
            if isinstance(error, kind):
                return problem(status, title, str(error))
        return problem(422, "Cannot be used", str(error))

    @app.errorhandler(TooSoon)
    def too_soon(error: TooSoon) -> tuple[Response, int]:
        answer, status = problem(429, "Too soon", str(error))
        answer.headers["Retry-After"] = str(error.seconds)
        return answer, status

    @app.errorhandler(CSRFError)
    def forged(error: CSRFError) -> tuple[Response, int]:
        return problem(400, "Page out of date", "this page is out of date; reload it and try again")

    @app.error_processor
    def invalid(error: HTTPError) -> tuple[Response, int]:
        title = error.message or "Cannot be used"
        return problem(error.status_code, title, _sentence(error.detail) or title)

    @app.errorhandler(HTTPException)
    def http(error: HTTPException) -> tuple[Response, int]:
        return problem(error.code or 500, error.name, error.description or error.name)

    @app.errorhandler(RecursionError)
    def too_deep(error: RecursionError) -> tuple[Response, int]:
        return problem(400, "Cannot be read", "what was sent is nested too deeply; send it as the API describes")

    @app.errorhandler(ValueError)
    def too_many_digits(error: ValueError) -> tuple[Response, int]:
        if "integer string conversion" not in str(error):
            return unexpected(error)
        return problem(422, "Cannot be used", "a number that was sent has more digits than any number can have")

    @app.errorhandler(UnicodeEncodeError)
    def no_text(error: UnicodeEncodeError) -> tuple[Response, int]:
        return problem(422, "Cannot be used", "what was sent holds half of a character; type that text again")

    @app.errorhandler(pymysql.err.DataError)
    def does_not_fit(error: pymysql.err.DataError) -> tuple[Response, int]:
        return problem(422, "Cannot be used", "a number or text that was sent is larger than what can be kept")

    @app.errorhandler(pymysql.err.IntegrityError)
    def twice(error: pymysql.err.IntegrityError) -> tuple[Response, int]:
        return problem(409, "Not possible now", "this was done a moment ago, here or by somebody else; look again")

    def no_room(error: Exception) -> tuple[Response, int]:
        current_app.logger.error("no room on the disk: %s", type(error).__name__)
        return problem(507, "No room", "the disk is full; nothing was changed. Ask the administrator to make room")

    @app.errorhandler(OSError)
    def of_the_system(error: OSError) -> tuple[Response, int]:
        return no_room(error) if error.errno == errno.ENOSPC else unexpected(error)

    @app.errorhandler(pymysql.err.OperationalError)
    @app.errorhandler(pymysql.err.InterfaceError)
    def without_database(error: pymysql.err.MySQLError) -> tuple[Response, int]:
        code = error.args[0] if error.args else 0
        if code in DISTURBED:
            return problem(409, "Not possible now", "somebody else changed the same at this moment; try again")
        if is_full(error):
            return no_room(error)
        current_app.logger.warning("the database does not answer: %s", type(error).__name__)
        answer, status = problem(503, "Not ready", "the database is coming back; what you do is kept")
        answer.headers["Retry-After"] = "2"
        return answer, status

    @app.errorhandler(Exception)
    def unexpected(error: Exception) -> tuple[Response, int]:
        number = request_log.crash(error)
        # Where it happened and not what it said: a message may hold somebody's answer.
        current_app.logger.error("unexpected %s in request %s; logs/ says where", type(error).__name__, number)
        detail = f"something went wrong here; nothing was changed. Try again, or tell the administrator: {number}"
        return problem(500, "Unexpected error", detail)


def _sentence(detail: Any) -> str:
    """The first complaint of a validation as 'field: what is wrong'."""
    parts: list[str] = []
    while isinstance(detail, dict) and detail:
        key, detail = next(iter(detail.items()))
        if key not in ("json", "query", "_schema"):
            parts.append(str(key))
    words = " ".join(detail) if isinstance(detail, list) else str(detail or "")
    return f"{'.'.join(parts)}: {words}" if parts else words
