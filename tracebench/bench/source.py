"""What the trainer needs to know of a circuit: faults and manoeuvres on offer, and how its lanes are worked out."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tracebench.bench.controls import ENGINE, WARM, Chance, Control, Controls
from tracebench.bench.vehicle.firing import ORDERS
from tracebench.bench.vehicle.script import STEP_S
from tracebench.core.circuits.events.attribution import order_told
from tracebench.core.errors import BadOption

Volts = NDArray[np.float64]

ALWAYS, HOT, VIBRATION, LOAD = "always", "hot", "vibration", "load"
"""When an intermittent fault shows: once warm, some way into a record; while the engine runs; in a snap."""


@dataclass(frozen=True, slots=True)
class Fault:
    """A fault on offer. `shows` is the condition that must occur in the record for it to be seen."""

    key: str
    title: str
    shows: str = ALWAYS


@dataclass(frozen=True, slots=True)
class Manoeuvre:
    """What is done while recording; the first of a circuit is the whole one that its verdict needs."""

    key: str
    title: str
    duration_s: float
    sweeps: bool = False
    """True where a hand makes sweeps whose pace can be chosen."""


@dataclass(frozen=True, slots=True)
class Layout:
    """How an engine's injectors or coils are driven; the first of a circuit is the usual one."""

    key: str
    title: str
    pairs: bool = False
    """True where cylinders go two and two, so that there must be an even number of them."""


def at(values: Volts, instants_s: Volts) -> Volts:
    """A course on the engine's grid at instants of its run."""
    return np.asarray(np.interp(instants_s, np.arange(values.size) * STEP_S, values))


def row_of(part: Mapping[str, Any]) -> tuple[int, ...]:
    """Cylinders of a part in firing order: as told, or the usual order of so many. Raises BadOption."""
    told = str(part.get("firing_order") or "")
    return order_told(told) if told else ORDERS[round(float(part.get("cylinders", 4)))]


@dataclass(frozen=True, slots=True, eq=False)
class Order:
    """One recording to work out. `severity` 0-1 scales the fault; `movement` is a hand's sweep or points of one."""

    times_s: Volts
    fault: str = "none"
    severity: float = 1.0
    manoeuvre: str = ""
    rng: np.random.Generator = field(default_factory=np.random.default_rng)
    part: Mapping[str, Any] = field(default_factory=dict)
    movement: Any = None
    scan: dict[str, list[tuple[float, float]]] = field(default_factory=dict)
    """Filled with what a scan tool showed meanwhile: (seconds from the start, value) by parameter."""
    memo: dict[str, Any] = field(default_factory=dict)
    """What was worked out already for this order, so that several sources share one run."""
    controls: Controls | None = None
    """What hands do with the trainer's controls, in place of a manoeuvre."""
    begin_s: float = 0.0
    """Where in the run of the controls the record begins."""
    chance: Chance | None = None
    """When a loose contact opens in the run of the controls."""

    @property
    def run_s(self) -> Volts:
        """The record's instants on the axis of the run."""
        return np.asarray(self.times_s - self.times_s[0] + self.begin_s)

    @property
    def until_s(self) -> float:
        """Where in the run the record ends."""
        return self.begin_s + self.duration_s

    def note(self, running: Volts | None = None) -> None:
        """Keep what controls do to the part: its warmth, its shaking and whether the engine runs, on the run's grid."""
        if self.controls is not None and "warmth" not in self.memo:
            self.memo["shaken"] = self.controls.course("wiggle", self.until_s)
            self.memo["running"] = np.zeros(self.memo["shaken"].size) if running is None else running
            self.memo["warmth"] = self.controls.warmth(self.until_s, self.memo["running"])

    def warm(self, instants_s: Volts) -> NDArray[np.bool_]:
        """Whether the part is as warm as what fails hot needs, at instants of the run of the controls."""
        self.note()
        return np.asarray(at(self.memo["warmth"], instants_s) > WARM)

    def loose(self, instants_s: Volts, lasts_s: tuple[float, float] = (0.012, 0.06)) -> NDArray[np.bool_]:
        """Whether a loose contact is open at instants of the run: while it is shaken, and seldom by the engine."""
        self.note()
        if self.chance is None or instants_s.size == 0:
            return np.zeros(instants_s.size, dtype=np.bool_)
        return self.chance.open(instants_s, self.memo["shaken"], self.memo["running"], lasts_s)

    @property
    def duration_s(self) -> float:
        return float(self.times_s[-1] - self.times_s[0]) if self.times_s.size > 1 else 0.0

    def number(self, key: str, default: float) -> float:
        value = self.part.get(key, default)
        return float(value)

    def row(self) -> tuple[int, ...]:
        return row_of(self.part)

    def odd(self) -> int:
        """The cylinder that has the fault."""
        return min(round(self.number("cylinder", 3)), len(self.row()))

    def layout(self, layouts: Sequence[Layout]) -> str:
        """The key of the layout that is asked for, the first where none is."""
        return str(self.part.get("layout") or layouts[0].key)


@dataclass(frozen=True, slots=True)
class Source:
    """A circuit on the trainer. `lanes` works out volts (or the lane's unit) at the order's instants, by lane."""

    code: str
    faults: Sequence[Fault]
    manoeuvres: Sequence[Manoeuvre]
    rate_hz: float
    range_v: float
    lanes: Callable[[Order], dict[str, Volts]]
    by_hand: bool = False
    noise: Mapping[str, float] = field(default_factory=dict)
    """Noise of lanes that differs from the scope's own, one sigma in the lane's unit."""
    layouts: Sequence[Layout] = ()
    """Ways in which the engine may be built, where it matters to this circuit."""
    controls: Sequence[Control] = ENGINE
    """What hands can do with it."""
    by_cylinder: bool = False
    """True where all cylinders are in one record, so that their number and order matter."""

    def manoeuvre(self, key: str) -> Manoeuvre:
        """The manoeuvre of that key, the first when none is named. Raises BadOption."""
        if not key:
            return self.manoeuvres[0]
        found = next((m for m in self.manoeuvres if m.key == key), None)
        if found is None:
            raise BadOption(f"manoeuvre {key!r}: choose one of {', '.join(m.key for m in self.manoeuvres)}")
        return found

    def check_fault(self, key: str) -> None:
        if all(f.key != key for f in self.faults):
            raise BadOption(f"fault {key!r}: choose one of {', '.join(f.key for f in self.faults)}")

    def check_engine(self, part: Mapping[str, Any]) -> None:
        """Layout and cylinders of a part fit this circuit and each other; none told is right. Raises BadOption."""
        key = str(part.get("layout") or "")
        layout = next((x for x in self.layouts if x.key == key), None)
        if key and layout is None:
            offered = ", ".join(x.key for x in self.layouts) or "none, as this circuit has one layout only"
            raise BadOption(f"layout {key!r}: choose one of {offered}")
        count = len(row_of(part)) if self.by_cylinder else 0
        if layout is not None and layout.pairs and count % 2:
            raise BadOption(f"{count} cylinders have no pairs: choose an even number or another layout of the coils")


def slipped(order: Order, volts: Volts) -> Volts:
    """The signal with the probe off for a moment in the middle of the record."""
    return np.where(slipping(order), 0.004, volts) if order.fault == "probe-slip" else volts


def slipping(order: Order) -> NDArray[np.bool_]:
    """Where the probe is off: for a moment in the middle of a record, or while hands shake what it hangs on."""
    if order.controls is not None:
        return order.loose(order.run_s, (0.25, 0.6))
    start = order.times_s[0] + order.duration_s * order.rng.uniform(0.3, 0.7)
    return np.asarray((order.times_s >= start) & (order.times_s < start + order.rng.uniform(0.25, 0.6)))


def dropped(order: Order, volts: Volts, when: NDArray[np.bool_] | None = None, to: float = 0.02) -> Volts:
    """The signal with a loose contact: one to three short falls, while `when` holds where it is given."""
    out = volts.copy()
    if order.controls is not None:
        out[order.loose(order.run_s)] = to
        return out
    allowed = np.flatnonzero(when) if when is not None else np.arange(volts.size)
    if allowed.size == 0:
        return out
    for place in order.rng.uniform(0.15, 0.85, 1 + round(2 * order.severity)):
        start = order.times_s[allowed[int(place * (allowed.size - 1))]]
        gone = (order.times_s >= start) & (order.times_s < start + order.rng.uniform(0.012, 0.06))
        out[gone] = to
    return out
