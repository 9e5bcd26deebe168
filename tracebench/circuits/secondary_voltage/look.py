"""Secondary voltage: how a file of it looks; spans are common practice, no published source."""

from __future__ import annotations

from tracebench.core.proposal.looks import NOTHING, PULSES, Look, Row

LOOKS: tuple[Look, ...] = (
    Look(
        "secondary",
        (
            Row("rest", (-1.0, 1.0), (-0.3, 0.3)),
            Row("deepest", (1.5, 50.0), (4.0, 45.0), "fires at {value:.3g} kV"),
            Row("narrow", (0.2, 1.1), (0.4, 1.0), "a narrow line before its burn"),
            Row("deep_hz", (2.0, 300.0), (5.0, 200.0)),
        ),
        ("secondary", "kv", "ht", "spark", "ignition"),
        still=(NOTHING,),
        taken=PULSES,
    ),
)
