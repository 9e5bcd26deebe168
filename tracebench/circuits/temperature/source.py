"""Temperature sensor on the trainer: its signal, and its faults."""

from __future__ import annotations

import numpy as np

from tracebench.bench.controls import WARMED_K
from tracebench.bench.parts.engine_sensors import drive
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
)
from tracebench.bench.vehicle.electrics import Regulator, Supply, at_rest
from tracebench.bench.vehicle.heat import COARSE_S, Jacket, warmed
from tracebench.core.transfer import INTAKE, INTAKE_DIVIDER

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


SOURCE = Source(
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
