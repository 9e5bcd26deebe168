"""Causes that several circuits share: references, grounds, supplies, the controller itself.

What a lost feed shows goes by what hangs on it, so that it is made for each vehicle (`feeds.py`).
Strengths: common practice, no published source.
"""

from __future__ import annotations

from collections.abc import Mapping

from tracebench.core.diagnosis.kinds.cause_kind import ORDINARY, RENEW, REPAIR_WIRES, SELDOM, CauseKind, feed_off, shows
from tracebench.core.diagnosis.strengths import MOSTLY

LOST_AS: Mapping[str, str] = {
    "throttle-position": "reference_low stuck_low dropout low_open",
    "manifold-pressure": "dropout sensor_stuck baro_wrong",
    "rail-pressure": "dropout low_peak",
    "airflow-voltage": "dropout no_signal",
    "airflow-frequency": "low_swing no_signal missing_pulses",
    "crank-position": "dropout weak_amplitude",
    "temperature": "short_circuit dropout",
}
"""What a circuit shows while its reference is gone; the pedal's tracks are told apart and stand beside."""

LIFTED_AS: Mapping[str, str] = {
    "throttle-position": "ground_high stuck_high high_closed",
    "manifold-pressure": "baro_wrong sensor_stuck dropout",
    "pedal-position": "ground_lifted",
    "rail-pressure": "no_decay dropout",
    "airflow-voltage": "ground_high",
    "airflow-frequency": "low_swing",
    "crank-position": "dropout",
    "temperature": "open_circuit",
}
"""What a circuit shows while the sensors' ground is open."""

SCANNED_AS: Mapping[str, str] = {
    "throttle-position": "throttle_off",
    "manifold-pressure": "pressure_off",
    "rail-pressure": "rail_off",
    "airflow-voltage": "airflow_off",
    "airflow-frequency": "airflow_off",
    "temperature": "temperature_low temperature_high",
}
"""What scan data show of a circuit whose feed or ground is gone."""

PLACE_OF: Mapping[str, str] = {
    "throttle-position": "throttle",
    "pedal-position": "pedal",
    "manifold-pressure": "manifold",
    "airflow-voltage": "airflow",
    "airflow-frequency": "airflow",
    "rail-pressure": "rail",
    "crank-position": "crank",
    "temperature": "temperature",
}

SHARED = (
    CauseKind(
        "reference-lost",
        "Reference lost at the controller",
        "shared",
        "controller",
        "controller",
        (),
        weight=ORDINARY,
        repair="controller",
        minutes=REPAIR_WIRES,
        proofs=("supply", "ground"),
    ),
    CauseKind(
        "reference-dragged",
        "Reference pulled down by a sensor on it",
        "shared",
        "feed",
        "",
        (),
        repair="dragging",
        minutes=RENEW,
    ),
    CauseKind(
        "sensor-ground-open",
        "Ground of the sensors open",
        "shared",
        "feed",
        "ground",
        (),
        repair="ground",
        minutes=REPAIR_WIRES,
    ),
    CauseKind(
        "controller-supply-low",
        "Supply of the controller low",
        "shared",
        "feed",
        "controller",
        (*feed_off("supply_low", "controller"), shows("scan-data", "supply_low", MOSTLY)),
        repair="controller-feed",
        minutes=REPAIR_WIRES,
    ),
    CauseKind(
        "controller-ground-high",
        "Ground of the controller high",
        "shared",
        "feed",
        "controller",
        feed_off("ground_high", "controller"),
        repair="controller-ground",
        minutes=REPAIR_WIRES,
    ),
    CauseKind(
        "controller-internal",
        "Controller",
        "shared",
        "controller",
        "controller",
        (),
        weight=SELDOM,
        repair="controller",
        minutes=REPAIR_WIRES,
        proofs=("supply", "ground"),
    ),
)
