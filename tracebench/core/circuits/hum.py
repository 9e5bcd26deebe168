"""Mains hum on a lane: told, taken off, and from which size on it hides what it went through."""

from __future__ import annotations

from dataclasses import replace

from tracebench.core.capture import Lane
from tracebench.core.circuits.setup_findings import clipped_stretches
from tracebench.core.circuits.work import Work
from tracebench.core.measure.hum import Hum, hum_of, hum_of_moving
from tracebench.core.robust.median import median
from tracebench.core.robust.noise import ENOUGH
from tracebench.core.samples import Samples

ELSEWHERE = "another ground, leads away from lamps and leads of the mains"


def hum_on(work: Work, lane: str, *, moves: bool = False) -> Hum | None:
    """Hum of a lane as it is now, looked for a single time: in its rests, or beside its course where it `moves` slowly
    and never rests."""
    samples, interval_s = work.samples(lane), work.capture.interval_s
    if moves:
        return work.once(samples, "hum beside its course", lambda x: hum_of_moving(x, interval_s))
    return work.once(samples, "hum", lambda x: hum_of(x, interval_s))


def take_off(work: Work, lane: str, hum: Hum | None, told: float, hides: float) -> bool:
    """Take a lane's hum off from an amplitude of `told` on, with the finding; True if it was.

    What is left of it may hide the answer from `hides` on. The lane keeps the recorder's step, which its samples do
    not show any more.
    """
    if hum is None or hum.amplitude < told:
        return False
    found = work.capture.lanes[lane]
    text = (
        f"mains hum of {hum.amplitude:.2g} {found.unit} at {hum.hertz:.0f} Hz goes through the record; taken off: "
        f"{ELSEWHERE}"
    )
    work.setup("noisy", text, lane, hides=hum.amplitude > hides)
    work.capture = work.capture.with_lane(replace(found, samples=_without(found, hum), code=found.step))
    return True


def _without(lane: Lane, hum: Hum) -> Samples:
    """Samples less the hum; what lies on an end of the range, where no hum shows, stays on the end."""
    left = lane.samples - hum.wave
    middle = median(lane.samples[:: max(1, lane.samples.size // ENOUGH)])
    for a, b in clipped_stretches(lane.samples, lane.noise, lane.step):
        left[a:b] = left.max() if lane.samples[a] > middle else left.min()
    return left
