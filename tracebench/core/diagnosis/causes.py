"""The causes that one vehicle can have: each kind at each of its places, with what it shows there."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from functools import lru_cache

from tracebench.core.diagnosis.kinds import KINDS
from tracebench.core.diagnosis.kinds.cause_kind import AIRFLOWS, ORDINARY, CauseKind, Shows, feed_off, on_every, shows
from tracebench.core.diagnosis.kinds.shared import LIFTED_AS, LOST_AS, PLACE_OF, SCANNED_AS
from tracebench.core.diagnosis.strengths import AT_TIMES, HARDLY, SURELY
from tracebench.core.diagnosis.vehicle import Vehicle


@dataclass(frozen=True, slots=True)
class Cause:
    """A cause with its place on one vehicle; `id` is the kind with `@place`."""

    kind: CauseKind
    place: str = ""
    cylinders: tuple[int, ...] = ()
    shows: tuple[Shows, ...] = field(default=(), repr=False)
    weight: float = ORDINARY

    @property
    def id(self) -> str:
        return f"{self.kind.id}@{self.place}" if self.place else self.kind.id

    @property
    def part(self) -> str:
        """The part or place that it concerns, as evidence and `renewed` name it."""
        if self.kind.id == "reference-dragged":
            return PLACE_OF[self.place.partition(":")[2]]
        return f"{self.kind.part}@{self.place}" if self.cylinders and self.place else self.kind.part

    @property
    def cure(self) -> str:
        """What is repaired: causes of one cure are cured together."""
        if self.kind.id == "reference-dragged":
            return PLACE_OF[self.place.partition(":")[2]]
        if self.kind.repair == "pedal-wires":
            return self.kind.repair
        at = f"@{self.place}" if self.cylinders and self.place and self.kind.repair != "controller" else ""
        return f"{self.kind.repair}{at}"

    @property
    def names_circuits(self) -> frozenset[str]:
        """Circuits of which a stored code speaks for it."""
        return frozenset(self.kind.circuits or (s.test for s in self.shows))


@lru_cache(maxsize=64)
def vehicle_causes(vehicle: Vehicle) -> tuple[Cause, ...]:
    """Every cause that this vehicle can have, in the order of the table."""
    return tuple(c for kind in KINDS.values() for c in _placed(kind, vehicle))


def _placed(kind: CauseKind, vehicle: Vehicle) -> Iterator[Cause]:
    if kind.group == "ignition":
        yield from _of_ignition(kind, vehicle)
    elif kind.group == "injection":
        yield from _of_injection(kind, vehicle)
    elif kind.group == "shared":
        yield from _of_feeds(kind, vehicle)
    elif kind.id == "cylinder-mechanical":
        yield from (_at_cylinder(kind, n) for n in vehicle.numbers)
    elif kind.part == "pedal":
        if vehicle.has_pedal:
            yield from (Cause(kind, track, (), kind.shows, kind.weight) for track in ("track1", "track2"))
    elif _has(kind, vehicle):
        yield Cause(kind, "", (), kind.shows, kind.weight)


def _at_cylinder(kind: CauseKind, number: int) -> Cause:
    return Cause(kind, str(number), (number,), kind.shows, kind.weight)


def _of_ignition(kind: CauseKind, vehicle: Vehicle) -> Iterator[Cause]:
    if vehicle.ignition == "none":
        return
    if kind.id in ("coil-supply", "switching-module-heat"):
        yield Cause(kind, "", (), kind.shows, kind.weight)
    elif kind.part == "coil" and vehicle.ignition == "paired-coils":
        for a, b in vehicle.pairs:
            yield Cause(kind, f"{a}+{b}", (a, b), kind.shows, kind.weight)
    elif kind.part == "coil" and vehicle.ignition == "distributor":
        yield Cause(kind, "", tuple(vehicle.numbers), kind.shows, kind.weight)
    elif kind.part == "lead" and vehicle.ignition == "coil-on-plug":
        return
    else:
        yield from (_at_cylinder(kind, n) for n in vehicle.numbers)


_ONLY_WITH: Mapping[str, tuple[str, ...]] = {
    "injector-shorted": ("port", "throttle-body", "direct", "rail-solenoid"),
    "injector-stuck": ("port", "throttle-body", "direct", "rail-solenoid"),
    "injector-ringing": ("port", "throttle-body"),
    "injector-supply": ("port", "throttle-body"),
    "injector-boost-lost": ("direct", "rail-solenoid"),
    "piezo-to-body": ("rail-piezo",),
}


def _of_injection(kind: CauseKind, vehicle: Vehicle) -> Iterator[Cause]:
    if vehicle.injection not in _ONLY_WITH.get(kind.id, (vehicle.injection,)):
        return
    if kind.id in ("injector-supply", "injector-boost-lost"):
        yield Cause(kind, "", (), kind.shows, kind.weight)
    elif vehicle.injection == "throttle-body":
        yield Cause(kind, "", tuple(vehicle.numbers), kind.shows, kind.weight)
    else:
        yield from (_at_cylinder(kind, n) for n in vehicle.numbers)


def _has(kind: CauseKind, vehicle: Vehicle) -> bool:
    """Whether the vehicle has what a cause without a cylinder concerns."""
    petrol = vehicle.fuel == "petrol"
    return {
        "fuel-delivery-weak": petrol and not vehicle.has_rail,
        "rail-pump-weak": vehicle.has_rail,
        "rail-regulator": vehicle.has_rail,
        "rail-sensor": vehicle.has_rail,
        "vacuum-leak": petrol,
        "airflow-contaminated": _has_airflow(vehicle),
        "oxygen-lazy": vehicle.oxygen == "switching",
        "oxygen-biased": vehicle.oxygen != "none",
        "oxygen-heater": vehicle.oxygen != "none",
        "throttle-not-closing": petrol,
        "manifold-sensor": "manifold-pressure" in vehicle.load_sensor,
        "command-driven": vehicle.charging == "commanded",
    }.get(
        kind.id,
        _has_airflow(vehicle)
        if kind.id.startswith("airflow-")
        else vehicle.has_throttle_sensor
        if kind.part == "throttle"
        else True,
    )


def _has_airflow(vehicle: Vehicle) -> bool:
    return any(s in vehicle.load_sensor for s in AIRFLOWS)


def _of_feeds(kind: CauseKind, vehicle: Vehicle) -> Iterator[Cause]:
    if kind.id == "reference-lost":
        for feed in vehicle.feeds:
            yield Cause(kind, feed, (), tuple(_lost(vehicle, feed)), kind.weight)
    elif kind.id == "reference-dragged":
        for feed, on in vehicle.feeds.items():
            for circuit in on:
                dragged = (*_lost(vehicle, feed), _came_back(feed, circuit))
                yield Cause(kind, f"{feed}:{circuit}", (), dragged, kind.weight / len(on))
    elif kind.id == "sensor-ground-open":
        yield Cause(kind, "", (), tuple(_lifted(vehicle)), kind.weight)
    elif kind.id == "controller-internal":
        inside = [s for feed in vehicle.feeds for s in _lost(vehicle, feed, AT_TIMES)]
        if vehicle.ignition != "none":
            inside.append(on_every("coil-primary-current", "missing_ramp", HARDLY))
        yield Cause(kind, "", (), tuple(inside), kind.weight)
    else:
        yield Cause(kind, "", (), kind.shows, kind.weight)


def _lost(vehicle: Vehicle, feed: str, strength: float = SURELY) -> Iterator[Shows]:
    places = ["controller"]
    for circuit in vehicle.feeds[feed]:
        if circuit == "pedal-position":
            for track in vehicle.tracks(feed):
                yield shows(circuit, "reference_lost track_lost dropout", strength, lane=track.removeprefix("track"))
        else:
            yield shows(circuit, LOST_AS[circuit], strength)
            yield from _scanned(circuit, strength)
        places.append(PLACE_OF[circuit])
    for test in ("voltage", "supply-ground"):
        yield from (shows(test, "reference_low", strength, at=p) for p in (*dict.fromkeys(places), feed))


def _scanned(circuit: str, strength: float) -> Iterator[Shows]:
    if circuit in SCANNED_AS:
        yield shows("scan-data", SCANNED_AS[circuit], strength)


def _came_back(feed: str, circuit: str) -> Shows:
    return shows("unplug-one-by-one", f"came_back:{circuit}", SURELY, at=feed)


def _lifted(vehicle: Vehicle) -> Iterator[Shows]:
    for circuit in vehicle.grounded:
        yield shows(circuit, LIFTED_AS[circuit], SURELY)
        yield from _scanned(circuit, SURELY)
        yield from feed_off("ground_high", PLACE_OF[circuit])
    yield from feed_off("ground_high", "ground")
