"""Shapes of references: the corridor of a fleet, and references that look like a stretch of trace."""

from __future__ import annotations

import json
from collections import defaultdict
from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np
import pymysql

from tracebench.core.answer import Answer, Event, Phase
from tracebench.core.circuits import circuit as circuit_of
from tracebench.core.errors import BadOption
from tracebench.core.miniature import as_text, pictured
from tracebench.core.parade import laid_over
from tracebench.core.shape.alike import apart, part_of
from tracebench.core.shape.corridor import FEWEST, Corridor, corridor, laid_on, stated
from tracebench.core.shape.outline import COLUMNS, EVENT, MOST_SWEEPS, Outline, columns, of_stretch, outlines
from tracebench.store import captures as store
from tracebench.store import outlines as kept
from tracebench.store.pool import Begin, Connection, is_full
from tracebench.store.queries import queries
from tracebench.usecases.errors import NotFound
from tracebench.usecases.marking import grading, second_marking
from tracebench.usecases.people.person import Person
from tracebench.usecases.shelf import references as shelf
from tracebench.usecases.sitting import sittings
from tracebench.usecases.sitting.rows import Sitting

Json = dict[str, Any]

AT_ONCE = 300
"""So many references that were never looked at are outlined while somebody waits; the rest when asked again."""

WHOLE = "record"
MOST_EVENTS_SHOWN = 24
MOST_IN_FLEET = 24
MOST_SWEEPS_EACH = 2
"""A corridor is made of so many captures and sweeps of each at the most: more take seconds and hardly move it."""

MOST_KEPT = 512
MOST_FOUND = 12


def outline_all(begin: Begin, person_id: int, circuit: str) -> int:
    """Outline what is published of a circuit in reach and was not yet; how many are left for the next time."""
    with begin() as conn:
        rows = list(queries.shapes.not_outlined(conn, person_id=person_id, circuit=circuit, size=AT_ONCE + 1))
    for row in rows[:AT_ONCE]:
        try:
            with begin() as conn:
                kept.keep(conn, row["id"], _outlined(conn, circuit, row["capture_id"], json.loads(row["answer"])))
        except pymysql.err.OperationalError as problem:
            if not is_full(problem):
                raise
            # On a full disk what was kept before is compared with.
            return len(rows)
    return max(0, len(rows) - AT_ONCE)


def _outlined(conn: Connection, circuit: str, capture_id: int, answer: Mapping[str, Any]) -> list[Outline]:
    """Outlines of a capture's lanes, from what was measured on it."""
    head = store.head(conn, capture_id)
    if head is None:
        raise NotFound("the capture is gone")
    kind, recorded = circuit_of(circuit), [lane["lane"] for lane in head["lanes"]]
    main = kind.main_lane(recorded)
    phases, events = _phases(answer, head), _events(answer)
    axis = (head["samples"], head["interval_s"], head["start_s"])
    found = []
    for lane in (name for name in recorded if kind.lane(name).role != "sync"):
        read = store.reader(conn, capture_id, lane, head["samples"])
        found += outlines(lane, read, axis, phases, events if lane == main else ())
    return found


def _phases(answer: Mapping[str, Any], head: Mapping[str, Any]) -> list[Phase]:
    """What was found; of a record without phases and events, all of it."""
    if not answer["phases"] and not answer.get("events"):
        return [Phase(WHOLE, head["start_s"], head["start_s"] + head["samples"] * head["interval_s"])]
    return [Phase(p["name"], p["from"], p["to"], p["cycle"]) for p in answer["phases"]]


def _events(answer: Mapping[str, Any]) -> list[Event]:
    return [
        Event(e["number"], e["from"], e["to"], e["cylinder"], e["unusual"], e["by"]) for e in answer.get("events", [])
    ]


def corridor_of_reference(begin: Begin, person: Person, reference_id: int) -> Json:
    """The corridor of a reference's fleet, laid on its own capture; round itself alone where the fleet is too small."""
    sheet = shelf.one(begin, person, reference_id)
    fleet = _fleet(begin, person.id, sheet["circuit"], sheet["document"]["provenance"]["part"].strip())
    with begin() as conn:
        own = _outlined(conn, sheet["circuit"], sheet["capture_id"], sheet["answer"])
        return _laid(conn, sheet["circuit"], sheet["capture_id"], sheet["answer"], own, _corridors(fleet, own))


def corridor_of_marking(begin: Begin, person: Person, sitting_id: int) -> Json:
    """The corridor of the fleet of a card's reference, laid on what the learner captured."""
    with begin() as conn:
        sitting, measured = grading.events_of(conn, person, sitting_id)
    return _beneath(begin, sitting, measured)


def corridor_of_second(begin: Begin, person: Person, sitting_id: int) -> Json:
    """The same for the second marker, who sees no more than the trace and the reference."""
    with begin() as conn:
        sitting, measured = second_marking.events_of(conn, person, sitting_id)
    return _beneath(begin, sitting, measured)


def corridor_of_released(begin: Begin, person: Person, sitting_id: int) -> Json:
    """The same for the learner, once it is released."""
    with begin() as conn:
        sitting, measured = sittings.released_events(conn, person, sitting_id)
        if not sittings.in_course(conn, sitting):
            raise NotFound("references of a course are shown to those who are in it")
    return _beneath(begin, sitting, measured)


def _beneath(begin: Begin, sitting: Sitting, measured: Answer) -> Json:
    """Everyone sees the fleet that the reference's author sees: the same corridor at the desk and in the feedback."""
    version_id = sitting.card.first.reference_version_id
    with begin() as conn:
        version = shelf.version_of(conn, version_id) if version_id else None
        author = version and queries.shelf.by_id(conn, reference_id=version["reference_id"], person_id=0)
    if version is None or author is None or sitting.capture_id is None:
        raise NotFound("this card has no reference whose corridor its trace could be laid on")
    circuit, answer = version["circuit"], shelf.as_sent(measured)
    fleet = _fleet(begin, author["author_id"], circuit, version["document"]["provenance"]["part"].strip())
    with begin() as conn:
        sound = version["answer"]["call"] == "sound"
        bands = _corridors(fleet, _outlined(conn, circuit, version["capture_id"], version["answer"]) if sound else ())
        own = _outlined(conn, circuit, sitting.capture_id, answer)
        return _laid(conn, circuit, sitting.capture_id, answer, own, bands)


Fleet = Mapping[int, Sequence[Outline]]
"""Outlines of each capture, by the published version that it is of."""

_made: dict[tuple[tuple[int, ...], str, str], Corridor] = {}
"""Corridors made in this process, by versions, lane and stretch: published versions never change."""


def _fleet(begin: Begin, person_id: int, circuit: str, part: str) -> Fleet:
    if not part:
        return {}
    outline_all(begin, person_id, circuit)
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
    answer: Mapping[str, Any],
    own: Sequence[Outline],
    bands: Bands,
) -> Json:
    """Corridors on a capture's own time. Where it has events, these are what is laid over; else its phases."""
    if not own:
        return {"pieces": [], "captures": 0, "coverage": None, "inside": 0, "words": _words([], [])}
    main = circuit_of(circuit).main_lane([one.lane for one in own])
    events = _event_outlines(conn, main, capture_id, answer)
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


def _event_outlines(conn: Connection, lane: str, capture_id: int, answer: Mapping[str, Any]) -> list[Outline]:
    """Each shown event's own course, in seconds of the record."""
    events = _events(answer)
    head = store.head(conn, capture_id)
    if len(events) < 2 or head is None:
        return []
    read = store.reader(conn, capture_id, lane, head["samples"])
    made = laid_over(events, read, head["samples"], head["interval_s"], head["start_s"])
    out = []
    for course in made.courses[:MOST_EVENTS_SHOWN]:
        if np.isfinite(course.values).all():
            at = course.event.from_s
            low, high = columns(course.values)
            out.append(Outline(EVENT, course.event.number, lane, at + made.from_s, at + made.to_s, low, high))
    return out


def _piece(band: Corridor, one: Outline) -> Json:
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


def looks_like(begin: Begin, person: Person, reference_id: int, lane: str, from_s: float, to_s: float) -> Json:
    """Published references whose same phase looks most like a stretch of one, nearest first.

    Raises BadOption where the stretch lies in no phase, is too short or flat.
    """
    sheet = shelf.one(begin, person, reference_id)
    circuit = sheet["circuit"]
    left = outline_all(begin, person.id, circuit)
    with begin() as conn:
        asked = _stretch(conn, circuit, sheet["capture_id"], sheet["answer"], lane, (from_s, to_s))
        references, others = kept.alike(conn, person.id, circuit, lane, asked.name)
    part = slice(0, COLUMNS) if asked.name == EVENT else part_of(asked, from_s, to_s)
    # Sweeps of one reference, and itself, count once.
    far = apart(asked, others, part, (MOST_FOUND + 1) * MOST_SWEEPS)
    nearest: dict[int, int] = {}
    for k in np.argsort(far, kind="stable"):
        its = references[k]
        if np.isfinite(far[k]) and its not in {reference_id, *nearest} and len(nearest) < MOST_FOUND:
            nearest[its] = int(k)
    with begin() as conn:
        told = {row["id"]: row for row in queries.shapes.titles(conn, ids=json.dumps(list(nearest)))}
    return {
        "name": asked.name,
        "picture": as_text(pictured(asked.low[part], asked.high[part])),
        "looked_at": len(set(references)),
        "left": left,
        "found": [
            {
                **told[its],
                "apart": float(far[k]),
                "picture": as_text(pictured(others[k][0][part], others[k][1][part])),
            }
            for its, k in nearest.items()
            if its in told
        ],
    }


def _stretch(
    conn: Connection, circuit: str, capture_id: int, answer: Mapping[str, Any], lane: str, span: tuple[float, float]
) -> Outline:
    """What a stretch is a part of: an event that it lies in, of circuits that have them, else a phase."""
    head = store.head(conn, capture_id)
    if head is None or lane not in {row["lane"] for row in head["lanes"]}:
        raise NotFound(f"this capture has no lane {lane}")
    # Events are kept of the main lane alone.
    main = circuit_of(circuit).main_lane([row["lane"] for row in head["lanes"]])
    for one in _event_outlines(conn, lane, capture_id, answer) if lane == main else ():
        if one.from_s <= span[0] and span[1] <= one.to_s:
            return one
    middle = 0.5 * (span[0] + span[1])
    phase = next((p for p in _phases(answer, head) if p.from_s <= middle <= p.to_s), None)
    if phase is None:
        raise BadOption("this stretch lies in no phase: mark one that does, or give the phase its borders first")
    read = store.reader(conn, capture_id, lane, head["samples"])
    axis = (head["samples"], head["interval_s"], head["start_s"])
    own = of_stretch(phase.name, 1, lane, read, (phase.from_s, phase.to_s), axis)
    if own is None:
        raise BadOption("this phase has too few samples to look for its shape")
    return own
