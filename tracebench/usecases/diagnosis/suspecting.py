"""The suspects of a case in words, and what there is to choose from when a case is written."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TypedDict

from tracebench.core.circuits import CIRCUITS
from tracebench.core.diagnosis import suspects as said_by_core
from tracebench.core.diagnosis import vehicle as of
from tracebench.core.diagnosis.case import CONDITIONS, WHENS
from tracebench.core.diagnosis.causes import Cause, vehicle_causes
from tracebench.core.diagnosis.documents import case_from
from tracebench.core.diagnosis.offers import RECORD_CODES, RECORD_MIN, vehicle_offers
from tracebench.core.diagnosis.path import spent
from tracebench.core.diagnosis.suspects import Suspicion, of_case
from tracebench.core.diagnosis.symptoms import SYMPTOMS
from tracebench.core.diagnosis.worth import Next
from tracebench.core.records.kinds import KINDS
from tracebench.usecases.people.person import Person


class ChoiceRow(TypedDict):
    key: str
    title: str


class ChoicesRow(TypedDict):
    """What a case is written with."""

    fuels: list[str]
    ignitions: list[str]
    injections: list[str]
    throttles: list[str]
    load_sensors: list[str]
    oxygens: list[str]
    chargings: list[str]
    symptoms: list[str]
    whens: list[str]
    conditions: list[str]
    tests: list[ChoiceRow]


class SuspectRow(TypedDict):
    cause: str
    title: str
    place: str
    group: str
    probability: float
    ruled_out: bool
    speaks_for: list[int]
    speaks_against: list[int]


class NextRow(TypedDict):
    test: str
    title: str
    at: str | None
    what: str
    conditions: list[str]
    minutes: float
    bits: float
    bits_per_minute: float


class SuspicionRow(TypedDict):
    """What a case's evidence says."""

    suspects: list[SuspectRow]
    pairs: list[said_by_core.PairRow]
    next: list[NextRow]
    places: dict[str, list[str]]
    minutes: list[float]
    """Of each piece of evidence."""
    unproven: list[str]
    supported: bool
    why_not: list[str]


def choices(person: Person) -> ChoicesRow:
    """What a case is written with. For those who teach."""
    person.must_be("instructor")
    return ChoicesRow(
        fuels=list(of.FUELS),
        ignitions=list(of.IGNITIONS),
        injections=list(of.INJECTIONS),
        throttles=list(of.THROTTLES),
        load_sensors=list(of.LOAD_SENSORS),
        oxygens=list(of.OXYGENS),
        chargings=list(of.CHARGINGS),
        symptoms=list(SYMPTOMS),
        whens=list(WHENS),
        conditions=list(CONDITIONS),
        tests=[ChoiceRow(key=key, title=test_title(key)) for key in (*CIRCUITS, *RECORD_CODES)],
    )


def test_title(test: str) -> str:
    return CIRCUITS[test].title if test in CIRCUITS else KINDS[test].title


def suspects(person: Person, document: Mapping[str, object]) -> SuspicionRow:
    """Who is suspected in a case. For those who teach. Raises BadCase."""
    person.must_be("instructor")
    return in_words(of_case(case_from(document)))


def in_words(found: Suspicion) -> SuspicionRow:
    """Suspects and tests with their titles, and the places that this vehicle offers each test at."""
    said = found.as_json()
    vehicle = found.case.vehicle
    causes = {c.id: c for c in vehicle_causes(vehicle)}
    places: dict[str, list[str]] = {}
    for offer in vehicle_offers(vehicle):
        at = places.setdefault(offer.test, [])
        if offer.place.text and offer.place.text not in at:
            at.append(offer.place.text)
    for kind in RECORD_MIN:
        places.setdefault(kind, [])
    return SuspicionRow(
        suspects=[_suspect(row, causes) for row in said["suspects"]],
        pairs=said["pairs"],
        next=[_next(n) for n in found.next],
        places=places,
        minutes=list(spent(found.case)),
        unproven=said["unproven"],
        supported=said["supported"],
        why_not=[_named(why, causes) for why in said["why_not"]],
    )


def _suspect(row: said_by_core.SuspectRow, causes: Mapping[str, Cause]) -> SuspectRow:
    cause = causes[str(row["cause"])]
    return SuspectRow(
        cause=cause.id,
        title=cause.kind.title,
        place=cause.place,
        group=cause.kind.group,
        probability=row["probability"],
        ruled_out=row["ruled_out"],
        speaks_for=row["for"],
        speaks_against=row["against"],
    )


def _named(why: str, causes: Mapping[str, Cause]) -> str:
    """A reason with the cause's title in place of its id."""
    name, _, rest = why.partition(" ")
    cause = causes.get(name)
    if cause is None:
        return why
    return f"{cause.kind.title}{f' ({cause.place})' if cause.place else ''} {rest}"


def _next(one: Next) -> NextRow:
    return NextRow(
        test=one.offer.test,
        title=test_title(one.offer.test),
        at=one.offer.place.text or None,
        what=one.offer.what,
        conditions=list(one.conditions),
        minutes=one.minutes,
        bits=one.bits,
        bits_per_minute=one.bits_per_minute,
    )
