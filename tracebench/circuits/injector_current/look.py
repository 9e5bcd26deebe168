"""Injector current: how a file of it looks; spans are common practice, no published source."""

from __future__ import annotations

from tracebench.core.proposal.looks import LEVELS_OFF, NOTHING, PULSES, RESTS_AT_NOTHING, SINGLE, Look, Row

LOOKS: tuple[Look, ...] = (
    Look(
        "current",
        (
            RESTS_AT_NOTHING,
            Row("most", (0.2, 5.0), (0.4, 2.2), "to {value:.2g} A"),
            SINGLE,
            Row("width_s", (0.0006, 0.03), (0.0012, 0.02), "for {value:.2g} s"),
            Row("edge_share", (0.0, 1.1), (0.01, 0.85), "rises and levels off"),
            LEVELS_OFF,
            Row("above", (-0.2, 0.35), (-0.1, 0.18)),
            Row("below", (-0.2, 0.25), (-0.1, 0.1)),
        ),
        ("injector", "inj"),
        still=(NOTHING,),
        taken=PULSES,
    ),
)
