"""Causes of charging: alternator, its regulator, grounds and commands.

Strengths: common practice, no published source.
"""

from __future__ import annotations

from tracebench.core.diagnosis.kinds.cause_kind import (
    RENEW_DEEP,
    REPAIR_WIRES,
    WEARS,
    CauseKind,
    feed_off,
    shows,
)
from tracebench.core.diagnosis.strengths import AT_TIMES, MOSTLY, SURELY

CHARGING = (
    CauseKind(
        "regulator-internal",
        "Regulator in the alternator",
        "charging",
        "part",
        "alternator",
        (shows("charging", "overcharge", SURELY), shows("voltage", "supply_high", MOSTLY, at="alternator")),
        weight=WEARS,
        repair="alternator",
        minutes=RENEW_DEEP,
        proofs=("supply", "ground"),
        no_symptom=("flat-battery",),
        circuits=("charging",),
    ),
    CauseKind(
        "alternator-diode",
        "Alternator, diode",
        "charging",
        "part",
        "alternator",
        (shows("charging", "diode_ripple", SURELY), shows("charging", "undercharge", AT_TIMES)),
        weight=WEARS,
        repair="alternator",
        minutes=RENEW_DEEP,
        proofs=("supply", "ground"),
        no_symptom=("overcharge",),
        circuits=("charging",),
    ),
    CauseKind(
        "alternator-worn",
        "Alternator worn",
        "charging",
        "part",
        "alternator",
        (shows("charging", "undercharge", SURELY), shows("look-and-move", "faulty:belt", AT_TIMES)),
        weight=WEARS,
        repair="alternator",
        minutes=RENEW_DEEP,
        proofs=("supply", "ground"),
        no_symptom=("overcharge",),
        circuits=("charging",),
    ),
    CauseKind(
        "case-ground",
        "Ground of the alternator's case",
        "charging",
        "wire",
        "alternator",
        (
            shows("charging", "ground_lifted", SURELY),
            shows("charging", "overcharge", MOSTLY),
            *feed_off("ground_high", "alternator"),
        ),
        repair="case-ground",
        minutes=REPAIR_WIRES,
        circuits=("charging",),
    ),
    CauseKind(
        "sense-lost",
        "Sense wire of the alternator",
        "charging",
        "wire",
        "alternator",
        (shows("charging", "overcharge", MOSTLY), *feed_off("supply_low", "alternator")),
        repair="sense",
        minutes=REPAIR_WIRES,
        circuits=("charging",),
    ),
    CauseKind(
        "command-driven",
        "Load command drives the alternator",
        "charging",
        "controller",
        "alternator",
        (shows("charging", "command_driven", SURELY), shows("charging", "overcharge", MOSTLY)),
        repair="command",
        minutes=REPAIR_WIRES,
        proofs=("supply", "ground"),
        circuits=("charging",),
    ),
)
