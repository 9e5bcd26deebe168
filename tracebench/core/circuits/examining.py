"""What every circuit repeats, run from its table: lanes put right before it measures, and looked at after."""

from __future__ import annotations

from tracebench.core.capture import Capture
from tracebench.core.circuits import probe, record_checks
from tracebench.core.circuits import setup_findings as setup
from tracebench.core.circuits.circuit import Circuit, Told
from tracebench.core.circuits.hum import hum_on, take_off
from tracebench.core.circuits.work import Work


def measured_by(kind: Circuit, capture: Capture, told: Told) -> Work:
    """One capture measured as one circuit: lanes put right, the circuit's own measuring, then what is lacking."""
    work = Work(capture, told)
    _put_right(kind, work)
    work = kind.measure(work)
    # A dead or stuck lane says nothing of its range, nor of phases that would have shown on it.
    if not work.has(*(f.code for f in kind.findings if f.stills)):
        if not work.has("flat_line"):
            _look_at(kind, work)
        _note_missing_phases(kind, work)
    return work


def _put_right(kind: Circuit, work: Work) -> None:
    there = [lane for lane in kind.lanes if lane.name in work.capture.lanes]
    for lane in there:
        if lane.exam.upright:
            probe.put_polarity_right(work, lane.name)
    for pair in kind.exchanged:
        probe.unswap(work, pair.one, pair.other, pair.reach_one, pair.reach_other)
    for lane in there:
        exam = lane.exam
        if exam.size is None or (not exam.steady and setup.is_flat(work.samples(lane.name), 0.0)):
            continue
        setup.put_scale_right(work, lane.name, *exam.size, moving=not exam.steady, repeats=exam.repeats)
    for lane in there:
        if lane.exam.hum is not None:
            take_off(work, lane.name, hum_on(work, lane.name, moves=True), *lane.exam.hum)


def _look_at(kind: Circuit, work: Work) -> None:
    for lane in kind.lanes:
        if lane.name not in work.capture.lanes:
            continue
        if lane.exam.feature is not None:
            record_checks.check_rate(work, *lane.exam.feature, lane.name)
        if lane.exam.clip_s is not None:
            record_checks.check_clipped(work, lane.name, lane.exam.clip_s)
        if lane.exam.code is not None:
            setup.check_range_use(work, lane.name, lane.exam.code)
        # Where nothing told what must be seen on it.
        record_checks.check_low_pass(work, lane.name, None)


def _note_missing_phases(kind: Circuit, work: Work) -> None:
    """A required phase that does not occur is a finding that hides the answer."""
    have = {p.name for p in work.phases}
    if work.has("missing_phase"):
        return
    for phase in kind.phases:
        if phase.required and phase.name not in have:
            words = phase.name.replace("_", " ")
            work.setup("missing_phase", f"no {words} phase in this capture: {phase.otherwise}", hides=True)
    if kind.under_load and not have & set(kind.under_load) and not work.has("missing_phase"):
        *others, last = (name.replace("_", " ") for name in kind.under_load)
        text = f"no load phase in this capture: capture {', '.join(others)} or a {last} as well as idle"
        work.setup("missing_phase", text, hides=True)
