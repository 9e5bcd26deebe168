"""Charging: how a file of it looks; spans are common practice, no published source."""

from __future__ import annotations

from tracebench.core.proposal.looks import NOT_FOR_PULSES, Look, Row

LOOKS: tuple[Look, ...] = (
    Look(
        "sense",
        (
            Row("middle", (10.0, 18.5), (13.3, 16.8), "charges at {value:.3g} V"),
            Row("least", (9.0, 17.5), (11.0, 16.5)),
            Row("swing", (-0.1, 5.0), (0.02, 3.2)),
            Row("most", (12.0, 20.0), (13.3, 18.0)),
            Row("seconds", (1.0, 300.0), (4.0, 120.0)),
            NOT_FOR_PULSES,
        ),
        ("alternator", "charging", "charge", "battery", "alt"),
        (Row("steady_5", (-0.2, 1.0), (-0.1, 0.2)),),
    ),
)
