"""One recording of the trainer: a part or engine, a manoeuvre and a scope make a capture. Same seed, same samples."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from tracebench.bench.circuits import source
from tracebench.bench.scope import (
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
from tracebench.core.capture import Capture, Lane, capture_from_stamps
from tracebench.core.circuits import circuit as circuit_of
from tracebench.core.circuits.circuit import LaneSpec

FINEST_HZ = 2000.0
"""Parts are worked out at least this finely, so that a gouge narrower than a sample is not lost."""

MOST_FACTOR = 50


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
    made_by = source(code)
    made_by.check_fault(fault)
    made_by.check_engine(part or {})
    what = made_by.manoeuvre(manoeuvre)
    rng = np.random.default_rng(seed)
    fine = min(MOST_FACTOR, max(1, round(FINEST_HZ / scope.rate_hz)))
    # A trigger waits within the manoeuvre, and the record still goes on to its end.
    length_s = scope.duration_s + (0.0 if scope.trigger is None else what.duration_s)
    count = round(length_s * scope.rate_hz)
    times = np.arange(count * fine) / (scope.rate_hz * fine)
    order = Order(times, fault, severity, what.key, rng, part or {}, movement)
    pins = made_by.lanes(order)
    wanted = [n for n in pins if lanes is None or n in lanes]
    seen = {n: decimated(pins[n], fine, scope.peak_capture) for n in wanted}
    if scope.trigger is not None:
        start, stop = triggered(seen, scope.trigger, scope.rate_hz, round(scope.duration_s * scope.rate_hz))
        seen = {n: v[start:stop] for n, v in seen.items()}
    kind = circuit_of(code)
    taken = {n: _lane(kind.lane(n), v, scope, rng, made_by, (inputs or {}).get(n)) for n, v in seen.items()}
    size = next(iter(seen.values())).size
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
