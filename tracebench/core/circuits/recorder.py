"""What the recorder's own steps and stamps leave in doubt of a reading, whatever measured it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace

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


def accuracy_told(options: Mapping[str, str]) -> float:
    """What scope and probe may be off by, told in percent of a lane's highest value, as a part of it; 0 untold.

    Raises BadOption for what is no such number.
    """
    text = options.get("accuracy_pct", "").strip()
    if not text:
        return 0.0
    try:
        percent = float(text)
    except ValueError:
        percent = -1.0
    if not 0 <= percent <= MOST_PCT:
        raise BadOption(f"option accuracy_pct must be a number of percent from 0 to {MOST_PCT:g}, not {text!r}")
    return percent / 100


def with_recorder(capture: Capture, readings: Iterable[Reading], accuracy: float = 0.0) -> tuple[Reading, ...]:
    """Readings that are known no better than the recorder allows.

    A level cannot be better known than a code of its lane that noise does not stir (JCGM 100, 4.3.7): such a code is
    shared by all samples, so that no number of them averages it out. A rate carries the doubt of the interval, where
    the file's stamps were too coarse to tell it. `accuracy` is the part of a lane's highest value that offset and
    gain may be off by, either way and anywhere in between (rectangular, JCGM 100, 4.3.7).
    """
    least: dict[str, float] = {}
    shared: dict[str, float] = {}
    out = []
    for reading in readings:
        lane = capture.lanes.get(reading.lane or "")
        doubt = reading.uncertainty
        if lane is not None and (scale := _scale(reading.unit, lane.unit)) is not None:
            if lane.name not in least:
                step = lane.step
                least[lane.name] = code_doubt(step, lane.noise) if step else 0.0
                highest = percentile(np.abs(thin(lane.samples)), 99.9) if accuracy else 0.0
                shared[lane.name] = accuracy * highest / float(np.sqrt(3.0))
            doubt = float(np.hypot(max(doubt, scale * least[lane.name]), scale * shared[lane.name]))
        elif accuracy and (reading.unit not in _NOT_OF_SCALE or reading.id.endswith("ratio")):
            doubt = float(np.hypot(doubt, accuracy * reading.value / np.sqrt(3.0)))
        if capture.clock and reading.unit in _RATES:
            doubt = float(np.hypot(doubt, capture.clock * reading.value))
        out.append(reading if doubt == reading.uncertainty else replace(reading, uncertainty=doubt))
    return tuple(out)


def _scale(unit: str, lane_unit: str) -> float | None:
    return 1.0 if unit == lane_unit else _PARTS_OF.get((unit, lane_unit))
