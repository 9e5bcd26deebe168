"""Levels of lanes as readings: in a phase, over the record, of one state of two, of the top of a transition."""

from __future__ import annotations

import numpy as np

from tracebench.core.answer import Phase
from tracebench.core.circuits.thinning import thin
from tracebench.core.circuits.work import TRIM, Span, Work, inner
from tracebench.core.measure.levels import Level, level_of, rest_of
from tracebench.core.robust.median import median
from tracebench.core.samples import Samples


def level_in(work: Work, lane: str, span_s: Span, trim: float = TRIM) -> Level:
    """Level of a lane in a span, its ends trimmed."""
    start, stop = work.indices(span_s, trim)
    return level_of(rest_of(work.samples(lane)[start:stop], work.code(lane)), work.code(lane))


def read_level(
    work: Work, reading_id: str, phase: Phase | None, lane: str, unit: str = "V", trim: float = TRIM
) -> Level | None:
    """The level of a lane in a phase, its ends trimmed, as a reading; noted as missing without the phase or lane."""
    if lane not in work.capture.lanes:
        work.miss(reading_id, f"no {lane.replace('_', ' ')} lane in this capture")
        return None
    if phase is None:
        return None
    level = level_in(work, lane, (phase.from_s, phase.to_s), trim)
    work.add(reading_id, level.value, unit, level.uncertainty, inner(phase), lane)
    return level


def read_steady_lane(work: Work, reading_id: str, lane: str, unit: str = "V") -> Level | None:
    """The level of a lane that should not move, over the whole record."""
    samples = work.lane(lane)
    if samples is None:
        work.miss(reading_id, f"no {lane.replace('_', ' ')} lane in this capture")
        return None
    level = level_of(thin(samples), work.code(lane))
    work.add(reading_id, level.value, unit, level.uncertainty, work.whole, lane)
    return level


def state_level(samples: Samples, code: float, *, below: float | None = None, above: float | None = None) -> Level:
    """Level of one state of a two-level signal, two samples off every edge; of all its samples if that leaves few."""
    mask = samples < below if below is not None else samples > (above or 0.0)
    inside = np.zeros_like(mask)
    inside[2:-2] = mask[2:-2] & mask[1:-3] & mask[3:-1] & mask[:-4] & mask[4:]
    return level_of(thin(samples[inside] if inside.sum() >= 16 else samples[mask]), code)


def top_of(part: Samples, rest: float, peak: float) -> float:
    """The upper state level of a transition: the median of what lies within 5 % of the step of its peak.

    A peak is the largest of many noisy medians; a flat top's own level is not pushed up by its noise.
    """
    return median(part[part >= rest + 0.95 * (peak - rest)])
