"""Outlines of published references in MariaDB: what is looked through when shapes are compared."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

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
    both = unpack(row["packed"], "float32").astype(np.float64)
    half = both.size // 2
    return Outline(name, row["sweep"], lane, row["from_s"], row["to_s"], both[:half], both[half:])
