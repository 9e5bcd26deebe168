"""Set-up findings that every circuit shares: what they are called, and the checks on bare lanes."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

import numpy as np

from tracebench.core.answer import Finding
from tracebench.core.capture import Capture, Lane
from tracebench.core.circuits.circuit import Circuit, FindingSpec
from tracebench.core.circuits.threshold import Count, Threshold
from tracebench.core.circuits.work import Work
from tracebench.core.envelope import BASE_FACTOR, STEP_FACTOR, envelope
from tracebench.core.errors import BadOption
from tracebench.core.measure.edges import find_edges, swing_thresholds
from tracebench.core.robust.codes import distinct_levels, resolution
from tracebench.core.robust.median import percentile, percentile_span, percentiles
from tracebench.core.robust.noise import ENOUGH, fast_noise, robust_sigma
from tracebench.core.robust.series import runs
from tracebench.core.samples import Samples

_SECURE = ("recapture-secure",)
_AGAIN = ("recapture-manoeuvre", "recapture-condition")
_CONDITION = ("recapture-condition", "recapture-manoeuvre")

SETUP_FINDINGS = (
    FindingSpec("flat_line", "Flat line", "set-up", "connection", _SECURE),
    FindingSpec("clipped", "Clipped by the range", "set-up", "connection", _SECURE),
    FindingSpec("undersampled", "Sampled too slowly", "set-up", "not-shown", _AGAIN),
    FindingSpec("too_short", "Too short a record", "set-up", "not-shown", _AGAIN),
    FindingSpec("missing_phase", "A needed phase is missing", "set-up", "not-shown", _AGAIN),
    FindingSpec("reversed_polarity", "Polarity reversed", "set-up", "connection", _SECURE),
    FindingSpec("scale_suspect", "Scale factor suspect", "set-up", "connection", _SECURE),
    FindingSpec("noisy", "Noise hides the answer", "set-up", "connection", _SECURE),
    FindingSpec("over_filtered", "Filtered too hard", "set-up", "connection", _SECURE),
    FindingSpec("low_range_use", "Range far too large", "set-up", "connection", _SECURE),
    FindingSpec("probe_slip", "Probe slipped", "set-up", "connection", _SECURE),
    FindingSpec("sweep_too_fast", "Sweep too fast", "set-up", "not-shown", _AGAIN),
    FindingSpec("lanes_swapped", "Lanes swapped", "set-up", "connection", _SECURE),
    FindingSpec("zero_not_set", "Zero of the clamp not set", "set-up", "connection", _SECURE),
    FindingSpec("trigger_outside", "Trigger outside the signal", "set-up", "connection", _SECURE),
    FindingSpec("cold_capture", "Captured cold, limit for warm", "set-up", "not-shown", _CONDITION),
    FindingSpec("other_design", "Reference of another design", "set-up", "not-shown", ("look-up", *_AGAIN)),
    FindingSpec("another_circuit", "A record of another circuit", "set-up", "connection", _SECURE),
    FindingSpec("condition_not_shown", "Condition not shown", "set-up", "not-shown", _CONDITION),
)

CORRECTED = ("scale_suspect", "reversed_polarity", "lanes_swapped")
"""Set-up findings that the core puts right where that is safe, so that the call is made on the right values."""

COVERS = ("clipped", "probe_slip", "flat_line", "low_range_use")
"""Set-up findings that falsify the level they lie on, where they hide: no limit condemns a reading there, and nothing
that shows for the most part there condemns a part."""

TIMES = ("ms", "s")
UNSEEN = Count(
    4, "samples", "Across an event: with fewer, one that is missed or low is the sampling's work (from memory)"
)


def too_few(work: Work, text: str, across: float, lane: str, span_s: tuple[float, float] | None = None) -> None:
    """Too few samples across an event: its shape is not to be seen, and under a few of them nothing of its lane is."""
    work.find("undersampled", "set-up", text, span_s, lane, float(across), "samples", hides=True)


def unseen(findings: Iterable[Finding]) -> dict[str, str]:
    """Lanes on which nothing condemns, as their events lie between the samples; with the finding that says so."""
    return {
        f.lane: f.code
        for f in findings
        if f.code == "undersampled" and f.lane is not None and f.unit == "samples" and (f.value or 0.0) < UNSEEN
    }


MOST_LOOKED_AT = Count(1 << 20, "samples", "So many show whether a lane has noise")
NO_RECORDER = Threshold(1e-15, "", "Noise under this part of the swing is the rounding of a formula, not a recorder")
NOISELESS = Threshold(2e-6, "", "Noise, as a part of the swing, under which a lane has none")
NOISELESS_STEP = Threshold(2e-4, "", "Code, as a part of the swing, from which that cannot be told")

PASSING = Count(20_000, "samples", "Looked at on either side of an edge; what takes longer is no edge")

FEWEST_LEVELS = Count(32, "codes", "Codes across the swing that a shape needs (common practice, no published source)")
FEWEST_SAMPLES = Count(
    10, "samples", "Samples across the shortest feature that its shape needs (common practice, no published source)"
)
FACTORS = (10.0, 100.0, 1000.0, 0.1, 0.01, 0.001)


def scale_factor(lane: Lane, top_at_least: float, top_at_most: float) -> float | None:
    """The factor of 10, 100, 1000 or an inverse by which a lane is off; None if its size is possible.

    The size is the 99.5th percentile of the magnitude. It is possible from `top_at_least` / 2.5 to
    `top_at_most` x 1.5, so that a genuine level fault is not mistaken for a wrong probe setting.
    """
    stride = max(1, lane.samples.size // ENOUGH)
    top = percentile(np.abs(lane.samples[::stride]), 99.5)
    if top_at_least / 2.5 <= top <= 1.5 * top_at_most or top == 0:
        return None
    return wrong_factor(top, top_at_least, top_at_most)


def wrong_factor(size: float, least: float, most: float) -> float | None:
    """The power of ten by which a size is off, so that divided by it lies from `least` to `most`, or None."""
    return next((factor for factor in FACTORS if least <= size / factor <= most), None)


def put_scale_right(
    work: Work, name: str, top_at_least: float, top_at_most: float, moving: bool = True, repeats: int = 0
) -> None:
    """A lane off by a power of ten is read corrected, with the finding; others stay as they are.

    A `moving` lane that is far too small must move by half its size, and rise through its middle so often as it
    `repeats`; a steady one must be quiet for its size: a dead lane's offset and noise are no signal in thousandths.
    """
    lane = work.capture.lanes.get(name)
    factor = scale_factor(lane, top_at_least, top_at_most) if lane is not None else None
    if lane is None or factor is None:
        return
    if (
        not moving
        and factor < 1
        and robust_sigma(np.diff(lane.samples[:ENOUGH])) > 0.01 * np.median(np.abs(lane.samples))
    ):
        return
    if moving and factor < 1:
        low, high = percentiles(lane.samples[:: max(1, lane.samples.size // ENOUGH)], 1.0, 99.0)
        if high - low < max(0.5 * max(abs(high), abs(low)), 8 * lane.step):
            return
        if repeats and find_edges(lane.samples, *swing_thresholds(lane.samples, 0.3)).rising.size < repeats:
            return
    text = f"the {name} is {factor:g} times what it can be: probe or clamp factor; read divided by {factor:g}"
    work.setup("scale_suspect", text, name)
    work.capture = work.capture.with_lane(lane.scaled(1.0 / factor))


def check_range_use(work: Work, name: str, hides_above: float) -> None:
    """Fewer than 32 codes across the swing; hides the answer when one code exceeds `hides_above`."""
    samples = work.samples(name)
    step = work.code(name)
    levels = distinct_levels(samples, step)
    # Two or three levels are a switching signal without noise, not a coarse range.
    if levels >= FEWEST_LEVELS or levels < 4:
        return
    text = f"the swing covers only {levels} steps of {1000 * step:.3g} mV; choose a smaller range"
    work.setup("low_range_use", text, name, hides=step > hides_above)


def drowned(kind: Circuit, capture: Capture) -> dict[str, Finding]:
    """By lane: noise so large that faults seen there may be its work. For the whole record, as noise is."""
    out = {}
    for lane in kind.lanes:
        if lane.name not in capture.lanes or lane.exam.noise is None:
            continue
        sigma = capture.lanes[lane.name].noise
        if sigma > lane.exam.noise:
            text = f"noise of {sigma:.2g} {lane.unit} could make what is seen here: another ground, a shielded lead"
            whole = capture.start_s, capture.start_s + capture.duration_s
            out[lane.name] = Finding("noisy", "set-up", *whole, text, lane.name, hides=True)
    return out


def clipped_stretches(samples: Samples, quiet_sigma: float, step: float) -> list[tuple[int, int]]:
    """Runs that rest on the highest or lowest value of the record while noise stirs the rest of it.

    A range rail shows as a run of identical extreme values where the noise (`quiet_sigma`, seen elsewhere)
    would move every sample by more than a code, which is `step` wide. A record without noise cannot tell a rail from
    a rest, so nothing is claimed for it.
    """
    if step == 0 or quiet_sigma < 0.8 * step:
        return []
    out: list[tuple[int, int]] = []
    shortest = max(3, FEWEST_SAMPLES)
    piece = BASE_FACTOR * STEP_FACTOR
    least, most = envelope(samples, samples, piece)
    high, low = most.max() - 0.5 * step, least.min() + 0.5 * step
    # Only pieces that reach the rail are looked at sample by sample.
    for reaching, rail, beyond in ((most > high, high, np.greater), (least < low, low, np.less)):
        for first, last in ((a * piece, b * piece) for a, b in runs(reaching)):
            resting = runs(beyond(samples[first:last], rail))
            out += [(first + a, first + b) for a, b in resting if b - a >= shortest]
    return sorted(out)


def passing(samples: Samples, near: int, before: float, after: float) -> float:
    """Samples that the edge about sample `near` takes from 20 to 80 % of the way between two levels.

    Looked at within 20,000 samples on either side; what does not get there within them takes as long as they do.
    """
    begin = max(0, near - PASSING)
    share = (samples[begin : near + PASSING] - before) / (after - before)
    early = np.flatnonzero(share[: near - begin + 1] <= 0.2)
    late = np.flatnonzero(share[near - begin :] >= 0.8)
    first = int(early[-1]) if early.size else 0
    last = near - begin + int(late[0]) if late.size else share.size
    return float(last - first - 1)


def is_noiseless(samples: Samples) -> bool:
    """True if a finely resolved lane carries nothing but its own course, as a low-pass filter leaves it.

    Where a code of the recorder is coarser than a five thousandth of the swing, what noise there is cannot be seen.
    """
    swing, step = float(np.ptp(samples)), resolution(samples)
    if swing == 0 or step > NOISELESS_STEP * swing:
        return False
    # None whatever is no recorder's: a course drawn by formula may bend as slowly as it likes.
    return NO_RECORDER * swing < fast_noise(samples[:MOST_LOOKED_AT]) < NOISELESS * swing


def is_flat(samples: Samples, smallest_swing: float) -> bool:
    """True if the lane carries no more than noise and offset."""
    stride = max(1, samples.size // ENOUGH)
    thin = samples[::stride]
    swing = percentile_span(thin, 1.0, 99.0)
    # From sample to sample, not between thinned ones: a smooth wave steps far between those.
    noise = robust_sigma(np.diff(samples[:ENOUGH])) / np.sqrt(2.0)
    return bool(swing < max(smallest_swing, 6 * noise))


def told_setup(capture: Capture, options: Mapping[str, str]) -> list[Finding]:
    """What is wrong with the set-up by what was told of it: a trigger level that the signal never passes."""
    text = options.get("trigger", "").strip()
    if not text:
        return []
    try:
        level = float(text)
    except ValueError:
        raise BadOption(f"option trigger must be a level in the lane's unit, not {text!r}") from None
    lane = next(iter(capture.lanes.values()))
    low, high = float(lane.samples.min()), float(lane.samples.max())
    if low < level < high:
        return []
    said = f"the trigger was set to {level:g} {lane.unit}, and the {lane.name} runs from {low:.3g} to {high:.3g}"
    whole = capture.start_s, capture.start_s + capture.duration_s
    return [Finding("trigger_outside", "set-up", *whole, said, lane.name)]
