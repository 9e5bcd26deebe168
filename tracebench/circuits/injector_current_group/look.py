"""Injector current, group: how a file of it looks; spans are common practice, no published source."""

from __future__ import annotations

from tracebench.core.proposal.looks import LEVELS_OFF, NOTHING, PULSES, RESTS_AT_NOTHING, Look, Row

LOOKS: tuple[Look, ...] = (
    Look(
        "current",
        (
            RESTS_AT_NOTHING,
            Row("most", (0.3, 20.0), (1.6, 12.0), "to {value:.2g} A, more than one injector draws"),
            Row("spike_hz", (4.0, 80.0), (9.0, 40.0), "{value:.3g} times a second"),
            Row("width_s", (0.0006, 0.03), (0.0012, 0.02)),
            Row("edge_share", (0.0, 1.15), (0.01, 0.9), "rises and levels off"),
            LEVELS_OFF,
            Row("above", (-0.2, 0.35), (-0.1, 0.18)),
            Row("below", (-0.2, 0.25), (-0.1, 0.1)),
        ),
        ("group", "bank", "injectors", "inj"),
        (Row("sync", (-1, 0.9), (-0.5, 0.2)),),
        still=(NOTHING,),
        taken=PULSES,
    ),
)
