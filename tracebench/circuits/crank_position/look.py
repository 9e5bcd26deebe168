"""Crank position: how a file of it looks; spans are common practice, no published source."""

from __future__ import annotations

from tracebench.core.proposal.looks import BATTERY, NOTHING, PULSES, REFERENCE, Look, Row, quick

LOOKS: tuple[Look, ...] = (
    Look(
        "signal",
        (
            quick(),
            Row("hz", (60.0, 15_000.0), (150.0, 9_000.0), "{value:.4g} teeth a second"),
            Row("gaps", (0.0005, 0.3), (0.006, 0.12), "a gap in its row of teeth"),
            Row("uneven", (-0.02, 0.3), (-0.01, 0.1)),
            Row("reach", (0.05, 140.0), (0.5, 120.0)),
            Row("toothed", (0.0, 1.5), (0.7, 1.3), "on both sides of nothing, or between two levels"),
        ),
        ("crank", "ckp", "crankshaft", "rpm"),
        still=(NOTHING, (2.2, 2.8), REFERENCE, BATTERY),
        taken=PULSES,
    ),
)
