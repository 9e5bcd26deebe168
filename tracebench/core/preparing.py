"""Steps between a recorder's samples and what is measured: each recorded, each taken back at will, raw samples kept.

A low-pass is a Butterworth of second order run forward and back, so that it moves nothing in time; its stated cut-off
is where it leaves 0.707 of a sine (both passes together).
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from tracebench.core.capture import MIN_SAMPLES, Capture, Lane
from tracebench.core.errors import BadOption
from tracebench.core.robust.median import median

Step = Mapping[str, Any]

FIELDS: Mapping[str, tuple[str, ...]] = {
    "crop": ("from", "to"),
    "invert": ("lane",),
    "rescale": ("lane", "factor"),
    "zero": ("lane", "from", "to"),
    "shift": ("by",),
    "low_pass": ("lane", "hz"),
}
"""What each kind of step needs to be told; times in seconds on the axis as it is before the step."""

MOST_STEPS = 20
LEAST_PART_OF_RATE, MOST_PART_OF_RATE = 1e-5, 0.45
"""Of the sampling rate: the cut-offs that a filter can have."""

TWICE = (math.sqrt(2.0) - 1.0) ** -0.25
"""By how much a filter run twice must be wider for its cut-off to stay."""


def checked(steps: Sequence[Mapping[str, Any]]) -> list[dict[str, Any]]:
    """Steps with the fields that they need and no other. Raises BadOption that names the step."""
    if len(steps) > MOST_STEPS:
        raise BadOption(f"at most {MOST_STEPS} steps")
    out = []
    for number, step in enumerate(steps, 1):
        kind = str(step.get("kind", ""))
        if kind not in FIELDS:
            raise BadOption(f"step {number}: there is no step {kind[:20]!r}; known: {', '.join(FIELDS)}")
        told: dict[str, Any] = {"kind": kind}
        for key in FIELDS[kind]:
            value = step.get(key)
            if key == "lane":
                told[key] = str(value or "")[:64]
            elif isinstance(value, int | float) and math.isfinite(value):
                told[key] = float(value)
            else:
                raise BadOption(f"step {number}, {kind.replace('_', ' ')}: say {key!r} as a number")
        out.append(told)
    return out


def prepared(raw: Capture, steps: Sequence[Step]) -> Capture:
    """The capture after the steps, in their order. Raises BadOption that says which cannot be made, and why."""
    capture = raw
    for number, step in enumerate(steps, 1):
        try:
            capture = _WAYS[step["kind"]](capture, step)
        except BadOption as problem:
            raise BadOption(f"step {number}, {step['kind'].replace('_', ' ')}: {problem}") from None
    return replace(capture, notes=(*raw.notes, *(words(s) for s in steps)), low_pass_hz=low_pass_of(steps))


def low_pass_of(steps: Sequence[Step]) -> Mapping[str, float]:
    """The lowest cut-off that each filtered lane went through, hertz."""
    found: dict[str, float] = {}
    for step in steps:
        if step["kind"] == "low_pass":
            found[step["lane"]] = min(step["hz"], found.get(step["lane"], math.inf))
    return found


def shifted_by(steps: Sequence[Step]) -> float:
    """How far all steps together move the time axis, seconds."""
    return math.fsum(s["by"] for s in steps if s["kind"] == "shift")


def words(step: Step) -> str:
    """A step as people read it."""
    return {
        "crop": "cropped to {from:g} to {to:g} s",
        "invert": "{lane} inverted",
        "rescale": "{lane} times {factor:g}",
        "zero": "{lane} zeroed on {from:g} to {to:g} s",
        "shift": "shifted by {by:g} s",
        "low_pass": "{lane} through a low-pass of {hz:g} Hz",
    }[step["kind"]].format(**step)


def _lane(capture: Capture, step: Step) -> Lane:
    if step["lane"] not in capture.lanes:
        raise BadOption(f"there is no lane {step['lane']!r} in this capture")
    return capture.lanes[step["lane"]]


def _between(capture: Capture, step: Step) -> tuple[int, int]:
    """First and last sample of the stretch told, both within the record."""
    first, last = sorted((step["from"], step["to"]))
    if last < capture.start_s or first > capture.start_s + capture.duration_s:
        raise BadOption(f"{first:g} to {last:g} s lies outside the record")
    # What reaches beyond the record ends with it, however far that is.
    first = max(first, capture.start_s)
    last = min(last, capture.start_s + capture.duration_s)
    start = math.ceil((first - capture.start_s) / capture.interval_s - 1e-6)
    stop = math.floor((last - capture.start_s) / capture.interval_s + 1e-6)
    start, stop = max(start, 0), min(stop, capture.samples - 1)
    if stop < start:
        raise BadOption(f"{first:g} to {last:g} s lies outside the record")
    return start, stop


def _crop(capture: Capture, step: Step) -> Capture:
    start, stop = _between(capture, step)
    if stop - start + 1 < MIN_SAMPLES:
        raise BadOption(f"{stop - start + 1} samples would be left; {MIN_SAMPLES} are the fewest")
    lanes = {n: replace(x, samples=x.samples[start : stop + 1].copy()) for n, x in capture.lanes.items()}
    return replace(capture, lanes=lanes, start_s=capture.time_s(start), source_samples=0)


def _invert(capture: Capture, step: Step) -> Capture:
    return capture.with_lane(_lane(capture, step).scaled(-1.0))


def _rescale(capture: Capture, step: Step) -> Capture:
    if step["factor"] == 0.0 or abs(step["factor"]) > 1e6:
        raise BadOption("the factor must be a number other than 0, up to a million")
    lane = _lane(capture, step).scaled(step["factor"])
    return capture.with_lane(replace(lane, factor=lane.factor * step["factor"]))


def _zero(capture: Capture, step: Step) -> Capture:
    lane = _lane(capture, step)
    start, stop = _between(capture, step)
    return capture.with_lane(replace(lane, samples=lane.samples - median(lane.samples[start : stop + 1])))


def _shift(capture: Capture, step: Step) -> Capture:
    return replace(capture, start_s=capture.start_s + step["by"])


def _low_pass(capture: Capture, step: Step) -> Capture:
    from scipy import signal  # noqa: PLC0415 - loads much, and is seldom asked

    lane, part = _lane(capture, step), step["hz"] * capture.interval_s
    if not LEAST_PART_OF_RATE <= part <= MOST_PART_OF_RATE:
        low, high = (p * capture.rate_hz for p in (LEAST_PART_OF_RATE, MOST_PART_OF_RATE))
        raise BadOption(f"the cut-off must lie between {low:.3g} and {high:.3g} Hz at this rate")
    sections = signal.butter(2, min(part * TWICE, 0.499) * 2.0, output="sos")
    level = median(lane.samples)
    samples = signal.sosfiltfilt(sections, lane.samples - level, padlen=min(capture.samples - 1, round(3.0 / part)))
    # The recorder's codes are smoothed away: its step is kept from before.
    return capture.with_lane(replace(lane, samples=samples + level, code=lane.step))


_WAYS = {
    "crop": _crop,
    "invert": _invert,
    "rescale": _rescale,
    "zero": _zero,
    "shift": _shift,
    "low_pass": _low_pass,
}
