"""The circuits there are, each loaded when it is first asked for: a command that measures one needs no other."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from importlib import import_module

from tracebench.core.circuits.circuit import Circuit
from tracebench.core.circuits.conversions import with_conversion

MODULES: Mapping[str, str] = {
    "throttle-position": "throttle_position",
    "pedal-position": "pedal_position",
    "manifold-pressure": "manifold_pressure",
    "airflow-voltage": "airflow_voltage",
    "airflow-frequency": "airflow_frequency",
    "oxygen-switching": "oxygen_switching",
    "oxygen-wideband": "oxygen_wideband",
    "rail-pressure": "rail_pressure",
    "crank-position": "crank_position",
    "wheel-speed": "wheel_speed",
    "temperature": "temperature",
    "supply-ground": "supply_ground",
    "charging": "charging",
    "injector-voltage": "injectors.injector_voltage",
    "injector-current": "injectors.injector_current",
    "injector-current-group": "injectors.injector_current_group",
    "injector-current-parade": "injectors.injector_current_parade",
    "injector-peak-hold": "injectors.injector_peak_hold",
    "injector-piezo": "injectors.injector_piezo",
    "coil-primary-current": "ignition.coil_primary_current",
    "coil-primary-voltage": "ignition.coil_primary_voltage",
    "secondary-voltage": "ignition.secondary_voltage",
    "igniter-bench": "ignition.igniter_bench",
}
"""Module of `kinds` that declares each circuit as its CIRCUIT, in the order that people see them."""


class Catalogue(Mapping[str, Circuit]):
    """Circuits by code."""

    def __init__(self) -> None:
        self._loaded: dict[str, Circuit] = {}

    def __getitem__(self, code: str) -> Circuit:
        if code not in self._loaded:
            module = import_module(f"tracebench.core.circuits.kinds.{MODULES[code]}")
            self._loaded[code] = with_conversion(module.CIRCUIT)
        return self._loaded[code]

    def __iter__(self) -> Iterator[str]:
        return iter(MODULES)

    def __len__(self) -> int:
        return len(MODULES)
