"""Which device asks: a signed cookie that a browser is given before anybody signs in on it."""

from __future__ import annotations

import hashlib
import secrets

from flask import Response, current_app, request
from itsdangerous import BadSignature, URLSafeSerializer

from tracebench.usecases.people.guessing import Came
from tracebench.web.context import settings

COOKIE, SALT = "tracebench_device", "device"
KEPT_S = 400 * 86_400
"""The longest that browsers keep a cookie."""


def came_from() -> Came:
    """Where the request comes from."""
    device = _device()
    return Came((request.remote_addr or "")[:64], hashlib.sha256(device.encode()).hexdigest() if device else "")


def give(response: Response) -> None:
    """Give the device its cookie where it has none, or one that is not ours."""
    if not _device():
        response.set_cookie(
            COOKIE,
            _signer().dumps(secrets.token_hex(16)),
            max_age=KEPT_S,
            httponly=True,
            samesite="Lax",
            secure=settings().https,
        )


def _device() -> str:
    try:
        return str(_signer().loads(request.cookies.get(COOKIE, "")))
    except BadSignature:
        return ""


def _signer() -> URLSafeSerializer:
    return URLSafeSerializer(str(current_app.secret_key), salt=SALT)
