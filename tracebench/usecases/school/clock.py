"""The machine's clock was set: what ends at an instant ends as much later or earlier, so that nobody loses a minute."""

from __future__ import annotations

from datetime import datetime

from tracebench.store.pool import Connection
from tracebench.store.queries import queries
from tracebench.usecases.school import trail


def was_set(conn: Connection, seconds: float, at: datetime) -> int:
    """Move along ends of open sittings, jobs that wait, and sessions; how many sittings that were."""
    count = queries.sittings.move_ends(conn, seconds=seconds)
    queries.jobs.move_along(conn, seconds=seconds)
    queries.people.move_sessions(conn, seconds=seconds)
    after = {"seconds": round(seconds), "sittings": count}
    trail.write(conn, None, "clock.set", ("school", 1), "the clock of the machine", at, before={}, after=after)
    return count
