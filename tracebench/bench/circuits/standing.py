"""Throttle body and pedal, moved by hand or by the engine's driver, and a temperature sensor that the engine warms."""

from __future__ import annotations

import numpy as np

from tracebench.bench.circuits.engine_sensors import drive
from tracebench.bench.circuits.throttle_position import FAULTS as THROTTLE_FAULTS
from tracebench.bench.circuits.throttle_position import REFERENCE_V, Potentiometer
from tracebench.bench.controls import WARMED_K
from tracebench.bench.hand import MOVEMENT_HZ, SweepPlan, followed, swept
from tracebench.bench.scan import scanned
from tracebench.bench.source import (
    HOT,
    VIBRATION,
    Fault,
    Manoeuvre,
    Order,
    Source,
    Volts,
    at,
    dropped,
    slipped,
    slipping,
)
from tracebench.bench.vehicle.electrics import Regulator, Supply, at_rest
from tracebench.bench.vehicle.heat import COARSE_S, Jacket, warmed
from tracebench.core.transfer import INTAKE, INTAKE_DIVIDER

_SWEEP = Manoeuvre("sweep", "Two slow sweeps, key on, engine off", 32.0, sweeps=True)
_RUNNING = Manoeuvre("running", "Engine running: idle and two snaps", 20.0)


def _travel_and_battery(order: Order) -> tuple[Volts, Volts]:
    """Travel 0-1 and the battery's volts: of the running engine, or of a hand with the key on and no more."""
    if order.manoeuvre == _RUNNING.key or order.controls is not None:
        result, instants = drive(order)
        return at(result.travel, instants), at(result.battery_v * result.key, instants)
    own = order.times_s - order.times_s[0]
    movement = order.movement if order.movement is not None else SweepPlan()
    travel = (
        swept(movement, order.duration_s, order.rng)
        if isinstance(movement, SweepPlan)
        else followed(movement, order.duration_s)
    )
    moved = np.interp(own, np.arange(travel.size) / MOVEMENT_HZ, travel)
    return np.asarray(moved), at(at_rest(Supply(), order.duration_s), own)


def _throttle(order: Order) -> dict[str, Volts]:
    part = Potentiometer(
        closed_v=order.number("closed_v", 0.62),
        open_v=order.number("open_v", 4.25),
        fault=order.fault,
        severity=order.severity,
    )
    travel, battery = _travel_and_battery(order)
    return part.volts(order.times_s, travel, Regulator(REFERENCE_V).held(battery), order.rng)


THROTTLE_POSITION = Source(
    "throttle-position", THROTTLE_FAULTS, (_SWEEP, _RUNNING), 1000, 10.0, _throttle, by_hand=True
)


def _pedal(order: Order) -> dict[str, Volts]:
    travel, battery = _travel_and_battery(order)
    t = order.times_s - order.times_s[0]
    s, fault, n = order.severity, order.fault, t.size
    # Each track has an output of its own.
    reference1, reference2 = Regulator(5.01).held(battery), Regulator(4.99).held(battery)
    ground = np.full(n, 0.02)
    if fault == "reference-lost" and order.controls is not None:
        away = order.warm(order.run_s) & (order.run_s % 3.7 < 0.6 + 0.8 * s)
        reference1 = np.where(away, 0.3, reference1)
    elif fault == "reference-lost":
        # The controller's output gives way as it warms: a short record does not show it.
        for begin in (14.0, 22.5):
            start = begin + order.rng.uniform(-1.0, 1.0)
            away = (t > start) & (t < start + 0.6 + 0.8 * s)
            reference1 = np.where(away, 0.3, reference1)
    if fault == "ground-lifted":
        late = t > 0.4 * order.duration_s if order.controls is None else order.loose(order.run_s, (0.3, 0.5))
        ground = ground + (0.2 + 0.3 * s) * late
    track1 = (0.75 + 3.0 * travel) / 5.0 * (reference1 - ground) + ground
    track2 = (0.375 + 1.5 * travel) / 5.0 * (reference2 - ground) + ground
    if fault == "track-lost" and order.controls is not None:
        track2 = np.where(order.loose(order.run_s, (0.4, 0.9)), 0.01, track2)
    elif fault == "track-lost":
        start = order.duration_s * order.rng.uniform(0.35, 0.6)
        track2 = np.where((t > start) & (t < start + 1.5 + 2 * s), 0.01, track2)
    elif fault == "disagree":
        track2 = track2 + (0.10 + 0.12 * s) * np.clip((travel - 0.4) / 0.2, 0, 1)
    elif fault == "worn":
        worn = Potentiometer(closed_v=0.75, open_v=3.75, fault="worn-idle", severity=s)
        track1 = worn.volts(t, travel, reference1, order.rng)["signal"]
    elif fault == "probe-slip":
        start = order.duration_s * order.rng.uniform(0.3, 0.6)
        off = slipping(order) if order.controls is not None else (t > start) & (t < start + 0.35)
        track1, track2, reference1, reference2 = (
            np.where(off, 0.004, x) for x in (track1, track2, reference1, reference2)
        )
    return {
        "track1": track1,
        "track2": track2,
        "reference1": reference1,
        "reference2": reference2,
        "ground": ground,
    }


PEDAL_POSITION = Source(
    "pedal-position",
    (
        Fault("none", "Sound"),
        Fault("track-lost", "Track 2 lost for a while"),
        Fault("reference-lost", "Controller drops reference 1 when warm", HOT),
        Fault("disagree", "Tracks part over half travel"),
        Fault("worn", "Track 1 worn near the rest"),
        Fault("ground-lifted", "Ground lifts"),
        Fault("probe-slip", "All clips slip once"),
    ),
    (_SWEEP, _RUNNING),
    1000,
    10.0,
    _pedal,
    by_hand=True,
)


WARM_C = 38.0
"""Insulation that has gone hard gives way from here."""


_CELSIUS = np.linspace(-40.0, 150.0, 1901)
_VOLTS = np.array([INTAKE_DIVIDER.volts(INTAKE.ohm(float(c))) for c in _CELSIUS])


def _show_coolant(order: Order, volts: Volts, soaked_c: float) -> None:
    """The scan tool: what the controller makes of the sensor, beside intake air that another sensor measures."""
    thin = volts[:: max(1, volts.size // 2000)]
    coolant = np.interp(thin, _VOLTS[::-1], _CELSIUS[::-1])
    shown = {"coolant": coolant, "intake air": np.full(thin.size, soaked_c)}
    tool = np.random.default_rng(order.rng.integers(1 << 32))
    order.scan.clear()
    order.scan.update(scanned(shown, order.duration_s / max(1, thin.size - 1), 0.0, order.duration_s, tool))


def _temperature(order: Order) -> dict[str, Volts]:
    own = order.times_s - order.times_s[0]
    start = order.number("start_c", 20.0)
    if order.controls is not None:
        result, instants = drive(order, "warm-up")
        coolant = warmed(Jacket(), result, start, order.until_s)
        blown = WARMED_K * order.controls.warmth(order.until_s)
        celsius = np.interp(instants, np.arange(coolant.size) * COARSE_S, coolant) + at(blown, instants)
        battery = at(result.battery_v * result.key, instants)
    elif order.manoeuvre == "steady":
        celsius, battery = np.full_like(own, start), at(at_rest(Supply(), order.duration_s), own)
    else:
        result, instants = drive(order, "warm-up")
        coolant = warmed(Jacket(), result, start, order.duration_s)
        celsius = np.interp(own, np.arange(coolant.size) * COARSE_S, coolant)
        battery = at(result.battery_v, instants)
    shown = celsius - 9 - 8 * order.severity if order.fault == "offset" else celsius
    volts = np.interp(shown, _CELSIUS, _VOLTS)
    reference = Regulator().held(battery)
    volts = volts * reference / 5.0
    if order.fault == "open":
        volts = reference
    elif order.fault == "short":
        volts = np.where(celsius > WARM_C, 0.01, volts)
    elif order.fault == "dropout":
        volts = dropped(order, volts, to=4.97)
    _show_coolant(order, volts, start)
    return {"signal": slipped(order, volts)}


TEMPERATURE = Source(
    "temperature",
    (
        Fault("none", "Sound"),
        Fault("open", "Open circuit"),
        Fault("short", "Shorts to ground when warm", HOT),
        Fault("offset", "Reads cold"),
        Fault("dropout", "Loose contact", VIBRATION),
    ),
    (Manoeuvre("warm-up", "Warm-up from cold", 120.0), Manoeuvre("steady", "Key on, steady", 10.0)),
    100,
    10.0,
    _temperature,
)
