"""Causes of position: throttle and pedal sensors and their wires.

Strengths: common practice, no published source.
"""

from __future__ import annotations

from tracebench.core.diagnosis.kinds.cause_kind import (
    RATIOMETRIC,
    RENEW_PUMP,
    REPAIR_WIRES,
    WEARS,
    CauseKind,
    shows,
)
from tracebench.core.diagnosis.strengths import AT_TIMES, HARDLY, MOSTLY, SURELY

POSITION = (
    CauseKind(
        "throttle-track-worn",
        "Throttle sensor, track worn",
        "position",
        "part",
        "throttle",
        (
            shows("throttle-position", "dropout spike", SURELY),
            shows("meter-sweep", "falls_off", HARDLY),
            shows("scan-data", "throttle_off", AT_TIMES),
        ),
        weight=WEARS,
        repair="throttle",
        proofs=RATIOMETRIC,
        no_symptom=("high-idle",),
        circuits=("throttle-position",),
    ),
    CauseKind(
        "throttle-travel-short",
        "Throttle does not open fully",
        "position",
        "part",
        "throttle",
        (
            shows("throttle-position", "low_open", SURELY),
            shows("meter-sweep", "low_open", SURELY),
            shows("look-and-move", "faulty:throttle", MOSTLY),
            shows("scan-data", "throttle_off", MOSTLY),
        ),
        repair="throttle-stop",
        proofs=("reference", "ground"),
        no_symptom=("high-idle", "stalls"),
        circuits=("throttle-position",),
    ),
    CauseKind(
        "throttle-level-low",
        "Throttle sensor reads low",
        "position",
        "part",
        "throttle",
        (
            shows("throttle-position", "low_closed", SURELY),
            shows("meter-sweep", "low_closed", SURELY),
            shows("scan-data", "throttle_off", AT_TIMES),
        ),
        repair="throttle",
        proofs=RATIOMETRIC,
        circuits=("throttle-position",),
    ),
    CauseKind(
        "throttle-wire",
        "Signal wire of the throttle sensor",
        "position",
        "wire",
        "throttle",
        (
            shows("throttle-position", "stuck_low stuck_high dropout", SURELY),
            shows("look-and-move", "faulty:wires", MOSTLY),
            shows("meter-sweep", "stuck", AT_TIMES),
            shows("scan-data", "throttle_off", MOSTLY),
        ),
        condition="moved",
        repair="throttle-wires",
        minutes=REPAIR_WIRES,
        circuits=("throttle-position",),
    ),
    CauseKind(
        "pedal-track-worn",
        "Pedal, track worn",
        "position",
        "part",
        "pedal",
        (shows("pedal-position", "dropout tracks_disagree track_lost", SURELY, lane="own"),),
        weight=WEARS,
        repair="pedal",
        minutes=RENEW_PUMP,
        proofs=RATIOMETRIC,
        circuits=("pedal-position",),
    ),
    CauseKind(
        "pedal-wire",
        "Signal wire of the pedal",
        "position",
        "wire",
        "pedal",
        (
            shows("pedal-position", "track_lost dropout tracks_disagree", SURELY, lane="own"),
            shows("look-and-move", "faulty:wires", MOSTLY),
        ),
        condition="moved",
        repair="pedal-wires",
        minutes=REPAIR_WIRES,
        circuits=("pedal-position",),
    ),
)
