"""Switching module, bench: what is peculiar to measuring it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tracebench.core.circuits import probe, record_checks, thinning
from tracebench.core.circuits import setup_findings as setup
from tracebench.core.circuits.enough import enough
from tracebench.core.circuits.events import driven_low
from tracebench.core.circuits.events.table import EventTable, report
from tracebench.core.circuits.threshold import Count, Threshold
from tracebench.core.circuits.work import Work
from tracebench.core.measure.edges import Edges, find_edges
from tracebench.core.robust.median import median, percentile
from tracebench.core.robust.noise import MAD_TO_SIGMA, sample_noise
from tracebench.core.robust.series import rank_correlation
from tracebench.core.samples import Samples

UNSTABLE_PCT = Threshold(
    8.0, "%", "Spread of the low time over its median from which it is called unstable (from memory)"
)

NOISY = Threshold(0.08, "", "Noise over the output's swing from which it makes edges of its own")

SLOWEST_EDGE_S = Threshold(
    300e-6,
    "s",
    "A module pulls its output down in microseconds; slower, without any noise, it was filtered (from memory)",
)

FEWEST = Count(4, "events", "Switchings from which the spread of low times is known")
LEAST_SWING_V = Threshold(1.0, "V", "An output that swings by less does not switch (from memory)")


def measure(work: Work) -> Work:
    """Low times of the output, their spread, whether they follow the trigger, and triggers without an answer."""
    work.settle_phases([])
    for lane in ("output", "trigger"):
        probe.put_polarity_right(work, lane)
    _put_scale_right(work)
    probe.unswap(work, "output", "trigger", (7.0, 20.0), (-1.0, 6.0))
    driven_low.take_hum_off(work, "output")
    low_v, high_v = _states(work.samples("output"))
    # An output that never switches would do so from where it rests.
    if sample_noise(work.samples("output")) > NOISY * max(high_v - low_v, 0.5 * high_v, 3.0):
        work.settle_phases([])
        work.setup("noisy", "noise crosses between high and low: shorter leads, another ground", "output", hides=True)
        return work
    output = _switching(work, "output")
    trigger = _switching(work, "trigger") if "trigger" in work.capture.lanes else None
    triggers = _stretches(trigger, high=True) if trigger is not None else np.empty((0, 2))
    lows = _stretches(output, high=False) if output is not None else np.empty((0, 2))
    if output is None or lows.size == 0:
        _no_switching(work, triggers)
        return work
    _read(work, lows)
    _against_trigger(work, lows, triggers)
    if lows.shape[0] < FEWEST:
        text = f"only {lows.shape[0]} pulses: {FEWEST} triggers of different lengths at least"
        work.setup("too_short", text, "output", hides=True)
    shortest = float(np.min(lows[:, 1] - lows[:, 0]))
    if not enough(shortest, setup.FEWEST_SAMPLES):
        text = f"{shortest:.2g} samples across the shortest low time; {setup.FEWEST_SAMPLES} are needed"
        setup.too_few(work, text, shortest, "output")
    falls = [setup.passing(work.samples("output"), int(a), high_v, low_v) for a, _ in lows[:20]]
    record_checks.check_edges(work, "output", median(falls), SLOWEST_EDGE_S, "the output's edge")
    if not any(f.kind == "fault" for f in work.findings):
        text = (
            "passes cold on the bench, which says nothing of it hot: warm it with care, or compare with one known good"
        )
        work.find("cold_only", "note", text, None, "output", hides=True)
    return work


def _put_scale_right(work: Work) -> None:
    """The output rests at its supply, which a bench gives from 9 to 16 V."""
    rest = median(thinning.thin(work.samples("output")))
    factor = None if 4.0 <= rest <= 40.0 else setup.wrong_factor(rest, 9.0, 16.0)
    if factor is not None:
        text = f"rests at {rest:.3g} V, {factor:g} times a supply: attenuator factor; read divided by {factor:g}"
        work.setup("scale_suspect", text, "output")
        work.capture = work.capture.with_lane(work.capture.lanes["output"].scaled(1.0 / factor))


def _switching(work: Work, lane: str) -> Edges | None:
    samples = work.samples(lane)
    low, high = _states(samples)
    if high - low < max(LEAST_SWING_V, 12 * sample_noise(samples)):
        return None
    # Coils kick over the supply: half way between low and the supply, not the kick.
    return find_edges(samples, low + 0.35 * (high - low), low + 0.65 * (high - low))


def _states(samples: Samples) -> tuple[float, float]:
    """Low and high state; a kick of the coil on the output is no state."""
    thin = thinning.thin(samples)
    low, high = percentile(thin, 0.05), percentile(thin, 97.0)
    # Short low times hardly show in a percentile: the lowest tenth of a thousandth decides.
    low = min(low, float(np.min(samples)) + 4 * sample_noise(samples))
    return low, max(high, median(thin))


def _stretches(edges: Edges | None, *, high: bool) -> NDArray[np.float64]:
    """From and to of each whole high (or low) stretch, shape (n, 2), in samples."""
    if edges is None:
        return np.empty((0, 2))
    begins, ends = (edges.rising, edges.falling) if high else (edges.falling, edges.rising)
    after = np.searchsorted(ends, begins)
    whole = after < ends.size
    return np.stack([begins[whole], ends[after[whole]]], axis=1) if whole.any() else np.empty((0, 2))


def _no_switching(work: Work, triggers: NDArray[np.float64]) -> None:
    level = median(thinning.thin(work.samples("output")))
    if driven_low.range_ends_above(work, "output", level):
        return
    if triggers.shape[0] >= 2:
        text = f"{triggers.shape[0]} triggers and the output stays at {level:.1f} V: it does not switch"
        work.fault("no_switching", text, None, "output", level, "V")
        work.add("misses_count", triggers.shape[0], "", 0.0, work.whole, "output")
        work.add("pulses_count", 0, "", 0.0, work.whole, "output")
    else:
        text = f"the output stays at {level:.2f} V and no trigger is seen: supply, trigger and probe first"
        probe.note_nothing(work, "output", text)


def _read(work: Work, lows: NDArray[np.float64]) -> None:
    interval, begin = work.capture.interval_s, work.capture.start_s
    table = EventTable(
        "output", begin + lows[:, 0] * interval, begin + lows[:, 1] * interval, np.zeros(len(lows), dtype=int)
    )
    widths = 1000 * interval * (lows[:, 1] - lows[:, 0])
    table.put("output_low_ms", "ms", widths, np.full(widths.size, 1000 * interval * 0.36))
    report(work, table)
    work.add("pulses_count", widths.size, "", 0.0, work.whole, "output")
    middle = median(widths)
    spread = 100 * MAD_TO_SIGMA * median(np.abs(widths - middle)) / middle
    doubt = spread / np.sqrt(2 * widths.size) + 100 * 1000 * interval * 0.41 / middle
    if widths.size > 1:
        work.add("spread_pct", spread, "%", doubt, work.whole, "output")
    if widths.size >= FEWEST and spread > UNSTABLE_PCT:
        text = f"low times scatter by {spread:.1f} % about {middle:.2f} ms, over {UNSTABLE_PCT:g} %"
        work.fault("unstable_width", text, None, "output", spread, "%")


def _against_trigger(work: Work, lows: NDArray[np.float64], triggers: NDArray[np.float64]) -> None:
    if triggers.shape[0] == 0:
        for reading_id in ("independent_of_trigger", "misses_count"):
            work.miss(reading_id, "no trigger lane in this capture, or no trigger on it")
        return
    interval, begin = work.capture.interval_s, work.capture.start_s
    # An answer comes while the trigger is held, or shortly after its end where the end is what fires.
    reach = 3 * median(lows[:, 1] - lows[:, 0])
    pairs = []
    missed = []
    for k, (a, b) in enumerate(triggers):
        until = min(b + reach, triggers[k + 1, 0] if k + 1 < len(triggers) else np.inf)
        inside = np.flatnonzero((lows[:, 0] >= a - 2) & (lows[:, 0] < until))
        if inside.size:
            pairs.append((b - a, lows[inside[0], 1] - lows[inside[0], 0]))
        elif b + reach < work.capture.samples:
            missed.append((a, b))
    work.add("misses_count", len(missed), "", 0.0, work.whole, "output")
    for a, b in missed[:10]:
        span = (begin + a * interval, begin + b * interval)
        text = f"the trigger at {span[0]:.3f} s is not answered"
        work.fault("misses", text, span, "output")
    if len(pairs) >= FEWEST:
        held, low = np.array(pairs).T
        value = rank_correlation(held, low)
        work.add("independent_of_trigger", value, "", 1 / np.sqrt(len(pairs)), work.whole, "output")
    else:
        work.miss("independent_of_trigger", f"{FEWEST} answered triggers are needed")
