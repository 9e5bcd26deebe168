"""Which of the trainer's faults a cause is, circuit by circuit: what a weak coil is to a clamp and to a kV probe."""

from __future__ import annotations

from collections.abc import Mapping

from tracebench.core.diagnosis.causes import Cause
from tracebench.core.diagnosis.vehicle import Vehicle

FAULTS: Mapping[str, Mapping[str, str]] = {
    "coil-secondary-open": {
        "coil-primary-current": "secondary-open",
        "coil-primary-voltage": "open",
        "secondary-voltage": "open",
    },
    "coil-weak": {"secondary-voltage": "weak-coil", "coil-primary-voltage": "short-burn"},
    "coil-winding-shorted": {
        "coil-primary-current": "shorted",
        "coil-primary-voltage": "low-kick",
        "secondary-voltage": "short-burn",
    },
    "coil-ground": {"coil-primary-current": "low-peak", "coil-primary-voltage": "weak-driver"},
    "coil-driver": {
        "coil-primary-current": "missing",
        "coil-primary-voltage": "no-switching",
        "secondary-voltage": "open",
    },
    "switching-module-heat": {"igniter-bench": "heats-up"},
    "plug-gap-wide": {"secondary-voltage": "wide-gap", "coil-primary-voltage": "short-burn"},
    "plug-fouled": {"secondary-voltage": "fouled", "coil-primary-voltage": "long-burn"},
    "lead-open": {"secondary-voltage": "wide-gap", "coil-primary-voltage": "short-burn"},
    "injector-shorted": {
        "injector-voltage": "low-kick",
        "injector-current": "shorted",
        "injector-current-parade": "shorted",
        "injector-current-group": "shorted",
        "injector-peak-hold": "no-hold",
    },
    "injector-open": {
        "injector-voltage": "no-pulse",
        "injector-current": "high-resistance",
        "injector-current-parade": "missing",
        "injector-peak-hold": "no-boost",
        "injector-piezo": "low-charge",
    },
    "injector-stuck": {"injector-voltage": "stuck", "injector-current": "stuck"},
    "injector-ringing": {"injector-voltage": "ringing"},
    "injector-driver": {
        "injector-voltage": "weak-ground",
        "injector-current-parade": "missing",
        "injector-peak-hold": "short",
        "injector-piezo": "no-discharge",
    },
    "injector-boost-lost": {"injector-peak-hold": "no-boost"},
    "piezo-to-body": {"injector-piezo": "power-off"},
    "fuel-delivery-weak": {"oxygen-wideband": "slow-fuel", "oxygen-switching": "lean"},
    "rail-pump-weak": {"rail-pressure": "slow-build"},
    "rail-regulator": {"rail-pressure": "hunting"},
    "vacuum-leak": {"manifold-pressure": "leak"},
    "airflow-contaminated": {"airflow-voltage": "contaminated", "airflow-frequency": "contaminated"},
    "oxygen-lazy": {"oxygen-switching": "lazy"},
    "oxygen-biased": {"oxygen-switching": "rich", "oxygen-wideband": "rich"},
    "oxygen-heater": {"oxygen-wideband": "heater", "oxygen-switching": "stuck"},
    "exhaust-restricted": {"manifold-pressure": "restricted-exhaust", "airflow-voltage": "contaminated"},
    "valve-timing-late": {"manifold-pressure": "restricted-exhaust", "crank-position": "cam-shift"},
    "throttle-not-closing": {"throttle-position": "high-closed"},
    "throttle-track-worn": {"throttle-position": "worn-idle"},
    "throttle-travel-short": {"throttle-position": "short-travel"},
    "throttle-level-low": {"throttle-position": "low-closed"},
    "throttle-wire": {"throttle-position": "open-signal"},
    "pedal-track-worn@track1": {"pedal-position": "worn"},
    "pedal-wire@track2": {"pedal-position": "track-lost"},
    "crank-tooth-damaged": {"crank-position": "damaged-tooth"},
    "crank-sensor-weak": {"crank-position": "weak"},
    "crank-wire": {"crank-position": "dropout"},
    "cam-phase-shifted": {"crank-position": "cam-shift"},
    "wheel-tooth-damaged": {"wheel-speed": "damaged-tooth"},
    "wheel-sensor-weak": {"wheel-speed": "weak"},
    "manifold-sensor": {"manifold-pressure": "stuck"},
    "airflow-supply": {"airflow-voltage": "low-supply", "airflow-frequency": "low-swing"},
    "airflow-ground": {"airflow-voltage": "high-ground", "airflow-frequency": "low-swing"},
    "airflow-wire": {"airflow-voltage": "dropout", "airflow-frequency": "missing-pulses"},
    "airflow-sensor": {"airflow-voltage": "no-surge", "airflow-frequency": "no-signal"},
    "rail-sensor": {"rail-pressure": "dropout"},
    "temperature-open": {"temperature": "open"},
    "temperature-shorted": {"temperature": "short"},
    "temperature-biased": {"temperature": "offset"},
    "reference-lost": {
        "throttle-position": "low-reference",
        "manifold-pressure": "dropout",
        "rail-pressure": "dropout",
    },
    "reference-lost@A": {
        "throttle-position": "low-reference",
        "manifold-pressure": "dropout",
        "pedal-position": "reference-lost",
    },
    "sensor-ground-open": {
        "throttle-position": "open-ground",
        "pedal-position": "ground-lifted",
        "manifold-pressure": "bad-baro",
        "rail-pressure": "dropout",
        "temperature": "open",
    },
    "regulator-internal": {"charging": "regulator"},
    "alternator-diode": {"charging": "diode"},
    "alternator-worn": {"charging": "undercharge"},
    "case-ground": {"charging": "ground-lifted"},
    "sense-lost": {"charging": "regulator"},
    "command-driven": {"charging": "command"},
}
"""By kind of cause, or by a cause at its place where the trainer has it there only. A circuit that is not named shows
it as sound; `reference-dragged` and `controller-internal` show as `reference-lost` does.
"""

FEED: Mapping[str, tuple[str, tuple[str, ...]]] = {
    "coil-supply": ("supply_low", ("coil", "fuse")),
    "injector-supply": ("supply_low", ("injector", "fuse")),
    "coil-ground": ("ground_high", ("coil",)),
    "airflow-supply": ("supply_low", ("airflow",)),
    "airflow-ground": ("ground_high", ("airflow",)),
    "controller-supply-low": ("supply_low", ("controller",)),
    "controller-ground-high": ("ground_high", ("controller",)),
    "case-ground": ("ground_high", ("alternator",)),
    "sense-lost": ("supply_low", ("alternator",)),
}
"""Which feed a cause takes off its level, and where; references and the sensors' ground go by what hangs on them."""

AT_FEED: Mapping[str, str] = {
    "supply_low": "low-supply",
    "ground_high": "high-ground",
    "reference_low": "low-reference",
}
"""The trainer's fault of `supply-ground` for a feed off its level."""

OHMS: Mapping[str, Mapping[str, float]] = {
    "coil": {"coil-secondary-open": float("inf"), "coil-winding-shorted": 0.05},
    "injector": {"injector-shorted": 0.12, "injector-open": float("inf")},
    "lead": {"lead-open": float("inf")},
    "temperature": {"temperature-open": float("inf"), "temperature-shorted": 0.002, "temperature-biased": 0.2},
    "oxygen": {"oxygen-heater": float("inf")},
    "crank": {"crank-sensor-weak": 1.6},
}
"""Resistance of a part as a multiple of its nominal one, by its cause."""

LOST = ("reference-lost", "reference-dragged", "controller-internal")
"""Causes by which a reference is gone."""

SCANNED: Mapping[str, tuple[str, float, str]] = {
    "throttle-position": ("throttle", 17.0, "%"),
    "manifold-pressure": ("manifold pressure", 33.0, "kPa"),
    "airflow-voltage": ("airflow", 3.4, "g/s"),
    "airflow-frequency": ("airflow", 3.4, "g/s"),
    "rail-pressure": ("rail pressure", 320.0, "bar"),
}
"""What a scan tool reads of a circuit: name, warm idle's figure and unit (from memory)."""

UNREAD: Mapping[str, tuple[str, ...]] = {
    "throttle-position": ("throttle-wire",),
    "manifold-pressure": ("manifold-sensor",),
    "airflow-voltage": ("airflow-supply", "airflow-wire"),
    "airflow-frequency": ("airflow-supply", "airflow-sensor"),
    "rail-pressure": ("rail-sensor",),
}
"""Causes of a circuit's own by which the controller reads nothing of it."""


def lost_at(feed: str) -> Mapping[str, str]:
    """The trainer's faults by circuit where a reference is lost."""
    return FAULTS.get(f"reference-lost@{feed}") or FAULTS["reference-lost"]


def on_the_trainer(cause: Cause, vehicle: Vehicle) -> bool:
    """Whether the trainer shows a cause wherever this vehicle would.

    It fails one cylinder and one track at a time, and its overrun goes on with a throttle that stays open.
    """
    kind = cause.kind.id
    if kind in ("normal-behaviour", "coil-supply", "injector-supply", "controller-internal"):
        return False
    if kind == "throttle-not-closing" and vehicle.has("manifold-pressure"):
        return False
    if kind in LOST:
        feed = cause.place.partition(":")[0]
        return set(vehicle.feeds[feed]) <= set(lost_at(feed))
    return kind == "cylinder-mechanical" or kind in FAULTS or cause.id in FAULTS or kind in FEED
