"""The corridor that sound ones of a design stay within, laid on a capture."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from typing import TypedDict

import numpy as np

from tracebench.core.answer import Answer
from tracebench.core.answer_rows import AnswerWithEvents, Span
from tracebench.core.circuits import circuit as circuit_of
from tracebench.core.shape.corridor import FEWEST, Corridor, corridor, laid_on, stated
from tracebench.core.shape.outline import COLUMNS, EVENT, Outline
from tracebench.store import outlines as kept
from tracebench.store.pool import Begin, Connection
from tracebench.store.queries import queries
from tracebench.usecases.errors import NotFound
from tracebench.usecases.people.person import Person
from tracebench.usecases.shelf import outlining, references, versions

MOST_IN_FLEET = 24
MOST_SWEEPS_EACH = 2
"""A corridor is made of so many captures and sweeps of each at the most: more take seconds and hardly move it."""

MOST_KEPT = 512


class Piece(Span):
    """The corridor along one stretch, in even parts of it, and stretches that leave it."""

    lane: str
    name: str
    low: list[float]
    high: list[float]
    outside: list[list[float]]
    of_fleet: bool


class Laid(TypedDict):
    """Corridors on a capture's own time; `coverage` is the part of further sound ones that should lie inside."""

    pieces: list[Piece]
    captures: int
    coverage: float | None
    inside: int
    words: str


def of_reference(begin: Begin, person: Person, reference_id: int) -> Laid:
    """The corridor of a reference's fleet, laid on its own capture; round itself alone where the fleet is too small."""
    sheet = references.one(begin, person, reference_id)
    fleet = _fleet(begin, person.id, sheet["circuit"], sheet["document"]["provenance"]["part"].strip())
    with begin() as conn:
        own = outlining.outlined(conn, sheet["circuit"], sheet["capture_id"], sheet["answer"])
        return _laid(conn, sheet["circuit"], sheet["capture_id"], sheet["answer"], own, _corridors(fleet, own))


def beneath(begin: Begin, version_id: int | None, capture_id: int | None, measured: Answer) -> Laid:
    """Everyone sees the fleet that the reference's author sees: the same corridor at the desk and in the feedback."""
    with begin() as conn:
        version = versions.version_of(conn, version_id) if version_id else None
        author = version and queries.shelf.by_id(conn, reference_id=version["reference_id"], person_id=0)
    if version is None or author is None or capture_id is None:
        raise NotFound("this card has no reference whose corridor its trace could be laid on")
    circuit, answer = version["circuit"], references.as_sent(measured)
    fleet = _fleet(begin, author["author_id"], circuit, version["document"]["provenance"]["part"].strip())
    with begin() as conn:
        sound = version["answer"]["call"] == "sound"
        bands = _corridors(
            fleet, outlining.outlined(conn, circuit, version["capture_id"], version["answer"]) if sound else ()
        )
        own = outlining.outlined(conn, circuit, capture_id, answer)
        return _laid(conn, circuit, capture_id, answer, own, bands)


Fleet = Mapping[int, Sequence[Outline]]
"""Outlines of each capture, by the published version that it is of."""

_made: dict[tuple[tuple[int, ...], str, str], Corridor] = {}
"""Corridors made in this process, by versions, lane and stretch: published versions never change."""


def _fleet(begin: Begin, person_id: int, circuit: str, part: str) -> Fleet:
    if not part:
        return {}
    outlining.outline_all(begin, person_id, circuit)
    of: dict[int, list[Outline]] = defaultdict(list)
    version: dict[str, int] = {}
    with begin() as conn:
        for row in queries.shapes.of_fleet(conn, person_id=person_id, circuit=circuit, part=part):
            # The same samples brought in twice tell nothing more.
            name = str(row["samples_of"])
            if version.setdefault(name, row["version_id"]) == row["version_id"] and len(version) <= MOST_IN_FLEET:
                of[row["version_id"]].append(kept.from_row(row, row["lane"], row["name"]))
    return of


Bands = Mapping[tuple[str, str, int], Corridor]
"""Corridors by lane, stretch and sweep; 0 is that of all sweeps."""


def _corridors(fleet: Fleet, own: Sequence[Outline]) -> Bands:
    """Of the fleet where it is large enough, else stated round each of a capture's own stretches."""
    made: dict[tuple[str, str, int], Corridor] = {}
    by_stretch: dict[tuple[str, str], dict[int, list[Outline]]] = defaultdict(dict)
    for version_id, outlined in fleet.items():
        sweeps: dict[tuple[str, str], list[Outline]] = defaultdict(list)
        for one in outlined:
            sweeps[one.lane, one.name].append(one)
        for key, ones in sweeps.items():
            by_stretch[key][version_id] = ones[:MOST_SWEEPS_EACH]
    for (lane, name), members in by_stretch.items():
        if len(members) >= FEWEST:
            made[lane, name, 0] = _corridor_of(lane, name, members)
    for one in own:
        if (one.lane, one.name, 0) not in made:
            made[one.lane, one.name, one.sweep] = stated(one)
    return made


def _corridor_of(lane: str, name: str, members: Mapping[int, Sequence[Outline]]) -> Corridor:
    key = tuple(sorted(members)), lane, name
    if key not in _made:
        if len(_made) >= MOST_KEPT:
            _made.clear()
        _made[key] = corridor([members[version_id] for version_id in key[0]])
    return _made[key]


def _band(bands: Bands, one: Outline) -> Corridor | None:
    """The corridor that a stretch is held against: of the fleet, of the same sweep, or of the first."""
    return next((bands[one.lane, one.name, n] for n in (0, one.sweep, 1) if (one.lane, one.name, n) in bands), None)


def _laid(
    conn: Connection,
    circuit: str,
    capture_id: int,
    answer: AnswerWithEvents,
    own: Sequence[Outline],
    bands: Bands,
) -> Laid:
    """Corridors on a capture's own time. Where it has events, these are what is laid over; else its phases."""
    if not own:
        return {"pieces": [], "captures": 0, "coverage": None, "inside": 0, "words": _words([], [])}
    main = circuit_of(circuit).main_lane([one.lane for one in own])
    events = outlining.event_outlines(conn, main, capture_id, answer)
    of_events = {main} if any(_band(bands, one) for one in events) else set()
    targets = [one for one in own if one.name != EVENT and one.lane not in of_events]
    held = [(one, _band(bands, one)) for one in (*targets, *(events if of_events else ()))]
    pieces = [_piece(band, one) for one, band in held if band is not None]
    used = [band for _, band in held if band is not None]
    fleets = [band for band in used if band.captures > 1]
    return {
        "pieces": pieces,
        "captures": max((band.captures for band in fleets), default=1 if used else 0),
        "coverage": min((band.coverage for band in fleets if band.coverage is not None), default=None),
        "inside": min((band.inside for band in fleets), default=0),
        "words": _words(fleets, used),
    }


def _words(fleets: Sequence[Corridor], used: Sequence[Corridor]) -> str:
    if not used:
        return "There is no corridor: nothing of this trace matches a sound reference of the same design."
    if not fleets:
        return (
            "Stated tolerances round a single capture (5 % of its range, instants shifted by 1 %): it says nothing of "
            f"other sound parts. With {FEWEST} sound references of the same design it becomes a corridor of the fleet."
        )
    least = min(fleets, key=lambda band: band.captures)
    return (
        f"Of {least.captures} sound references of the same design. Each left out in turn, at least {least.inside} of "
        f"{least.captures} lie wholly inside; another sound one should with about "
        f"{100 * (least.coverage or 0):.0f} % probability."
    )


def _piece(band: Corridor, one: Outline) -> Piece:
    laid = laid_on(band, one)
    step = (one.to_s - one.from_s) / COLUMNS
    edges = np.flatnonzero(np.diff(np.concatenate([[False], laid.outside, [False]]).astype(int)))
    return {
        "lane": one.lane,
        "name": one.name,
        "from": one.from_s,
        "to": one.to_s,
        "low": [round(float(v), 5) for v in laid.low],
        "high": [round(float(v), 5) for v in laid.high],
        "outside": [
            [one.from_s + step * float(a), one.from_s + step * float(b)]
            for a, b in zip(edges[::2], edges[1::2], strict=True)
        ],
        "of_fleet": band.captures > 1,
    }
