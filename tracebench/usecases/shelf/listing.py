"""What the shelf lists: a page of references by words and filters, and versions that a card may take."""

from __future__ import annotations

import json
import re
from collections.abc import Mapping
from datetime import datetime
from typing import Any, cast

from tracebench.core.miniature import as_text
from tracebench.store import captures as store
from tracebench.store.pool import Connection
from tracebench.store.queries import queries, unpacked
from tracebench.usecases.people.person import Person
from tracebench.usecases.shelf.values import (
    Offered,
    ShelfItem,
    ShelfPage,
)

STOPWORDS = frozenset(
    {"about", "are", "com", "for", "from", "how", "that", "the", "this", "und", "was", "what", "when", "where"}
    | {"who", "will", "with", "www"}
)
"""Of MariaDB's index of words: what it leaves out cannot be asked of it (INNODB_FT_DEFAULT_STOPWORD)."""


PAGE = 30


MOST_OFFERED = 200


LEAST_LETTERS = 3
"""Shorter words, and figures such as 1.6, are not in the index of words: they are looked for in the text itself, in the
order they were typed."""


def listed(
    conn: Connection,
    person: Person,
    words: str = "",
    circuit: str = "",
    state: str = "",
    call: str = "",
    collection: str = "",
    after: int = 0,
    size: int = PAGE,
) -> ShelfPage:
    """A page of the references in the person's reach, newest change first, and how many there are of its kind."""
    person.must_be("instructor")
    asked = {"person_id": person.id, "circuit": circuit, "state": state, "call_said": call}
    asked |= {"collection": collection, **_search(conn, words)}
    rows: list[dict[str, Any]] = json.loads(queries.shelf.on_shelf(conn, **asked, size=size, after_rows=after) or "[]")
    # A page that is not full is the last one: how many there are is known.
    total = after + len(rows) if 0 < len(rows) < size else queries.shelf.count_on_shelf(conn, **asked)
    return {"total": int(total), "items": [_listed(conn, row) for row in rows]}


LOOKED_AT, COMMON = 200, 60
"""A word that so many of the newest references have is common: the index of words would answer with a great part of the
shelf, and take twice as long as reading them."""


def _search(conn: Connection, words: str) -> dict[str, str]:
    """Every word must be there, at least as a beginning."""
    found = re.findall(r"[^\W_]+(?:\.[^\W_]+)*", words.lower())[:12]
    long = [w for w in found if len(w) >= LEAST_LETTERS and "." not in w and w not in STOPWORDS]
    short = [w for w in found if len(w) < LEAST_LETTERS or "." in w]
    alone = rf"\b{long[0]}" if len(long) == 1 else ""
    beginnings = alone or r"(?s)\A" + "".join(rf"(?=.*\b{word})" for word in long)
    common = long and queries.shelf.newest_with(conn, beginnings=beginnings, most=LOOKED_AT) >= COMMON
    return {
        "search": "" if common else " ".join(f"+{word}*" for word in long),
        "beginnings": beginnings if common else "",
        "like_words": f"%{'%'.join(short)}%" if short else "",
    }


def _listed(conn: Connection, row: Mapping[str, Any]) -> ShelfItem:
    picture = row["picture"] or as_text(store.picture_of(conn, row["capture_id"]))
    changed_at = datetime.fromisoformat(row["changed_at"])
    return cast(ShelfItem, {**row, **row["listing"], "changed_at": changed_at, "picture": picture})


def offered(conn: Connection, person: Person, circuit: str, version_id: int) -> list[Offered]:
    """Published versions that a card of a circuit may take, the one it has first."""
    person.must_be("instructor")
    rows = queries.shelf.offered(conn, person_id=person.id, circuit=circuit, version_id=version_id, size=MOST_OFFERED)
    return [cast(Offered, unpacked(row, "options")) for row in rows]
