"""Sensors of the petrol engine: pressure, airflow, oxygen, crank and cam, all from one run of it."""

from __future__ import annotations

import zlib
from collections.abc import Sequence
from dataclasses import replace

import numpy as np
import scipy

from tracebench.bench.hand import MOVEMENT_HZ, SweepPlan, followed
from tracebench.bench.scan import of_run, scanned
from tracebench.bench.source import Manoeuvre, Order, Volts, at
from tracebench.bench.vehicle.electrics import Regulator
from tracebench.bench.vehicle.engine import Engine, Run, run
from tracebench.bench.vehicle.firing import Firing, firings
from tracebench.bench.vehicle.script import STEP_S, Script, Segment, laid_out
from tracebench.core.transfer import standard_pressure_kpa

S = Segment

SCRIPTS: dict[str, tuple[Segment, ...]] = {
    "snap": (
        S("key_on", 1.6),
        S("crank", 0.8),
        S("idle", 4.6),
        S("snap", 0.75),
        S("idle", 5.5),
        S("snap", 0.7),
        S("idle", 5.5),
    ),
    "speeds": (
        S("key_on", 1.8),
        S("crank", 0.8),
        S("idle", 4.6),
        S("speed", 3.4, 2500),
        S("speed", 3.4, 4000),
        S("idle", 5.0),
        S("snap", 0.75),
        S("idle", 5.0),
    ),
    "steady": (
        S("key_on", 0.05),
        S("crank", 0.8),
        S("idle", 3.5),
        S("speed", 12.0, 2500),
        S("snap", 1.3),
        S("idle", 6.0),
    ),
    "idle": (S("key_on", 0.05), S("crank", 0.8), S("idle", 12.0)),
    "start": (S("key_on", 0.6), S("crank", 1.3), S("idle", 6.0)),
    "burst": (S("key_on", 0.05), S("crank", 0.8), S("idle", 3.7), S("snap", 0.8), S("idle", 4.0)),
    "running": (
        S("key_on", 0.05),
        S("crank", 0.8),
        S("idle", 7.0),
        S("snap", 0.8),
        S("idle", 6.0),
        S("snap", 0.8),
        S("idle", 9.0),
    ),
    "warm-up": (S("key_on", 4.0), S("crank", 1.0), S("idle", 4.0), S("speed", 15.0, 1800)),
    "charge": (S("key_on", 0.05), S("crank", 0.8), S("idle", 3.0), S("speed", 25.0, 1500)),
    "load": (
        S("key_on", 0.05),
        S("crank", 0.8),
        S("idle", 8.0),
        S("snap", 1.2),
        S("idle", 7.0),
        S("snap", 1.2),
        S("idle", 7.0),
    ),
}

RUNS_RPM = 400.0
"""An engine that turns faster runs by itself."""

SCANNED = ("engine speed", "manifold pressure")

START_UP_S = {"steady": 3.6, "idle": 3.4, "load": 4.0, "charge": 5.5, "burst": 3.4, "start": 0.7, "running": 3.4}
"""What is over before the recording of a warm engine begins."""

WHOLE = Manoeuvre("snap", "Key on, crank, idle, two snaps", 19.0)
IDLE = Manoeuvre("idle", "Warm idle only", 9.0)


def engine_of(order: Order) -> Engine:
    """The engine as the fault and the day make it."""
    altitude = order.number("altitude_m", 20.0)
    engine = Engine(ambient_kpa=standard_pressure_kpa(altitude) + order.rng.uniform(-0.6, 0.6))
    s = order.severity
    changes: dict[str, float] = {
        "leak": {"leak_m2": (2.8 + 1.4 * s) * 1e-5},
        "lazy": {"sensor_lag_s": 0.55 + 0.35 * s},
        "restricted-exhaust": {"breathing": 0.64 - 0.14 * s},
        "slow-fuel": {"fuel_delay_s": 0.16 + 0.06 * s},
        "lean": {"fuel_gain": 0.75 - 0.03 * s},
        "rich": {"fuel_gain": 1.38 + 0.05 * s},
    }.get(order.fault, {})
    return replace(engine, **changes)  # type: ignore[arg-type]  # every figure that a fault changes is a float


def drive(order: Order, script: str = "") -> tuple[Run, Volts]:
    """The run of the order's manoeuvre, and the instants in it at which the order is sampled; one run an order.

    `script` names another run of the same engine, where a manoeuvre is not one of the engine's own.
    """
    if "run" in order.memo:
        return order.memo["run"]  # type: ignore[no-any-return]
    if order.controls is not None:
        result = run(engine_of(order), order.controls.script(order.until_s))
        order.note((result.rpm > RUNS_RPM).astype(float))
        tool = np.random.default_rng(zlib.crc32(order.rng.bytes(8)))
        order.scan.update(scanned(of_run(result, SCANNED), STEP_S, order.begin_s, order.duration_s, tool))
        order.memo["run"] = result, order.run_s
        return order.memo["run"]  # type: ignore[no-any-return]
    # The hand's own chance, so that lanes that draw noise do not change the movement.
    hand = np.random.default_rng(zlib.crc32(order.rng.bytes(8)))
    key = script or order.manoeuvre or "snap"
    begin = START_UP_S.get(key, 0.0)
    segments = SCRIPTS[key]
    by_hand = order.movement is not None and not isinstance(order.movement, SweepPlan)
    if by_hand:
        segments = (*segments, S("idle", order.duration_s))
    demands = laid_out(segments, hand)
    if by_hand:
        demands = _by_hand(demands, begin, followed(order.movement, order.duration_s))
    result = run(engine_of(order), demands)
    order.scan.update(scanned(of_run(result, SCANNED), STEP_S, begin, order.duration_s, hand))
    order.memo["run"] = result, order.times_s - order.times_s[0] + begin
    return order.memo["run"]  # type: ignore[no-any-return]


def _by_hand(demands: Script, begin_s: float, travel: Volts) -> Script:
    """The same script with a hand on the throttle from the record's start: what it asks for is all there is."""
    asked = demands.travel.copy()
    own = np.arange(asked.size) * STEP_S - begin_s
    held = (own >= 0) & (own < travel.size / MOVEMENT_HZ)
    asked[held] = np.interp(own[held], np.arange(travel.size) / MOVEMENT_HZ, travel)
    return replace(demands, travel=asked)


def fired(order: Order, row: Sequence[int], script: str, part: float) -> tuple[list[Firing], Run, Volts]:
    """What the controller sets off in the record's stretch of the run, with the run and the record's instants on it.

    With the key off nothing is set off.
    """
    result, instants = drive(order, script)
    found = firings(result.turns, row, float(instants[0]), float(instants[-1]), part)
    if order.controls is not None:
        keyed = [f for f in found if at(result.key, np.array([f.at_s]))[0] > 0]
        found = [replace(f, number=k) for k, f in enumerate(keyed)]
    return found, result, instants


def lagged(values: Volts, tau_s: float) -> Volts:
    """First-order lag on the engine's grid."""
    alpha = STEP_S / (tau_s + STEP_S)
    out, _ = scipy.signal.lfilter([alpha], [1, alpha - 1], values, zi=[values[0] * (1 - alpha)])
    return np.asarray(out)


def referenced(result: Run) -> Volts:
    """What a sensor on the controller's reference shows for each volt that it would show on 5 V sharp."""
    return Regulator().held(result.battery_v * result.key) / 5.0


def throttle_volts(result: Run) -> Volts:
    return (0.62 + 3.6 * result.travel) * referenced(result)


def air_volts(airflow_gs: Volts, gain: float = 1.0, rest_v: float = 0.4) -> Volts:
    """A type A element: made up for exercises; contamination lowers the gain more the more air there is."""
    return np.minimum(rest_v + 0.825 * gain * np.log1p(np.maximum(airflow_gs, 0.0) / 3.0), 4.92)


def measured_air(result: Run) -> Volts:
    # Cranking pulls air in gulps, of which the element sees the crests.
    return result.airflow_gs + 1.6 * (result.rpm > 30) * (result.rpm < 500)


def narrow_volts(result: Run, order: Order) -> Volts:
    """Nernst-like step of a zirconia cell about lambda 1, with its own lag."""
    volts = 0.45 - 0.405 * np.tanh((result.mixture - 1.0) / 0.005)
    return lagged(volts, 0.022)


def pump_current_ma(mixture: Volts) -> Volts:
    """Pump current over lambda: made up for exercises, zero at 1, negative rich, positive lean."""
    return np.clip(np.where(mixture < 1, 4.5 * (mixture - 1), 2.6 * (mixture - 1)), -4.0, 2.6)


TEETH, MISSING = 60, 2


def tooth_wave(turns: Volts, damaged: int | None = None, depth: float = 0.0, runout: float = 0.0) -> Volts:
    """One period of flux change a tooth, none in the gap, over crank turns; amplitude 1."""
    place = (turns * TEETH) % TEETH
    tooth = np.floor(place).astype(int)
    wave = np.sin(2 * np.pi * (place - tooth)) * (tooth < TEETH - MISSING)
    if damaged is not None:
        wave = np.where(tooth == damaged, (1 - depth) * wave, wave)
    return np.asarray(wave * (1 + runout * np.sin(2 * np.pi * turns)))
