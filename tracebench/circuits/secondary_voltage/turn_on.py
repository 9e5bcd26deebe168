"""The ripple of a secondary as its coil is turned on, which is no firing however high it stands."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tracebench.core.circuits.threshold import Count, Threshold
from tracebench.core.measure.pulse_train import Pulses
from tracebench.core.robust.median import median
from tracebench.core.samples import Samples

QUIET_S = Threshold(0.5e-3, "s", "Between two swings of a ripple there is no more than this (from memory)")
LONGEST_DWELL_S = Threshold(12e-3, "s", "A coil is on for no longer before it fires (from memory)")
SWINGS_S = Threshold(0.3e-3, "s", "Before and after its top a ripple swings to the other side within this")
UNDER = Threshold(0.3, "", "Of its top: a ripple swings so far to the other side, a firing line goes to its burn")
BURN_S = Threshold(0.05e-3, "s", "After its top: from here on a firing line has come down to its burn")
ONE_SIDED = Threshold(0.5, "", "Mean over mean magnitude after the top: a burn stays on one side, a ripple on none")
ALIKE = Threshold(0.25, "", "From turn-on to firing takes as long each time, within this part")
SHARE = Threshold(0.6, "", "Of the firings, from which something before each of them is the turn-on")
FEW_LINES = Threshold(0.3, "", "Lines that burn to what swings both ways: under it these are lines without a burn")
LOW = Threshold(0.5, "", "Of the lines that burn: a turn-on stands lower as a rule (from memory)")
HIGHEST = Threshold(1.5, "", "Of the line after it: a swing over this is a line that found no burn")
FEWEST = Count(4, "samples", "Within a swing's time: under this nothing is told of its sides")


def without_turn_on(samples: Samples, found: Pulses, interval_s: float) -> Pulses:
    """The pulses without those of turn-on ripples: they swing to both sides, and a firing follows each in one time."""
    if found.count < 2 or enough_for(interval_s) < FEWEST:
        return found
    gaps = (found.start[1:] - found.stop[:-1]) * interval_s > QUIET_S
    group = np.concatenate([[0], np.cumsum(gaps)])
    firsts = np.flatnonzero(np.diff(group, prepend=-1))
    begins = found.start[firsts]
    tops = np.array([_top(samples, found, g, interval_s) for g in firsts], dtype=np.int64)
    ripples = np.array([_swings_both_ways(samples, t, interval_s) for t in tops])
    ahead = np.append(np.diff(begins) * interval_s, np.inf)
    behind = np.concatenate([[np.inf], ahead[:-1]])
    lines = np.count_nonzero(~ripples)
    # Whatever comes right before a line that burns, at one distance before all of them.
    before = np.flatnonzero(ripples[:-1] & ~ripples[1:] & (ahead[:-1] < LONGEST_DWELL_S))
    if before.size == 0 or lines < FEW_LINES * np.count_nonzero(ripples):
        return found
    near = np.abs(ahead - median(ahead[before])) <= ALIKE * median(ahead[before])
    heights = samples[tops]
    small = heights <= LOW * median(heights[~ripples])
    # A line that found no burn stands where a firing is due, as far from the one before as from the one after.
    due = np.abs(ahead - behind) <= 0.1 * ahead
    each = before.size >= SHARE * lines
    as_high = ~due & (heights <= HIGHEST * np.append(heights[1:], 0.0))
    turned_on = ripples & near & (small | as_high if each else small & ~due)
    return found.only(~turned_on[group])


def enough_for(interval_s: float) -> int:
    """Samples within the time of a swing."""
    return int(SWINGS_S / interval_s)


def _top(samples: Samples, found: Pulses, first: np.intp, interval_s: float) -> int:
    begin = int(found.start[first])
    return begin + int(np.argmax(samples[begin : begin + max(2, enough_for(interval_s))]))


def _swings_both_ways(samples: Samples, top: int, interval_s: float) -> bool:
    reach = enough_for(interval_s)
    around = samples[max(0, top - reach) : top + reach]
    after: NDArray[np.float64] = samples[top + round(BURN_S / interval_s) : top + reach]
    size = float(np.mean(np.abs(after))) if after.size else 0.0
    under = float(around.min()) < -UNDER * float(samples[top])
    return under and float(np.mean(after)) < ONE_SIDED * size
