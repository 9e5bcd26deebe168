"""Airflow, frequency: how a file of it looks; spans are common practice, no published source."""

from __future__ import annotations

from tracebench.core.proposal.looks import PULLED, ROW_OF_PULSES, Look, Row, quick

LOOKS: tuple[Look, ...] = (
    Look(
        "signal",
        (
            quick(),
            Row("hz", (300.0, 20_000.0), (900.0, 15_000.0), "{value:.4g} pulses a second"),
            Row("between", (-0.1, 0.25), (-0.05, 0.1), "between two levels, at once"),
            Row("low", (-0.5, 2.0), (-0.3, 1.2)),
            Row("high", (1.5, 15.0), (3.5, 13.0)),
            Row("gaps", (-0.2, 0.02), (-0.1, 0.006), "no gap in its row"),
        ),
        ("maf", "airflow", "frequency", "air"),
        still=PULLED,
        taken=ROW_OF_PULSES,
    ),
)
