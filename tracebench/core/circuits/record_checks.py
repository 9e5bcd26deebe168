"""Set-up checks of a record: rate, clipping, capped tops, slow edges."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tracebench.core.answer import Phase
from tracebench.core.circuits import setup_findings as setup
from tracebench.core.circuits.enough import enough
from tracebench.core.circuits.probe import SLIP_ZERO_V
from tracebench.core.circuits.thinning import thin
from tracebench.core.circuits.threshold import Count, Threshold
from tracebench.core.circuits.work import Work
from tracebench.core.robust.codes import resolution
from tracebench.core.robust.median import median
from tracebench.core.robust.noise import sample_noise
from tracebench.core.samples import Samples

STILL_CLIMBS = Threshold(
    0.3, "", "Of the mean pace of a climb: one that ends so fast had not come to its top (from memory)"
)


def check_rate(work: Work, feature: str, feature_s: float, lane: str = "signal") -> None:
    """Fewer than ten samples across the shortest feature that the circuit needs."""
    check_low_pass(work, lane, (feature, feature_s))
    across = feature_s / work.capture.interval_s
    if not enough(across, setup.FEWEST_SAMPLES):
        text = (
            f"{work.capture.rate_hz:,.0f} samples a second put {across:.2g} across {feature}; "
            f"{setup.FEWEST_SAMPLES} are needed"
        )
        work.setup("undersampled", text, lane, hides=True)


def is_cut_off(work: Work, values: Samples, phase: Phase, interval_s: float | None = None) -> bool:
    """True if the record ends in a phase's climb: its top was not seen yet, and says nothing of the part.

    Noted as a missing phase, unless it was told: a told phase stands. A climb that still goes at a good part of its own
    mean pace has not come to its top.
    `values` are the whole record's, `interval_s` apart, as its samples are unless told.
    """
    if any(told.name == phase.name for told in work.told.phases):
        return False
    interval_s = interval_s or work.capture.interval_s
    start = round((phase.from_s - work.capture.start_s) / interval_s)
    eighth = (values.size - start) // 8
    if work.whole[1] - phase.to_s > eighth * interval_s or eighth == 0:
        return False
    part = values[start:]
    gained = float(np.mean(part[-eighth:]) - np.mean(part[-2 * eighth : -eighth]))
    climbed = float(np.mean(part[-eighth:]) - np.mean(part[:eighth]))
    if climbed <= 0 or gained <= STILL_CLIMBS * climbed / 7:
        return False
    name = phase.name.replace("_", " ")
    text = f"the record ends while the output still rises in the {name}: record on until it is back"
    work.setup("missing_phase", text, span_s=(phase.from_s, phase.to_s), hides=True)
    work.phases = [p for p in work.phases if p is not phase]
    work.course = [p for p in work.course if p is not phase]
    return True


def check_clipped(work: Work, lane: str, longest_s: float = 0.02, tops_only: bool = False) -> None:
    """Samples that rest on the highest or lowest value while noise stirs the rest of the lane.

    `tops_only` where nothing that matters lies at the lower end, as under a kick that rings out.
    """
    samples = work.samples(lane)
    middle = median(thin(samples)) if tops_only else -np.inf
    flat = [
        (a, b)
        for a, b in setup.clipped_stretches(samples, work.capture.lanes[lane].noise, work.code(lane))
        if samples[a] >= middle
        and (b - a) * work.capture.interval_s > longest_s
        and not abs(float(samples[a])) < SLIP_ZERO_V
    ]
    if flat:
        at = samples[flat[0][0]]
        text = f"rests dead flat at {at:.3g}, the end of the range; choose a larger range or shift the zero"
        where = [work.span(a, b) for a, b in flat]
        work.find("clipped", "set-up", text, where[0], lane, hides=True, places=where)


ON_THE_RAIL = Threshold(0.9, "", "Part of a lane of events on one of its two ends, from which its rest lies there")
OFF_NOTHING = Threshold(0.05, "", "Of a lane's swing: a rest so far from nothing is none of the lane's own")
FINE_CODES = Count(100, "codes", "Of so many in a swing a rest without a stir is the range's end, and no coarse code")


def check_rest(work: Work, lane: str) -> bool:
    """Whether what a lane of events rests at is cut off by the range: dead flat on its end, and away from nothing."""
    samples = work.samples(lane)
    low, high = float(samples.min()), float(samples.max())
    for end in (low, high):
        moving = samples[samples != end]
        if moving.size > (1.0 - ON_THE_RAIL) * samples.size or abs(end) < OFF_NOTHING * (high - low):
            continue
        code = resolution(moving) if moving.size else 0.0
        if 0 < code < (high - low) / FINE_CODES:
            text = f"rests dead flat at {end:.3g}, where the range ends: shift the zero or choose a larger range"
            work.find("clipped", "set-up", text, work.whole, lane, hides=True)
            return True
    return False


def check_capped(work: Work, lane: str, samples: Samples, at: NDArray[np.int64]) -> None:
    """Tops of spikes that all end at one code while noise would part them: the range ends there."""
    step = resolution(samples)
    tops = samples[at]
    if work.has("clipped") or at.size < 3 or sample_noise(samples) < 0.8 * step or step == 0:
        return
    end = float(samples.max())
    if float(np.mean(tops >= end - 0.5 * step)) > 0.5:
        text = f"{at.size} tops end at {end:.4g} dead level, the end of the range; choose a larger one"
        here = work.capture.time_s(int(at[0]))
        work.setup("clipped", text, lane, (here, here + work.capture.interval_s), hides=True)


def check_edges(work: Work, lane: str, passing: float, slowest_s: float, what: str) -> None:
    """Edges of `passing` samples that are slower than the circuit's own, on a lane without any noise: a filter."""
    took = passing * work.capture.interval_s
    if took > slowest_s and setup.is_noiseless(work.samples(lane)):
        text = f"{what} takes {1e6 * took:.3g} us and there is no noise: a filter is on"
        work.setup("over_filtered", text, lane, hides=True)


WIDE_ENOUGH = Threshold(
    5.0, "", "A filter's cut-off stays so many times over the bandwidth of what is to be seen, or it shapes that itself"
)
BANDWIDTH_S = Threshold(0.35, "", "Bandwidth of a first-order rise, in hertz times its seconds from 10 to 90 %")


def check_low_pass(work: Work, lane: str, feature: tuple[str, float] | None) -> None:
    """A low-pass of a person's is always told of; one that reaches down to what is to be seen hides the answer."""
    hz = work.capture.low_pass_hz.get(lane)
    if hz is None or any(f.code == "over_filtered" and f.lane == lane for f in work.findings):
        return
    text = f"made with a low-pass of {hz:g} Hz"
    if feature is None:
        text += ": a fault shorter than its response is smoothed away; look at the raw samples before you rely on it"
        work.setup("over_filtered", text, lane)
        return
    what, seconds = feature
    needed = WIDE_ENOUGH * BANDWIDTH_S / seconds
    if hz < needed:
        text += f": {what} needs {needed:.3g} Hz and more; rely on the raw samples"
        work.setup("over_filtered", text, lane, hides=True)
