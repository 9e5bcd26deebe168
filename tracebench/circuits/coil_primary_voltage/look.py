"""Coil primary voltage: how a file of it looks; spans are common practice, no published source."""

from __future__ import annotations

from tracebench.core.proposal.looks import BATTERY, NOTHING, ON_BATTERY, PULSES, Look, Row, quick

LOOKS: tuple[Look, ...] = (
    Look(
        "control",
        (
            quick(),
            ON_BATTERY,
            Row("most", (60.0, 600.0), (180.0, 500.0), "kicks to {value:.3g} V"),
            Row("spike_hz", (1.0, 200.0), (3.0, 60.0)),
            Row("spike_width_s", (-0.1, 0.0002), (0.0, 0.0001)),
        ),
        ("coil", "ignition", "primary"),
        still=(NOTHING, BATTERY),
        taken=PULSES,
    ),
)
