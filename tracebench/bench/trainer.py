"""One recording of the trainer: a part or engine, a manoeuvre and a scope make a capture. Same seed, same samples."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from tracebench.bench.controls import LONGEST_RUN_S, Chance, Controls, Move
from tracebench.bench.scope import (
    MOST_SAMPLES,
    Input,
    ScopeSettings,
    decimated,
    digitised,
    fitting_range,
    shown,
    span_of,
    triggered,
)
from tracebench.bench.source import Order, Source
from tracebench.bench.sources import source
from tracebench.core.capture import Capture, Lane, capture_from_stamps
from tracebench.core.circuits import circuit as circuit_of
from tracebench.core.circuits.circuit import Circuit, LaneSpec
from tracebench.core.errors import BadOption

FINEST_HZ = 2000.0
"""Parts are worked out at least this finely, so that a gouge narrower than a sample is not lost."""

MOST_FACTOR = 50

LEAST_S, MOST_AT_ONCE_S = 0.02, 600.0
"""Of a stretch of a run that is recorded at once."""


@dataclass(frozen=True, slots=True, eq=False)
class Recording:
    """A capture, and what a scan tool showed meanwhile: (seconds, value) by parameter, at its own pace."""

    capture: Capture
    scan: dict[str, list[tuple[float, float]]]


def record(*arguments: Any, **settings: Any) -> Capture:
    """The capture of a recording; see `record_with_scan` for what may be set."""
    return record_with_scan(*arguments, **settings).capture


def record_with_scan(
    code: str,
    scope: ScopeSettings,
    seed: int,
    fault: str = "none",
    severity: float = 1.0,
    manoeuvre: str = "",
    movement: Any = None,
    part: Mapping[str, Any] | None = None,
    lanes: Sequence[str] | None = None,
    inputs: Mapping[str, Input] | None = None,
) -> Recording:
    """Record a circuit. `movement` is a hand's plan or points (seconds, travel 0-1). Raises BadOption."""
    scope = scope.checked()
    made_by = _checked(code, fault, part)
    what = made_by.manoeuvre(manoeuvre)
    rng = np.random.default_rng(seed)
    fine = min(MOST_FACTOR, max(1, round(FINEST_HZ / scope.rate_hz)))
    # A trigger waits within the manoeuvre, and the record still goes on to its end.
    length_s = scope.duration_s + (0.0 if scope.trigger is None else what.duration_s)
    count = round(length_s * scope.rate_hz)
    times = np.arange(count * fine) / (scope.rate_hz * fine)
    order = Order(times, fault, severity, what.key, rng, part or {}, movement)
    pins = made_by.lanes(order)
    seen = {n: decimated(v, fine, scope.peak_capture) for n, v in pins.items() if lanes is None or n in lanes}
    seen = _held(seen, scope)
    kind = circuit_of(code)
    taken = {n: _lane(kind.lane(n), v, scope, rng, made_by, (inputs or {}).get(n)) for n, v in seen.items()}
    return _recording(taken, scope, order)


@dataclass(frozen=True, slots=True)
class Stretch:
    """Part of a run: its begin, and how much of the record has been taken since, both in seconds."""

    begin_s: float
    seconds: float


def record_by_hand(
    code: str,
    scope: ScopeSettings,
    seed: int,
    moves: Sequence[Move],
    stretch: Stretch,
    fault: str = "none",
    severity: float = 1.0,
    part: Mapping[str, Any] | None = None,
    wires: Mapping[str, str] | None = None,
    inputs: Mapping[str, Input] | None = None,
) -> Recording:
    """Record a stretch of a run in which hands work the trainer's controls. Raises BadOption.

    `wires` says on which pin the probe of a lane is; a lane without a probe is not recorded. A longer stretch from the
    same begin has the same samples as far as the shorter one went. With a trigger the first record that it cuts out of
    the stretch is taken.
    """
    scope = scope.checked()
    made_by = _checked(code, fault, part)
    controls = Controls(made_by.controls, moves)
    if not 0 <= stretch.begin_s <= LONGEST_RUN_S or not LEAST_S <= stretch.seconds <= MOST_AT_ONCE_S:
        raise BadOption(f"a record of {stretch.seconds:g} s from {stretch.begin_s:g} s of the run cannot be taken")
    fine = min(MOST_FACTOR, max(1, round(FINEST_HZ / scope.rate_hz)))
    count = max(50, round(stretch.seconds * scope.rate_hz))
    if count > MOST_SAMPLES:
        raise BadOption(f"the memory holds {MOST_SAMPLES:,} samples; lower the rate or shorten the record")
    times = np.arange(count * fine) / (scope.rate_hz * fine)
    rng = np.random.default_rng(seed)
    order = Order(
        times, fault, severity, "", rng, part or {}, controls=controls, begin_s=stretch.begin_s, chance=Chance(seed)
    )
    pins = made_by.lanes(order)
    kind = circuit_of(code)
    there = None if wires is None else {lane: pin for lane, pin in wires.items() if {lane, pin} <= set(pins)}
    on = {lane: pins[pin] for lane, pin in connected(made_by, list(pins), there).items()}
    seen = _held({n: decimated(v, fine, scope.peak_capture) for n, v in on.items()}, scope)
    # Each lane has noise of its own, so that what is shown so far does not change as more comes.
    taken = {
        n: _lane(kind.lane(n), v, scope, np.random.default_rng([seed, k]), made_by, (inputs or {}).get(n))
        for k, (n, v) in enumerate(seen.items())
    }
    return _recording(taken, scope, order)


def connected(made_by: Source, pins: Sequence[str], wires: Mapping[str, str] | None) -> dict[str, str]:
    """The pin of each lane that has a probe: as told, else each on its own. Raises BadOption for what cannot be."""
    if wires is None:
        return {n: n for n in pins}
    kind = circuit_of(made_by.code)
    for lane, pin in wires.items():
        if lane not in pins or pin not in pins:
            raise BadOption(f"a probe of {lane!r} on {pin!r}: choose among {', '.join(pins)}")
        if lane != pin and not {lane, pin} <= set(probed(kind)):
            raise BadOption(f"the {lane} lane does not take its signal from the wire of the {pin}")
    if not wires:
        raise BadOption("no probe is on a wire: connect one first")
    return {n: wires[n] for n in pins if n in wires}


def probed(kind: Circuit) -> list[str]:
    """Lanes whose probe can be put on any wire of the plug: those in volts that are no reference of time."""
    return [x.name for x in kind.lanes if x.unit == "V" and x.role in ("signal", "supply", "ground")]


def _checked(code: str, fault: str, part: Mapping[str, Any] | None) -> Source:
    made_by = source(code)
    made_by.check_fault(fault)
    made_by.check_engine(part or {})
    return made_by


def _held(seen: dict[str, np.ndarray], scope: ScopeSettings) -> dict[str, np.ndarray]:
    """What a trigger cuts out of the lanes; all of them without one."""
    if scope.trigger is None:
        return seen
    start, stop = triggered(seen, scope.trigger, scope.rate_hz, round(scope.duration_s * scope.rate_hz))
    return {n: v[start:stop] for n, v in seen.items()}


def _recording(taken: dict[str, Lane], scope: ScopeSettings, order: Order) -> Recording:
    size = next(iter(taken.values())).samples.size
    # Parameters go with the untriggered record, whose start they are stamped from.
    scan = order.scan if scope.trigger is None else {}
    return Recording(capture_from_stamps(np.arange(size) / scope.rate_hz, taken), scan)


def _lane(
    spec: LaneSpec,
    values: np.ndarray,
    scope: ScopeSettings,
    rng: np.random.Generator,
    made_by: Source,
    before: Input | None,
) -> Lane:
    """One lane through its input; the range that was set is for the lanes it suits, others find their own."""
    if before is not None:
        values = shown(values, before, scope.rate_hz)
    low, high = spec.plausible
    chosen = spec.role in ("signal", "current")
    range_v = scope.range_v if chosen or fitting_range(low, high) <= scope.range_v else fitting_range(low, high)
    own = made_by.noise.get(spec.name, 0.0 if spec.unit == "V" else 0.001 * range_v)
    # What the scope is set to counts in the unit of the lane that is looked at; others keep their own.
    noise = max(own, scope.noise_v) if chosen or spec.unit == "V" else own
    ends = span_of(100.0, 0.0) if spec.unit == "%" else span_of(range_v, low)
    return Lane(spec.name, digitised(scope, values, rng, ends, noise), spec.unit, f"trainer {spec.name}")
