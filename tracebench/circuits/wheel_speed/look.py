"""Wheel speed: how a file of it looks; spans are common practice, no published source."""

from __future__ import annotations

from tracebench.core.proposal.looks import BATTERY, NOTHING, SWITCHED_BY_HAND, Look, Row, quick

LOOKS: tuple[Look, ...] = (
    Look(
        "signal",
        (
            quick(),
            Row("hz", (3.0, 600.0), (10.0, 300.0), "{value:.3g} teeth a second, of a wheel spun by hand"),
            Row("gaps", (-0.2, 0.06), (-0.1, 0.02), "no gap in its row of teeth"),
            Row("uneven", (-0.02, 0.2), (-0.01, 0.06)),
            Row("reach", (0.02, 20.0), (0.05, 4.0)),
            Row("width_s", (0.0005, 0.12), (0.002, 0.05)),
            Row("toothed", (0.0, 1.5), (0.7, 1.3), "on both sides of nothing, or between two levels"),
            Row("seconds", (1.0, 60.0), (3.0, 30.0)),
        ),
        ("wheel", "abs", "wss"),
        still=(NOTHING, (0.5, 1.9), BATTERY),
        taken=SWITCHED_BY_HAND,
    ),
)
