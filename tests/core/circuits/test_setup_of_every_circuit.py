"""Every set-up finding on every circuit: provoked on a sound recording of the trainer, with a near miss that must not.

What a circuit cannot show is named with its reason, so that no pair is left out by oversight.
"""

from __future__ import annotations

import unittest
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from scipy.ndimage import gaussian_filter1d

from tests.support.courses import codes
from tracebench.bench.scope import ScopeSettings
from tracebench.bench.sources import SOURCES
from tracebench.bench.trainer import record
from tracebench.core.capture import Capture
from tracebench.core.circuits import CIRCUITS, measure
from tracebench.core.circuits.setup_findings import SETUP_FINDINGS

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


TABLE: dict[str, tuple[dict[str, Pair], dict[str, str]]] = {
    "throttle-position": (
        shared("signal", 3.5, (20, 10), cut(0, 0.8), as_it_is)
        | {
            "missing_phase": Pair(cut(0, 1.3), as_it_is),
            "noisy": Pair(noised("signal", 0.25), noised("signal", 0.02)),
            "probe_slip": slip("signal", 7.5),
            "sweep_too_fast": Pair(hurried(6), as_it_is),
            "lanes_swapped": Pair(exchanged("signal", "reference"), as_it_is),
        },
        {"over_filtered": EDGELESS},
    ),
    "pedal-position": (
        shared("track1", 3.0, (20, 10), cut(0, 0.4), cut(0, 0.7))
        | {
            "missing_phase": Pair(cut(0, 1.2), as_it_is),
            "noisy": Pair(noised("track1", 0.2), noised("track1", 0.01)),
            "probe_slip": Pair(all_lifted_off(10.0, 0.5), fallen("track1", 10.0, 0.05)),
            "lanes_swapped": Pair(exchanged("track1", "track2"), as_it_is),
        },
        NOT_SWEPT | {"over_filtered": EDGELESS},
    ),
    "manifold-pressure": (
        shared("signal", 4.0, (40, 10), cut(0, 0.8), cut(0, 1.3))
        | {
            "missing_phase": Pair(cut(0, 6.0), as_it_is),
            "noisy": Pair(noised("signal", 1.5), noised("signal", 0.02)),
            "probe_slip": slip("signal", 5.0),
            "over_filtered": Pair(filtered("signal", 0.1), filtered("signal", 0.1, 0.01)),
            "lanes_swapped": Pair(exchanged("signal", "throttle"), as_it_is),
        },
        NOT_SWEPT,
    ),
    "airflow-voltage": (
        shared("signal", 2.0, (40, 5), cut(0, 0.8), cut(0, 1.3))
        | {
            "missing_phase": Pair(cut(0, 6.5), as_it_is),
            "noisy": Pair(noised("signal", 1.5), noised("signal", 0.01)),
            "probe_slip": slip("signal", 6.0),
            "over_filtered": Pair(filtered("signal", 0.03), filtered("signal", 0.002)),
            "lanes_swapped": Pair(exchanged("supply", "ground"), as_it_is),
        },
        NOT_SWEPT,
    ),
    "airflow-frequency": (
        shared("signal", 4.0, (8, 2), cut(5.0, 0.001), cut(5.0, 0.02))
        | {
            "missing_phase": Pair(cut(5.2, 1.0), as_it_is),
            "noisy": Pair(noised("signal", 1.0), noised("signal", 0.05)),
            "over_filtered": Pair(filtered("signal", 60e-6), filtered("signal", 5e-6)),
        },
        NOT_SWEPT | {"lanes_swapped": ONE_LANE, "probe_slip": PULSES},
    ),
    "oxygen-switching": (
        shared("signal", 0.6, (20, 5), cut(0, 1.8), cut(0, 2.6))
        | {
            "missing_phase": Pair(cold, as_it_is),
            "noisy": Pair(noised("signal", 0.6), noised("signal", 0.01)),
            "over_filtered": Pair(filtered("signal", 0.06), filtered("signal", 0.06, 0.01)),
        },
        NOT_SWEPT | {"lanes_swapped": ONE_LANE, "probe_slip": STEADY},
    ),
    "oxygen-wideband": (
        shared("pump_voltage", 3.0, (50, 10), cut(0, 0.8), cut(0, 1.3))
        | {
            "missing_phase": Pair(cut(8.0, 0.4), as_it_is),
            "noisy": Pair(noised("pump_voltage", 1.5), noised("pump_voltage", 0.01)),
            "over_filtered": Pair(filtered("pump_voltage", 0.2), filtered("pump_voltage", 0.2, 0.01)),
            "lanes_swapped": Pair(exchanged("reference_low", "reference_high"), as_it_is),
        },
        NOT_SWEPT | {"probe_slip": STEADY},
    ),
    "rail-pressure": (
        shared("signal", 2.5, (80, 10), cut(0, 0.8), cut(0, 1.3))
        | {
            "missing_phase": Pair(cut(0, 7.0), as_it_is),
            "noisy": Pair(noised("signal", 1.5), noised("signal", 0.01)),
            "probe_slip": slip("signal", 6.0),
        },
        NOT_SWEPT | {"lanes_swapped": ONE_LANE, "over_filtered": EDGELESS},
    ),
    "crank-position": (
        shared("signal", 1.0, (15, 2), cut(0, 0.03), cut(0, 0.3), 100.0)
        | {
            "noisy": Pair(noised("signal", 0.6), noised("signal", 0.05)),
            "over_filtered": Pair(switched("signal", 75e-6), switched("signal", 20e-6)),
            "lanes_swapped": Pair(exchanged("signal", "cam"), as_it_is),
        },
        NOT_SWEPT | {"missing_phase": NO_PHASE, "probe_slip": PULSES},
    ),
    "wheel-speed": (
        shared("signal", 0.3, (40, 12), cut(1.0, 0.6), cut(1.0, 1.5), 100.0)
        | {
            "noisy": Pair(noised("signal", 0.3), noised("signal", 0.005)),
            "over_filtered": Pair(switched("signal", 1.5e-3, 0.02), switched("signal", 0.2e-3, 0.02)),
            "missing_phase": Pair(dead("signal"), as_it_is),
        },
        NOT_SWEPT | {"lanes_swapped": ONE_LANE, "probe_slip": STEADY},
    ),
    "temperature": (
        shared("signal", 1.5, (10, 1), cut(0, 0.8), cut(0, 1.3))
        | {"noisy": Pair(noised("signal", 0.8), noised("signal", 0.01))},
        NOT_SWEPT
        | {"over_filtered": EDGELESS, "lanes_swapped": ONE_LANE, "missing_phase": NO_PHASE, "probe_slip": STEADY},
    ),
    "supply-ground": (
        shared("supply", 12.3, (10, 2), cut(0, 0.15), cut(0, 0.3))
        | {
            "noisy": Pair(noised("reference", 8.0), noised("reference", 0.05)),
            "lanes_swapped": Pair(exchanged("supply", "ground"), as_it_is),
        },
        NOT_SWEPT | {"over_filtered": EDGELESS, "missing_phase": NO_PHASE, "probe_slip": STEADY},
    ),
    "charging": (
        shared("sense", 14.1, (20, 2), cut(0, 0.6), cut(0, 1.3))
        | {
            "noisy": Pair(noised("sense", 0.5), noised("sense", 0.02)),
            "lanes_swapped": Pair(exchanged("sense", "case_ground"), as_it_is),
        },
        NOT_SWEPT | {"over_filtered": EDGELESS, "missing_phase": NO_PHASE, "probe_slip": STEADY},
    ),
    "injector-voltage": (
        shared("control", 40.0, (200, 2), cut(0.002, 0.003), cut(0, 0.3))
        | {
            "noisy": Pair(noised("control", 12.0), noised("control", 0.05)),
            "over_filtered": Pair(filtered("control", 100e-6), filtered("control", 5e-6)),
        },
        ONE_OF_EVENTS,
    ),
    "injector-current": (
        shared("current", 0.6, (20, 2), cut(0, 0.003), cut(0, 0.3))
        | {"noisy": Pair(noised("current", 0.07), noised("current", 0.002))},
        ONE_OF_EVENTS | {"over_filtered": WINDING},
    ),
    "injector-current-group": (
        shared("current", 3.0, (20, 2), cut(0, 0.003), cut(0, 0.3), 100.0)
        | {"noisy": Pair(noised("current", 0.35), noised("current", 0.02))},
        ONE_OF_EVENTS | {"over_filtered": WINDING},
    ),
    "injector-current-parade": (
        shared("current", 0.6, (20, 2), cut(0, 0.003), cut(0, 0.3), 100.0)
        | {
            "noisy": Pair(noised("current", 0.07), noised("current", 0.002)),
            "lanes_swapped": Pair(exchanged("current", "sync"), as_it_is),
        },
        OF_EVENTS | {"over_filtered": WINDING},
    ),
    "injector-peak-hold": (
        shared("current", 8.0, (40, 2), cut(0, 0.003), cut(0, 0.3), 100.0)
        | {"noisy": Pair(noised("current", 0.8), noised("current", 0.05))},
        ONE_OF_EVENTS | {"over_filtered": WINDING},
    ),
    "injector-piezo": (
        shared("current", 5.0, (20, 2), cut(0, 0.0015), cut(0, 0.3))
        | {"noisy": Pair(noised("current", 0.6), noised("current", 0.05))},
        ONE_OF_EVENTS | {"over_filtered": WINDING},
    ),
    "coil-primary-current": (
        shared("current", 5.0, (40, 2), cut(0.010, 0.003), cut(0, 0.3), 100.0)
        | {
            "noisy": Pair(noised("current", 0.6), noised("current", 0.02)),
            "lanes_swapped": Pair(exchanged("current", "sync"), as_it_is),
        },
        OF_EVENTS | {"over_filtered": WINDING},
    ),
    "coil-primary-voltage": (
        shared("control", 200.0, (100, 2), cut(0.002, 0.003), cut(0, 0.3))
        | {
            "noisy": Pair(noised("control", 12.0), noised("control", 0.1)),
            "over_filtered": Pair(filtered("control", 100e-6), filtered("control", 2e-6)),
        },
        ONE_OF_EVENTS,
    ),
    "secondary-voltage": (
        {
            k: v
            for k, v in shared("secondary", 10.0, (100, 2), cut(0, 0.003), cut(0, 0.3), 1000.0).items()
            if k != "reversed_polarity"
        }
        | {
            "clipped": Pair(on("secondary", lambda x, _: np.maximum(x, -7.0)), as_it_is),
            "noisy": Pair(noised("secondary", 0.5), noised("secondary", 0.02)),
            "over_filtered": Pair(filtered("secondary", 150e-6), filtered("secondary", 2e-6)),
            "lanes_swapped": Pair(exchanged("secondary", "sync"), as_it_is),
        },
        OF_EVENTS | {"reversed_polarity": EITHER_WAY},
    ),
    "igniter-bench": (
        {
            k: v
            for k, v in shared("output", 10.0, (20, 2), cut(0, 0.09), cut(0, 3.5)).items()
            if k not in ("clipped", "low_range_use")
        }
        | {
            "noisy": Pair(noised("output", 3.0), noised("output", 0.05)),
            "over_filtered": Pair(filtered("output", 500e-6), filtered("output", 50e-6)),
            "lanes_swapped": Pair(exchanged("output", "trigger"), as_it_is),
        },
        OF_EVENTS | {"clipped": TWO_LEVELS, "low_range_use": TWO_LEVELS},
    ),
}

for _code, _out_of, _why in (
    ("airflow-frequency", ("clipped", "low_range_use"), TWO_LEVELS),
    ("supply-ground", ("clipped", "low_range_use", "undersampled"), RESTS),
    ("temperature", ("low_range_use",), RESTS),
    ("wheel-speed", ("reversed_polarity",), EITHER_SENSE),
    ("crank-position", ("reversed_polarity",), "either sense is its own unless one is told: test_crank_position"),
):
    for _finding in _out_of:
        TABLE[_code][0].pop(_finding)
        TABLE[_code][1][_finding] = _why


for _code, (_pairs, _excused) in list(TABLE.items()):
    if "zero_not_set" not in _pairs:
        TABLE[_code] = (_pairs, {**_excused, "zero_not_set": NO_CLAMP})

TOLD = {"trigger_outside", "cold_capture", "other_design", "condition_not_shown", "another_circuit"}
"""Found by what is told of a capture, not on its lanes: tests/core/circuits/test_told.py; the last one against a card:
tests/core/grading/test_record_of_another.py."""


class EveryPair(unittest.TestCase):
    def test_no_pair_is_left_out(self):
        every = {f.code for f in SETUP_FINDINGS} - TOLD
        self.assertEqual(set(TABLE), set(CIRCUITS))
        for code, (pairs, excused) in TABLE.items():
            with self.subTest(circuit=code):
                self.assertEqual(set(pairs) | set(excused), every)
                self.assertEqual(set(pairs) & set(excused), set())

    def test_each_is_provoked_and_its_near_miss_is_not(self):
        for code, (pairs, _) in TABLE.items():
            capture = sound(code)
            clean = codes(measure(capture, code), "set-up")
            with self.subTest(circuit=code):
                self.assertEqual(clean, [])
            for finding, pair in pairs.items():
                with self.subTest(circuit=code, finding=finding):
                    answer = measure(pair.provoked(capture), code)
                    self.assertIn(finding, codes(answer, "set-up"))
                    self.assertNotEqual(answer.call, "faulty", answer.because)
                with self.subTest(circuit=code, near_miss_of=finding):
                    self.assertNotIn(finding, codes(measure(pair.near(capture), code), "set-up"))
