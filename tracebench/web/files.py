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
    return send_file(stream, mimetype="application/octet-stream", as_attachment=True, download_name=plain(name))


NOT_IN_NAMES = frozenset('/\\:*?"<>|')
LONGEST_NAME = 120


def plain(name: str) -> str:
    """A name that any system keeps a file under: on one line, without signs that mean something to it.

    Letters of any alphabet stay; how they are told is the header's matter (RFC 6266, 5987).
    """
    kept = "".join(" " if c.isspace() else c for c in name if c.isprintable() or c.isspace())
    kept = " ".join("".join("-" if c in NOT_IN_NAMES else c for c in kept).split()).strip(". ")
    stem, dot, ending = kept.rpartition(".")
    return f"{stem[:LONGEST_NAME]}{dot}{ending[:20]}" if dot and stem else kept[:LONGEST_NAME] or "file"
