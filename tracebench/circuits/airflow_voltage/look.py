"""Airflow, voltage: how a file of it looks; spans are common practice, no published source."""

from __future__ import annotations

from tracebench.core.proposal.looks import BY_HAND, PULLED, SLOW, Look, Row

LOOKS: tuple[Look, ...] = (
    Look(
        "signal",
        (
            SLOW,
            Row("low", (0.0, 1.8), (0.2, 1.3), "{value:.3g} V without air"),
            Row("high", (1.2, 5.0), (1.8, 4.8)),
            Row("above", (-0.05, 0.5), (0.03, 0.35), "a surge stands over its load"),
            Row("swing", (0.4, 5.0), (1.0, 4.5)),
            Row("edge_s", (0.5, 60.0), (2.0, 40.0)),
            Row("between", (0.35, 1.1), (0.5, 1.0)),
            Row("levels", (0.9, 7.0), (2.9, 6.0), "held at {value:.0f} loads"),
            Row("end", (-0.05, 1.1), (0.1, 1.05)),
        ),
        ("maf", "airflow", "air", "afm"),
        still=PULLED,
        taken=BY_HAND,
    ),
)
