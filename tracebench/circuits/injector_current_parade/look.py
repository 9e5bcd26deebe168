"""Injector currents, all in order: how a file of it looks; spans are common practice, no published source."""

from __future__ import annotations

from tracebench.core.proposal.looks import LEVELS_OFF, NOTHING, PULSES, RESTS_AT_NOTHING, SEVERAL, Look, Row

LOOKS: tuple[Look, ...] = (
    Look(
        "current",
        (
            RESTS_AT_NOTHING,
            Row("most", (0.2, 5.0), (0.4, 2.2), "to {value:.2g} A, one injector's"),
            SEVERAL,
            Row("width_s", (0.0006, 0.03), (0.0012, 0.02)),
            Row("edge_share", (0.0, 1.1), (0.01, 0.85), "rises and levels off"),
            LEVELS_OFF,
            Row("above", (-0.2, 0.35), (-0.1, 0.18)),
            Row("below", (-0.2, 0.25), (-0.1, 0.1)),
        ),
        ("parade", "injectors", "inj"),
        (Row("sync", (-0.5, 1.21), (0.9, 1.1), "a pulse of one cylinder beside it"),),
        still=(NOTHING,),
        taken=PULSES,
    ),
)
