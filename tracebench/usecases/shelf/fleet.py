"""Limits of one's own fleet: from the sound references of the same circuit and design."""

from __future__ import annotations

import json
from typing import Any

from tracebench.core.circuits import circuit as circuit_of
from tracebench.core.errors import BadOption
from tracebench.core.tolerance import tolerance_interval
from tracebench.store.pool import Connection
from tracebench.store.queries import queries
from tracebench.usecases.people.person import Person
from tracebench.usecases.shelf import references
from tracebench.usecases.shelf.values import FleetLimits, FleetMember


def limits_of(conn: Connection, person: Person, reference_id: int, reading: str) -> FleetLimits:
    """What the fleet that a reference belongs to says of a reading.

    Raises NotFound, and BadOption that says why a fleet tells nothing: no design named, too few, all alike.
    """
    reference = references.work_on(conn, person, reference_id)
    spec = circuit_of(reference["circuit"]).reading(reading)
    if spec is None:
        raise BadOption(f"there is no reading {reading!r} of this circuit")
    part = reference["document"]["provenance"]["part"].strip()
    if not part:
        raise BadOption("name the part under Origin first: a fleet is of one design")
    seen: dict[str, float] = {}
    of: list[FleetMember] = []
    for row in queries.shelf.fleet(conn, person_id=person.id, circuit=reference["circuit"], part=part):
        value = _value(json.loads(row["readings"] or "[]"), reading)
        name = row["fingerprint"] or str(row["id"])
        if value is not None and name not in seen:
            seen[name] = value
            of.append({"id": row["id"], "title": row["title"], "value": value})
    found = tolerance_interval(list(seen.values()))
    return {
        "reading": reading,
        "low": round(found.low, spec.decimals + 1),
        "high": round(found.high, spec.decimals + 1),
        "count": found.count,
        "mean": found.mean,
        "sd": found.sd,
        "method": found.method,
        "coverage": found.coverage,
        "confidence": found.confidence,
        "source": found.words(),
        "of": of,
    }


def _value(readings: list[dict[str, Any]], reading: str) -> float | None:
    """The summary of a reading in an answer."""
    own = [r for r in readings if r["id"] == reading and r["cycle"] is None and r["cylinder"] is None]
    return float(own[0]["value"]) if own else None
