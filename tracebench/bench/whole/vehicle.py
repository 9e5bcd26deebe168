"""Tests done on a vehicle with causes: a capture by the trainer, or the rows of a record as they would be read.

A cause shows under the condition that its case names, else under its own; without it, now and then.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from tracebench.bench.scope import ScopeSettings
from tracebench.bench.sources import source
from tracebench.bench.trainer import record
from tracebench.bench.whole.faults import AT_FEED, FAULTS, FEED, LOST, OHMS, SCANNED, UNREAD, lost_at
from tracebench.core.answer import Limit
from tracebench.core.capture import Capture
from tracebench.core.circuits import CIRCUITS
from tracebench.core.diagnosis.case import holds
from tracebench.core.diagnosis.causes import Cause
from tracebench.core.diagnosis.kinds.shared import PLACE_OF
from tracebench.core.diagnosis.offers import Offer
from tracebench.core.diagnosis.posterior import needed
from tracebench.core.diagnosis.strengths import WITHOUT_CONDITION
from tracebench.core.diagnosis.symptoms import makes
from tracebench.core.diagnosis.vehicle import Vehicle
from tracebench.core.errors import BadOption

LAYOUT = {"coil-on-plug": "coil-per-plug", "paired-coils": "paired", "distributor": "distributor"}

CAM_DEG = Limit("cam_phase_deg", 145.0, 153.0, "own-fleet")
"""Where the cam of the trainer's engine stands after the gap: its own fleet's figure."""

AMBIENT_C = 20.0

NOMINAL_OHMS = {"coil": 0.7, "injector": 14.5, "lead": 5000.0, "temperature": 2500.0, "oxygen": 9.0, "crank": 900.0}
NOMINAL_PIEZO_OHMS = 175e3

Row = dict[str, str]


@dataclass(frozen=True, slots=True)
class Taken:
    """What a test gave: a capture with the options it is measured under, or rows; and the conditions it showed."""

    offer: Offer
    conditions: tuple[str, ...]
    capture: Capture | None = None
    options: tuple[tuple[str, str], ...] = ()
    limits: tuple[Limit, ...] = ()
    rows: tuple[Row, ...] = ()


@dataclass(frozen=True, slots=True, eq=False)
class Doing:
    """A record being taken: the causes that show under its conditions, and its own chance."""

    offer: Offer
    conditions: frozenset[str]
    showing: Sequence[Cause]
    rng: np.random.Generator


@dataclass(frozen=True, slots=True)
class WholeVehicle:
    """A vehicle with its causes; the same seed gives the same vehicle, and each test its own noise.

    `named` are the conditions that the complaint names, `symptoms` what is complained of.
    """

    vehicle: Vehicle
    causes: tuple[Cause, ...]
    seed: int
    symptoms: tuple[str, ...] = ()
    named: frozenset[str] = frozenset()

    def do(self, offer: Offer, conditions: Sequence[str], number: int = 0) -> Taken:
        """Do a test; `number` tells repeated ones apart. Raises BadOption for one that the trainer cannot do."""
        rng = np.random.default_rng((self.seed, number))
        shown = frozenset(conditions)
        showing = [c for c in self.causes if self._shows(c, offer.test, shown, rng)]
        if offer.test in CIRCUITS:
            return self._capture(offer, conditions, showing, int(rng.integers(2**31)))
        if offer.test not in _RECORDS:
            raise BadOption(f"the trainer takes no record of the kind {offer.test}")
        rows = _RECORDS[offer.test](self, Doing(offer, shown, showing, rng))
        return Taken(offer, tuple(conditions), rows=tuple(rows))

    def _shows(self, cause: Cause, test: str, shown: frozenset[str], rng: np.random.Generator) -> bool:
        return bool(holds(needed(cause, self.named, test), shown) or rng.random() < WITHOUT_CONDITION)

    def _capture(self, offer: Offer, conditions: Sequence[str], showing: Sequence[Cause], seed: int) -> Taken:
        made_by = source(offer.test)
        at = offer.place.cylinders
        fault, cylinder = "none", at[0] if at else 1
        for cause in showing:
            found = self._fault(offer, cause)
            if found:
                fault, cylinder = found, cause.cylinders[0] if cause.cylinders else cylinder
        part: dict[str, object] = {
            "cylinders": self.vehicle.cylinders,
            "firing_order": "-".join(map(str, self.vehicle.order)),
            "cylinder": cylinder,
        }
        if made_by.layouts and offer.test.startswith(("coil", "secondary")):
            part["layout"] = LAYOUT[self.vehicle.ignition]
        what = made_by.manoeuvres[0]
        scope = ScopeSettings(range_v=made_by.range_v, duration_s=what.duration_s, rate_hz=made_by.rate_hz)
        capture = record(offer.test, scope, seed, fault, 0.9, what.key, part=part)
        options = {"shown": ",".join(c for c in conditions if c not in ("wet", "speed"))}
        if made_by.by_cylinder:
            options |= {"cylinders": str(self.vehicle.cylinders), "firing_order": str(part["firing_order"])}
        if offer.test == "temperature" and "cold" in conditions:
            options["ambient_c"] = f"{AMBIENT_C:g}"
        known = {o.key for o in CIRCUITS[offer.test].options} | {"shown"}
        told = tuple((k, v) for k, v in options.items() if v and k in known)
        limits = (CAM_DEG,) if offer.test == "crank-position" else ()
        return Taken(offer, tuple(conditions), capture, told, limits)

    def _fault(self, offer: Offer, cause: Cause) -> str | None:
        """The trainer's fault that a cause is in this test at this place; None where it does not show."""
        if offer.test == "supply-ground":
            code = self._off_level(offer, cause)
            return AT_FEED[code] if code else None
        kind = cause.kind.id
        at = offer.place.cylinders
        if at and cause.cylinders and not set(at) & set(cause.cylinders):
            return None
        if kind in LOST:
            feed = cause.place.partition(":")[0] or "A"
            if offer.test not in self.vehicle.feeds.get(feed, ()):
                return None
            return lost_at(feed).get(offer.test)
        if kind == "sensor-ground-open" and offer.test not in self.vehicle.grounded:
            return None
        return (FAULTS.get(cause.id) or FAULTS.get(kind, {})).get(offer.test)

    def _off_level(self, offer: Offer, cause: Cause) -> str | None:
        """The feed that a cause takes off its level at the place of a test."""
        kind, name, at = cause.kind.id, offer.place.name, offer.place.cylinders
        if kind in LOST:
            feed = cause.place.partition(":")[0] or "A"
            there = ("controller", feed, *(PLACE_OF[c] for c in self.vehicle.feeds.get(feed, ())))
            return "reference_low" if name in there else None
        if kind == "sensor-ground-open":
            there = ("ground", *(PLACE_OF[c] for c in self.vehicle.grounded))
            return "ground_high" if name in there else None
        code, places = FEED.get(kind, ("", ()))
        here = not at or not cause.cylinders or bool(set(at) & set(cause.cylinders))
        return code if code and name in places and here else None

    def _dead(self, showing: Sequence[Cause]) -> set[int]:
        dead: set[int] = set()
        for cause in showing:
            fires = cause.kind.group in ("ignition", "injection") or cause.kind.id == "cylinder-mechanical"
            if fires and cause.kind.id != "injector-ringing":
                mine = _towers(cause)
                # A piezo that leaks to its body takes the power stage of all with it.
                mine = () if cause.kind.id == "piezo-to-body" else mine
                dead |= set(mine or self.vehicle.numbers)
        return dead

    def _cylinder_drop(self, doing: Doing) -> list[Row]:
        dead, idle = self._dead(doing.showing), 790.0
        rows = []
        for n in self.vehicle.numbers:
            before = idle + doing.rng.normal(0, 4)
            fall = doing.rng.normal(2, 2) if n in dead else doing.rng.normal(480 / self.vehicle.cylinders, 6)
            rows.append({"cylinder": str(n), "before_rpm": f"{before:.0f}", "disabled_rpm": f"{before - fall:.0f}"})
        return rows

    def _swap(self, doing: Doing) -> list[Row]:
        part, at = doing.offer.what, doing.offer.place.cylinders
        place = "+".join(map(str, at)) or part
        others = [n for n in self.vehicle.numbers if n not in at]
        relays = ("coil-supply", "injector-supply")
        moved = any(
            (part == "relay" and c.kind.id in relays)
            or (c.kind.kind == "part" and c.kind.part == part and (not at or bool(set(at) & set(c.cylinders))))
            for c in doing.showing
        )
        to = str(others[0]) if at and others else f"another {part}"
        return [{"part": part, "from_place": place, "to_place": to, "moved": "yes" if moved else "no"}]

    def _spark_gap(self, doing: Doing) -> list[Row]:
        weak = {
            n
            for c in doing.showing
            if c.kind.id in ("coil-weak", "coil-secondary-open", "coil-winding-shorted", "coil-supply", "coil-driver")
            for n in _towers(c) or tuple(self.vehicle.numbers)
        }
        return [
            {"tower": str(n), "gap_mm": f"{doing.rng.normal(5, 0.5) if n in weak else doing.rng.normal(17, 0.7):.1f}"}
            for n in self.vehicle.numbers
        ]

    def _resistance(self, doing: Doing) -> list[Row]:
        name, at = doing.offer.place.name, doing.offer.place.cylinders
        piezo = name == "injector" and self.vehicle.injection == "rail-piezo"
        nominal = NOMINAL_PIEZO_OHMS if piezo else NOMINAL_OHMS[name]
        mine = [c for c in doing.showing if not at or not c.cylinders or set(at) & set(c.cylinders)]
        times = next(
            (OHMS[name][c.kind.id] for c in mine if c.kind.id in OHMS.get(name, {})), doing.rng.normal(1, 0.02)
        )
        value = "infinite" if np.isinf(times) else f"{nominal * times:.3g}"
        rows = [
            {
                "terminals": "pin 1 to pin 2",
                "value": value,
                "unit": "ohm",
                "low": f"{0.8 * nominal:g}",
                "high": f"{1.2 * nominal:g}",
            }
        ]
        if piezo:
            leaks = any(c.kind.id == "piezo-to-body" for c in mine)
            rows.append({"terminals": "pin 1 to body", "value": "38000" if leaks else "infinite", "unit": "ohm"})
        return rows

    def _voltage(self, doing: Doing) -> list[Row]:
        off = {self._off_level(doing.offer, c) for c in doing.showing}
        high = any(c.kind.id == "regulator-internal" for c in doing.showing) and doing.offer.place.name == "alternator"
        points = {
            "supply": 8.9 if "supply_low" in off else 16.3 if high else doing.rng.normal(14.1, 0.05),
            "ground": 0.62 if "ground_high" in off else abs(doing.rng.normal(0.02, 0.01)),
        }
        sensors = {PLACE_OF[c] for on in self.vehicle.feeds.values() for c in on} | {"controller", *self.vehicle.feeds}
        if doing.offer.place.name in sensors:
            points["reference"] = 1.4 if "reference_low" in off else doing.rng.normal(5.0, 0.01)
        return [{"point": p, "volts": f"{v:.2f}", "loaded": "yes", "state": "running"} for p, v in points.items()]

    def _meter_sweep(self, doing: Doing) -> list[Row]:
        kinds = {c.kind.id for c in doing.showing}
        closed = 0.28 if "throttle-level-low" in kinds else 0.62
        wide = 3.1 if "throttle-travel-short" in kinds else 4.3
        if "throttle-wire" in kinds:
            closed = wide = 0.02
        steps = np.linspace(0, 1, 6)
        return [
            {"at_s": f"{4 * s:.1f}", "volts": f"{closed + (wide - closed) * s + doing.rng.normal(0, 0.01):.2f}"}
            for s in steps
        ]

    def _unplug_one_by_one(self, doing: Doing) -> list[Row]:
        drags = {
            c.place.partition(":")[2]
            for c in doing.showing
            if c.kind.id == "reference-dragged" and c.place.startswith(f"{doing.offer.place.name}:")
        }
        on = self.vehicle.feeds[doing.offer.place.name]
        return [{"unplugged": c, "came_back": "yes" if c in drags else "no"} for c in on]

    def _look_and_move(self, doing: Doing) -> list[Row]:
        seen = {
            "throttle": ("throttle-not-closing", "throttle-travel-short"),
            "hoses": ("vacuum-leak",),
            "plugs": ("plug-gap-wide", "plug-fouled"),
            "belt": (),
            "wires": tuple(c.kind.id for c in doing.showing if c.kind.kind == "wire"),
        }[doing.offer.what]
        faulty = any(c.kind.id in seen for c in doing.showing) and doing.rng.random() < _SEES
        return [{"what": doing.offer.what, "seen": "faulty" if faulty else "sound"}]

    def _scan_data(self, doing: Doing) -> list[Row]:
        kinds = {c.kind.id for c in doing.showing}
        coolant = -40 if "temperature-open" in kinds else 140 if "temperature-shorted" in kinds else 88
        load = bool(doing.conditions & {"load", "snap"})
        lean = kinds & ({"fuel-delivery-weak", "airflow-contaminated"} if load else {"vacuum-leak"})
        values = {
            "coolant": (coolant, "°C"),
            "fuel trim": (19 if lean else round(float(doing.rng.normal(1, 2)), 1), "%"),
            "controller supply": (9.8 if "controller-supply-low" in kinds else 14.0, "V"),
        }
        for circuit, (name, usual, unit) in SCANNED.items():
            if self.vehicle.has(circuit):
                values[name] = (0 if self._unread(circuit, doing.showing) else usual, unit)
        return [{"parameter": p, "value": f"{v:g}", "unit": u} for p, (v, u) in values.items()]

    def _unread(self, circuit: str, showing: Sequence[Cause]) -> bool:
        """Whether the controller reads nothing of a sensor: it, its wire or what feeds it is gone."""
        for cause in showing:
            feed = cause.place.partition(":")[0] or "A"
            lost = cause.kind.id in LOST and circuit in self.vehicle.feeds.get(feed, ())
            lifted = cause.kind.id == "sensor-ground-open" and circuit in self.vehicle.grounded
            if lost or lifted or cause.kind.id in UNREAD[circuit]:
                return True
        return False

    def _road_test(self, doing: Doing) -> list[Row]:
        symptom = next((s for s in self.symptoms if s != "none"), "none")
        return [{"symptom": symptom, "occurred": "yes" if any(makes(c, symptom) for c in doing.showing) else "no"}]


def _towers(cause: Cause) -> tuple[int, ...]:
    """The cylinders that a cause takes: of a paired coil whose secondary fails one tower only; empty for all."""
    one = cause.kind.id in ("coil-weak", "coil-secondary-open") and len(cause.cylinders) == 2
    return cause.cylinders[:1] if one else cause.cylinders


_RECORDS: Mapping[str, Callable[[WholeVehicle, Doing], list[Row]]] = {
    "cylinder-drop": WholeVehicle._cylinder_drop,
    "swap": WholeVehicle._swap,
    "spark-gap": WholeVehicle._spark_gap,
    "resistance": WholeVehicle._resistance,
    "voltage": WholeVehicle._voltage,
    "meter-sweep": WholeVehicle._meter_sweep,
    "unplug-one-by-one": WholeVehicle._unplug_one_by_one,
    "look-and-move": WholeVehicle._look_and_move,
    "scan-data": WholeVehicle._scan_data,
    "road-test": WholeVehicle._road_test,
}

_SEES = 0.9
"""How often an eye sees what there is to be seen (from memory)."""
