"""What the recorder's own steps and stamps leave in doubt of a reading, whatever measured it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from tracebench.core.answer import Reading
from tracebench.core.capture import Capture
from tracebench.core.circuits.setup_findings import noise_within
from tracebench.core.robust.codes import code_doubt

_PARTS_OF = {("mV", "V"): 1000.0, ("V", "mV"): 0.001, ("mA", "A"): 1000.0}
"""How many of a reading's unit make one of its lane's, where they are not the same."""

_RATES = ("Hz", "rpm")


def with_recorder(capture: Capture, readings: Iterable[Reading]) -> tuple[Reading, ...]:
    """Readings that are known no better than the recorder allows.

    A level cannot be better known than a code of its lane that noise does not stir (JCGM 100, 4.3.7): such a code is
    shared by all samples, so that no number of them averages it out. A rate carries the doubt of the interval, where
    the file's stamps were too coarse to tell it.
    """
    least: dict[str, float] = {}
    out = []
    for reading in readings:
        lane = capture.lanes.get(reading.lane or "")
        doubt = reading.uncertainty
        if lane is not None and (scale := _scale(reading.unit, lane.unit)) is not None:
            if lane.name not in least:
                step = lane.step
                least[lane.name] = code_doubt(step, noise_within(lane.samples)) if step else 0.0
            doubt = max(doubt, scale * least[lane.name])
        if capture.clock and reading.unit in _RATES:
            doubt = float((doubt**2 + (capture.clock * reading.value) ** 2) ** 0.5)
        out.append(reading if doubt == reading.uncertainty else replace(reading, uncertainty=doubt))
    return tuple(out)


def _scale(unit: str, lane_unit: str) -> float | None:
    return 1.0 if unit == lane_unit else _PARTS_OF.get((unit, lane_unit))
