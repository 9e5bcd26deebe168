"""Injector, piezo: how a file of it looks; spans are common practice, no published source."""

from __future__ import annotations

from tracebench.core.proposal.looks import NOTHING, PULSES, RESTS_AT_NOTHING, Look, Row

LOOKS: tuple[Look, ...] = (
    Look(
        "current",
        (
            RESTS_AT_NOTHING,
            Row("two_sided", (0.1, 1.1), (0.4, 1.05), "charges one way and discharges the other"),
            Row("above", (0.1, 1.0), (0.3, 0.9)),
            Row("below", (0.05, 1.0), (0.2, 0.9)),
            Row("spike_width_s", (0.000005, 0.0006), (0.00002, 0.0003), "within {value:.2g} s"),
            Row("reach", (1.5, 45.0), (4.0, 40.0)),
        ),
        ("piezo", "injector", "inj"),
        still=(NOTHING,),
        taken=PULSES,
    ),
)
