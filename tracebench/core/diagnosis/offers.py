"""The tests that a vehicle offers: each at its places, with its minutes, what it can show and what it proves.

Minutes: common practice, no published source; a case may set others.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cache, lru_cache

from tracebench.core.circuits import CIRCUITS
from tracebench.core.circuits.threshold import Threshold
from tracebench.core.diagnosis.kinds.shared import PLACE_OF
from tracebench.core.diagnosis.vehicle import Vehicle

_USUAL = "(common practice, no published source)"

CAPTURE_MIN = Threshold(6.0, "min", f"A capture, without getting at its place {_USUAL}")

ACCESS: Mapping[str, Threshold] = {
    place: Threshold(minutes, "min", f"To get at the {place} {_USUAL}")
    for place, minutes in {
        "throttle": 2.0,
        "pedal": 8.0,
        "controller": 4.0,
        "coil": 2.0,
        "fuse": 3.0,
        "injector": 5.0,
        "crank": 10.0,
        "rail": 4.0,
        "oxygen": 8.0,
        "alternator": 5.0,
        "manifold": 2.0,
        "airflow": 2.0,
        "temperature": 2.0,
        "wheel": 10.0,
        "module": 20.0,
    }.items()
}
UNDER_THE_INTAKE = Threshold(40.0, "min", f"To get at an injector under the intake {_USUAL}")

RECORD_MIN: Mapping[str, Threshold] = {
    kind: Threshold(minutes, "min", f"A record of the kind {kind} {_USUAL}")
    for kind, minutes in {
        "cylinder-drop": 6.0,
        "swap": 10.0,
        "spark-gap": 8.0,
        "resistance": 6.0,
        "voltage": 4.0,
        "meter-sweep": 3.0,
        "unplug-one-by-one": 6.0,
        "scan-data": 3.0,
        "look-and-move": 5.0,
        "road-test": 15.0,
    }.items()
}

CONDITION_MIN: Mapping[str, Threshold] = {
    condition: Threshold(minutes, "min", f"To make it {condition} {_USUAL}")
    for condition, minutes in {"hot": 10.0, "cold": 15.0, "load": 2.0, "moved": 3.0, "wet": 5.0}.items()
}

STILL = frozenset(
    {
        "resistance",
        "voltage",
        "meter-sweep",
        "unplug-one-by-one",
        "look-and-move",
        "swap",
        "throttle-position",
        "pedal-position",
        "temperature",
        "supply-ground",
        "igniter-bench",
    }
)
"""Tests that need no running engine: a complaint at idle or at speed asks no idling of them."""

FUSED = ("coil-primary-current", "injector-current-parade", "injector-current-group")
"""Circuits recorded at the fuse, all cylinders at once."""

HOME: Mapping[str, str] = {
    **PLACE_OF,
    "pedal-position": "controller",
    "charging": "alternator",
    "wheel-speed": "wheel",
    "oxygen-switching": "oxygen",
    "oxygen-wideband": "oxygen",
    "igniter-bench": "module",
    **dict.fromkeys(FUSED, "fuse"),
}
"""Where a circuit that belongs to no cylinder is best got at."""

SWAPPED = ("coil", "plug", "injector", "module", "relay")


@dataclass(frozen=True, slots=True)
class Place:
    """Where a test was or would be done: a name, with cylinders where it has them; a bare number is a cylinder."""

    name: str = ""
    cylinders: tuple[int, ...] = ()

    @property
    def text(self) -> str:
        at = "+".join(map(str, self.cylinders))
        return f"{self.name}@{at}" if self.name and at else self.name or at


@dataclass(frozen=True, slots=True)
class Offer:
    """A test on offer at a place. `what` is the part of a swap, or what is looked at."""

    test: str
    place: Place
    minutes: float
    what: str = ""


@lru_cache(maxsize=64)
def vehicle_offers(vehicle: Vehicle) -> tuple[Offer, ...]:
    """Every test that this vehicle offers, with default minutes."""
    return tuple(_all(vehicle))


def _all(vehicle: Vehicle) -> Iterator[Offer]:
    coils = tuple(_coil_places(vehicle))
    injectors = (
        (Place("injector"),)
        if vehicle.injection == "throttle-body"
        else tuple(Place("injector", (n,)) for n in vehicle.numbers)
    )
    yield from _captures(vehicle)
    for name in _supplied(vehicle):
        yield _capture("supply-ground", Place(name), vehicle)
        yield Offer("voltage", Place(name), RECORD_MIN["voltage"])
    for place in (*coils, *injectors):
        yield _capture("supply-ground", place, vehicle)
        yield Offer("voltage", place, RECORD_MIN["voltage"])
        yield Offer("resistance", place, RECORD_MIN["resistance"])
        yield Offer("swap", place, RECORD_MIN["swap"], place.name)
    yield Offer("cylinder-drop", Place(), RECORD_MIN["cylinder-drop"])
    if vehicle.ignition != "none":
        yield Offer("spark-gap", Place(), RECORD_MIN["spark-gap"])
        yield Offer("swap", Place("module"), RECORD_MIN["swap"], "module")
        yield from (Offer("swap", Place("plug", (n,)), RECORD_MIN["swap"], "plug") for n in vehicle.numbers)
        yield Offer("look-and-move", Place(), RECORD_MIN["look-and-move"], "plugs")
    if vehicle.ignition in ("paired-coils", "distributor"):
        yield from (Offer("resistance", Place("lead", (n,)), RECORD_MIN["resistance"]) for n in vehicle.numbers)
    yield Offer("swap", Place(), RECORD_MIN["swap"], "relay")
    for name in ("temperature", "crank", *(("oxygen",) if vehicle.oxygen != "none" else ())):
        yield Offer("resistance", Place(name), RECORD_MIN["resistance"])
    if vehicle.has_throttle_sensor:
        yield Offer("meter-sweep", Place("throttle"), RECORD_MIN["meter-sweep"])
        yield from (Offer("look-and-move", Place(), RECORD_MIN["look-and-move"], w) for w in ("throttle", "hoses"))
    yield from (Offer("look-and-move", Place(), RECORD_MIN["look-and-move"], w) for w in ("belt", "wires"))
    yield from (Offer("unplug-one-by-one", Place(f), RECORD_MIN["unplug-one-by-one"]) for f in vehicle.feeds)
    yield Offer("scan-data", Place(), RECORD_MIN["scan-data"])
    yield Offer("road-test", Place(), RECORD_MIN["road-test"])


def _coil_places(vehicle: Vehicle) -> Iterator[Place]:
    if vehicle.ignition == "coil-on-plug":
        yield from (Place("coil", (n,)) for n in vehicle.numbers)
    elif vehicle.ignition == "paired-coils":
        yield from (Place("coil", pair) for pair in vehicle.pairs)
    elif vehicle.ignition == "distributor":
        yield Place("coil")


def _supplied(vehicle: Vehicle) -> Iterator[str]:
    """Places without a cylinder where feeds can be proven."""
    yield from ("controller", "alternator", "crank", "wheel", "temperature", "fuse", "ground")
    for circuit in dict.fromkeys(c for on in vehicle.feeds.values() for c in on):
        if circuit not in ("crank-position", "temperature"):
            yield PLACE_OF[circuit]
    if any(s.startswith("airflow") for s in vehicle.load_sensor):
        yield "airflow"
    if vehicle.oxygen != "none":
        yield "oxygen"
    if vehicle.ignition != "none":
        yield "module"


def _captures(vehicle: Vehicle) -> Iterator[Offer]:
    there = [code for code in HOME if _has(code, vehicle)]
    yield from (_capture(code, Place(HOME[code]), vehicle) for code in there)
    if vehicle.ignition != "none":
        for n in vehicle.numbers:
            yield _capture("coil-primary-voltage", Place("", (n,)), vehicle)
            yield _capture("secondary-voltage", Place("", (n,)), vehicle)
    for code in vehicle.injector_circuits:
        if code in FUSED:
            continue
        if vehicle.injection == "throttle-body":
            yield _capture(code, Place("injector"), vehicle)
        else:
            yield from (_capture(code, Place("", (n,)), vehicle) for n in vehicle.numbers)


def _has(code: str, vehicle: Vehicle) -> bool:
    """Whether a vehicle has what a circuit with a home records."""
    if code in ("coil-primary-current", "igniter-bench"):
        return vehicle.ignition != "none"
    if code in FUSED:
        return code in vehicle.injector_circuits
    if code.startswith("oxygen"):
        return code == f"oxygen-{vehicle.oxygen}"
    return code in ("charging", "wheel-speed") or vehicle.has(code)


def usual_min(test: str, place: Place, vehicle: Vehicle) -> float:
    """What a test takes where nobody set it, at a place or at its home. A log costs nothing."""
    if test in RECORD_MIN:
        return RECORD_MIN[test]
    if test not in CIRCUITS:
        return 0.0
    home = place if place.text or test not in HOME else Place(HOME[test])
    return CAPTURE_MIN + access_min(test, home, vehicle)


def _capture(code: str, place: Place, vehicle: Vehicle) -> Offer:
    return Offer(code, place, CAPTURE_MIN + access_min(code, place, vehicle))


def access_min(code: str, place: Place, vehicle: Vehicle) -> float:
    """Minutes to get at a place with a circuit's capture."""
    name = place.name or ("injector" if code.startswith("injector") else "coil")
    if name == "injector":
        if vehicle.injection == "direct":
            return UNDER_THE_INTAKE
        return ACCESS["throttle"] if vehicle.injection == "throttle-body" else ACCESS["injector"]
    return ACCESS.get(name, 0.0)


@cache
def fault_codes(test: str) -> tuple[str, ...]:
    """Fault findings that a test can show: a circuit's declared ones, or a record's outcomes."""
    if test in CIRCUITS:
        own = tuple(f.code for f in CIRCUITS[test].findings if f.kind == "fault")
        return (*own, "supply_0") if test == "injector-voltage" else own
    return RECORD_CODES[test]


RECORD_CODES: Mapping[str, tuple[str, ...]] = {
    "cylinder-drop": ("no_contribution",),
    "swap": tuple(f"moved:{part}" for part in SWAPPED),
    "spark-gap": ("weak_gap",),
    "resistance": ("resistance_high", "resistance_low", "leak_to_body"),
    "voltage": ("supply_low", "supply_high", "reference_low", "reference_high", "ground_high"),
    "meter-sweep": ("low_closed", "low_open", "stuck", "falls_off"),
    "unplug-one-by-one": tuple(f"came_back:{circuit}" for circuit in PLACE_OF),
    "scan-data": (
        "lean_idle",
        "lean_load",
        "rich",
        "throttle_off",
        "pressure_off",
        "airflow_off",
        "rail_off",
        "temperature_low",
        "temperature_high",
        "temperature_off",
        "supply_low",
    ),
    "look-and-move": ("faulty:throttle", "faulty:hoses", "faulty:belt", "faulty:wires", "faulty:plugs"),
    "road-test": (),
    "repair": (),
    "log": (),
}
"""What a record of each kind can show; its rows say which of them it looked for."""

PLACES = tuple(dict.fromkeys((*ACCESS, "plug", "lead", "cam", *PLACE_OF.values())))
"""Names of places that evidence may give, cylinders and feeds apart."""
