"""Causes of breathing: exhaust, valve timing, throttle, a cylinder's mechanics.

Strengths: common practice, no published source.
"""

from __future__ import annotations

from tracebench.core.diagnosis.kinds.cause_kind import (
    DEAD,
    RENEW_DEEP,
    REPAIR_WIRES,
    CauseKind,
    on_own,
    shows,
)
from tracebench.core.diagnosis.strengths import AT_TIMES, MOSTLY, SURELY

BREATHING = (
    CauseKind(
        "exhaust-restricted",
        "Exhaust restricted",
        "breathing",
        "mechanical",
        "exhaust",
        (
            shows("manifold-pressure", "slow_rise no_rise", MOSTLY),
            shows("manifold-pressure", "high_idle_pressure", AT_TIMES),
            shows("airflow-voltage", "low_under_load", MOSTLY),
            shows("airflow-frequency", "low_under_load", MOSTLY),
        ),
        condition="load",
        repair="exhaust",
        minutes=RENEW_DEEP,
        no_symptom=("high-idle",),
        circuits=("manifold-pressure",),
    ),
    CauseKind(
        "valve-timing-late",
        "Valve timing late",
        "breathing",
        "mechanical",
        "timing",
        (
            shows("manifold-pressure", "slow_rise no_rise", MOSTLY),
            shows("manifold-pressure", "high_idle_pressure", MOSTLY),
            shows("crank-position", "cam_phase_shift", SURELY),
            shows("airflow-voltage", "low_under_load", AT_TIMES),
            shows("airflow-frequency", "low_under_load", AT_TIMES),
        ),
        repair="timing",
        minutes=REPAIR_WIRES,
        circuits=("manifold-pressure", "crank-position"),
    ),
    CauseKind(
        "throttle-not-closing",
        "Throttle does not close",
        "breathing",
        "mechanical",
        "throttle",
        (
            shows("throttle-position", "high_closed", SURELY),
            shows("manifold-pressure", "no_overrun_gain", SURELY),
            shows("look-and-move", "faulty:throttle", SURELY),
        ),
        repair="throttle-stop",
        no_symptom=("no-power", "no-start", "misfire", "noise"),
        circuits=("throttle-position", "manifold-pressure"),
    ),
    CauseKind(
        "cylinder-mechanical",
        "Cylinder does not hold pressure",
        "breathing",
        "mechanical",
        "cylinder",
        (on_own("secondary-voltage", "low_firing", AT_TIMES), DEAD),
        repair="cylinder",
        minutes=REPAIR_WIRES,
        no_symptom=("high-idle", "lean", "rich"),
    ),
)
