"""Published versions of references: what each changed, and what cards and sittings take from one."""

from __future__ import annotations

from collections.abc import Mapping
from itertools import pairwise
from typing import Any, cast

from tracebench.core.answer import Limit, Reading
from tracebench.core.answer_rows import AnswerRow
from tracebench.core.circuits import circuit as circuit_of
from tracebench.core.circuits.events.reference import beside_reference
from tracebench.core.differences import differences
from tracebench.core.limits import limits_from_json
from tracebench.store.pool import Connection
from tracebench.store.queries import queries, unpacked
from tracebench.usecases.people import reach
from tracebench.usecases.people.person import Person
from tracebench.usecases.shelf import references
from tracebench.usecases.shelf.values import (
    Beneath,
    Version,
    VersionChanges,
)


def changed(conn: Connection, person: Person, reference_id: int) -> list[VersionChanges]:
    """What each version changed of the one before it, and the work since of the newest, newest first."""
    reference = references.work_on(conn, person, reference_id)
    rows = [unpacked(row, "document") for row in queries.shelf.whole_versions(conn, reference_id=reference_id)]
    told = [(row["version"], _told_of(row)) for row in rows] + [(None, _told_of(reference))]
    out: list[VersionChanges] = [
        {"version": version, "changes": differences(before, after)} for (_, before), (version, after) in pairwise(told)
    ]
    return [one for one in reversed(out) if one["version"] is not None or one["changes"]]


def _told_of(row: Mapping[str, Any]) -> Mapping[str, Any]:
    return {"title": row["title"], "capture": row["capture_id"], **row["document"]}


def version_of(conn: Connection, version_id: int) -> Version | None:
    """A published version, or None: for what was decided on already, such as the reference of a card."""
    row = queries.shelf.version_by_id(conn, version_id=version_id)
    return cast(Version, unpacked(row, "document", "answer")) if row else None


def version_in_reach(conn: Connection, person: Person, version_id: int) -> Version | None:
    """A published version of a reference that the person sees, or None."""
    version = version_of(conn, version_id)
    row = version and queries.shelf.by_id(conn, reference_id=version["reference_id"], person_id=person.id)
    return version if row and reach.sees_reference(row, person) else None


def beside(conn: Connection, version_id: int | None, measured: AnswerRow | None) -> Beneath:
    """What is laid beneath a learner's trace: the reference's capture, title, phases to align by, and its cylinders
    beside those that were measured."""
    version = version_of(conn, version_id) if version_id else None
    rows = [a["readings"] if a else [] for a in (measured, version["answer"] if version else None)]
    ours, theirs = ([Reading.from_json(r) for r in readings] for readings in rows)
    return {
        "beside_reference": [b.as_json() for b in beside_reference(ours, theirs)],
        "reference_capture_id": version["capture_id"] if version else None,
        "reference_title": version["title"] if version else None,
        "reference_phases": version["answer"]["phases"] if version else [],
    }


def limits_of(version: Version) -> tuple[Limit, ...]:
    """The limits a card takes over from a reference version: those that decide, whole, in the version's answer."""
    deciding = [limit for limit in version["answer"]["limits"] if limit["decides"]]
    return limits_from_json({"limits": deciding}, circuit_of(version["circuit"]).reading_ids)
