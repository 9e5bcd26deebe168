"""How the installation is doing, for the administrator."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint, Schema

from tracebench.usecases.people import accounts
from tracebench.usecases.school import health
from tracebench.web import fields as f
from tracebench.web.context import now, person, settings, transaction

bp = APIBlueprint("installation", __name__, url_prefix="/api", tag="Installation")


class BackupOut(Schema):
    name = f.text()
    at = f.instant()
    bytes = f.whole()


class RouteOut(Schema):
    route = f.text()
    count = f.whole()
    median_ms = f.number()
    p95_ms = f.number()
    longest_ms = f.number()
    errors = f.whole()


class CrashOut(Schema):
    at = f.text()
    id = f.text()
    error = f.text()
    place = f.text()


class SchoolIn(Schema):
    name = f.text()


class InstallationOut(Schema):
    version = f.text()
    engine = f.text()
    database = f.text()
    schema = f.text()
    disk_free_bytes = f.whole()
    disk_bytes = f.whole()
    database_bytes = f.whole()
    uploads_bytes = f.whole()
    jobs_waiting = f.whole()
    jobs_running = f.whole()
    jobs_failed = f.whole()
    oldest_job_at = f.instant(allow_none=True)
    signed_in = f.whole()
    last_backup = f.nested(BackupOut, allow_none=True)
    slow = f.many(RouteOut)
    crashes = f.many(CrashOut)
    warnings = f.many(f.text())


@bp.get("/installation")
@bp.output(InstallationOut)
def state() -> health.Health:
    """Version, room, queue, backups and slow pages."""
    with transaction() as conn:
        return health.state(conn, person(), settings().uploads.parent, now())


@bp.put("/school")
@bp.input(SchoolIn)
@bp.output({}, status_code=204)
def name_school(json_data: dict[str, Any]) -> str:
    """Say what the school is called."""
    with transaction() as conn:
        accounts.name_school(conn, person(), json_data["name"], now())
    return ""
