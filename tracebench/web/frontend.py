"""The built front end: static files, compressed where the build left a .gz, and index.html for every page."""

from __future__ import annotations

import secrets
from pathlib import Path

from apiflask import APIBlueprint
from flask import Response, g, request, send_file
from werkzeug.exceptions import NotFound
from werkzeug.security import safe_join

from tracebench.web.context import settings
from tracebench.web.errors import problem

bp = APIBlueprint("frontend", __name__, enable_openapi=False)

NONCE = "STYLE-NONCE"
"""What the build writes where the number goes."""

_TYPES = {".js": "text/javascript", ".css": "text/css", ".html": "text/html", ".svg": "image/svg+xml"}


@bp.get("/", defaults={"path": ""})
@bp.get("/<path:path>")
def page(path: str) -> Response | tuple[Response, int]:
    """A file of the build, or the application's page for any other address."""
    if path.startswith("api/"):
        return problem(404, "Not found", f"there is nothing at /{path}")
    folder = settings().frontend
    if not (folder / "index.html").exists():
        return problem(503, "Not built", "the front end is not built yet; run ./start --setup")
    name = safe_join(str(folder), path)
    if name is None:
        raise NotFound
    file = Path(name)
    if not path or not file.is_file():
        if path.startswith("assets/"):
            raise NotFound
        return _page(folder / "index.html")
    return _sent(file, immutable=path.startswith("assets/"))


def _page(file: Path) -> Response:
    """The application's page, with a number of its own by which the policy lets its styles in."""
    g.style_nonce = secrets.token_urlsafe(16)
    response = Response(file.read_text(encoding="utf-8").replace(NONCE, g.style_nonce), mimetype="text/html")
    response.headers["Cache-Control"] = "no-store"
    return response


def _sent(file: Path, immutable: bool) -> Response:
    small = file.with_name(file.name + ".gz")
    compressed = small.exists() and "gzip" in request.headers.get("Accept-Encoding", "")
    response = send_file(small if compressed else file, mimetype=_TYPES.get(file.suffix), conditional=True)
    if compressed:
        response.headers["Content-Encoding"] = "gzip"
    response.headers["Vary"] = "Accept-Encoding"
    response.headers["Cache-Control"] = "public, max-age=31536000, immutable" if immutable else "no-cache"
    return response
