"""How a person mapped a file of one layout the last time: the next file of that kind is read so by itself."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from tracebench.formats.mapping import Mapped
from tracebench.formats.table import Layout
from tracebench.store.pool import Connection
from tracebench.store.queries import packed, queries


@dataclass(frozen=True, slots=True)
class Profile:
    """Lanes by column, and the interval that was told where the file tells none."""

    mapping: tuple[Mapped, ...]
    interval_s: float | None


def key_of(layout: Layout) -> str:
    """What files that one scope writes in one way have in common: the format and the heads of the columns."""
    columns = [(c.name, c.unit) for c in layout.columns]
    told = (layout.format, layout.delimiter, layout.decimal, layout.time_position, columns)
    return hashlib.blake2b(repr(told).encode(), digest_size=16).hexdigest()


def of(conn: Connection, owner_id: int, layout: Layout, circuit: str) -> Profile | None:
    """How such a file was mapped to the circuit, or None."""
    row = queries.inbox.profile(conn, owner_id=owner_id, layout=key_of(layout), circuit=circuit)
    if row is None:
        return None
    lanes = (Mapped(m["position"], m["lane"], m["factor"]) for m in json.loads(row["mapping"]))
    return Profile(tuple(lanes), row["interval_s"])


def keep(
    conn: Connection,
    owner_id: int,
    layout: Layout,
    circuit: str,
    mapping: Sequence[Mapping[str, Any]],
    interval_s: float | None,
    at: datetime,
) -> None:
    """Remember a mapping that was used."""
    lanes = packed([{key: m[key] for key in ("position", "lane", "factor")} for m in mapping])
    queries.inbox.keep_profile(
        conn,
        owner_id=owner_id,
        layout=key_of(layout),
        circuit=circuit,
        mapping=lanes,
        interval_s=interval_s,
        at=at,
    )
