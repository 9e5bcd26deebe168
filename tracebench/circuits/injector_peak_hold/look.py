"""Injector, peak and hold: how a file of it looks; spans are common practice, no published source."""

from __future__ import annotations

from tracebench.core.proposal.looks import NOTHING, PULSES, RESTS_AT_NOTHING, SINGLE, Look, Row

LOOKS: tuple[Look, ...] = (
    Look(
        "current",
        (
            RESTS_AT_NOTHING,
            Row("most", (2.0, 30.0), (3.0, 25.0), "peaks at {value:.3g} A"),
            Row("hold", (0.02, 0.97), (0.1, 0.75), "and is held at less"),
            SINGLE,
            Row("spike_peak_at", (-0.1, 0.85), (-0.05, 0.65), "before its end"),
            Row("below", (-0.2, 0.3), (-0.1, 0.15)),
            Row("width_s", (0.0001, 0.02), (0.0003, 0.008)),
        ),
        ("peak", "hold", "injector", "inj", "gdi"),
        still=(NOTHING,),
        taken=PULSES,
    ),
)
