"""Causes of speed: crank, cam and wheel sensors and their wheels.

Strengths: common practice, no published source.
"""

from __future__ import annotations

from tracebench.core.diagnosis.kinds.cause_kind import (
    RENEW_DEEP,
    REPAIR_WIRES,
    CauseKind,
    on_every,
    shows,
)
from tracebench.core.diagnosis.strengths import AT_TIMES, MOSTLY, SURELY

SPEED = (
    CauseKind(
        "crank-tooth-damaged",
        "Crank wheel, tooth damaged",
        "speed",
        "mechanical",
        "crank",
        (shows("crank-position", "tooth_damaged runout", SURELY),),
        repair="crank-wheel",
        minutes=REPAIR_WIRES,
        circuits=("crank-position",),
    ),
    CauseKind(
        "crank-sensor-weak",
        "Crank sensor weak",
        "speed",
        "part",
        "crank",
        (
            shows("crank-position", "weak_amplitude", SURELY),
            shows("crank-position", "dropout", AT_TIMES),
            shows("resistance", "resistance_high resistance_low", AT_TIMES, at="crank"),
        ),
        repair="crank",
        proofs=("ground", "signal"),
        circuits=("crank-position",),
    ),
    CauseKind(
        "crank-wire",
        "Wire of the crank sensor",
        "speed",
        "wire",
        "crank",
        (
            shows("crank-position", "dropout", SURELY),
            on_every("coil-primary-current", "missing_ramp", MOSTLY),
            shows("look-and-move", "faulty:wires", MOSTLY),
        ),
        condition="moved",
        repair="crank-wires",
        minutes=REPAIR_WIRES,
        circuits=("crank-position",),
    ),
    CauseKind(
        "cam-phase-shifted",
        "Cam signal shifted",
        "speed",
        "mechanical",
        "cam",
        (shows("crank-position", "cam_phase_shift", SURELY),),
        repair="timing",
        minutes=REPAIR_WIRES,
        circuits=("crank-position",),
    ),
    CauseKind(
        "wheel-tooth-damaged",
        "Wheel speed ring, tooth damaged",
        "speed",
        "mechanical",
        "wheel",
        (shows("wheel-speed", "tooth_damaged runout", SURELY),),
        repair="wheel-ring",
        minutes=RENEW_DEEP,
        no_symptom=("misfire", "no-start", "stalls", "hesitates", "no-power", "surges"),
        symptoms=("noise",),
        circuits=("wheel-speed",),
    ),
    CauseKind(
        "wheel-sensor-weak",
        "Wheel speed sensor weak",
        "speed",
        "part",
        "wheel",
        (shows("wheel-speed", "weak_amplitude", SURELY), shows("wheel-speed", "dropout", AT_TIMES)),
        repair="wheel",
        proofs=("ground", "signal"),
        no_symptom=("misfire", "no-start", "stalls", "hesitates", "no-power", "surges"),
        circuits=("wheel-speed",),
    ),
)
