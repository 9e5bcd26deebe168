"""Files that are made for one answer: written beside the uploads, sent, and gone."""

from __future__ import annotations

import secrets
from collections.abc import Callable
from pathlib import Path

from flask import Response, send_file

from tracebench.web.context import person, settings
from tracebench.web.shares import EXPORTS


def handed_out(write: Callable[[Path], object], name: str) -> Response:
    """The answer that sends a file; what cannot be written raises before anything is sent.

    Raises TooSoon while another is made for the same person.
    """
    with EXPORTS.held(person().id):
        return _made(write, name)


def _made(write: Callable[[Path], object], name: str) -> Response:
    folder = settings().uploads
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    path = folder / f"out-{secrets.token_hex(12)}"
    try:
        path.touch(0o600, exist_ok=False)
        write(path)
        stream = path.open("rb")
    finally:
        # It is read on from the open stream.
        path.unlink(missing_ok=True)
    return send_file(stream, mimetype="application/octet-stream", as_attachment=True, download_name=name)
