"""Whether this process answers, and whether the database behind it does: for whoever watches an installation."""

from __future__ import annotations

from apiflask import APIBlueprint
from flask import jsonify
from flask.typing import ResponseReturnValue

from tracebench.store.queries import queries
from tracebench.web.context import transaction

bp = APIBlueprint("health", __name__, enable_openapi=False)


@bp.get("/healthz")
def alive() -> ResponseReturnValue:
    """This process answers."""
    return jsonify({"state": "alive"})


@bp.get("/readyz")
def ready() -> ResponseReturnValue:
    """The database answers too, with how many jobs wait; 503 otherwise."""
    with transaction() as conn:
        return jsonify({"state": "ready", "jobs": queries.jobs.waiting_count(conn)})
