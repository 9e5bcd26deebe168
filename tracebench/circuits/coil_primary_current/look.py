"""Coil primary current: how a file of it looks; spans are common practice, no published source."""

from __future__ import annotations

from tracebench.core.proposal.looks import NOTHING, PULSES, RESTS_AT_NOTHING, Look, Row

LOOKS: tuple[Look, ...] = (
    Look(
        "current",
        (
            RESTS_AT_NOTHING,
            Row("most", (2.5, 100.0), (4.0, 20.0), "ramps to {value:.2g} A"),
            Row("spike_hz", (2.0, 300.0), (5.0, 200.0)),
            Row("edge_share", (0.75, 3.0), (1.0, 2.2), "rises all the way"),
            Row("fall_share", (-0.2, 0.5), (-0.1, 0.12), "and is cut at once"),
            Row("above", (-0.2, 0.35), (-0.1, 0.18)),
            Row("below", (-0.2, 0.25), (-0.1, 0.1)),
        ),
        ("coil", "ignition", "primary", "dwell"),
        still=(NOTHING,),
        taken=PULSES,
    ),
)
