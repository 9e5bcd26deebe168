"""Whether a capture taken for one circuit shows another: the wrong wire, or the wrong file."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from tracebench.core.answer import Answer, Finding, Missing
from tracebench.core.capture import Capture
from tracebench.core.circuits import CIRCUITS
from tracebench.core.circuits.circuit import Circuit
from tracebench.core.circuits.setup_findings import CORRECTED
from tracebench.core.proposal.propose import Column, figures_of, ranked
from tracebench.core.samples import Samples

FIRST_SO_MANY = 3
"""Among so many of the likeliest circuits the right one is for 99 of 100 records, its faults among them
(benchmarks.circuit_proposal)."""

FAR_LESS = 0.001
"""So much less likely than the likeliest: of 407 records, sound and faulty, of the trainer and of other formulas, not
one is for its own circuit, and seven of ten are for each of the others, measured."""

MOVES = 0.02
"""Of what a lane can reach: a first lane that moves less shows nothing of any circuit."""


CODE = "another_circuit"


def without_another(answer: Answer, capture: Capture, circuit: Circuit) -> Answer:
    """The answer as it is, or, of a capture that shows another circuit, one in which nothing was measured. A scale or
    lanes that had to be put right falsify what a capture looks like, and are told as such."""
    if any(f.code in CORRECTED for f in answer.findings):
        return answer
    other = looks_of_another(capture, circuit.code)
    if other is None:
        return answer
    what = f"looks like a record of {CIRCUITS[other].title.lower()}"
    text = f"this {what}, not of {circuit.title.lower()}: look which wire and which file it is"
    end_s = capture.start_s + capture.duration_s
    found = Finding(CODE, "set-up", capture.start_s, end_s, text, next(iter(capture.lanes)), hides=True)
    none = tuple(Missing(reading, f"the capture {what}") for reading in circuit.reading_ids)
    return replace(
        answer,
        phases=(),
        readings=(),
        limits=(),
        findings=(found, *answer.findings_of("set-up")),
        call="inconclusive",
        because=(CODE,),
        missing=none,
        events=(),
    )


def looks_of_another(capture: Capture, code: str) -> str | None:
    """The circuit that a capture is of by its looks where it can hardly be of `code`; None where it may be, as a record
    does that shows nothing, or the part's with its probe the wrong way round. Names and units are not asked: a learner
    chose them."""
    lanes = [lane.samples for lane in capture.lanes.values()]
    if not any(_moves(samples) for samples in lanes):
        return None
    likeliest = _far_from(lanes, capture.interval_s, code)
    if likeliest is None or _far_from([-samples for samples in lanes], capture.interval_s, code) is None:
        return None
    return likeliest


def _far_from(lanes: list[Samples], interval_s: float, code: str) -> str | None:
    """The likeliest circuit where the one told is far behind."""
    columns = [Column("", "", samples) for samples in lanes]
    order = ranked(columns, figures_of(columns, interval_s), "")
    place = [one.circuit for one in order].index(code)
    far = place >= FIRST_SO_MANY and order[place].share < FAR_LESS * order[0].share
    return order[0].circuit if far else None


def _moves(samples: Samples) -> bool:
    low, high = np.quantile(samples, (0.01, 0.99))
    return bool(high - low >= MOVES * max(1.0, float(np.abs(samples).max())))
