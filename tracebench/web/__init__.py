"""The web application: `create_app(settings)` builds it; nothing here knows rules or SQL."""

from __future__ import annotations

from datetime import timedelta

from apiflask import APIFlask
from flask import Flask, Response, current_app, g, request, session
from flask.sessions import SecureCookieSessionInterface
from flask_wtf.csrf import CSRFProtect
from itsdangerous import URLSafeTimedSerializer

from tracebench.core import ENGINE_VERSION
from tracebench.settings import Settings
from tracebench.store.pool import Pool
from tracebench.usecases.people import accounts as accounts
from tracebench.web import device, errors, frontend, health, request_log, shares
from tracebench.web.areas import (
    audit,
    captures,
    cards,
    circuits,
    courses,
    diagnosis,
    inbox,
    installation,
    jobs,
    marking,
    people,
    records,
    shelf,
    sittings,
    skill,
    today,
    toolbox,
    trainer_runs,
    underway,
)
from tracebench.web.areas import (
    session as session_area,
)
from tracebench.web.context import give_back, now, reading

OPEN_ENDPOINTS = {f"session.{name}" for name in ("who", "sign_in", "sign_out", "first", "invited", "join")}
"""What may be asked without being signed in; everything else under /api may not."""

_POLICY = (
    "default-src 'self'; img-src 'self' data:; font-src 'self'; style-src 'self'{nonce}; "
    "style-src-attr 'unsafe-inline'; "
    "object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'"
)


def create_app(settings: Settings) -> APIFlask:
    """The application on a database that is already migrated."""
    app = APIFlask(__name__, title="Trace Bench", version=ENGINE_VERSION, docs_path=None, spec_path="/api/openapi.json")
    app.config.update(
        SECRET_KEY=settings.secret_key,
        SESSION_COOKIE_NAME=shares.SESSION_COOKIE,
        SESSION_COOKIE_HTTPONLY=True,
        SESSION_COOKIE_SAMESITE="Lax",
        SESSION_COOKIE_SECURE=settings.https,
        # How long a session goes on is known to the database; the cookie is not made anew with every answer.
        PERMANENT_SESSION_LIFETIME=timedelta(days=60),
        SESSION_REFRESH_EACH_REQUEST=False,
        MAX_CONTENT_LENGTH=settings.most_upload_bytes,
        WTF_CSRF_TIME_LIMIT=None,
        WTF_CSRF_SSL_STRICT=False,
        VALIDATION_ERROR_DESCRIPTION="Cannot be used",
        AUTO_404_RESPONSE=False,
    )
    app.session_interface = _Sessions()
    app.extensions["tracebench.settings"] = settings
    app.extensions["tracebench.pool"] = Pool(settings)
    request_log.register(app, settings.logs, settings.process)
    CSRFProtect(app)
    errors.register(app)
    app.before_request(_door)
    app.after_request(_headers)
    app.teardown_request(give_back)
    for area in (
        session_area,
        people,
        audit,
        circuits,
        courses,
        diagnosis,
        jobs,
        installation,
        captures,
        records,
        inbox,
        shelf,
        cards,
        sittings,
        marking,
        skill,
        today,
        toolbox,
        trainer_runs,
        underway,
    ):
        app.register_blueprint(area.bp)
    app.register_blueprint(health.bp)
    app.register_blueprint(frontend.bp)
    return app


class _Sessions(SecureCookieSessionInterface):
    """Flask's own, with what signs cookies made once and not twice for each request."""

    def __init__(self) -> None:
        self._signer: URLSafeTimedSerializer | None = None

    def get_signing_serializer(self, app: Flask) -> URLSafeTimedSerializer | None:
        if self._signer is None:
            self._signer = super().get_signing_serializer(app)
        return self._signer


def _door() -> tuple[Response, int] | None:
    """Find out who asks; nobody unknown gets past it to the API."""
    g.person = None
    if not request.path.startswith("/api/"):
        return None
    if "token" in session:
        with reading() as conn:
            g.person = accounts.of_session(conn, session["token"], now())
    if g.person is not None:
        shares.belongs(request.cookies[shares.SESSION_COOKIE], g.person.id)
    if g.person is None and request.endpoint not in OPEN_ENDPOINTS:
        return errors.problem(401, "Not signed in", "sign in to go on; what you typed is still here")
    return None


def _headers(response: Response) -> Response:
    nonce = f" 'nonce-{g.style_nonce}'" if "style_nonce" in g else ""
    response.headers["Content-Security-Policy"] = _POLICY.format(nonce=nonce)
    response.headers["X-Content-Type-Options"] = "nosniff"
    response.headers["Referrer-Policy"] = "same-origin"
    response.headers["Permissions-Policy"] = "camera=(), microphone=(), geolocation=(), payment=(), usb=()"
    if request.is_secure or current_app.config["SESSION_COOKIE_SECURE"]:
        response.headers["Strict-Transport-Security"] = "max-age=31536000"
    if "keep_offline" in g and response.status_code == 200:
        response.headers["X-Keep-Offline"] = "1"
    if request.path == "/api/session":
        device.give(response)
    if request.path.startswith("/api/") and "Cache-Control" not in response.headers:
        response.headers["Cache-Control"] = "no-store"
    return response
