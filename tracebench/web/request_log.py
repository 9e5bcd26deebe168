"""One line of JSON for each request and each crash: which route, how long, what came of it. Never what was in it.

Each web process writes a file of its own, `requests-N.jsonl`, kept small by rotating; without a folder nothing is
written. Every answer carries the request's id, so that what a person reports is found.
"""

from __future__ import annotations

import json
import logging
import secrets
import time
import traceback
from datetime import UTC, datetime
from logging.handlers import RotatingFileHandler
from pathlib import Path
from typing import Any

from apiflask import APIFlask
from flask import Response, g, has_request_context, request

BYTES, FILES = 4_000_000, 3
HEADER = "X-Request-Id"

_log = logging.getLogger("tracebench.requests")


def register(app: APIFlask, folder: Path | None, name: str) -> None:
    """Give every request an id, and write what came of it into `folder`."""
    _log.propagate = False
    _log.setLevel(logging.INFO)
    for old in list(_log.handlers):
        _log.removeHandler(old)
        old.close()
    if folder is not None:
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        handler = RotatingFileHandler(
            folder / f"requests-{name}.jsonl", maxBytes=BYTES, backupCount=FILES, encoding="utf-8"
        )
        handler.setFormatter(logging.Formatter("%(message)s"))
        _log.addHandler(handler)
    app.before_request(_begins)
    app.after_request(_ends)


def _begins() -> None:
    g.request_id = secrets.token_hex(6)
    g.begun = time.perf_counter()


def _ends(response: Response) -> Response:
    response.headers[HEADER] = g.get("request_id", "")
    person = g.get("person")
    _write(
        kind="request",
        # The rule and not the address: what stands in for its numbers is nobody's business.
        route=f"{request.method} {request.url_rule.rule if request.url_rule else 'no such page'}",
        status=response.status_code,
        ms=round(1000 * (time.perf_counter() - g.get("begun", time.perf_counter())), 1),
        role=person.role if person is not None else "",
    )
    return response


def crash(error: BaseException) -> str:
    """Write down where an error came from, without its message, which may hold data; the request's id."""
    frames = traceback.extract_tb(error.__traceback__)
    _write(
        kind="crash",
        error=type(error).__name__,
        at_frames=[f"{Path(f.filename).name}:{f.lineno} {f.name}" for f in frames],
    )
    return str(g.get("request_id", ""))


def _write(**what: Any) -> None:
    request_id = g.get("request_id", "") if has_request_context() else ""
    _log.info(json.dumps({"at": datetime.now(UTC).isoformat(timespec="milliseconds"), "id": request_id, **what}))
