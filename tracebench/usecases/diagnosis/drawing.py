"""Cases drawn on the trainer: a vehicle with a cause, and the tests that are done on it."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from random import Random
from typing import TypedDict

from tracebench.bench.trainer import Recording
from tracebench.bench.whole.faults import on_the_trainer
from tracebench.bench.whole.vehicle import WholeVehicle
from tracebench.core.answer_rows import AnswerRow
from tracebench.core.circuits import measure
from tracebench.core.diagnosis.causes import vehicle_causes
from tracebench.core.diagnosis.documents import case_from, vehicle_from
from tracebench.core.diagnosis.offers import Offer, vehicle_offers
from tracebench.core.diagnosis.posterior import asked_of
from tracebench.core.diagnosis.symptoms import GROUPS_OF, makes
from tracebench.core.errors import BadCase
from tracebench.store.pool import Begin
from tracebench.usecases.people.person import Person
from tracebench.usecases.shelf import captures, recordings


class DrawnRow(TypedDict):
    """A cause drawn for a vehicle, and the complaint that it makes."""

    cause: str
    title: str
    symptoms: list[str]
    when: list[str]


class DoneRow(TypedDict):
    """One test done on the trainer, as evidence of a case: an answer or rows."""

    test: str
    at: str | None
    conditions: list[str]
    capture_id: int | None
    """The capture as it was kept, its owner's to look at and to give up."""
    answer: AnswerRow | None
    rows: list[dict[str, str]] | None


def drawn(person: Person, document: Mapping[str, object], seed: int) -> DrawnRow:
    """A cause for this vehicle, each group as likely as the others, and a complaint. For those who teach."""
    person.must_be("instructor")
    rng = Random(seed)  # noqa: S311
    vehicle = vehicle_from(document)
    causes = [c for c in vehicle_causes(vehicle) if on_the_trainer(c, vehicle)]
    group = rng.choice(sorted({c.kind.group for c in causes}))
    cause = rng.choice([c for c in causes if c.kind.group == group])
    symptom = rng.choice([s for s in GROUPS_OF if makes(cause, s)])
    when = [] if cause.kind.condition == "always" else [cause.kind.condition]
    return DrawnRow(cause=cause.id, title=cause.kind.title, symptoms=[symptom], when=when)


def done(
    begin: Begin,
    person: Person,
    at_instant: datetime,
    document: Mapping[str, object],
    cause_id: str,
    seed: int,
    test: str,
    at: str | None,
    what: str,
    conditions: list[str],
) -> DoneRow:
    """Do one test on the trainer's vehicle with that cause. For those who teach.

    Raises BadCase, BadOption or NoRoom.
    """
    person.must_be("instructor")
    case = case_from(document)
    cause = next((c for c in vehicle_causes(case.vehicle) if c.id == cause_id), None)
    if cause is None:
        raise BadCase(f"cause: this vehicle has no cause {cause_id!r}")
    offer = _offer(vehicle_offers(case.vehicle), test, at, what)
    under = list(dict.fromkeys([*conditions, *asked_of(test, frozenset({"idle"}))]))
    on = WholeVehicle(case.vehicle, (cause,), seed, case.symptoms, case.named)
    taken = on.do(offer, under, len(case.evidence))
    answer, capture_id = None, None
    if taken.capture is not None:
        answer = measure(taken.capture, test, options=dict(taken.options), limits=taken.limits).as_json()
        made = recordings.made_of(test, Recording(taken.capture, {}), {"case": {"cause": cause_id, "seed": seed}})
        with begin() as conn:
            capture_id = captures.keep(conn, person, made, at_instant)
    return DoneRow(
        test=test,
        at=offer.place.text or None,
        conditions=under,
        capture_id=capture_id,
        answer=answer,
        rows=None if answer is not None else [dict(row) for row in taken.rows],
    )


def _offer(offers: tuple[Offer, ...], test: str, at: str | None, what: str) -> Offer:
    for offer in offers:
        if offer.test == test and (offer.place.text or None) == (at or None) and offer.what in (what, ""):
            return offer
    place = f" at {at}" if at else ""
    raise BadCase(f"test: this vehicle offers no {test}{place}")
