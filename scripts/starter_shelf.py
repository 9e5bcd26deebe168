"""Make tracebench/starter/shelf.zip, the starter shelf, from the demo's references: python -m scripts.starter_shelf

A sound one and a faulty one of every circuit, without vehicles and people of the demo, marked as simulated.
"""

from __future__ import annotations

import tempfile
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from tests.support.database import fresh_settings, stop_shared
from tracebench.core.circuits import CIRCUITS
from tracebench.demo import cast, seed
from tracebench.store.pool import Pool
from tracebench.store.queries import queries
from tracebench.usecases.people.person import Person
from tracebench.usecases.shelf import exchange, listing, references

FAULTY = 1
NOTE = "Made by the trainer: a simulation, no vehicle. "
MADE = datetime(2026, 1, 1, tzinfo=UTC).replace(tzinfo=None)


def chosen(items: list[dict[str, Any]]) -> list[int]:
    """Ids of a sound reference and the first faulty ones of each circuit."""
    ids: list[int] = []
    for code in CIRCUITS:
        own = sorted((i for i in items if i["circuit"] == code and i["call"]), key=lambda i: i["id"])
        # A module that passes cold on the bench is not shown to be sound, and is as near to it as a bench comes.
        sound = [i["id"] for call in ("sound", "inconclusive") for i in own if i["call"] == call]
        ids += sound[:1] + [i["id"] for i in own if i["call"] == "faulty"][:FAULTY]
    return ids


def main() -> None:
    settings = fresh_settings(Path(tempfile.mkdtemp()))
    pool = Pool(settings)
    seed.load(pool, settings.uploads, MADE)
    with pool.transaction() as conn:
        row = queries.people.by_sign_in(conn, sign_in=cast.INSTRUCTOR[0])
        person = Person(row["id"], row["sign_in"], row["name"], row["role"], 1)
        ids = chosen(listing.listed(conn, person, size=200)["items"])
    for reference_id in ids:
        sheet = references.one(pool.transaction, person, reference_id)
        document = sheet["document"]
        document["notes"] = NOTE + document["notes"]
        document["provenance"] |= {"vehicle": "", "engine": "", "taken_by": "", "taken_on": "", "probe": "simulated"}
        references.save(pool.transaction, person, reference_id, sheet["revision"], sheet["title"], document, MADE)
        references.publish(pool.transaction, person, reference_id, MADE)
    with pool.transaction() as conn, conn.cursor() as cursor:
        # One version, by nobody of the demo.
        cursor.execute("UPDATE person SET name = 'The trainer'")
        marks = ", ".join(["%s"] * len(ids))
        cursor.execute("SET FOREIGN_KEY_CHECKS = 0")
        cursor.execute(f"DELETE FROM reference_version WHERE version = 1 AND reference_id IN ({marks})", ids)
        cursor.execute("UPDATE reference_version SET version = 1 WHERE version = 2")
    exchange.STARTER.parent.mkdir(exist_ok=True)
    exchange.STARTER.unlink(missing_ok=True)
    count = exchange.export(pool.transaction, person, ids, exchange.STARTER, "parquet", MADE)
    print(f"{count} references, {exchange.STARTER.stat().st_size / 1e6:.1f} MB")
    pool.close()
    stop_shared()


if __name__ == "__main__":
    main()
