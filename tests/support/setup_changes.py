"""Changes of a sound recording that provoke a set-up finding, and ones that come near and must not; and why a circuit
is without one."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

import numpy as np
from scipy.ndimage import gaussian_filter1d

from tracebench.bench.scope import ScopeSettings
from tracebench.bench.sources import SOURCES
from tracebench.bench.trainer import record
from tracebench.core.capture import Capture

Change = Callable[[Capture], Capture]


def sound(code: str) -> Capture:
    source = SOURCES[code]
    rate = min(source.rate_hz, 500_000)
    part = {"hz_per_gs": 20.0} if code == "airflow-frequency" else {}
    made = record(code, ScopeSettings(source.range_v, source.manoeuvres[0].duration_s, rate), 21, part=part)
    # The pump current decides where it was recorded; the voltage beside its references is what most have.
    return replace(made, lanes={n: x for n, x in made.lanes.items() if n != "pump_current"})


def on(lane: str, change: Callable[[np.ndarray, float], np.ndarray]) -> Change:
    """A change of one lane's samples, given with the interval in seconds."""

    def apply(capture: Capture) -> Capture:
        found = capture.lanes[lane]
        return capture.with_lane(replace(found, samples=change(found.samples, capture.interval_s)))

    return apply


def dead(lane: str) -> Change:
    """Nothing but 2 mV of noise about 4 mV, and no other lane that proves the circuit alive."""

    def apply(capture: Capture) -> Capture:
        quiet = np.random.default_rng(1).normal(0.004, 0.002, capture.samples)
        needed = [n for n in capture.lanes if n == lane or (lane == "track1" and n == "track2")]
        lanes = {n: replace(capture.lanes[n], samples=quiet) for n in needed}
        return Capture(lanes, capture.interval_s)

    return apply


def scaled(lane: str, factor: float) -> Change:
    return on(lane, lambda x, _: x * factor)


def capped(lane: str, top: float) -> Change:
    return on(lane, lambda x, _: np.minimum(x, top))


def moved(lane: str, by: float) -> Change:
    return on(lane, lambda x, _: x + by)


def touched(x: np.ndarray, _: float) -> np.ndarray:
    """A range that only the four highest samples reach."""
    return np.minimum(x, np.sort(x)[-4])


def noised(lane: str, sigma: float) -> Change:
    return on(lane, lambda x, _: x + np.random.default_rng(2).normal(0, sigma, x.size))


def coarse(lane: str, levels: int) -> Change:
    def steps(x: np.ndarray, _: float) -> np.ndarray:
        step = float(np.ptp(x)) / levels
        return np.round(x / step) * step

    return on(lane, steps)


def filtered(lane: str, seconds: float, noise: float = 0.0) -> Change:
    """A low-pass filter after the recorder: a Gaussian of that standard deviation, and noise put on again."""

    def apply(x: np.ndarray, interval: float) -> np.ndarray:
        # Twice: what the first leaves of the recorder's own noise goes with the second.
        smooth = gaussian_filter1d(gaussian_filter1d(x, seconds / interval), seconds / interval)
        return smooth + np.random.default_rng(3).normal(0, noise, x.size) if noise else smooth

    return on(lane, apply)


def thinned(by: int) -> Change:
    def apply(capture: Capture) -> Capture:
        lanes = {n: replace(x, samples=np.ascontiguousarray(x.samples[::by])) for n, x in capture.lanes.items()}
        return Capture(lanes, capture.interval_s * by, capture.start_s)

    return apply


def cut(begin_s: float, seconds: float) -> Change:
    def apply(capture: Capture) -> Capture:
        a = round(begin_s / capture.interval_s)
        b = a + round(seconds / capture.interval_s)
        return Capture({n: replace(x, samples=x.samples[a:b]) for n, x in capture.lanes.items()}, capture.interval_s)

    return apply


def lifted_off(lane: str, at_s: float, seconds: float) -> Change:
    def apply(x: np.ndarray, interval: float) -> np.ndarray:
        out = x.copy()
        out[round(at_s / interval) : round((at_s + seconds) / interval)] = 0.002
        return out

    return on(lane, apply)


def switched(lane: str, seconds: float, over: float = 0.1) -> Change:
    """An inductive lane made a switched one, as a Hall sensor's, and filtered."""
    level = on(lane, lambda x, _: np.where(x > over, 4.8, 0.2))
    return lambda capture: filtered(lane, seconds)(level(capture))


def cold(capture: Capture) -> Capture:
    """An oxygen sensor's lane alone, at rest in the middle."""
    found = capture.lanes["signal"]
    still = 0.45 + np.random.default_rng(4).normal(0, 0.004, capture.samples)
    return replace(capture, lanes={"signal": replace(found, samples=still)})


def fallen(lane: str, at_s: float, seconds: float) -> Change:
    def apply(x: np.ndarray, interval: float) -> np.ndarray:
        out = x.copy()
        out[round(at_s / interval) : round((at_s + seconds) / interval)] *= 0.5
        return out

    return on(lane, apply)


def all_lifted_off(at_s: float, seconds: float) -> Change:
    def apply(capture: Capture) -> Capture:
        for lane in capture.lanes:
            capture = lifted_off(lane, at_s, seconds)(capture)
        return capture

    return apply


def hurried(by: int) -> Change:
    return lambda capture: replace(capture, interval_s=capture.interval_s / by)


def exchanged(one: str, other: str) -> Change:
    def apply(capture: Capture) -> Capture:
        a, b = capture.lanes[one], capture.lanes[other]
        return replace(capture, lanes={**capture.lanes, one: replace(b, name=one), other: replace(a, name=other)})

    return apply


def as_it_is(capture: Capture) -> Capture:
    return capture


@dataclass(frozen=True)
class Pair:
    """A change that provokes a finding, and one that comes near and must not."""

    provoked: Change
    near: Change


BY_HAND = "only a throttle is swept by hand against a school's time"
ONE_LANE = "one lane only, or lanes whose levels do not tell them apart"
NO_PHASE = "no phase is required"
STEADY = "rests at zero or at any level by itself: a slip is not told from it"
PULSES = "rests at zero between its pulses; a pulse that is gone is the circuit's own finding"
EDGELESS = "no edge that the circuit must be quick in: a hand, a temperature or a battery moves it"
WINDING = "a winding's own inductance makes edges as slow as a filter does"
TWO_LEVELS = "two levels at which it rests by itself, told apart by any code"
RESTS = "rests at one level, which any rate and any code within its limits show"
NO_CLAMP = "no clamp that a pulse stands on hangs there"
EITHER_SENSE = "either sense of a winding is its own"
EITHER_WAY = "either polarity is its own, and is a reading"

NOT_SWEPT = {"sweep_too_fast": BY_HAND}
OF_EVENTS = NOT_SWEPT | {"missing_phase": NO_PHASE, "probe_slip": PULSES}
ONE_OF_EVENTS = OF_EVENTS | {"lanes_swapped": ONE_LANE}


def shared(
    lane: str, top: float, thin: tuple[int, int], short: Change, long: Change, factor: float = 10.0
) -> dict[str, Pair]:
    """What nearly every circuit's lane shows alike; `long` is just long enough a record where `short` is not."""
    return {
        "flat_line": Pair(dead(lane), scaled(lane, 0.5)),
        "clipped": Pair(capped(lane, top), on(lane, touched)),
        "undersampled": Pair(thinned(thin[0]), thinned(thin[1])),
        "too_short": Pair(short, long),
        "reversed_polarity": Pair(scaled(lane, -1.0), on(lane, lambda x, _: x - 0.02)),
        **({"zero_not_set": Pair(moved(lane, 0.1 * top), moved(lane, 0.01 * top))} if lane == "current" else {}),
        "scale_suspect": Pair(scaled(lane, factor), scaled(lane, 1.08)),
        "low_range_use": Pair(coarse(lane, 12), coarse(lane, 60)),
    }


def slip(lane: str, at_s: float) -> Pair:
    """Half a second at zero; a twentieth of one at half the level is a dropout."""
    return Pair(lifted_off(lane, at_s, 0.5), fallen(lane, at_s, 0.05))


def without(pairs: Mapping[str, Pair], *findings: str) -> dict[str, Pair]:
    """The pairs but for those findings, which the circuit is excused from."""
    return {finding: pair for finding, pair in pairs.items() if finding not in findings}
