"""Outlines of published references in MariaDB: what is looked through when shapes are compared."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from tracebench.core.samples import Samples
from tracebench.core.shape.outline import Outline
from tracebench.store.pool import Connection
from tracebench.store.queries import queries
from tracebench.store.sample_coding import pack, unpack


def keep(conn: Connection, version_id: int, outlines: list[Outline]) -> None:
    """Keep the outlines of a version; doing so again changes nothing."""
    for one in outlines:
        queries.shapes.add(
            conn,
            version_id=version_id,
            lane=one.lane,
            name=one.name,
            sweep=one.sweep,
            from_s=one.from_s,
            to_s=one.to_s,
            packed=pack(np.concatenate([one.low, one.high]).astype(np.float32)),
        )
    queries.shapes.set_outlined(conn, version_id=version_id)


def from_row(row: Mapping[str, Any], lane: str, name: str) -> Outline:
    """An outline as it was kept, to single precision."""
    low, high = _sides(row["packed"])
    return Outline(name, row["sweep"], lane, row["from_s"], row["to_s"], low, high)


def alike(conn: Connection, person_id: int, circuit: str, lane: str, name: str) -> tuple[list[int], Samples]:
    """References in a person's reach, each as often as the stretch was kept of it, and the low and the high of each of
    those outlines: float64, shape (k, 2, COLUMNS).
    """
    references: list[int] = []
    found: list[Samples] = []
    for row in queries.shapes.alike(conn, person_id=person_id, circuit=circuit, lane=lane, name=name):
        start = 0
        for length in map(int, row["lengths"].split(",")):
            found.append(_sides(row["packed"][start : start + length]))
            references.append(row["reference_id"])
            start += length
    return references, np.array(found)


def _sides(packed: bytes) -> Samples:
    return unpack(packed, "float32").astype(np.float64).reshape(2, -1)
