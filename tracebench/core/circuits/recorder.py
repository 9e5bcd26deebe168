"""What the recorder leaves in doubt of a reading, whatever measured it: its steps, its stamps, its gain and offset."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace

import numpy as np

from tracebench.core.answer import Reading
from tracebench.core.capture import Capture
from tracebench.core.circuits.thinning import thin
from tracebench.core.circuits.threshold import Threshold
from tracebench.core.errors import BadOption
from tracebench.core.robust.codes import code_doubt
from tracebench.core.robust.median import percentile

_PARTS_OF = {("mV", "V"): 1000.0, ("V", "mV"): 0.001, ("mA", "A"): 1000.0}
"""How many of a reading's unit make one of its lane's, where they are not the same."""

_RATES = ("Hz", "rpm")
_NOT_OF_SCALE = ("ms", "s", "%", "°", "", *_RATES)
"""Units of times, shares and counts, which no offset or gain changes; others are worked out from a level."""

MOST_PCT = Threshold(50.0, "%", "A scope that is off by more is broken, or the number is no percentage")


@dataclass(frozen=True, slots=True)
class Accuracy:
    """What a scope with its probe or clamp may be off by: parts of the value, and of the lane's range."""

    value: float = 0.0
    range: float = 0.0


def accuracy_told(options: Mapping[str, str]) -> Accuracy:
    """What its check found, told in percent; 0 untold. Raises BadOption for what is no such number."""
    return Accuracy(_part(options, "accuracy_pct"), _part(options, "offset_pct"))


def _part(options: Mapping[str, str], option: str) -> float:
    text = options.get(option, "").strip()
    if not text:
        return 0.0
    try:
        percent = float(text)
    except ValueError:
        percent = -1.0
    if not 0 <= percent <= MOST_PCT:
        raise BadOption(f"option {option} must be a number of percent from 0 to {MOST_PCT:g}, not {text!r}")
    return percent / 100


def with_recorder(capture: Capture, readings: Iterable[Reading]) -> tuple[Reading, ...]:
    """Readings that are known no better than the recorder allows.

    A level cannot be better known than a code of its lane that noise does not stir (JCGM 100, 4.3.7): such a code is
    shared by all samples, so that no number of them averages it out. A rate carries the doubt of the interval, where
    the file's stamps were too coarse to tell it, and that of the edges that end it, where there are gaps.
    """
    least: dict[str, float] = {}
    out = []
    for reading in readings:
        lane = capture.lanes.get(reading.lane or "")
        doubt = reading.uncertainty
        if lane is not None and (scale := _scale(reading.unit, lane.unit)) is not None:
            if lane.name not in least:
                least[lane.name] = code_doubt(lane.step, lane.noise) if lane.step else 0.0
            doubt = max(doubt, scale * least[lane.name])
        if reading.unit in _RATES:
            # The first and the last edge end what is counted: either may lie in a gap.
            ends = math.sqrt(2.0) * capture.edge_s / max(reading.to_s - reading.from_s, capture.interval_s)
            doubt = math.hypot(doubt, capture.clock * reading.value, ends * reading.value)
        out.append(reading if doubt == reading.uncertainty else replace(reading, uncertainty=doubt))
    return tuple(out)


def off_by(capture: Capture, readings: Iterable[Reading], told: Accuracy) -> dict[str, float]:
    """How far the scope may have each summary off, by id, in the reading's unit; times and shares are its clock's.

    The range is what the lane's highest value needs: files seldom say which one was set. It is no part of a
    reading's uncertainty, which is that of the capture: two readings with one scope are off by the same.
    """
    if told == Accuracy():
        return {}
    highest: dict[str, float] = {}
    out = {}
    for reading in (r for r in readings if r.cycle is None and r.cylinder is None):
        lane = capture.lanes.get(reading.lane or "")
        if lane is not None and (scale := _scale(reading.unit, lane.unit)) is not None:
            if lane.name not in highest:
                highest[lane.name] = percentile(np.abs(thin(lane.samples)), 99.9)
            out[reading.id] = told.value * abs(reading.value) + scale * told.range * highest[lane.name]
        elif reading.unit not in _NOT_OF_SCALE or reading.id.endswith("ratio"):
            out[reading.id] = told.value * abs(reading.value)
    return out


def _scale(unit: str, lane_unit: str) -> float | None:
    return 1.0 if unit == lane_unit else _PARTS_OF.get((unit, lane_unit))
