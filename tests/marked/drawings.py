"""Captures of the marked sittings, drawn from formulas of their own, so that what they show is known beforehand."""

from __future__ import annotations

import numpy as np

from tests.circuits.crank_position import test_crank_position
from tests.circuits.manifold_pressure import test_manifold_pressure
from tests.circuits.pedal_position import test_pedal_position as pedals
from tests.core.circuits import test_airflow, test_oxygen
from tests.core.circuits import test_standing as standing
from tests.core.circuits.test_ignition import instants, sync_of
from tests.core.circuits.test_injectors import STARTS, TIMES
from tests.support.courses import captured
from tests.support.pulses import Coil, axis, coil_ramp, control_wire, noisy, spark
from tests.support.waves import Sweep, steady
from tracebench.core.capture import Capture

ORDER = (1, 3, 4, 2)
FOUR = {"firing_order": "1-3-4-2"}
QUIET = {"rate_hz": 2000, "noise_v": 0.004}


def throttle(wires: bool = False, **changes: object) -> Capture:
    """Closed 0.7 V, open 4.2 V; strokes 1.0-6.5, 7.5-13.0, 14.0-19.5 and 20.5-26.0 s. `wires`: reference and ground."""
    sweep = Sweep(**{**QUIET, **changes})
    return sweep.capture(reference=steady(sweep, 5.0), ground=steady(sweep, 0.02)) if wires else sweep.capture()


def worn(**changes: object) -> Capture:
    """Falls of 1.2 V for 10 ms at 14 % of travel in each stroke: 1.77, 12.23, 14.77 and 25.23 s."""
    return throttle(dips=tuple((at, 0.01, 1.2) for at in (1.77, 12.23, 14.77, 25.23)), **changes)


def pedal(**changes: np.ndarray) -> Capture:
    return captured(pedals.CODE, pedals.RATE, **pedals.lanes(**changes))


def pedal_without_reference() -> Capture:
    """Track 1 and its reference at nothing from 4.0 to 4.6 s; the rest goes on."""
    made = pedals.lanes()
    for lane in ("track1", "reference1"):
        made[lane] = pedals.away(made[lane], 4.0, 4.6)
    return captured(pedals.CODE, pedals.RATE, **made)


def manifold(**changes: object) -> Capture:
    """Key on 0-2 s, idle 3-8 s, snap 8.0-8.7 s, overrun 8.9-10.4 s."""
    lanes = {"signal": test_manifold_pressure.pressure(**changes), "throttle": test_manifold_pressure.throttle()}
    return captured("manifold-pressure", 2000, **lanes)


def manifold_cut(stop_s: float) -> Capture:
    """The same, stopped early."""
    size = round(stop_s * 2000)
    return captured("manifold-pressure", 2000, signal=test_manifold_pressure.pressure()[:size])


def airflow(**changes: object) -> Capture:
    """Key on 0-2 s, idle 3.1-7 s, 2,500 at 7.6-10 s, 4,000 at 10.6-13 s, a snap at 16 s."""
    wires = {"supply": np.full(21_000, 12.6), "ground": np.full(21_000, 0.02)}
    rng = np.random.default_rng(3)
    lanes = {n: v + rng.normal(0, 0.003, v.size) for n, v in wires.items()}
    return captured("airflow-voltage", 1000, signal=test_airflow.volts(**changes), **lanes)


def switching(**changes: object) -> Capture:
    """Switches until 10 s and from 14 s; rich 10-12 s, overrun 12-14 s."""
    return captured("oxygen-switching", 1000, signal=test_oxygen.switching(**changes))


def rail(**changes: object) -> Capture:
    """Key on 0-2 s, crank from 2 s, idle until 9 s, acceleration 9-11.4 s, idle until 15 s, stop."""
    return captured("rail-pressure", standing.RATE, signal=standing.rail(**changes))


def crank(**changes: object) -> Capture:
    """900 turns a minute: a turn is 66.7 ms; tooth k of turn n begins at (n + k / 60) x 66.7 ms."""
    return captured("crank-position", 100_000, **test_crank_position.wheel(**changes))


def temperature(volts: float, loose: bool = False) -> Capture:
    """Twenty seconds of a level; `loose`: a leap to 4.6 V from 7.00 to 7.08 s."""
    samples = noisy(np.full(2000, volts), 0.002)
    if loose:
        samples[700:708] = 4.6
    return captured("temperature", 100, signal=samples)


def feeds(supply: float = 12.5, reference: float = 5.0, ground: float = 0.02) -> Capture:
    rng = np.random.default_rng(6)
    made = {"supply": supply, "reference": reference, "ground": ground, "battery": 12.6}
    return captured("supply-ground", 1000, **{n: v + rng.normal(0, 0.003, 3000) for n, v in made.items()})


def charging(**changes: float) -> Capture:
    """Twelve seconds; an event, where one is drawn, lasts from 5 to 8 s."""
    return standing.charge(**changes)


def injector_wire(**changes: object) -> Capture:
    """Seven pulses of 3.0 ms from 0.020 s, 75 ms apart; released at the end of each, bump 1.1 ms later."""
    control = noisy(control_wire(TIMES, STARTS, **changes), 0.05, 1, 120 / 4096)
    return captured("injector-voltage", 200_000, control=control)


def injector_amps(scale: float = 1.0, **changes: object) -> Capture:
    """The same seven pulses through a clamp: 14 V over 16 ohm, peak 0.83 A."""
    amps = noisy(scale * Coil(**changes).amperes(TIMES, STARTS), 0.004 * scale, 2)
    return captured("injector-current", 200_000, current=amps)


def coil_wire(**changes: object) -> Capture:
    """Six firings, 75 ms apart: dwell 3.0 ms from 0.020 s, kick 320 V, burn 30 V over supply for 1.4 ms."""
    times, at = axis(0.5, 500_000), np.arange(0.02, 0.46, 0.075)
    told = {"burn": 30.0, "burn_ms": 1.4, "peak": 306.0, **changes}
    lane = 14.0 + spark(times, at + 0.003, **told)
    for s in at:
        lane[(times >= s) & (times < s + 0.003)] = 0.6
    return captured("coil-primary-voltage", 500_000, control=noisy(lane, 0.2))


def secondary(**bad: float) -> Capture:
    """Firings 37 ms apart from 0.020 s in the order 1-3-4-2, 10 kV, burn 1.5 kV for 1.4 ms; `bad` is cylinder 3's."""
    times, at = axis(1.0, 500_000), instants(1.0)
    lane = np.zeros(times.size)
    for k, s in enumerate(at):
        lane += spark(times, [s], seed=k, **(bad if ORDER[k % 4] == 3 else {}))
    return captured("secondary-voltage", 500_000, secondary=-noisy(lane, 0.02), sync=sync_of(times, at))


def coil_amps(**bad: float) -> Capture:
    """Ramps of 3.0 ms to 7.5 A, 37 ms apart from 0.020 s in the order 1-3-4-2; `bad` is cylinder 3's."""
    times, at = axis(0.8, 200_000), instants(0.8)
    lane = np.zeros(times.size)
    for k, s in enumerate(at):
        lane += coil_ramp(times, [s], **(bad if ORDER[k % 4] == 3 else {}))
    return captured("coil-primary-current", 200_000, current=noisy(lane, 0.02), sync=sync_of(times, at + 0.003))


def parade(weak: float = 1.0) -> Capture:
    """Pulses of 3.0 ms, 37 ms apart from 0.020 s in the order 1-3-4-2; cylinder 3 draws `weak` of the others."""
    times, at = axis(0.8, 100_000), instants(0.8)
    lane = np.zeros(times.size)
    for k, s in enumerate(at):
        lane += (weak if ORDER[k % 4] == 3 else 1.0) * Coil().amperes(times, [s])
    return captured("injector-current-parade", 100_000, current=noisy(lane, 0.004), sync=sync_of(times, at))


def module(silent: tuple[int, ...] = ()) -> Capture:
    """Eleven hand-made triggers over six seconds, answered by 3.4 ms low; those of `silent` are not."""
    times, rng = axis(6.0, 20_000), np.random.default_rng(4)
    starts = np.arange(0.3, 5.6, 0.5) + rng.uniform(0, 0.1, 11)
    trigger, output = np.zeros(times.size), np.full(times.size, 12.6)
    for k, s in enumerate(starts):
        trigger[(times >= s) & (times < s + 0.08)] = 5.0
        if k not in silent:
            output[(times >= s) & (times < s + 0.0034)] = 0.3
    return captured("igniter-bench", 20_000, trigger=noisy(trigger, 0.02, 1), output=noisy(output, 0.03, 2))
