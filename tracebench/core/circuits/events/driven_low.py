"""A wire that a driver pulls to ground and lets go: supply, on, kick, and what follows until the supply is back."""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from tracebench.core.circuits import extremes, hum, probe, record_checks, thinning
from tracebench.core.circuits import setup_findings as setup
from tracebench.core.circuits.threshold import Count, Threshold
from tracebench.core.circuits.work import Work
from tracebench.core.measure.levels import Level, level_of
from tracebench.core.measure.pulse_train import Pulses, find_pulses
from tracebench.core.measure.tops import between_samples
from tracebench.core.robust.median import median, percentile, percentiles
from tracebench.core.robust.noise import sample_noise
from tracebench.core.robust.series import block_medians, running_mean, runs
from tracebench.core.samples import Samples

SLOW_EDGE_S = Threshold(
    50e-6,
    "s",
    "A driver pulls its wire down in microseconds; slower than this, without any noise, it was filtered (from memory)",
)

QUIET = Threshold(0.04, "", "Noise over the supply up to which the wire is looked at as it is")


@dataclass(frozen=True, slots=True, eq=False)
class Wire:
    """A control wire made ready. `fall` and `rise` are fractional indices where it passes half the supply."""

    samples: Samples
    supply_level: Level
    sigma: float
    fall: NDArray[np.float64]
    rise: NDArray[np.float64]
    code: float
    """Step of the recorder; 0 where it shows none."""

    @property
    def supply(self) -> float:
        return self.supply_level.value

    @property
    def count(self) -> int:
        return int(self.fall.size)

    def inside(self, k: int) -> Samples:
        """Samples while pulse `k` is driven, less a tenth at either end; at least one."""
        begin, end = float(self.fall[k]), float(self.rise[k])
        edge = 0.1 * (end - begin)
        return self.samples[int(begin + edge) : max(int(begin + edge) + 1, int(end - edge))]

    def level_before(self, k: int) -> Level:
        """Supply before pulse `k`; the record's own where the pulse before is too near."""
        stop = int(self.fall[k]) - 2
        begin = max(0 if k == 0 else int(self.rise[k - 1]), stop - max(40, int(0.5 * (self.rise[k] - self.fall[k]))))
        return level_of(self.samples[begin:stop], self.code) if stop - begin > 4 else self.supply_level

    def after(self, k: int) -> tuple[int, int]:
        """Samples from release `k` to the next pulse or the end of the record."""
        stop = self.samples.size if k + 1 >= self.count else int(self.fall[k + 1]) - 2
        return int(self.rise[k]), max(int(self.rise[k]) + 1, stop)


def wire_of(work: Work, lane: str, least_kick: float, most_kick: float) -> Wire | None:
    """The wire with its pulses, its set-up findings noted; None where nothing is switched.

    `least_kick` to `most_kick` volts is what a sound release can reach: a power of ten outside is an attenuator that
    was not told, and is put right where the supply says the same.
    """
    if _only_hums(work, lane):
        return None
    _put_polarity_right(work, lane)
    _put_scale_right(work, lane, least_kick, most_kick)
    take_hum_off(work, lane)
    samples = work.samples(lane)
    rests = _supply(samples, work.code(lane))
    supply = rests.value
    if supply < LEAST_SUPPLY_V:
        return None
    sigma = max(sample_noise(samples[: 1 << 18]), 1e-4)
    # On a range made for the kick the noise may be large against the supply: looked at smoothed then.
    width = min(41, int(np.ceil((sigma / (QUIET * supply)) ** 2)))
    if sigma / np.sqrt(width) > 2 * QUIET * supply:
        text = f"noise of {sigma:.2g} V hides a wire that rests at {supply:.3g} V: a smaller range"
        work.setup("noisy", text, lane, hides=True)
        return None
    # No higher than the supply: a kick in the mean would bring the release forward.
    seen = running_mean(np.minimum(samples, supply), width) if width > 1 else samples
    found = find_pulses(-seen, -0.6 * supply, -0.4 * supply)
    found = _driven(found, seen, supply)
    if found.count == 0:
        return None
    on = median([np.median(samples[a:b]) for a, b in zip(found.start[:50], found.stop[:50], strict=True)])
    level = 0.5 * (supply + on)
    fall = np.array([_crossed(seen, int(a), level, falling=True) for a in found.start])
    rise = np.array([_crossed(seen, int(b), level, falling=False) for b in found.stop])
    return Wire(samples, rests, sigma, fall, rise, work.code(lane))


LEAST_SUPPLY_V = Threshold(5.0, "V", "A wire that rests lower is not fed by a battery, however low (from memory)")
HUM_PART = Threshold(0.03, "", "Hum over the supply from which it is told and taken off")
HUM_HIDES = Threshold(0.1, "", "And from which what is left of it may hide the answer")


def take_hum_off(work: Work, lane: str) -> None:
    """Take the mains' hum off a wire that rests at its supply, with the finding; it counts against the supply."""
    found = hum.hum_on(work, lane)
    if found is not None:
        # Hum may be larger than what it lies on: the supply is seen without it.
        supply = _supply(work.samples(lane) - found.wave, work.code(lane)).value
        if supply >= LEAST_SUPPLY_V:
            hum.take_off(work, lane, found, HUM_PART * supply, HUM_HIDES * supply)


def _only_hums(work: Work, lane: str) -> bool:
    """Whether there is nothing on a lane but hum, about nothing: a probe that is off takes it up, in any scale."""
    found = hum.hum_on(work, lane)
    if found is None:
        return False
    left = work.samples(lane) - found.wave
    return abs(median(thinning.thin(left))) < found.amplitude and setup.is_flat(left, 0.0)


def _driven(found: Pulses, samples: Samples, supply: float) -> Pulses:
    """Pulses that rest near ground: ringing after a release also dips under half the supply, but never stays there."""
    if found.count == 0:
        return found
    still = np.zeros(found.count, dtype=bool)
    for k, (a, b) in enumerate(zip(found.start, found.stop, strict=True)):
        inside = samples[a + (b - a) // 8 : b - (b - a) // 8] if b - a >= 8 else samples[a:b]
        low, high = percentiles(inside[:: max(1, inside.size // 200)], 10, 90)
        still[k] = b < samples.size and low >= -3.0 and high <= 0.45 * supply and high - low < 0.2 * supply
    found = found.only(still)
    if found.count == 0:
        return found
    widths = (found.stop - found.start).astype(np.float64)
    return found.only(widths >= max(2.0, 0.12 * percentile(widths, 90)))


def _crossed(samples: Samples, near: int, level: float, *, falling: bool) -> float:
    """Fractional index of the crossing of a level nearest to a sample."""
    begin = max(0, near - 30)
    part = samples[begin : near + 30] - level
    sign = part[:-1] > 0
    turns = np.flatnonzero(sign & (part[1:] <= 0) if falling else ~sign & (part[1:] > 0))
    if turns.size == 0:
        return float(near)
    k = int(turns[np.argmin(np.abs(turns + begin - near))])
    here, there = float(part[k]), float(part[k + 1])
    # A jump far past the level within one sample says no more than that it came between the two.
    there = min(there, -here) if there > 0 else max(there, -here)
    return begin + k + (here / (here - there) if here != there else 0.0)


def _supply(samples: Samples, code: float) -> Level:
    """The level at which the wire rests, which is the supply; kicks and pulses are short."""
    thin = thinning.thin(samples)
    low, high = percentiles(thin, 0.5, 97.0)
    counts, edges = np.histogram(thin, bins=240, range=(float(low), float(max(high, low + 1e-6))))
    # On and supply are the two levels at which a wire rests; the higher of them is the supply.
    centres = 0.5 * (edges[1:] + edges[:-1])
    busy = counts >= 0.12 * counts.max()
    upper = busy & (centres > 0.5 * (low + centres[busy].max()))
    at = int(np.argmax(np.where(upper, counts, 0)))
    width = edges[1] - edges[0]
    near = thin[(thin >= edges[at] - 2 * width) & (thin <= edges[at + 1] + 2 * width)]
    # The busiest bins alone are off by a part of their width: all the noise about them places the level.
    rough, sigma = median(near), sample_noise(samples[: 1 << 18])
    about = thin[np.abs(thin - rough) <= 3 * sigma]
    return level_of(about if about.size > near.size else near, code)


def _put_polarity_right(work: Work, lane: str) -> None:
    found = work.capture.lanes[lane]
    low, high = (float(x) for x in (found.samples.min(), found.samples.max()))
    middle = median(thinning.thin(found.samples))
    if middle < -1e-9 and -low > 3 * max(high, 1e-9):
        work.setup("reversed_polarity", f"the {lane} kicks down from below zero: leads reversed; read inverted", lane)
        work.capture = work.capture.with_lane(found.scaled(-1.0))


def _put_scale_right(work: Work, lane: str, least_kick: float, most_kick: float) -> None:
    found = work.capture.lanes[lane]
    top = float(found.samples.max())
    supply = _supply(found.samples, work.code(lane)).value
    if 6.0 <= supply <= 30.0 or top <= 0 or supply <= 0:
        return
    factor = setup.wrong_factor(supply, 9.0, 16.0)
    if factor is not None and 0.2 * least_kick <= top / factor <= 2.5 * most_kick:
        text = f"rests at {supply:.3g} V, {factor:g} times a supply: attenuator factor; read divided by {factor:g}"
        work.setup("scale_suspect", text, lane)
        work.capture = work.capture.with_lane(found.scaled(1.0 / factor))


def note_nothing_switched(work: Work, lane: str, fault: str) -> None:
    """No pulse at all: the fault where supply proves the wire alive, else the connection."""
    if work.has("noisy"):
        return
    samples = work.samples(lane)
    level = median(thinning.thin(samples))
    quiet = block_medians(samples[: samples.size // 25 * 25], 25) if samples.size > 2500 else samples
    low, high = percentiles(quiet, 0.5, 99.5)
    still = high - low < 0.3 * abs(level)
    if probe.between_events(work, lane) or range_ends_above(work, lane, level):
        return
    if level > 8.0 and still:
        work.fault(fault, f"rests at {level:.1f} V: supplied, but never switched", None, lane, level, "V")
    elif work.told.phases:
        work.fault(fault, f"rests at {level:.1f} V while the engine is said to turn", None, lane, level, "V")
    else:
        work.setup("flat_line", f"stays at {level:.2f} V and is never switched: probe or fuse first", lane, hides=True)


KICKS_V = Threshold(15.0, "V", "What stands so far over a wire's rest are kicks, and comes of its being switched")
ON_THE_RAIL = Count(10, "samples", "So many in a row on a record's lowest value show that the range ends there")
LEAST_FLOOR_V = Threshold(
    2.0, "V", "No driver that works at all rests so high (from memory): what lies flat there is the range's end"
)


def range_ends_above(work: Work, lane: str, level: float) -> bool:
    """Whether a wire that kicks and never falls lies dead flat on its lowest value: the range ends over its pulses."""
    samples = work.samples(lane)
    lowest = float(samples.min())
    if lowest < LEAST_FLOOR_V or float(samples.max()) - level < KICKS_V:
        return False
    if max((b - a for a, b in runs(samples <= lowest + 0.5 * work.code(lane))), default=0) < ON_THE_RAIL:
        return False
    text = f"kicks, and yet nothing falls under {lowest:.3g} V, on which it lies dead flat: the range ends there"
    work.find("clipped", "set-up", text, work.whole, lane, hides=True)
    return True


def _dead_level(wire: Wire, kick: Kick) -> bool:
    """True if all of a kick's top lies in one code: a clamp holds its tops level too, but noise parts them."""
    near = wire.samples[max(0, kick.at - 2 * kick.flat) : kick.at + 2 * kick.flat + 1]
    top = near[near >= kick.top - max(0.02 * (kick.top - wire.supply), 3 * wire.sigma)]
    return bool(np.ptp(top) < 0.1 * wire.sigma)


def check_wire_setup(work: Work, lane: str, wire: Wire, feature: str, feature_s: float) -> None:
    """Rate against the shortest feature, the end of the range under the kicks, coarse codes, and a filter."""
    record_checks.check_rate(work, feature, feature_s, lane)
    record_checks.check_clipped(work, lane, 0.0, tops_only=float(wire.samples.min()) < LEAST_FLOOR_V)
    kicks = [kick_of(wire, k, round(1e-3 / work.capture.interval_s)) for k in range(min(wire.count, 200))]
    level = [k.at for k in kicks if _dead_level(wire, k)]
    record_checks.check_capped(work, lane, wire.samples, np.array(level, dtype=np.int64))
    setup.check_range_use(work, lane, 3.0)
    falls = np.array([setup.passing(wire.samples, int(f), wire.supply, 0.0) for f in wire.fall[:20]])
    record_checks.check_edges(work, lane, median(falls), SLOW_EDGE_S, "the driver's edge")


class Kick(NamedTuple):
    """Highest voltage after a release, its sample, how many samples rest within 2 % of it, and its uncertainty."""

    top: float
    at: int
    flat: int
    doubt: float


def kick_of(wire: Wire, k: int, within: int) -> Kick:
    """The kick soon after release `k`."""
    begin, stop = wire.after(k)
    part = wire.samples[begin : max(min(stop, begin + within), begin + 1)]
    found = extremes.extreme_of(part, 1.0, 1.0, largest=True)
    at, top = found.at, found.value
    flat = int(np.sum(part >= top - max(0.02 * (top - wire.supply), 3 * wire.sigma)))
    if flat > 2:
        return Kick(top, begin + at, flat, found.uncertainty)
    lost = between_samples(wire.samples, np.array([begin + at]))
    return Kick(float(part[at]), begin + at, flat, float(np.hypot(wire.sigma, lost[0])))
