"""What a card comes to before it is published: sat by the tool, with typical mistakes, and without looking."""

from __future__ import annotations

import hashlib
from datetime import datetime
from typing import TypedDict

from tracebench.bench.sources import source as trainer_source
from tracebench.bench.varied import varied
from tracebench.core import ENGINE_VERSION
from tracebench.core.answer_rows import Span
from tracebench.core.capture import Capture
from tracebench.core.cards.card import Card
from tracebench.core.cards.step import FIRST
from tracebench.core.grading.attempt import Taken, measured_under
from tracebench.core.grading.blind import STRATEGIES, Around, floor_of
from tracebench.core.grading.mistakes import own_score
from tracebench.core.grading.result import ResultRow
from tracebench.core.strip_picture import lane_scale, trace_points
from tracebench.store import captures as store
from tracebench.store.pool import Begin, Connection
from tracebench.store.queries import queries
from tracebench.usecases.cards import job_cards
from tracebench.usecases.errors import Conflict, NotFound
from tracebench.usecases.jobs import queue
from tracebench.usecases.people.person import Person
from tracebench.usecases.shelf import recordings, versions
from tracebench.usecases.sitting.rows import card_of

SEED = 7


CHECK = "check"
"""The kind of job that sits a card."""

MEASURED, PLAYED_BLIND = 0.4, 0.8
"""Parts of the work that are done when the capture is measured, and when the blind strategies have sat it."""


class BlindShare(TypedDict):
    """What part of the points for reading a strategy earns that does not look at the trace."""

    key: str
    title: str
    share: float


class MistakeCost(TypedDict):
    key: str
    title: str
    cost: float
    where: list[str]


class SatByTheTool(TypedDict):
    """The card sat by the tool, rightly and with each typical mistake."""

    earned: float
    points: float
    results: list[ResultRow]
    left_out: list[str]
    mistakes: list[MistakeCost]


class DrawnLane(TypedDict):
    """Least and most of each column of a lane."""

    name: str
    unit: str
    bottom: float
    top: float
    low: list[float]
    high: list[float]


class Drawn(Span):
    lanes: list[DrawnLane]


class Check(TypedDict):
    """What a card comes to; `on` says on which capture, None where there is none to play it on yet."""

    on: str | None
    strategies: list[BlindShare]
    own: SatByTheTool | None
    trace: Drawn | None


class Asked(TypedDict):
    """What a card comes to, or the job that works it out, or neither where there is no capture to play it on yet."""

    job: queue.Job | None
    check: Check | None


def ask(conn: Connection, person: Person, card_id: int, at: datetime) -> Asked:
    """What a card as it was last kept comes to: at once where that was worked out before, else by a job."""
    text = job_cards.document_of(conn, person, card_id)
    about = _about(card_id, person, text)
    job = queue.asked(conn, person, CHECK, about, {"card_id": card_id, "owner_id": person.id, "about": about}, at)
    # What the card came to before it was changed is asked for by nobody any more.
    queries.jobs.forget(conn, kind=CHECK, owner_id=person.id, like=f"{CHECK}:{card_id}:%", about=about)
    return {"job": None, "check": job["result"]} if job["state"] == "done" else {"job": job, "check": None}


def _about(card_id: int, person: Person, text: str) -> str:
    """The job's name: what the card and the engine are. A reference's version never changes."""
    told = hashlib.blake2b(f"{ENGINE_VERSION} {text}".encode(), digest_size=16).hexdigest()
    return f"{CHECK}:{card_id}:{person.id}:{told}"


def work_check_out(begin: Begin, payload: queue.Payload, at: datetime) -> queue.Keep:
    """The job."""
    with begin() as conn:
        owner = queries.people.by_id(conn, person_id=payload["owner_id"])
    if owner is None:
        raise NotFound("whoever asked is not here any more")
    person = Person(owner["id"], owner["sign_in"], owner["name"], owner["role"], 0)
    with begin() as conn:
        text = job_cards.document_of(conn, person, payload["card_id"])
        if _about(payload["card_id"], person, text) != payload["about"]:
            raise Conflict("the card was changed meanwhile; it is looked at anew")
        card = card_of(text)
        reference = _reference(conn, card)
    told = _check(card, reference)
    return lambda _: told


def _check(card: Card, reference: Capture | None) -> Check:
    """What a card comes to before it is published, on a capture such as it asks for.

    The tool sits it rightly and with each typical mistake; blind strategies sit it too, and earn their part of the
    points for reading the trace. A trainer's card is played on a recording with its own part, a vehicle's on its
    reference, one from the shelf on what it gives; `on` says which, and is None where there is no capture to play it
    on yet.
    """
    by_trainer = card.first.source.kind == "trainer"
    on = "trainer" if by_trainer else "given" if card.first.source.given else "reference"
    capture = capture_like(card) if by_trainer else reference
    if capture is None:
        return {"on": None, "strategies": [], "own": None, "trace": None}
    taken = {FIRST: Taken(measured_under(card, FIRST, capture), card.ground_wanted(FIRST))}
    queue.report(MEASURED)
    floors = floor_of(card, taken, around(card, capture))
    queue.report(PLAYED_BLIND)
    own = own_score(card, taken)
    return {
        "on": on,
        "strategies": [
            {"key": s.key, "title": s.title, "share": round(floors[s.key], 3)} for s in STRATEGIES if s.key in floors
        ],
        "own": {
            "earned": own.right["earned"],
            "points": own.right["points"],
            "results": own.right["results"],
            "left_out": list(own.left_out),
            "mistakes": [
                {"key": m.key, "title": m.title, "cost": m.cost, "where": list(m.where)} for m in own.mistakes
            ],
        },
        "trace": _drawn(capture),
    }


COLUMNS = 900


def _drawn(capture: Capture) -> Drawn:
    """A capture as the card maker draws it: least and most of each column of each lane."""
    lanes: list[DrawnLane] = []
    for lane in capture.lanes.values():
        low, high = trace_points(lane.samples, COLUMNS)
        bottom, top = lane_scale(float(low.min()), float(high.max()))
        lanes.append(
            {
                "name": lane.name,
                "unit": lane.unit,
                "bottom": bottom,
                "top": top,
                "low": [round(float(v), 5) for v in low],
                "high": [round(float(v), 5) for v in high],
            }
        )
    return {"from": capture.start_s, "to": capture.start_s + capture.duration_s, "lanes": lanes}


def around(card: Card, capture: Capture) -> Around:
    """What somebody has of a card who does not look at the trace: its extremes, and on the trainer a neighbour."""
    extremes = {lane.name: (float(lane.samples.min()), float(lane.samples.max())) for lane in capture.lanes.values()}
    if card.first.source.kind != "trainer":
        return Around(extremes)
    theirs = capture_like(card, place=1)
    return Around(extremes, {FIRST: Taken(measured_under(card, FIRST, theirs), card.ground_wanted(FIRST))})


def capture_like(card: Card, place: int = 0) -> Capture:
    """What the trainer records for a card with the settings that it proposes, for whoever has that place."""
    made_by = trainer_source(card.first.circuit.code)
    settings: recordings.TrainerSettings = {
        "range_v": made_by.range_v,
        "duration_s": made_by.manoeuvres[0].duration_s,
        "rate_hz": made_by.rate_hz,
        "ground": "sensor ground",
    }
    part = card.trainer_part()
    if card.first.source.varied and place:
        part = varied(made_by, part, place, card.first.source.instead)
    return recordings.made_on_trainer(card.first.circuit.code, part, settings, SEED + place).capture


def _reference(conn: Connection, card: Card) -> Capture | None:
    source = card.first.source
    version_id = source.version_id if source.given else card.first.reference_version_id
    version = versions.version_of(conn, version_id) if version_id is not None else None
    return store.load(conn, version["capture_id"]) if version is not None else None
