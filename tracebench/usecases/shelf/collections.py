"""Collections: references under a name that instructors share."""

from __future__ import annotations

from collections.abc import Sequence

from tracebench.core.errors import BadOption
from tracebench.store.pool import Connection
from tracebench.store.queries import queries
from tracebench.usecases.people.person import Person
from tracebench.usecases.shelf import references
from tracebench.usecases.shelf.values import Collection


def names(conn: Connection, person: Person) -> list[Collection]:
    """Collections of what the person reaches, with how many are in each."""
    person.must_be("instructor")
    rows = queries.shelf.collections(conn, person_id=person.id)
    return [{"name": row["name"], "items": row["items"]} for row in rows]


def collect(conn: Connection, person: Person, name: str, ids: Sequence[int], inside: bool) -> None:
    """Put references that the person sees into a collection, or take them out. Raises BadOption, NotFound."""
    name = " ".join(name.split())
    if not 1 <= len(name) <= 60:
        raise BadOption("collection: a name of 1 to 60 characters")
    for reference_id in ids:
        references.work_on(conn, person, reference_id)
        change = queries.shelf.collect if inside else queries.shelf.take_out
        change(conn, name=name, reference_id=reference_id)
