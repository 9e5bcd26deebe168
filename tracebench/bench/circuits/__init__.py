"""The circuits that the trainer can show, by code."""

from __future__ import annotations

from collections.abc import Mapping

from tracebench.bench.circuits import (
    diesel_rail,
    electrical,
    engine_sensors,
    ignition,
    injectors,
    standing,
    wheel_speed,
)
from tracebench.bench.source import Source
from tracebench.core.errors import UnknownCircuit

SOURCES: Mapping[str, Source] = {
    s.code: s
    for s in (
        standing.THROTTLE_POSITION,
        standing.PEDAL_POSITION,
        engine_sensors.MANIFOLD_PRESSURE,
        engine_sensors.AIRFLOW_VOLTAGE,
        engine_sensors.AIRFLOW_FREQUENCY,
        engine_sensors.OXYGEN_SWITCHING,
        engine_sensors.OXYGEN_WIDEBAND,
        diesel_rail.RAIL_PRESSURE,
        engine_sensors.CRANK_POSITION,
        wheel_speed.WHEEL_SPEED,
        standing.TEMPERATURE,
        electrical.SUPPLY_GROUND,
        electrical.CHARGING,
        injectors.INJECTOR_VOLTAGE,
        injectors.INJECTOR_CURRENT,
        injectors.INJECTOR_GROUP,
        injectors.INJECTOR_PARADE,
        injectors.INJECTOR_PEAK_HOLD,
        injectors.INJECTOR_PIEZO,
        ignition.COIL_CURRENT,
        ignition.COIL_VOLTAGE,
        ignition.SECONDARY_VOLTAGE,
        ignition.IGNITER_BENCH,
    )
}


def source(code: str) -> Source:
    """The trainer's source of a circuit. Raises UnknownCircuit."""
    try:
        return SOURCES[code]
    except KeyError:
        raise UnknownCircuit(f"the trainer has no circuit {code!r}; it has: {', '.join(SOURCES)}") from None
