"""Sensors of the petrol engine: pressure, airflow, oxygen, crank and cam, all from one run of it."""

from __future__ import annotations

import zlib
from collections.abc import Sequence
from dataclasses import replace

import numpy as np
import scipy

from tracebench.bench.hand import MOVEMENT_HZ, SweepPlan, followed
from tracebench.bench.scan import of_run, scanned
from tracebench.bench.source import LOAD, VIBRATION, Fault, Manoeuvre, Order, Source, Volts, at, dropped, slipped
from tracebench.bench.vehicle.electrics import Regulator
from tracebench.bench.vehicle.engine import Engine, Run, run
from tracebench.bench.vehicle.firing import Firing, firings
from tracebench.bench.vehicle.script import STEP_S, Script, Segment, laid_out
from tracebench.core.transfer import PRESSURE, standard_pressure_kpa

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

_WHOLE = Manoeuvre("snap", "Key on, crank, idle, two snaps", 19.0)
_SPEEDS = Manoeuvre("speeds", "Key on, crank, idle, 2,500, 4,000, snap", 24.5)
_STEADY = Manoeuvre("steady", "Steady 2,500, then a snap and an overrun", 20.0)
_LOAD = Manoeuvre("load", "Idle, two snaps with their overruns", 20.0)
_IDLE = Manoeuvre("idle", "Warm idle only", 9.0)


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


def _pressure(order: Order) -> dict[str, Volts]:
    result, instants = drive(order)
    kpa = result.manifold_kpa.copy()
    # Each intake stroke draws a dip: half the cylinders a turn, deep while cranking, shallow at speed.
    depth = np.clip(2.2 * np.exp(-result.rpm / 350), 0.12, 2.2) * (result.rpm > 40)
    kpa += depth * np.sin(2 * np.pi * result.turns * result.cylinders / 2)
    volts = PRESSURE.volts(0.0) + kpa / PRESSURE.per_volt
    tau = 0.008 + (0.16 + 0.25 * order.severity) * (order.fault == "slow-hose")
    volts = lagged(volts, tau)
    if order.fault == "bad-baro":
        volts = volts - 0.35 - 0.3 * order.severity
    if order.fault == "stuck":
        volts = np.full_like(volts, 1.9)
    volts = volts * referenced(result)
    signal = np.clip(at(volts, instants), 0.05, 4.95)
    if order.fault == "dropout":
        running = at(result.rpm, instants) > 600
        signal = dropped(order, signal, running & (np.abs(signal - np.median(signal)) < 0.2))
    oxygen = _narrow(result, order)
    return {
        "signal": slipped(order, signal),
        "throttle": at(throttle_volts(result), instants),
        "oxygen": at(oxygen, instants),
    }


MANIFOLD_PRESSURE = Source(
    "manifold-pressure",
    (
        Fault("none", "Sound"),
        Fault("leak", "Vacuum leak after the throttle"),
        Fault("slow-hose", "Hose to the sensor nearly blocked"),
        Fault("restricted-exhaust", "Exhaust restricted"),
        Fault("bad-baro", "Sensor reads low throughout"),
        Fault("stuck", "Sensor stuck"),
        Fault("dropout", "Loose contact", VIBRATION),
        Fault("probe-slip", "Probe slips once"),
    ),
    (_WHOLE, _IDLE),
    2000,
    5.0,
    _pressure,
)


def air_volts(airflow_gs: Volts, gain: float = 1.0, rest_v: float = 0.4) -> Volts:
    """A type A element: made up for exercises; contamination lowers the gain more the more air there is."""
    return np.minimum(rest_v + 0.825 * gain * np.log1p(np.maximum(airflow_gs, 0.0) / 3.0), 4.92)


def _measured_air(result: Run) -> Volts:
    # Cranking pulls air in gulps, of which the element sees the crests.
    return result.airflow_gs + 1.6 * (result.rpm > 30) * (result.rpm < 500)


def _air(order: Order) -> dict[str, Volts]:
    result, instants = drive(order)
    s, fault = order.severity, order.fault
    air = lagged(_measured_air(result), 0.012 if fault != "no-surge" else 0.35)
    gain = 1.0 - (0.28 + 0.12 * s) * (1 - np.exp(-air / 12)) if fault == "contaminated" else np.ones_like(air)
    volts = air_volts(air, 1.0, 0.40 + (0.37 + 0.08 * s) * (fault == "key-on-high")) * gain
    # A short surge while the element heats.
    on_s = result.times_s - (np.argmax(result.key > 0) if order.controls is not None else 0) * STEP_S
    volts += 0.25 * np.exp(-np.maximum(on_s, 0.0) / 0.05) * (order.manoeuvre not in START_UP_S)
    signal = at(volts, instants)
    if fault == "no-signal":
        signal = np.full_like(signal, 0.01)
    if fault == "dropout":
        running = at(result.rpm, instants) > 600
        signal = dropped(order, signal, running & (np.abs(signal - np.percentile(signal, 40)) < 0.15))
    fed = at(result.key, instants) > 0
    signal = signal * fed
    supply = (at(result.battery_v, instants) - 0.05 - (2.9 + s) * (fault == "low-supply")) * fed
    ground = np.full_like(signal, 0.012) + (0.18 + 0.2 * s) * (fault == "high-ground")
    return {
        "signal": slipped(order, np.clip(signal + (0.18 + 0.2 * s) * (fault == "high-ground"), 0.0, 4.95)),
        "throttle": at(throttle_volts(result), instants),
        "supply": supply,
        "ground": ground,
    }


AIRFLOW_VOLTAGE = Source(
    "airflow-voltage",
    (
        Fault("none", "Sound"),
        Fault("contaminated", "Element contaminated"),
        Fault("key-on-high", "Element reads high at rest"),
        Fault("no-surge", "Answers slowly: no first surge"),
        Fault("no-signal", "No signal"),
        Fault("low-supply", "Supply low"),
        Fault("high-ground", "Ground lifted"),
        Fault("dropout", "Loose contact", VIBRATION),
        Fault("probe-slip", "Probe slips once"),
    ),
    (_SPEEDS, _WHOLE, _IDLE),
    1000,
    5.0,
    _air,
)


def _air_pulses(order: Order) -> dict[str, Volts]:
    result, instants = drive(order)
    s, fault = order.severity, order.fault
    air = lagged(_measured_air(result), 0.012)
    scale = 1 - (0.80 + 0.08 * s) * (1 - np.exp(-air / 12)) if fault == "contaminated" else 1.0
    hertz = order.number("hz_at_rest", 1800.0) + order.number("hz_per_gs", 90.0) * air * scale
    cycles = at(np.cumsum(hertz) * STEP_S, instants)
    phase = cycles % 1.0
    # Pulled up to the reference.
    high, low = at(4.95 * referenced(result), instants) - (1.2 + s) * (fault == "low-swing"), 0.12
    signal = np.where(phase < 0.5, high, low)
    if fault == "missing-pulses":
        whole = np.floor(cycles)
        if order.controls is not None:
            signal = np.where(order.loose(instants, (0.0005, 0.0015)), low, signal)
        else:
            for n in order.rng.choice(np.unique(whole)[40:-40], 3, replace=False):
                signal = np.where(np.abs(whole - n) < 1, low, signal)
    if fault == "no-signal":
        signal = high
    return {"signal": signal}


AIRFLOW_FREQUENCY = Source(
    "airflow-frequency",
    (
        Fault("none", "Sound"),
        Fault("missing-pulses", "Pulses go missing"),
        Fault("low-swing", "Swing too low"),
        Fault("contaminated", "Element contaminated"),
        Fault("no-signal", "No pulses"),
    ),
    (Manoeuvre("load", "Idle and a snap", 10.0), Manoeuvre("idle", "Warm idle only", 4.0)),
    100_000,
    10.0,
    _air_pulses,
)


def _narrow(result: Run, order: Order) -> Volts:
    """Nernst-like step of a zirconia cell about lambda 1, with its own lag."""
    volts = 0.45 - 0.405 * np.tanh((result.mixture - 1.0) / 0.005)
    return lagged(volts, 0.022)


def _switching(order: Order) -> dict[str, Volts]:
    result, instants = drive(order)
    s, fault = order.severity, order.fault
    volts = _narrow(result, order)
    if fault == "lazy":
        volts = lagged(volts, 0.13 + 0.08 * s)
    elif fault == "low-swing":
        volts = 0.42 + (volts - 0.45) * (0.42 - 0.1 * s)
    elif fault == "stuck":
        volts = np.full_like(volts, 0.78) + 0.01 * np.sin(result.times_s)
    elif fault == "no-drop":
        volts = np.where(result.mixture > 1.3, 0.38, volts)
    return {
        "signal": at(volts, instants),
        "throttle": at(throttle_volts(result), instants),
        "airflow": at(air_volts(lagged(_measured_air(result), 0.012)), instants),
    }


OXYGEN_SWITCHING = Source(
    "oxygen-switching",
    (
        Fault("none", "Sound"),
        Fault("lazy", "Sensor lazy"),
        Fault("low-swing", "Sensor contaminated"),
        Fault("stuck", "Sensor stuck rich"),
        Fault("rich", "Mixture rich beyond the loop"),
        Fault("lean", "Mixture lean beyond the loop"),
        Fault("no-drop", "Does not fall in the overrun"),
    ),
    (_STEADY, _IDLE),
    1000,
    2.0,
    _switching,
    noise={"signal": 0.008},
)


def pump_current_ma(mixture: Volts) -> Volts:
    """Pump current over lambda: made up for exercises, zero at 1, negative rich, positive lean."""
    return np.clip(np.where(mixture < 1, 4.5 * (mixture - 1), 2.6 * (mixture - 1)), -4.0, 2.6)


def _wideband(order: Order) -> dict[str, Volts]:
    result, instants = drive(order)
    fault = order.fault
    current = lagged(pump_current_ma(result.mixture), 0.020)
    if fault == "stuck":
        current = np.full_like(current, 0.01)
    volts = 2.5 + 0.55 * current
    if fault == "heater":
        current, volts = np.zeros_like(current), np.full_like(volts, 0.45)
    return {
        "pump_current": at(current, instants),
        "pump_voltage": np.clip(at(volts, instants), 0.2, 4.8),
        "airflow": at(air_volts(lagged(_measured_air(result), 0.012)), instants),
        "reference_low": at(2.2 * referenced(result), instants),
        "reference_high": at(2.8 * referenced(result), instants),
    }


OXYGEN_WIDEBAND = Source(
    "oxygen-wideband",
    (
        Fault("none", "Sound"),
        Fault("slow-fuel", "Fuel answers late: weak supply", LOAD),
        Fault("stuck", "Sensor stuck in the window"),
        Fault("lean", "Mixture lean beyond the loop"),
        Fault("rich", "Mixture rich beyond the loop"),
        Fault("heater", "Heater dead: cell cold"),
    ),
    (_LOAD, _IDLE),
    1000,
    5.0,
    _wideband,
    noise={"pump_voltage": 0.02, "pump_current": 0.012},
)

TEETH, MISSING = 60, 2


def tooth_wave(turns: Volts, damaged: int | None = None, depth: float = 0.0, runout: float = 0.0) -> Volts:
    """One period of flux change a tooth, none in the gap, over crank turns; amplitude 1."""
    place = (turns * TEETH) % TEETH
    tooth = np.floor(place).astype(int)
    wave = np.sin(2 * np.pi * (place - tooth)) * (tooth < TEETH - MISSING)
    if damaged is not None:
        wave = np.where(tooth == damaged, (1 - depth) * wave, wave)
    return np.asarray(wave * (1 + runout * np.sin(2 * np.pi * turns)))


def _crank(order: Order) -> dict[str, Volts]:
    result, instants = drive(order)
    s, fault = order.severity, order.fault
    turns, rpm = at(result.turns, instants), at(result.rpm, instants)
    pulled_up = at(4.9 * referenced(result), instants)
    wave = tooth_wave(
        turns,
        23 if fault == "damaged-tooth" else None,
        0.6 + 0.4 * s,
        (0.4 + 0.2 * s) if fault == "runout" else 0.0,
    )
    gain = 2.4 * (0.08 - 0.02 * s if fault == "weak" else 1.0)
    signal = gain * rpm / 1000 * wave
    if order.part.get("type") == "hall":
        signal = np.where(wave > 0, 0.15, pulled_up)
    if fault == "dropout":
        if order.controls is not None:
            signal = np.where(order.loose(instants, (0.003, 0.005)), 0.0, signal)
        else:
            for start in order.rng.uniform(0.2, 0.8, 2) * order.duration_s:
                gone = (order.times_s >= start) & (order.times_s < start + 0.004)
                signal = np.where(gone, 0.0, signal)
    if fault == "reversed":
        signal = -signal
    shift = (12 + 10 * s) / 720 if fault == "cam-shift" else 0.0
    cam_turns = (turns / 2 - 0.211 - shift) % 1.0
    cam = np.where(cam_turns < 0.4, pulled_up, 0.15)
    return {"signal": signal, "cam": cam}


CRANK_POSITION = Source(
    "crank-position",
    (
        Fault("none", "Sound"),
        Fault("damaged-tooth", "Tooth damaged"),
        Fault("weak", "Air gap too wide"),
        Fault("dropout", "Loose contact"),
        Fault("runout", "Wheel runs out"),
        Fault("cam-shift", "Cam drive jumped"),
        Fault("reversed", "Leads reversed (set-up)"),
    ),
    (Manoeuvre("idle", "Warm idle, 1 s", 1.0), Manoeuvre("load", "Warm idle, 2 s", 2.0)),
    100_000,
    10.0,
    _crank,
    noise={"signal": 0.02},
)
